"""What listings did in a time, from their stored curves."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta
from itertools import islice

import numpy as np
from numpy.typing import NDArray

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
        keys, firsts, packed = zip(*chunk, strict=True)
        values = _between(firsts, packed, first, many)
        history = History(timeline, {measure: values})
        place = columns.places_of(np.array(keys, dtype=np.int64))
        here = place >= 0
        found[place[here]] = of_time(history, measure, time.first, time.last)[here]
    return found


def _between(
    firsts: Sequence[int], packed: Sequence[bytes], first: int, many: int
) -> NDArray[np.float32]:
    """Curves from a period on for so many periods, (curves, many), NaN for absent.

    Those that begin and end together, as most do, are read as one.
    """
    values = np.full((len(packed), many), np.nan, dtype=np.float32)
    begins, sizes = np.array(firsts), np.array([len(one) for one in packed])
    extents, group = np.unique(np.stack([begins, sizes]), axis=1, return_inverse=True)
    for at, (begin, size) in enumerate(extents.T.tolist()):
        length = size // 4
        start, end = max(first, begin), min(first + many, begin + length)
        if start >= end:
            continue
        rows = np.flatnonzero(group.reshape(-1) == at)
        held = np.frombuffer(b"".join(packed[row] for row in rows.tolist()), dtype="<f4")
        own = held.reshape(len(rows), length)
        values[rows, start - first : end - first] = own[:, start - begin : end - begin]
    return values


def _known(columns: RunColumns) -> int:
    """Number of the last period that is complete on the run's as-of."""
    return columns.period.number(columns.run.as_of + timedelta(days=1)) - 1
