"""From the tables of listings, brands, sellers and offers to the arrays the core reads."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

import numpy as np
import polars as pl

from driftfield.core.base import Floats, Ints, Period, Timeline
from driftfield.core.market import CategoryTree
from driftfield.core.supply import (
    LISTING_MEASURES,
    SALES_MEASURES,
    History,
    Listings,
    Offers,
    People,
)

from .matrices import encode_in_order, numbers_of

Frames = Mapping[str, pl.DataFrame]
FACTS = ("price", "rating", "reviews", "weight_g", "quality", "sponsored", "return_rate")
SIDES = ("length_mm", "width_mm", "height_mm")


def listings_of(
    ids: Sequence[str],
    frames: Frames,
    history: History | None = None,
    tree: CategoryTree | None = None,
    own_sales: History | None = None,
) -> Listings:
    """What the tables say of the listings ``ids``, in their order.

    ``frames`` holds any of listings, brands, sellers and offers in the exchange tables' columns;
    ``tree`` holds the categories that they name; ``history`` and ``own_sales`` have their rows in the order of
    ``ids``, the first its lead sellers by the codes of ``seller_codes``.
    """
    n = len(ids)
    found = Listings.unknown(n)
    rows = _rows_of(ids, frames.get("listings"))
    codes = seller_codes(frames)
    facts: dict[str, Floats] = {}
    brand, seller, category = found.brand, found.seller, found.category
    attributes, words = {}, {}
    brands: list[str] = []
    if rows is not None:
        facts = {name: _numbers(rows, name) for name in FACTS}
        sides = np.stack([_numbers(rows, side) for side in SIDES])
        known = ~np.isnan(sides).any(axis=0)
        facts["size_mm"] = np.where(known, sides.max(axis=0), np.nan)
        facts["launched"] = _ordinals(rows, "launched_on")
        brands, brand = _codes(rows, "brand")
        seller = _coded(rows, "seller_id", codes)
        if tree is not None:
            places = {key: place for place, key in enumerate(tree.ids)}
            category = _coded(rows, "category_id", places)
        for column in rows.columns:
            if column.startswith("attr_"):
                words[column[5:]], attributes[column[5:]] = _codes(rows, column)
        own: list[Floats] = []
        for table, key in (("brands", "brand"), ("sellers", "seller_id")):
            since, mine = _people(rows, key, frames.get(table))
            facts[f"{table[:-1]}_since"] = since
            own.append(mine)
        facts["own_retail"] = np.fmax(*own)
    for name in ("price", "reviews"):
        then = None if history is None else history.latest(name)
        if then is not None:
            given = facts.get(name, np.full(n, np.nan))
            facts[name] = np.where(np.isnan(given), then, given)
    unknown = {name: getattr(found, name) for name in _FACT_NAMES if name not in facts}
    return Listings(
        brand=brand, seller=seller, category=category, attributes=attributes, words=words, history=history,
        brands=_of(brands, frames.get("brands")), sellers=_of(list(codes), frames.get("sellers")),
        offers=_offers(ids, frames.get("offers"), codes), own_sales=own_sales, **facts, **unknown,
    )  # fmt: skip


def _of(ids: list[str], table: pl.DataFrame | None) -> People:
    """Who some ids are; without a row in the table they are called by their id."""
    if table is None:
        return People(ids, ids, np.full(len(ids), np.nan), np.full(len(ids), np.nan))
    wanted = pl.DataFrame({"id": pl.Series(ids, dtype=pl.String)})
    rows = wanted.join(
        table.unique("id", keep="first", maintain_order=True),
        on="id",
        how="left",
        maintain_order="left",
    )
    names = rows["name"].fill_null(rows["id"]).to_list() if "name" in rows.columns else ids
    return People(ids, names, _ordinals(rows, "first_seen"), _numbers(rows, "own_retail"))


_FACT_NAMES = (*FACTS, "size_mm", "launched", "own_retail", "brand_since", "seller_since")


def seller_codes(frames: Frames) -> dict[str, int]:
    """A code for each seller that any of the tables names."""
    names: dict[str, None] = {}
    for table, column in (
        ("sellers", "id"), ("listings", "seller_id"), ("offers", "seller_id"),
        ("listing_weeks", "lead_seller_id"),
    ):  # fmt: skip
        frame = frames.get(table)
        if frame is not None and column in frame.columns:
            names |= dict.fromkeys(frame[column].drop_nulls().unique(maintain_order=True).to_list())
    return {name: i for i, name in enumerate(names)}


def history_of(
    ids: Sequence[str], frames: Frames, period: Period, timeline: Timeline | None = None
) -> History | None:
    """The history of listings from listing_weeks, rows in the order of ``ids``.

    ``timeline`` is that of the whole table, where these are some of its rows.
    """
    return _curves(ids, frames, "listing_weeks", period, LISTING_MEASURES, timeline=timeline)


def own_sales_of(
    ids: Sequence[str], frames: Frames, period: Period, key: str = "listing_id"
) -> History | None:
    """The researcher's own sales of listings from own_sales, rows in the order of ``ids``; of niches by their
    ``key``."""
    return _curves(ids, frames, "own_sales", period, SALES_MEASURES, key)


def _curves(
    ids: Sequence[str],
    frames: Frames,
    table: str,
    period: Period,
    names: Sequence[str],
    key: str = "listing_id",
    timeline: Timeline | None = None,
) -> History | None:
    """Measures of a table of figures by period, rows in the order of ``ids``; None where it has none."""
    frame = frames.get(table)
    if frame is None or key not in frame.columns:
        return None
    place = _places(ids, frame[key])
    inside = place >= 0
    if not inside.any() and timeline is None:
        return None
    frame, place = frame.filter(pl.Series(inside)), place[inside]
    number = numbers_of(frame["week"], period)
    if timeline is None:
        first = int(number.min())
        timeline = Timeline(period, period.start(first), int(number.max()) - first + 1)
    first = timeline.first_number
    measures = {}
    for name in names:
        if name == "lead_seller":
            if "lead_seller_id" not in frame.columns:
                continue
            code = _coded(frame, "lead_seller_id", seller_codes(frames))
            values = np.where(code >= 0, code, np.nan)
        elif name in frame.columns:
            values = _numbers(frame, name)
        else:
            continue
        matrix = np.full((len(ids), timeline.length), np.nan, dtype=np.float32)
        matrix[place, number - first] = values
        measures[name] = matrix
    return History(timeline, measures)


def _places(ids: Sequence[str], keys: pl.Series) -> Ints:
    """Place of each key among ``ids``, −1 where it is not one of them."""
    index = pl.DataFrame(
        {"key": pl.Series(list(ids), dtype=pl.String), "place": np.arange(len(ids))}
    )
    joined = pl.DataFrame({"key": keys.cast(pl.String)}).join(
        index, on="key", how="left", maintain_order="left"
    )
    return joined["place"].fill_null(-1).to_numpy().astype(np.int64)


def _rows_of(ids: Sequence[str], frame: pl.DataFrame | None) -> pl.DataFrame | None:
    """The rows of the table of listings in the order of ``ids``, nulls where it has none."""
    if frame is None:
        return None
    wanted = pl.DataFrame({"listing_id": pl.Series(list(ids), dtype=pl.String)})
    return wanted.join(frame, on="listing_id", how="left", maintain_order="left")


def _numbers(frame: pl.DataFrame, name: str) -> Floats:
    if name not in frame.columns:
        return np.full(frame.height, np.nan)
    return frame[name].cast(pl.Float64).fill_null(np.nan).to_numpy().astype(np.float64)


def _ordinals(frame: pl.DataFrame, name: str) -> Floats:
    """Days as ordinals; NaN for none."""
    if name not in frame.columns:
        return np.full(frame.height, np.nan)
    days = frame[name].cast(pl.Date).cast(pl.Int32).cast(pl.Float64)
    return days.fill_null(np.nan).to_numpy() + date(1970, 1, 1).toordinal()


def _codes(frame: pl.DataFrame, name: str) -> tuple[list[str], Ints]:
    """Distinct words of a column and each row's place among them, −1 for none."""
    if name not in frame.columns:
        return [], np.full(frame.height, -1, dtype=np.int64)
    words, code = encode_in_order(frame[name].drop_nulls())
    out = np.full(frame.height, -1, dtype=np.int64)
    out[frame[name].is_not_null().to_numpy()] = code
    return words, out


def _coded(frame: pl.DataFrame, name: str, codes: Mapping[str, int]) -> Ints:
    """Codes of a column's words, −1 for none."""
    if name not in frame.columns:
        return np.full(frame.height, -1, dtype=np.int64)
    return _places(list(codes), frame[name])


def _people(rows: pl.DataFrame, key: str, table: pl.DataFrame | None) -> tuple[Floats, Floats]:
    """Since when the brand (seller) of each listing is known, and whether it is the marketplace."""
    if table is None or key not in rows.columns:
        nothing = np.full(rows.height, np.nan)
        return nothing, nothing.copy()
    joined = rows.select(pl.col(key).alias("id")).join(
        table, on="id", how="left", maintain_order="left"
    )
    return _ordinals(joined, "first_seen"), _numbers(joined, "own_retail")


def _offers(
    ids: Sequence[str], frame: pl.DataFrame | None, codes: Mapping[str, int]
) -> Offers | None:
    if frame is None:
        return None
    place = _places(ids, frame["listing_id"])
    inside = place >= 0
    frame, place = frame.filter(pl.Series(inside)), place[inside]
    until = _ordinals(frame, "last_seen")
    return Offers(
        listing=place,
        seller=_coded(frame, "seller_id", codes),
        since=_ordinals(frame, "first_seen"),
        until=np.where(np.isnan(until), np.inf, until),
        sent=_sent(frame),
    )


def _sent(frame: pl.DataFrame) -> Floats | None:
    """1 where the marketplace sends an offer's goods, 0 where the seller does; None where it is not told."""
    if "fulfilment" not in frame.columns:
        return None
    own = frame["fulfilment"] == "marketplace"
    return own.cast(pl.Float64).fill_null(np.nan).to_numpy()
