"""A market's figures as they stood in the database on an earlier day, where later imports revised them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

import numpy as np
from django.db.models import Min, QuerySet

from driftfield.core.base import Timeline
from driftfield.core.market import MarketData
from driftfield.intake.batch_coverage import figures_before
from driftfield.intake.models import Batch, CurveBefore, Made
from driftfield.market.curves import unpack
from driftfield.market.models import ListingCurve, TermCurve

from .load import Part

OF_TERMS = ("searches", "clicks", "purchases", "impressions")
# The lead seller is a code of the database, and no figure that is revised.
CODED = "lead_seller"


@dataclass(frozen=True, slots=True)
class _Then:
    """A curve as it was: whose, of which measure, and values from the period ``first`` on, NaN for unknown."""

    subject: int
    measure: str
    first: int
    values: np.ndarray


def as_told(part: Part, day: date) -> MarketData:
    """The market's figures with those of a day in place of later revisions.

    What was not in the database by then is as it is now: an import that came late says nothing of when a figure
    was known. Shares of clicks are as they are now.
    """
    standing = Batch.objects.filter(undone_at=None)
    later = standing.filter(made_at__date__gt=day)
    data = part.data
    if not standing.filter(made_at__date__lte=day).exists() or not later.exists():
        return data
    # Relative curves stand where counts would.
    fields = dict(zip(OF_TERMS if data.counts else ("index",), OF_TERMS, strict=False))
    matrices = {measure: getattr(data, field) for measure, field in fields.items()}
    told = _put(matrices, _before(later, TermCurve), part.terms, data.timeline)
    changes: dict[str, Any] = {fields[measure]: matrix for measure, matrix in told.items()}
    data = replace(data, **changes)
    listings = data.listings
    if listings is None or listings.history is None:
        return data
    history = listings.history
    known = {name: one for name, one in history.measures.items() if name != CODED}
    told = _put(known, _before(later, ListingCurve), part.listings, history.timeline)
    measures = {**history.measures, **told}
    return replace(data, listings=replace(listings, history=replace(history, measures=measures)))


def _put(
    matrices: Mapping[str, np.ndarray | None], curves: Iterable[_Then], keys: list[int], line: Timeline
) -> dict[str, np.ndarray]:  # fmt: skip
    """Copies of those matrices, (keys, length), in which something was other, with what was known then."""
    row = {key: at for at, key in enumerate(keys)}
    changed: dict[str, np.ndarray] = {}
    for curve in curves:
        matrix = changed.get(curve.measure, matrices.get(curve.measure))
        if matrix is None or curve.subject not in row:
            continue
        if curve.measure not in changed:
            changed[curve.measure] = matrix = matrix.copy()
        start = curve.first - line.first_number
        at = start + np.flatnonzero(~np.isnan(curve.values))
        at = at[(at >= 0) & (at < line.length)]
        matrix[row[curve.subject], at] = curve.values[at - start]
    return changed


def _before(later: QuerySet[Batch], model: type[TermCurve] | type[ListingCurve]) -> Iterable[_Then]:
    """Curves that were changed since, as they were before some batches."""
    name = model.__name__
    made = Made.objects.filter(batch__in=later, table=name).exclude(after=None)
    highest = made.aggregate(least=Min("after"))["least"]
    notes = CurveBefore.objects.filter(batch__in=later, table=name)
    # What was only carried on has no other values; of a curve that was made since nothing was known.
    changed = notes.exclude(values=b"")
    if highest is not None:
        changed = changed.filter(row__lte=highest)
    noted: dict[int, list[CurveBefore]] = {}
    for one in notes.filter(row__in=changed.values("row")).order_by("-batch_id").iterator():
        noted.setdefault(one.row, []).append(one)
    manager: Any = model._default_manager
    columns = ("pk", "subject_id", "measure", "first", "values")
    curves = manager.filter(pk__in=changed.values("row"))
    for pk, subject, measure, first, packed in curves.values_list(*columns):
        values = unpack(bytes(packed))
        for one in noted[pk]:
            values = figures_before(one, first, values)
        yield _Then(subject, measure, first, values)
