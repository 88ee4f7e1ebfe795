"""What listings did in one month, from their stored curves."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np

from driftfield.core.base import Floats, Timeline
from driftfield.core.supply import History, of_month
from driftfield.market.models import ListingCurve

from .columns import RunColumns

MARGIN = 2  # Periods beside the month, by which it is known to be whole.


def in_month(columns: RunColumns, measure: str, year: int, month: int) -> Floats:
    """As ``of_month`` of the run's listings, (listings,), up to its as-of."""
    return columns.kept(
        ("month", measure, year, month), lambda: _read(columns, measure, year, month)
    )


def _read(columns: RunColumns, measure: str, year: int, month: int) -> Floats:
    day = date(year, month, 1)
    period = columns.period
    first = period.number(day) - MARGIN
    last = min(period.number(day + timedelta(days=31)) + MARGIN, _known(columns))
    many = last - first + 1
    if many < 1:
        return np.full(columns.count, np.nan)
    values = np.full((columns.count, many), np.nan, dtype=np.float32)
    rows = ListingCurve.objects.filter(measure=measure, period=period.value)
    for key, begin, packed in rows.values_list("subject_id", "first", "values").iterator():
        place = columns.place_of(key)
        if place is None:
            continue
        own = np.frombuffer(bytes(packed), dtype="<f4")
        start, end = max(first, begin), min(last + 1, begin + len(own))
        if start < end:
            values[place, start - first : end - first] = own[start - begin : end - begin]
    timeline = Timeline(period, period.start(first), many)
    return of_month(History(timeline, {measure: values}), measure, year, month)


def _known(columns: RunColumns) -> int:
    """Number of the last period that is complete on the run's as-of."""
    return columns.period.number(columns.run.as_of + timedelta(days=1)) - 1
