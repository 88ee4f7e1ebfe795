"""Relative curves: an index 0–100 over time, where no counts exist.

Their level means nothing, so it is never summed, never turned into counts and never ranked; season
and drift are read from them as from any curve.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta

import numpy as np

from driftfield.core.base import Floats, Ints, Period, Timeline, mid_ranks

MIN_COMMON = 12  # Months (four-week blocks) below which an agreement says nothing.


@dataclass(frozen=True, slots=True)
class Interest:
    """Relative curves of terms on their own timeline: niche (terms,) and index (terms, length)."""

    timeline: Timeline
    niche: Ints
    index: Floats


def mean_curves(index: Floats, group: Ints, groups: int) -> Floats:
    """Mean of relative curves by group, (groups, length), NaN where one of the group is absent.

    Each curve is divided by its own mean first and the result scaled to a highest value of 100. A
    curve that is zero throughout says nothing and is left out.
    """
    with np.errstate(invalid="ignore", divide="ignore"):
        own = np.where(np.isnan(index), 0, index).sum(axis=1) / (~np.isnan(index)).sum(axis=1)
    kept = np.flatnonzero(own > 0)
    kept = kept[np.argsort(group[kept], kind="stable")]
    out = np.full((groups, index.shape[1]), np.nan)
    if not kept.size:
        return out
    present, starts = np.unique(group[kept], return_index=True)
    sums = np.add.reduceat(index[kept] / own[kept][:, None], starts, axis=0)
    highest = np.fmax.reduce(sums, axis=1)
    out[present] = 100 * sums / highest[:, None]
    return out


def _by_month(values: Floats, timeline: Timeline) -> dict[int, float]:
    """Means by month; a week belongs to the month of its Thursday."""
    sums: dict[int, list[float]] = {}
    for i, value in enumerate(values):
        if not np.isnan(value):
            day = timeline.start(i)
            if timeline.period is Period.WEEK:
                day += timedelta(days=3)
            sums.setdefault(Period.MONTH.number(day), []).append(float(value))
    return {month: float(np.mean(found)) for month, found in sums.items()}


def agreement(counts: Floats, timeline: Timeline, relative: Floats, other: Timeline) -> float:
    """Spearman's rank correlation of a curve of counts with a relative one, by month; −1 to 1.

    NaN with under twelve common months or where one of them never moves.
    """
    first, second = _by_month(counts, timeline), _by_month(relative, other)
    common = sorted(first.keys() & second.keys())
    if len(common) < MIN_COMMON:
        return np.nan
    a = mid_ranks(np.array([first[month] for month in common]))
    b = mid_ranks(np.array([second[month] for month in common]))
    if np.ptp(a) == 0 or np.ptp(b) == 0:
        return np.nan
    return float(np.corrcoef(a, b)[0, 1])
