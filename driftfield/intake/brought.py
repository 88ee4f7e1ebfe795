"""What one import brought: of which terms, listings and niches, and in which weeks."""

from __future__ import annotations

from typing import Any

import numpy as np

from driftfield.core.periods import Bools, Period
from driftfield.market.curves import unpack
from driftfield.market.models import ClickCurve, ListingCurve, SalesCurve, TermCurve

from .coverage import Span, TableCoverage, describe
from .models import Batch, CurveBefore

# Tables of figures by week: their curves, the measure that stands for all, and whose figures they are.
TABLES: tuple[tuple[str, Any, str, str], ...] = (
    ("term_weeks", TermCurve, "searches", "terms"),
    ("interest", TermCurve, "index", "terms"),
    ("term_clicks", ClickCurve, "click_share", "terms"),
    ("listing_weeks", ListingCurve, "", "listings"),
    ("own_sales", SalesCurve, "units", "niches"),
)


def brought_by(batch: Batch) -> list[TableCoverage]:
    """By table, the weeks that a batch brought or changed; nothing of one that was taken back."""
    if batch.undone_at is not None:
        return []
    found = (_table(batch, *one) for one in TABLES)
    return [one for one in found if one is not None]


def _table(batch: Batch, table: str, model: Any, measure: str, what: str) -> TableCoverage | None:
    curves = model.objects.filter(measure=measure) if measure else model.objects.all()
    name = model.__name__
    before = {row.row: row for row in batch.curves_before.filter(table=name)}
    made = batch.made.filter(table=name).first()
    # What came later may have made a curve longer: it is as long as that found it.
    later = CurveBefore.objects.filter(table=name, batch__pk__gt=batch.pk).order_by("-batch")
    extents = {
        row: (first, length) for row, first, length in later.values_list("row", "first", "length")
    }
    spans: list[tuple[str, Span]] = []
    revised = 0
    rows = curves.filter(pk__in=before)
    if made is not None:
        rows = rows | curves.filter(pk__gt=made.after, pk__lte=made.upto)
    for pk, subject, period, first, values in rows.values_list(
        "pk", "subject_id", "period", "first", "values"
    ):
        curve = unpack(bytes(values))
        if pk in extents:
            start, length = extents[pk]
            curve, first = curve[start - first : start - first + length], start
        there = ~np.isnan(curve)
        if pk in before:
            new = _new(before[pk], first, len(curve))
            there &= new
            revised += bool(len(before[pk].values))
        if there.any():
            spans.append((period, (subject, first, there)))
    if not spans:
        return None
    period = spans[0][0]
    same = [span for one, span in spans if one == period]
    return describe(table, what, Period(period), same, len({s for s, _, _ in same}), revised)


def _new(was: CurveBefore, first: int, length: int) -> Bools:
    """Which periods of a curve from ``first`` on were not there before, or had other values."""
    new = np.ones(length, dtype=bool)
    start = was.first - first
    new[start : start + was.length] = False
    changed = len(was.values) // 4
    new[start + was.at : start + was.at + changed] = True
    return new
