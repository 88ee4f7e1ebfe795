"""What comes back from a category and why, against the rest of what lies one level up."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from django.db.models import Sum

from driftfield.core.base import Bools, newcombe, wilson
from driftfield.market.models import Feedback

from .found import CategoryReading, below

MOST = 12  # Reasons that are told.


@dataclass(frozen=True, slots=True)
class Reason:
    """A reason for returns: mentions, its share of all reasons with its interval, and the share it has beside.

    says: “more” or “less” than beside where the interval of the difference leaves out 0, else empty.
    """

    theme: str
    mentions: int
    share: float
    low: float
    high: float
    beside: float | None
    says: str


@dataclass(frozen=True, slots=True)
class Returned:
    """Return rates of the category and the one above it, and reasons; beside: what it is held against."""

    rate: float | None
    above_rate: float | None
    beside: str
    mentions: int
    reasons: list[Reason]


def returned(reading: CategoryReading) -> Returned:
    """The returns of a category, most frequent reason first."""
    columns, above = reading.columns, reading.above
    rates = columns.figure("barriers.return_rate")
    if above:
        wider, beside = below(columns, above[-1]), columns.names[above[-1]]
    else:
        wider, beside = np.ones(columns.count, dtype=bool), "the other categories"
    mine = _mentions(reading, reading.inside)
    rest = _mentions(reading, wider & ~reading.inside)
    total, other = sum(mine.values()), sum(rest.values())
    level = float(reading.settings.interval)
    themes = sorted(mine, key=lambda theme: (-mine[theme], theme))[:MOST]
    reasons = []
    for theme in themes:
        share, share_beside = mine[theme] / total, rest.get(theme, 0) / other if other else None
        low, high = wilson(np.array([float(mine[theme])]), np.array([float(total)]), level)
        says = ""
        if share_beside is not None:
            ends = newcombe(
                np.array([share]), np.array([float(total)]), np.array([share_beside]),
                np.array([float(other)]), level,
            )  # fmt: skip
            says = "more" if ends[0][0] > 0 else "less" if ends[1][0] < 0 else ""
        reasons.append(
            Reason(theme, mine[theme], share, float(low[0]), float(high[0]), share_beside, says)
        )
    return Returned(
        rate=_known(rates[reading.place]),
        above_rate=_known(rates[above[-1]]) if above else None,
        beside=beside,
        mentions=total,
        reasons=reasons,
    )


def _mentions(reading: CategoryReading, inside: Bools) -> dict[str, int]:
    """Mentions of each reason over the listings of some categories."""
    keys = reading.columns.keys[inside].tolist()
    found = Feedback.objects.filter(kind="return", listing__category__in=keys)
    sums = found.values_list("theme").annotate(Sum("mentions"))
    return {theme: int(many) for theme, many in sums if many}


def _known(value: float) -> float | None:
    return None if np.isnan(value) else float(value)
