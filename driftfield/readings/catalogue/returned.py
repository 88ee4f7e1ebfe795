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

    Both intervals rest on listings and not on mentions.

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
    mine, own_weight = _mentions(reading, reading.inside)
    rest, weight_beside = _mentions(reading, wider & ~reading.inside)
    total, other = sum(mine.values()), sum(rest.values())
    level = float(reading.settings.interval)
    themes = sorted(mine, key=lambda theme: (-mine[theme], theme))[:MOST]
    share = np.array([mine[theme] / total for theme in themes])
    low, high = wilson(share * own_weight, np.full(len(themes), own_weight), level)
    share_beside = np.array([rest.get(theme, 0) / other if other else np.nan for theme in themes])
    less, more = newcombe(
        share, np.full(len(themes), own_weight), share_beside,
        np.full(len(themes), weight_beside), level,
    )  # fmt: skip
    says = np.where(less > 0, "more", np.where(more < 0, "less", ""))
    reasons = [
        Reason(theme, mine[theme], float(share[i]), float(low[i]), float(high[i]),
               _known(share_beside[i]), str(says[i]))
        for i, theme in enumerate(themes)
    ]  # fmt: skip
    return Returned(
        rate=_known(rates[reading.place]),
        above_rate=_known(rates[above[-1]]) if above else None,
        beside=beside,
        mentions=total,
        reasons=reasons,
    )


def _mentions(reading: CategoryReading, inside: Bools) -> tuple[dict[str, int], float]:
    """Mentions of each reason over the listings of some categories, and how many listings they are worth.

    What buyers of one listing say is alike, so shares rest on as many listings as have the same effect (Kish
    1965).
    """
    keys = reading.columns.keys[inside].tolist()
    found = Feedback.objects.filter(kind="return", listing__category__in=keys)
    sums = found.values_list("theme").annotate(Sum("mentions"))
    each = np.array(
        [many or 0 for _, many in found.values_list("listing").annotate(Sum("mentions"))],
        dtype=float,
    )
    squares = float(np.square(each).sum())
    return {theme: int(many) for theme, many in sums if many}, float(
        each.sum()
    ) ** 2 / squares if squares else 0.0


def _known(value: float) -> float | None:
    return None if np.isnan(value) else float(value)
