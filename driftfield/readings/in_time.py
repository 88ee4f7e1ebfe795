"""What listings did in a time, from their stored curves."""

from __future__ import annotations

from datetime import timedelta
from itertools import islice

import numpy as np

from driftfield.core.base import Floats, Timeline
from driftfield.core.curves import Time
from driftfield.core.supply import History, of_time
from driftfield.market.models import ListingCurve

from .columns import RunColumns

CHUNK = 20_000  # Curves that are held at once.


def in_time(columns: RunColumns, measure: str, time: Time) -> Floats:
    """As ``of_time`` of the run's listings, (listings,), up to its as-of."""
    return columns.kept(("time", measure, time), lambda: _read(columns, measure, time))


def _read(columns: RunColumns, measure: str, time: Time) -> Floats:
    period = columns.period
    first = period.number(time.first)
    last = min(period.number(time.last), _known(columns))
    many = last - first + 1
    found = np.full(columns.count, np.nan)
    if many < 1:
        return found
    timeline = Timeline(period, period.start(first), many)
    rows = ListingCurve.objects.filter(measure=measure, period=period.value)
    fields = rows.values_list("subject_id", "first", "values").iterator(chunk_size=CHUNK)
    while chunk := list(islice(fields, CHUNK)):
        values = np.full((len(chunk), many), np.nan, dtype=np.float32)
        for row, (_, begin, packed) in enumerate(chunk):
            own = np.frombuffer(bytes(packed), dtype="<f4")
            start, end = max(first, begin), min(last + 1, begin + len(own))
            if start < end:
                values[row, start - first : end - first] = own[start - begin : end - begin]
        history = History(timeline, {measure: values})
        place = columns.places_of(np.array([key for key, _, _ in chunk], dtype=np.int64))
        here = place >= 0
        found[place[here]] = of_time(history, measure, time.first, time.last)[here]
    return found


def _known(columns: RunColumns) -> int:
    """Number of the last period that is complete on the run's as-of."""
    return columns.period.number(columns.run.as_of + timedelta(days=1)) - 1
