"""The curves of one category, as they are drawn."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from driftfield.core.base import Floats
from driftfield.readings.curves import Made, ShownCurve, shown_curve

from .found import MEASURES, CategoryReading


def category_curves(
    reading: CategoryReading, keys: Sequence[str] | None = None, *, without_season: bool = False
) -> list[ShownCurve]:
    """What is counted in a category, what a search buys and what a unit brings; ``keys`` chooses among KEYS.

    ``without_season`` takes the calendar out of each curve that has one.
    """
    wanted = set(KEYS if keys is None else keys)
    settings = reading.settings if without_season else None
    return [shown_curve(one, settings) for one in _made(reading) if one[0] in wanted]


def _made(reading: CategoryReading) -> Iterator[Made]:
    for key, label in MEASURES.items():
        found = reading.curve(key)
        if found is not None and not np.isnan(found[1]).all():
            timeline, values = found
            unit = "currency" if key == "revenue" else key
            yield key, label, unit, True, values, timeline
    for key, label, unit, above, below in RATES:
        one, other = reading.curve(above), reading.curve(below)
        if one is not None and other is not None and one[0] == other[0]:
            rate = _divided(one[1], other[1])
            if not np.isnan(rate).all():
                yield key, label, unit, False, rate, one[0]


def _divided(above: Floats, below: Floats) -> Floats:
    return np.where(below > 0, above / np.where(below > 0, below, 1), np.nan)


# Key, label, unit, and of which two curves it is the ratio.
RATES = (
    ("purchase_rate", "Purchase rate", "purchases a search", "purchases", "searches"),
    ("unit_price", "Price of a unit sold", "currency", "revenue", "units"),
)
KEYS = (*MEASURES, *(one[0] for one in RATES))
