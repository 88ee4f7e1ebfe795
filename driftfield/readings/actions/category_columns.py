"""What a run stores of categories besides their figures: their curves, and facts of the listings in them."""

from __future__ import annotations

import numpy as np
import polars as pl

from driftfield.core.base import Floats, Timeline
from driftfield.core.market import Workings, launch_verdicts, listing_categories
from driftfield.core.supply import Listings, window_mean, window_sum
from driftfield.readings.load import Part
from driftfield.readings.store import CURVE, FACT, FROM, KEYS, SOLD_FROM

NUMBERS = ("price", "rating", "reviews", "return_rate", "sponsored", "own_retail")


def curve_columns(categories: Workings) -> dict[str, pl.Series]:
    """Curves of the categories and of what their listings sell, a row a category, and with what they begin."""
    data = categories.data
    curves = {
        "searches": data.searches, "impressions": data.impressions, "clicks": data.clicks,
        "purchases": data.purchases, **_sold(categories),
    }  # fmt: skip
    columns = {
        f"{CURVE}{name}": pl.Series(np.ascontiguousarray(values, dtype=np.float32))
        for name, values in curves.items()
        if values is not None
    }
    columns[FROM] = start_column(data.timeline, categories.count)
    history = None if data.listings is None else data.listings.history
    if history is not None:
        columns[SOLD_FROM] = start_column(history.timeline, categories.count)
    return columns


def start_column(timeline: Timeline, rows: int) -> pl.Series:
    text = f"{timeline.period.value} {timeline.first.isoformat()}"
    return pl.repeat(text, rows, dtype=pl.String, eager=True)


def _sold(categories: Workings) -> dict[str, Floats]:
    """Units and revenue of each category by period of its listings' history."""
    listings = categories.data.listings
    history = None if listings is None else listings.history
    if listings is None or history is None or "units" not in history.measures:
        return {}
    members = categories.supply.members
    units = history.measures["units"]
    price = history.measures.get("price")
    paid = np.broadcast_to(listings.price[:, None], units.shape)
    if price is not None:
        paid = np.where(np.isnan(price), paid, price)
    out = {}
    for name, values in (("units", units), ("revenue", np.where(units == 0, 0, units * paid))):
        sums = np.empty((members.groups.many, units.shape[1]))
        for column in range(units.shape[1]):
            sums[:, column] = members.groups.sum(values[members.listing, column])
        out[name] = sums
    return out


def listing_columns(
    niches: Workings, categories: Workings | None, part: Part
) -> dict[str, pl.Series]:
    """Facts of the market's listings, with the place of the category in which each lies, −1 for none."""
    data = niches.data
    tree = None if categories is None or categories.category is None else categories.category.tree
    place = {key: i for i, key in enumerate([] if tree is None else tree.ids)}
    of_tree = np.array(
        [place.get(key, -1) for key in (data.tree.ids if data.tree else [])] + [-1], dtype=np.int64
    )
    listings = data.listings
    if listings is None:
        listings = Listings.unknown(len(part.listings))
    own = of_tree[listing_categories(niches)]
    day = data.timeline.end.toordinal()
    amount, verdict = launch_verdicts(niches.supply, len(listings))
    numbers: dict[str, Floats] = {name: getattr(listings, name) for name in NUMBERS} | {
        "units": niches.supply.units, "revenue": niches.supply.revenue, "age_days": day - listings.launched,
        "units_26w": window_sum(listings, "units", 26),
        "price_then": window_mean(listings, "price", 4, 52),
        "units_before": window_sum(listings, "units", 52, 52), "in_season": amount,
    }  # fmt: skip
    columns = {
        KEYS: pl.Series(part.listings, dtype=pl.Int64),
        f"{FACT}category": pl.Series(own, dtype=pl.Int32),
        f"{FACT}brand": pl.Series(listings.brand, dtype=pl.Int32),
        f"{FACT}seller": pl.Series(listings.seller, dtype=pl.Int32),
        f"{FACT}worked": pl.Series(verdict, dtype=pl.Int8),
    }
    columns |= {
        f"{FACT}{name}": pl.Series(np.asarray(values, dtype=np.float32))
        for name, values in numbers.items()
    }
    for name, codes in listings.attributes.items():
        words = pl.Series(listings.words[name], dtype=pl.String)
        known = pl.Series(np.where(codes >= 0, codes, 0))
        if not len(words):
            continue
        spelt = pl.select(pl.when(pl.Series(codes >= 0)).then(words.gather(known))).to_series()
        columns[f"{FACT}attr.{name}"] = spelt.cast(pl.Categorical)
    return columns
