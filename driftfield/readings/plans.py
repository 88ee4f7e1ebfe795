"""What a plan takes from the readings of one niche: what it will sell, what newcomers reached, prices."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np

from driftfield.core.base import CoreError, Period
from driftfield.core.economics import Sold
from driftfield.core.market import (
    NICHE,
    NicheOutlook,
    PastUnits,
    outlook_of,
    path_from_packed,
)
from driftfield.core.supply import NewcomersPath, window_sum
from driftfield.exchange.beside import LAUNCHES
from driftfield.market.curves import unpack
from driftfield.market.models import ListingSalesCurve, SalesCurve

from .columns import columns_of
from .curves import price_curve
from .niche_data import load_niche_data
from .reading import Reading
from .season_inputs import seasons_at


def niche_outlook_of(reading: Reading, ordered: date) -> NicheOutlook:
    """What a plan of an order on a day takes from a niche's readings. Raises CoreError; see ``outlook_of``."""
    loaded = load_niche_data(reading)
    if loaded is None:
        raise CoreError(
            "A plan needs searches that are counted; what this niche has is a relative curve. Import "
            "term_weeks."
        )
    figures = reading.figures
    searches, units = figures["searches_52w"], figures["sales.units_52w"]
    a_search = units / searches if searches and units is not None else np.nan
    profile = figures["season_profile"] if figures["borrowed"] else None
    curve, timeline = loaded.together(loaded.data.searches), loaded.data.timeline
    outlook = outlook_of(
        curve, timeline, loaded.settings, a_search, ordered,
        None if profile is None else np.array(profile),
    )  # fmt: skip
    low, error = _prices(reading)

    def number(key: str) -> float:
        value = figures[key]
        return np.nan if value is None else float(value)

    return NicheOutlook(
        outlook, newcomers_of(reading), seasons_at(reading.run, NICHE, np.array([reading.place])).parts[0],
        price=number("sales.price_median"), price_low=low, price_error=error,
        returned=number("barriers.return_rate"), kg=number("barriers.weight_g") / 1000,
        past=PastUnits.of_searches(curve, timeline, a_search),
    )  # fmt: skip


def newcomers_of(reading: Reading) -> NewcomersPath | None:
    """What launches of a niche reached, pooled with its category's; None where that is not known."""
    columns = columns_of(reading.run, NICHE)
    packed = columns.column(LAUNCHES)
    if packed is None:
        return None
    made: NewcomersPath = columns.kept(
        ("newcomers", reading.place),
        lambda: path_from_packed(packed.to_list(), columns.category_keys, reading.place),
    )
    return made


def matched_shares(reading: Reading) -> dict[str, float]:
    """The share of the niche's units of the last 52 weeks that each of its listings has, by id; known ones.

    A listing that other niches bring clicks to as well counts whole.
    """
    loaded = load_niche_data(reading)
    whole = reading.figures["sales.units_52w"]
    if loaded is None or loaded.members is None or not whole:
        return {}
    sold = window_sum(loaded.listings, "units", 52)
    facts = loaded.facts()
    found = {}
    for place in loaded.members.listing.tolist():
        share = min(float(sold[place] / whole), 1.0)
        listing = facts.get(loaded.keys[place])
        if listing is not None and share > 0:
            found[listing.listing_id] = share
    return found


def own_sold(reading: Reading, listing_id: str = "") -> list[Sold]:
    """What one sold oneself of a listing, or in the reading's niche; in time, to its as-of."""
    if listing_id:
        mine: Any = ListingSalesCurve.objects.filter(subject__listing_id=listing_id)
    else:
        mine = SalesCurve.objects.filter(subject_id=reading.niche.pk)
    found = mine.filter(measure="units").values_list("period", "first", "values").first()
    if found is None:
        return []
    period, first, values = Period(found[0]), int(found[1]), unpack(found[2])
    made = [
        Sold(period.start(first + at), period.start(first + at + 1), float(units))
        for at, units in enumerate(values.tolist())
        if units == units
    ]
    return [one for one in made if one.end <= reading.run.as_of + timedelta(days=1)]


def _prices(reading: Reading) -> tuple[float, float]:
    """The lowest median price of the last 52 weeks, and the deviation of its logarithm; NaN for unknown."""
    curve = price_curve(reading)
    if curve is None:
        return np.nan, np.nan
    year = curve.values[-52 if curve.period == "week" else -12 :]
    known = np.array([value for value in year if value])
    if not known.size:
        return np.nan, np.nan
    return float(known.min()), float(np.log(known).std())
