"""What one import brought: of which terms, listings and niches, and in which weeks."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from driftfield.core.base import Period
from driftfield.market.curves import unpack

from .coverage import Span, TableCoverage, describe
from .models import Batch, CurveBefore
from .stored import CURVES, StoredCurves

Floats32 = NDArray[np.float32]


def coverage_of_batch(batch: Batch) -> list[TableCoverage]:
    """By table, the weeks that a batch brought or changed; nothing of one that was undone."""
    if batch.undone_at is not None:
        return []
    found = (_table(batch, one) for one in CURVES)
    return [one for one in found if one is not None]


def _table(batch: Batch, stored: StoredCurves) -> TableCoverage | None:
    curves = stored.curves()
    name = stored.model.__name__
    noted = batch.curves_before.filter(table=name)
    before = {row.row: row for row in noted}
    made = batch.made.filter(table=name).first()
    # What came later may have made a curve longer: it is as long as that found it.
    extents = _extents(batch, name)
    spans: list[tuple[str, Span]] = []
    revised = 0
    # By a query of their own: a week of a large market changes more curves than a query takes values.
    rows = curves.filter(pk__in=noted.values("row"))
    if made is not None:
        rows = rows | curves.filter(pk__gt=made.after, pk__lte=made.upto)
    for pk, subject, period, first, values in rows.values_list(
        "pk", "subject_id", "period", "first", "values"
    ):
        first, curve = _as_found(unpack(bytes(values)), first, extents.get(pk))
        there = ~np.isnan(curve)
        if pk in before:
            was = figures_before(before[pk], first, curve)
            changed = there & (was != curve)  # Unknown differs from everything.
            revised += bool((changed & ~np.isnan(was)).any())
            there = changed
        if there.any():
            spans.append((period, (subject, first, there)))
    if not spans:
        return None
    period = spans[0][0]
    same = [span for one, span in spans if one == period]
    subjects = len({subject for subject, _, _ in same})
    return describe(stored.name, stored.whose, Period(period), same, subjects, revised)


def figures_before(before: CurveBefore, first: int, curve: Floats32) -> Floats32:
    """What the periods of a curve from ``first`` on were before a batch; NaN where nothing was known."""
    was = np.full(len(curve), np.nan, dtype=np.float32)
    start = before.first - first
    was[start : start + before.length] = curve[start : start + before.length]
    values = unpack(bytes(before.values))
    was[start + before.at : start + before.at + len(values)] = values
    return was


@dataclass(frozen=True, slots=True)
class Revision:
    """A figure that was known and that a batch made another."""

    table: str
    subject: str
    measure: str
    period: str
    start: date
    before: float
    now: float


def revisions_of(batch: Batch) -> Iterator[Revision]:
    """Every known figure that a batch changed, table by table; nothing of one that was undone."""
    if batch.undone_at is not None:
        return
    for stored in CURVES:
        measures = [*stored.measures, *stored.coded]
        noted = batch.curves_before.filter(table=stored.model.__name__)
        before = {row.row: row for row in noted}
        extents = _extents(batch, stored.model.__name__)
        curves = stored.model._default_manager.filter(measure__in=measures)
        rows = curves.filter(pk__in=noted.values("row")).order_by("pk")
        subject_is = stored.lookup(stored.keys[0])
        columns = ("pk", subject_is, "measure", "period", "first", "values")
        for pk, subject, measure, period, first, values in rows.values_list(*columns):
            first, curve = _as_found(unpack(bytes(values)), first, extents.get(pk))
            was = figures_before(before[pk], first, curve)
            both = ~np.isnan(was) & (was != curve)
            for place in np.flatnonzero(both).tolist():
                start = Period(period).start(first + place)
                yield Revision(
                    stored.name, subject, measure, period, start,
                    float(was[place]), float(curve[place]),
                )  # fmt: skip


def _extents(batch: Batch, name: str) -> dict[int, tuple[int, int]]:
    """First period and length of curves as the first batch after this one found them."""
    later = CurveBefore.objects.filter(table=name, batch__pk__gt=batch.pk).order_by("-batch")
    return {
        row: (first, length) for row, first, length in later.values_list("row", "first", "length")
    }


def _as_found(curve: Floats32, first: int, extent: tuple[int, int] | None) -> tuple[int, Floats32]:
    """A curve as long as a later batch found it."""
    if extent is None:
        return first, curve
    start, length = extent
    return start, curve[start - first : start - first + length]
