"""Data coverage: of which terms, listings and niches there are figures, and from when to when."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
from django.db.models import QuerySet
from numpy.typing import NDArray

from driftfield.core.base import Bools, Period
from driftfield.market.category_tree import with_all_below
from driftfield.market.curves import spanning, unpack
from driftfield.market.models import Category, Market, Niche

from .models import CurveBefore
from .scope import only
from .stored import CURVES, StoredCurves

# A subject, its first period, and in which periods from there on anything is known.
Span = tuple[int, int, Bools]
BANDS = 24  # Rows of the picture; each stands for as many subjects.


@dataclass(frozen=True, slots=True)
class TableCoverage:
    """The coverage of one table of figures by period.

    what: whose figures they are. subjects: how many there are; without: of how many of them nothing is
    known. known: figures that are there; taken: periods in which anything is known; gaps: those of them
    that are absent between the first and the last of a subject. revised: curves whose figures a later
    import changed. share: of all subjects, how many are known in each period, (periods,). bands: the same
    for groups of subjects, those known earliest first, (at most BANDS, periods).
    """

    table: str
    what: str
    subjects: int
    without: int
    period: Period
    first: date
    last: date
    known: int
    taken: int
    gaps: int
    revised: int
    share: list[float]
    bands: list[list[float]]


def coverage_of(niches: QuerySet[Niche]) -> list[TableCoverage]:
    """The tables that hold figures of some niches of a market, in the order of the exchange tables."""
    scope = only(niches)
    found = (
        _table(
            one, one.curves().filter(subject__in=one.subjects(scope)), one.subjects(scope).count()
        )
        for one in CURVES
    )
    return [one for one in found if one is not None]


def niches_within(market: Market, niche: str = "", category: str = "") -> QuerySet[Niche]:
    """The niches of a market, or the one of an id, or those in a category by its id or below it."""
    niches = Niche.objects.filter(market=market)
    if niche:
        niches = niches.filter(niche_id=niche)
    if category:
        niches = niches.filter(category__in=_below(category))
    return niches


def _below(category: str) -> set[int]:
    parents = dict(Category.objects.values_list("pk", "parent_id"))
    roots = Category.objects.filter(category_id=category).values_list("pk", flat=True)
    return with_all_below(list(roots), parents)


def _table(stored_as: StoredCurves, curves: QuerySet[Any], subjects: int) -> TableCoverage | None:
    rows = list(curves.values_list("pk", "subject_id", "period", "first", "values"))
    if not rows:
        return None
    # Where there are both, the finer period is what is read.
    period = Period.WEEK if any(row[2] == "week" for row in rows) else Period.MONTH
    rows = [row for row in rows if row[2] == period.value]
    stored = {pk: (first, unpack(bytes(v))) for pk, _, _, first, v in rows}
    spans = [(s, first, ~np.isnan(stored[pk][1])) for pk, s, _, first, _ in rows]
    revised = len(_revised(curves.model, stored))
    return describe(stored_as.name, stored_as.whose, period, spans, subjects, revised)


def _revised(model: Any, stored: dict[int, tuple[int, NDArray[np.float32]]]) -> set[int]:
    """Those of the curves of which some known figure was another before an import that stands."""
    changed = CurveBefore.objects.filter(table=model.__name__, batch__undone_at=None)
    found = set()
    for row in changed.exclude(values=b"").iterator():
        if row.row in stored and row.row not in found:
            first, curve = stored[row.row]
            was = unpack(bytes(row.values))
            start = row.first - first + row.at
            now = curve[start : start + len(was)]
            if (~np.isnan(was) & (was != now)).any():
                found.add(row.row)
    return found


def describe(
    table: str, what: str, period: Period, spans: Sequence[Span], subjects: int, revised: int
) -> TableCoverage:
    """The coverage that spans of subjects make; a subject may have several."""
    timeline = spanning(period, [(first, len(known)) for _, first, known in spans])
    known = _presence(spans, timeline.first_number, timeline.length)
    many = known.sum(axis=1)
    begins = known.argmax(axis=1)
    ends = timeline.length - known[:, ::-1].argmax(axis=1)
    # Clicks are counted on some days of the year only; nobody misses the other weeks.
    taken = np.concatenate([[0], np.cumsum(known.any(axis=0))])
    order = np.lexsort((-many, begins))
    share = known.sum(axis=0) / subjects
    bands = [known[band].mean(axis=0) for band in np.array_split(order, min(BANDS, len(known)))]
    return TableCoverage(
        table, what, subjects, subjects - len(known), period, timeline.first, timeline.end,
        int(many.sum()), int(taken[-1]), int((taken[ends] - taken[begins] - many).sum()), revised,
        np.round(share, 4).tolist(), [np.round(band, 3).tolist() for band in bands],
    )  # fmt: skip


def _presence(spans: Sequence[Span], start: int, length: int) -> Bools:
    """Whether anything is known of a subject in a period, (subjects, periods)."""
    places: dict[int, int] = {}
    rows = [places.setdefault(subject, len(places)) for subject, _, _ in spans]
    known = np.zeros((len(places), length), dtype=bool)
    for place, (_, first, there) in zip(rows, spans, strict=True):
        known[place, first - start : first - start + len(there)] |= there
    return known
