"""Sieves: sets of conditions, what passes them, what each alone removes and what nearly passes."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations, islice

import numpy as np

from driftfield.core.base import Bools, CoreError
from driftfield.core.market import KINDS, NICHE, Kind

from .asked import Columns
from .clauses import Range
from .joined import Clause
from .of_kind import for_kind
from .parse import parse_clause

OFF = "~"
MAX_CONDITIONS = 60


@dataclass(frozen=True, slots=True)
class Condition:
    """A clause of a sieve; one that is off is kept and does not count."""

    clause: Clause
    on: bool = True

    @property
    def text(self) -> str:
        return ("" if self.on else OFF) + self.clause.text


@dataclass(frozen=True, slots=True)
class Sifted:
    """What a sieve does. passes: (niches,). removes: for each condition how many niches pass all
    others and not it; None where it is off. near: (niches,) place of the only condition a niche
    fails, and that narrowly; −1 for the rest."""

    passes: Bools
    removes: list[int | None]
    near: np.ndarray


def parse_sieve(texts: Iterable[str], kind: Kind = NICHE) -> list[Condition]:
    """Conditions from their texts, one that is off marked by a leading ~; raises CoreError.

    At most MAX_CONDITIONS of them: each is asked of every subject of ``kind``.
    """
    wanted = list(islice(texts, MAX_CONDITIONS + 1))
    if len(wanted) > MAX_CONDITIONS:
        raise CoreError(f"A sieve has at most {MAX_CONDITIONS} conditions. Remove some.")
    found = []
    for text in wanted:
        clause = for_kind(parse_clause(text.removeprefix(OFF)), kind)
        found.append(Condition(clause, not text.startswith(OFF)))
    return found


def holds_for(texts: Sequence[str], kind: Kind) -> bool:
    """Whether a set of conditions can be put to a kind: it has all of their figures."""
    try:
        parse_sieve(texts, kind)
    except CoreError:
        return False
    return True


def kind_of_sieve(texts: Sequence[str]) -> Kind | None:
    """The first kind that a set of conditions can be put to; None where it can be put to none."""
    return next((kind for kind in KINDS if holds_for(texts, kind)), None)


@dataclass(frozen=True, slots=True)
class Way:
    """A way to let something pass: the condition at ``place`` with another text, or without it where
    that is None. passes: how many niches pass then."""

    place: int
    clause: Clause | None
    passes: int


@dataclass(frozen=True, slots=True)
class Blocked:
    """Why nothing passes. alone: for each condition how many niches pass it; None where it is off.
    pair: places of two conditions that together let nothing through although each alone does; None
    where no two do. ways: how to let something pass, the smallest step first."""

    alone: list[int | None]
    pair: tuple[int, int] | None
    ways: list[Way]


def why_nothing(
    conditions: list[Condition], columns: Columns, within: Bools | None = None
) -> Blocked:
    """What keeps everything out of a sieve that nothing passes, of all or of some that are ``within``."""
    inside = np.ones(columns.count, dtype=bool) if within is None else within
    passing = {
        place: condition.clause.passes(columns) & inside
        for place, condition in enumerate(conditions)
        if condition.on
    }
    alone = {place: int(np.count_nonzero(held)) for place, held in passing.items()}
    pairs = [
        (alone[a] + alone[b], (a, b))
        for a, b in combinations(passing, 2)
        if alone[a] and alone[b] and not np.any(passing[a] & passing[b])
    ]
    ways = []
    for place in passing:
        rest = [held for other, held in passing.items() if other != place]
        others = np.logical_and.reduce([inside, *rest])
        if many := int(np.count_nonzero(others)):
            step, way = _loosened(place, conditions[place].clause, others, columns, many)
            ways.append((step, -way.passes, place, way))
    return Blocked(
        [alone.get(place) for place in range(len(conditions))],
        # The pair that lets most through one by one is the one that surprises.
        max(pairs)[1] if pairs else None,
        [way for *_, way in sorted(ways, key=lambda one: one[:3])],
    )


def _loosened(
    place: int, clause: Clause, others: Bools, columns: Columns, many: int
) -> tuple[float, Way]:
    """The smallest step of one condition that lets some of the others' niches pass, and its size."""
    off = Way(place, None, many)
    if not isinstance(clause, Range):
        return np.inf, off
    values = columns.figure(clause.figure)[others]
    values = values[~np.isnan(values)]
    steps = []
    below = values[values <= clause.high] if clause.high is not None else values
    if clause.low is not None and len(below):
        nearest = float(below.max())
        if nearest < clause.low:
            bound = _outward(nearest, -1)
            size = (clause.low - nearest) / (abs(clause.low) or 1)
            steps.append((size, Range(clause.figure, bound, clause.high)))
    above = values[values >= clause.low] if clause.low is not None else values
    if clause.high is not None and len(above):
        nearest = float(above.min())
        if nearest > clause.high:
            bound = _outward(nearest, 1)
            size = (nearest - clause.high) / (abs(clause.high) or 1)
            steps.append((size, Range(clause.figure, clause.low, bound)))
    if not steps:
        return np.inf, off
    size, wider = min(steps, key=lambda one: one[0])
    return size, Way(place, wider, int(np.count_nonzero(wider.passes(columns) & others)))


def _outward(value: float, side: int) -> float:
    """A bound that can be read and lets a value pass: two digits, away from it."""
    if not value:
        return 0.0
    unit = 10.0 ** (np.floor(np.log10(abs(value))) - 1)
    rounded = (np.floor if side < 0 else np.ceil)(round(value / unit, 6)) * unit
    return float(np.round(rounded, 12))


def sift(conditions: list[Condition], columns: Columns, within: Bools | None = None) -> Sifted:
    """Which niches pass all conditions that are on, of all or of some that are ``within``, (niches,)."""
    failed = np.zeros(columns.count, dtype=np.uint8)
    if within is not None:
        # As far from passing that no condition alone removes it.
        failed[~within] = 2
    fails: dict[int, Bools] = {}
    for place, condition in enumerate(conditions):
        if condition.on:
            fails[place] = ~condition.clause.passes(columns)
            failed += fails[place].view(np.uint8)
    alone = failed == 1
    removes: list[int | None] = [None] * len(conditions)
    near = np.full(columns.count, -1, dtype=np.int16)
    for place, missed in fails.items():
        missed &= alone
        removes[place] = int(np.count_nonzero(missed))
        clause = conditions[place].clause
        if removes[place] and isinstance(clause, Range):
            near[clause.near(columns, np.flatnonzero(missed))] = place
    return Sifted(failed == 0, removes, near)
