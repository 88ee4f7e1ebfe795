"""Figures of several subjects beside one another: which is best, as far as their intervals tell.

The subjects are of one kind, of one market or of several. What is ranked or weighed within a market says
nothing beside another market, and money of two currencies is laid beside one another at a given rate only.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, TypeGuard

from .figures import FIGURES_BY_KEY, Figure, figures_of
from .kinds import Kind

# What is set side by side, in the order in which one asks: worth it, wanted, lasting, paying, open.
HEADS: dict[str, tuple[str, ...]] = {
    "Standing": ("headroom", "rank", "demand", "competition", "openness", "settledness"),
    "What is in it": (
        "counts.niches", "counts.terms", "counts.listings", "counts.brands", "counts.sellers",
    ),
    "Demand": (
        "searches_52w", "purchases_52w", "purchase_rate", "drift_rate_year", "growth_13w.drift",
    ),
    "Calendar": (
        "shape", "best13", "act.caught", "act.open_until", "order_by", "act.after_arrival_13w",
        "coverage",
    ),
    "Money": (
        "sales.price_median", "sales.units_52w", "sales.revenue_52w", "sales.revenue_per_listing",
    ),
    "Who holds it": (
        "review_barrier", "competition_parts.click_breadth", "competition_parts.top3_share",
        "competition_parts.top_brand_share", "lorenz.gini", "lorenz.share_for_80",
        "barriers.sponsored_clicks", "barriers.return_rate",
    ),
    "What buyers write": ("voices.texts", "voices.complaint_share", "voices.fault_share"),
    "Newcomers": (
        "newcomers.listings_26w", "newcomers.units_share_26w", "entry.launches_52w",
        "entry.success_rate", "entry.units_per_review",
    ),
}  # fmt: skip
# Those that say how hard it is to compete with the present sellers.
COMPETITION = (
    "review_barrier", "competition_parts.click_breadth", "competition_parts.top3_share",
    "competition_parts.top_brand_share", "lorenz.gini", "lorenz.share_for_80",
    "barriers.sponsored_clicks",
)  # fmt: skip
# Figures between which a figure lies; what ranks by it lies between the ends of its band.
ENDS: dict[str, tuple[str, str]] = {
    "headroom": ("rank_low", "rank_high"),
    "rank": ("rank_low", "rank_high"),
    "openness": ("openness_rank_low", "openness_rank_high"),
    "settledness": ("settledness_rank_low", "settledness_rank_high"),
    "drift_rate_year": ("drift_low", "drift_high"),
    "growth_13w.drift": ("growth_13w.drift_low", "growth_13w.drift_high"),
    "purchase_rate": ("purchase_rate_low", "purchase_rate_high"),
    "competition_parts.click_breadth": (
        "competition_parts.click_breadth_least", "competition_parts.click_breadth",
    ),
    "competition_parts.top3_share": (
        "competition_parts.top3_share", "competition_parts.top3_share_high",
    ),
    "entry.success_rate": ("entry.success_low", "entry.success_high"),
}  # fmt: skip
CLEARLY = 0.1  # By so much of the larger a figure of competition must differ to favour one.
BANDED = frozenset({"headroom", "rank", "openness", "settledness"})
# Measured against the rest of their market: 60 here and 60 there are two things.
WITHIN = frozenset({*BANDED, "demand", "competition"})


@dataclass(frozen=True, slots=True)
class Beside:
    """A subject that is laid beside others.

    market_id: the market it is of. rate: what one unit of its money is in the money shown, None for not
    known. figures: by key, None for unknown.
    """

    market_id: str
    rate: float | None
    figures: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Cell:
    """A figure of one subject, amounts in the money shown where there is a rate, else in its own.

    low, high: its interval or, where ``banded``, the band of its rank; None for none. best: no other one is
    better, as far as intervals tell. at: where it lies between the lowest and the highest, 0–1; None where
    it is no number, or not to be laid beside the others.
    """

    value: Any
    low: float | None
    high: float | None
    banded: bool
    best: bool
    at: float | None


@dataclass(frozen=True, slots=True)
class Line:
    """A figure of all of them. apart: why they say nothing of one another: ``within`` a market each, or
    no ``rate`` for a currency; empty where they do."""

    head: str
    figure: Figure
    apart: str
    cells: list[Cell]


def side_by_side(kind: Kind, subjects: Sequence[Beside]) -> list[Line]:
    """Lay the figures of subjects beside one another, in the order of HEADS."""
    held = {figure.key for figure in figures_of(kind)}
    return [
        _line(head, FIGURES_BY_KEY[key], subjects)
        for head, keys in HEADS.items()
        for key in keys
        if key in held
    ]


@dataclass(frozen=True, slots=True)
class Easier:
    """known: figures of COMPETITION that two subjects or more have and that may be laid beside one another.
    favoured: in how many of them each subject is the best, and not by less than CLEARLY."""

    known: int
    favoured: list[int]


def easier(lines: Sequence[Line]) -> Easier:
    """Where competition is lower."""
    told = [
        one
        for one in lines
        if one.figure.key in COMPETITION
        and not one.apart
        and sum(_is_number(cell.value) for cell in one.cells) > 1
    ]
    among = len(lines[0].cells) if lines else 0
    return Easier(len(told), [sum(_clearly(one, at) for one in told) for at in range(among)])


def _clearly(line: Line, at: int) -> bool:
    if not line.cells[at].best:
        return False
    own = line.cells[at].value
    others = [c.value for i, c in enumerate(line.cells) if i != at and _is_number(c.value)]
    return all(abs(own - one) >= CLEARLY * max(abs(own), abs(one)) for one in others)


def _line(head: str, figure: Figure, subjects: Sequence[Beside]) -> Line:
    apart = _apart(figure, subjects)
    values = [_of(one, figure.key, figure) for one in subjects]
    named = ENDS.get(figure.key)
    ends = [_ends(one, named, figure) for one in subjects] if named else [None for _ in subjects]
    has_ends = any(ends)
    numbers = {at: v for at, v in enumerate(values) if _is_number(v)}
    lowest, highest = min(numbers.values(), default=0.0), max(numbers.values(), default=0.0)
    told = not apart and len(numbers) > 1 and highest > lowest
    # A rank is better the lower it is, whatever the registry says of its direction.
    direction = -1 if figure.key == "rank" else figure.direction
    top = highest if direction > 0 else lowest
    cells = []
    for at, value in enumerate(values):
        known = at in numbers
        low, high = ends[at] or (None, None)
        best = (
            told and known and direction != 0 and value == top
            and not (has_ends and _contested(at, ends, numbers))
        )  # fmt: skip
        place = (value - lowest) / (highest - lowest) if told and known else None
        cells.append(Cell(value, low, high, figure.key in BANDED, best, place))
    return Line(head, figure, apart, cells)


def _apart(figure: Figure, subjects: Sequence[Beside]) -> str:
    if len({one.market_id for one in subjects}) < 2:
        return ""
    if figure.key in WITHIN:
        return "within"
    return "rate" if figure.is_money and any(one.rate is None for one in subjects) else ""


def _of(one: Beside, key: str, figure: Figure) -> Any:
    value = one.figures.get(key)
    if figure.is_money and _is_number(value) and one.rate is not None:
        return value * one.rate
    return value


def _ends(one: Beside, named: tuple[str, str], figure: Figure) -> tuple[float, float] | None:
    low, high = (_of(one, key, figure) for key in named)
    return (low, high) if _is_number(low) and _is_number(high) else None


def _contested(
    at: int, ends: Sequence[tuple[float, float] | None], numbers: Mapping[int, float]
) -> bool:
    """Whether another one may as well be the best: their intervals meet, or one of them is not known."""
    mine = ends[at]
    others = [ends[other] for other in numbers if other != at]
    return any(
        mine is None or one is None or (one[0] <= mine[1] and mine[0] <= one[1]) for one in others
    )


def _is_number(value: Any) -> TypeGuard[float]:
    return isinstance(value, int | float) and not isinstance(value, bool)
