"""A brand or a seller by itself: its goods now, on another day and ever, and who is behind them or in them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
import polars as pl
from django.db.models import Q

from driftfield.core.base import CoreError, Floats, Ints, Period
from driftfield.core.market import BRAND, FIGURES_BY_KEY, LISTING
from driftfield.market.curves import unpack
from driftfield.market.models import Brand, LeadSeller, Listing, ListingCurve, Offer, Seller

from .chosen import own_sellers
from .columns import RunColumns, columns_of
from .reading import HolderReading
from .store import FACT, GOODS, MOVED, ON_SALE, PORTION

MOST_GOODS, MOST_OTHERS = 200, 15
ONLY = ("came", "went", "asleep")  # Goods that can be asked for alone.
# What is told of each of its goods.
OF_GOODS = tuple(
    FIGURES_BY_KEY[key]
    for key in (
        "listing.price", "listing.price_change_13w", "sales.units_52w", "listing.estimated_units",
        "listing.reviews", "listing.launched_on", "shape", "drift", "sleep.state", "sleep.rise",
        "sleep.order_by",
    )
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Good:
    """A listing that it has, or had. units: its part of the year's, None where they are not known; estimated
    where they are from ranks. since, until: None for unknown, and for what goes on. moved: “came” or “went”
    within 52 weeks, else empty. fate: what became of it as a launch of the year: worked, fell short, or empty.
    mine: whether one's own sellers have it now."""

    id: str
    name: str
    brand: str
    category: str
    units: float | None
    estimated: bool
    since: date | None
    until: date | None
    on_sale: bool
    moved: str
    fate: str
    mine: bool
    figures: dict[str, Any]


@dataclass(frozen=True, slots=True)
class Part:
    """A category, a brand or a seller that shares in its goods.

    units: a year's, None for unknown; share: of all its units. lead: of a brand's seller, share of the last 52
    weeks' lead offers that it held; None for unknown.
    """

    id: str
    name: str
    listings: int
    units: float | None
    share: float | None
    lead: float | None = None


@dataclass(frozen=True, slots=True)
class HolderPage:
    """goods: most units first, at most MOST_GOODS of ``all_goods``. others: of a brand its sellers, of a seller
    its brands. on: the day that the goods are of; None for ever. mine: how many of all goods one's own sellers
    have now; None where none is one's own, and of such a seller itself."""

    goods: list[Good]
    all_goods: int
    categories: list[Part]
    others: list[Part]
    on: date | None
    mine: int | None


@dataclass(frozen=True, slots=True)
class _Shelf:
    """Its goods as arrays: place among the run's listings, the part of units, dates, and what is known now."""

    place: Ints
    portion: Floats
    since: list[date | None]
    until: list[date | None]
    on_sale: np.ndarray
    moved: list[str]


def holder_page(
    reading: HolderReading, on: date | None = None, *, ever: bool = False, only: str = ""
) -> HolderPage:
    """What it has on sale on a day (default: the as-of), or ``ever`` had; ``only`` is one of ONLY.

    Raises CoreError for a day after the as-of, and for another day of a brand, of which only now is known.
    """
    as_of = reading.run.as_of
    if on is not None and on > as_of:
        raise CoreError(f"{on} lies after the as-of, {as_of}: choose an earlier day.")
    listings = columns_of(reading.run, LISTING)
    shelf = _shelf(reading, listings)
    if on is not None and on != as_of:
        if reading.kind == BRAND:
            raise CoreError(
                "Of a brand it is known what it has on sale now: leave the day out, or ask for ever."
            )
        there = [
            since is not None and since <= on and (until is None or until >= on)
            for since, until in zip(shelf.since, shelf.until, strict=True)
        ]
        shown = np.flatnonzero(there)
    else:
        shown = np.arange(len(shelf.place)) if ever else np.flatnonzero(shelf.on_sale)
    shown = shown[_picked(listings, shelf, only)[shown]]
    units, estimated = _units(listings, shelf)
    order = shown[np.lexsort((shelf.place[shown], -np.nan_to_num(units[shown], nan=-1)))]
    own = own_sellers(reading.run.market.market_id)
    mine = _mine(listings, shelf, [] if reading.id in own else own, as_of)
    goods = _goods(reading, listings, shelf, units, estimated, mine, order[:MOST_GOODS])
    now = np.flatnonzero(shelf.on_sale) if on is None or on == as_of else shown
    if ever:
        now = shown
    places, sold = shelf.place[now], units[now]
    others = (
        _sellers(listings, places)
        if reading.kind == BRAND
        else _parts(listings.identity("brand"), _brand_names, places, sold)
    )
    categories = _parts(listings.identity("category_id"), listings.tree.named, places, sold)
    shared = None if mine is None else int(mine[order].sum())
    return HolderPage(goods, len(order), categories, others, None if ever else on or as_of, shared)


def _mine(
    listings: RunColumns, shelf: _Shelf, sellers: list[str], as_of: date
) -> np.ndarray | None:
    """Which of the goods one's own sellers have now; None without such."""
    if not sellers:
        return None
    stands = Q(last_seen=None) | Q(last_seen__gte=as_of)
    offered = Offer.objects.filter(stands, seller_id__in=sellers, first_seen__lte=as_of)
    keys = set(offered.values_list("listing_id", flat=True))
    told = set(Offer.objects.filter(seller_id__in=sellers).values_list("listing_id", flat=True))
    # Of one that names it as its seller without an offer it is taken to be there.
    named = Listing.objects.filter(seller_id__in=sellers).values_list("pk", flat=True)
    keys |= {key for key in named if key not in told}
    return np.isin(listings.keys[shelf.place], np.array(sorted(keys), dtype=np.int64))


def _picked(listings: RunColumns, shelf: _Shelf, only: str) -> np.ndarray:
    """Which of the goods are asked for."""
    if only == "asleep":
        asleep = FIGURES_BY_KEY["sleep.state"].choices.index("Asleep")
        found: np.ndarray = listings.figure("sleep.state")[shelf.place] == asleep
        return found
    return np.array([not only or moved == only for moved in shelf.moved], dtype=bool)


def _shelf(reading: HolderReading, listings: RunColumns) -> _Shelf:
    columns = columns_of(reading.run, reading.kind)

    def mine(name: str, dtype: Any) -> pl.Series:
        column = columns.column(name)
        return pl.Series([], dtype=dtype) if column is None else column[reading.place]

    keys = mine(GOODS, pl.Int64).to_list()
    at = [listings.place_of(key) for key in keys]
    known = [i for i, place in enumerate(at) if place is not None]
    since: list[date | None] = [None] * len(keys)
    until: list[date | None] = [None] * len(keys)
    if reading.kind != BRAND:
        as_of = reading.run.as_of
        place = {key: i for i, key in enumerate(keys)}
        mine_of = Offer.objects.filter(seller_id=reading.id, first_seen__lte=as_of)
        # The first and the last of several offers of one listing.
        for key, first, last in mine_of.order_by("first_seen").values_list(
            "listing_id", "first_seen", "last_seen"
        ):
            if (i := place.get(key)) is not None:
                since[i] = since[i] or first
                until[i] = last if last is not None and last < as_of else None
    portion = mine(PORTION, pl.Float32).to_numpy().astype(np.float64)
    return _Shelf(
        np.array([at[i] for i in known], dtype=np.int64),
        np.where(portion > 0, portion, np.nan)[known],
        [since[i] for i in known], [until[i] for i in known],
        mine(ON_SALE, pl.Boolean).to_numpy()[known], [mine(MOVED, pl.String)[i] or "" for i in known],
    )  # fmt: skip


def _units(listings: RunColumns, shelf: _Shelf) -> tuple[Floats, np.ndarray]:
    """A year's units of each of the goods that are its own, and whether they are estimated."""
    known = listings.figure("sales.units_52w")[shelf.place]
    guess = listings.figure("listing.estimated_units")[shelf.place]
    estimated = np.isnan(known) & ~np.isnan(guess)
    return np.where(estimated, guess, known) * shelf.portion, estimated


def _goods(
    reading: HolderReading,
    listings: RunColumns,
    shelf: _Shelf,
    units: Floats,
    estimated: np.ndarray,
    mine: np.ndarray | None,
    rows: Ints,
) -> list[Good]:
    places = shelf.place[rows]
    cells = {one.key: listings.cells(one, places) for one in OF_GOODS}
    brands = listings.identity("brand")
    named = _brand_names([brands[place] for place in places.tolist()])
    worked = listings.column(f"{FACT}worked")
    fates = {1: "worked", 0: "fell short"}
    since_year = reading.kind == BRAND
    return [
        Good(
            id=listings.ids[place], name=listings.names[place],
            brand=named.get(brands[place], brands[place]), category=listings.category_path(place),
            units=None if np.isnan(units[row]) else round(float(units[row]), 1), estimated=bool(estimated[row]),
            since=cells["listing.launched_on"][at] if since_year else shelf.since[row],
            until=shelf.until[row], on_sale=bool(shelf.on_sale[row]), moved=shelf.moved[row],
            fate="" if worked is None else fates.get(int(worked[place]), ""),
            mine=mine is not None and bool(mine[row]),
            figures={key: values[at] for key, values in cells.items()},
        )
        for at, (row, place) in enumerate(zip(rows.tolist(), places.tolist(), strict=True))
    ]  # fmt: skip


def _brand_names(ids: list[str]) -> dict[str, str]:
    return dict(Brand.objects.filter(pk__in=set(ids)).values_list("pk", "name"))


def _parts(own: Sequence[str], names: Any, places: Ints, units: Floats) -> list[Part]:
    """Its goods by something they have, say their category, most units first."""
    each = pl.DataFrame(
        {"id": [own[place] for place in places.tolist()], "units": units}, schema_overrides={"id": pl.String}
    ).filter(pl.col("id") != "")  # fmt: skip
    known = pl.col("units").is_not_nan()
    found = (
        each.group_by("id")
        .agg(pl.len().alias("listings"), known.any().alias("known"),
             pl.col("units").filter(known).sum().alias("sum"))
        .sort(["sum", "listings", "id"], descending=[True, True, False])
    )  # fmt: skip
    total = float(np.nansum(units))
    top = found.head(MOST_OTHERS).to_dicts()
    called = names([row["id"] for row in top])
    return [
        Part(
            row["id"], called.get(row["id"], row["id"]), row["listings"],
            round(row["sum"], 1) if row["known"] else None,
            row["sum"] / total if row["known"] and total > 0 else None,
        )
        for row in top
    ]  # fmt: skip


def _sellers(listings: RunColumns, places: Ints) -> list[Part]:
    """Who sells some listings, who held most of their lead offers first."""
    keys = listings.keys[places].tolist()
    pairs: set[tuple[str, int]] = set()
    held: dict[str, int] = {}
    as_of = listings.run.as_of
    for start in range(0, len(keys), 500):
        some = keys[start : start + 500]
        offers = Offer.objects.filter(listing__in=some, first_seen__lte=as_of)
        pairs |= {
            (seller, key)
            for seller, key, last in offers.values_list("seller_id", "listing_id", "last_seen")
            if last is None or last >= as_of
        }
        named = Listing.objects.filter(pk__in=some).exclude(seller_id=None)
        pairs |= {(str(seller), key) for seller, key in named.values_list("seller_id", "pk")}
        for seller, times in _leads(some, as_of).items():
            held[seller] = held.get(seller, 0) + times
    whole = sum(held.values())
    many: dict[str, int] = dict.fromkeys(held, 0)
    for seller, _ in pairs:
        many[seller] = many.get(seller, 0) + 1
    best = sorted(many, key=lambda one: (-held.get(one, 0), -many[one], one))[:MOST_OTHERS]
    names = dict(Seller.objects.filter(pk__in=best).values_list("pk", "name"))
    return [
        Part(one, names.get(one, one), many[one], None, None, held.get(one, 0) / whole if whole else None)
        for one in best
    ]  # fmt: skip


def _leads(keys: list[int], as_of: date) -> dict[str, int]:
    """In how many of the last year's periods each seller held the lead offer of some listings."""
    held: dict[int, int] = {}
    rows = ListingCurve.objects.filter(subject__in=keys, measure="lead_seller")
    for period, first, values in rows.values_list("period", "first", "values"):
        step = Period(period)
        end = step.number(as_of) + 1 - first
        late = unpack(bytes(values))[: max(end, 0)][-step.per_year :]
        codes, many = np.unique(late[~np.isnan(late)].astype(np.int64), return_counts=True)
        for code, times in zip(codes.tolist(), many.tolist(), strict=True):
            held[code] = held.get(code, 0) + times
    names = dict(LeadSeller.objects.filter(pk__in=held).values_list("pk", "seller_id"))
    return {names[code]: many for code, many in held.items() if code in names}


def goods_ids(reading: HolderReading) -> list[str]:
    """Ids of the listings that a brand or a seller has, or had."""
    column = columns_of(reading.run, reading.kind).column(GOODS)
    keys = [] if column is None else column[reading.place].to_list()
    return list(Listing.objects.filter(pk__in=keys).values_list("listing_id", flat=True))
