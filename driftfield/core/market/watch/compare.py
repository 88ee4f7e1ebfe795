"""Two looks at the same market held against one another: what changed beyond noise, by consequence."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
from scipy import stats

from driftfield.core.base import DEFAULTS, Bools, CoreError, Floats, Settings

from ..kinds import Kind
from .aspects import ASPECTS, Aspect, Compared
from .side import Side, in_common


@dataclass(frozen=True, slots=True)
class Change:
    """One thing that changed of one subject.

    kind, market, id, name: which. aspect: what. then, now: figures before and after; low, high: interval of
    ``now``; since: the day from which it holds; each None for none. chance: of as much where nothing changed;
    None for a fact. further: it lies beyond what could be told before. words: what else is told.
    """

    kind: Kind
    market: str
    id: str
    name: str
    aspect: Aspect
    then: float | None
    now: float | None
    low: float | None
    high: float | None
    since: date | None
    chance: float | None
    up: bool
    further: bool
    words: dict[str, Any]

    @property
    def key(self) -> str:
        """What tells it from every other change, also at a later analysis."""
        way = "up" if self.up else "down"
        return f"{self.kind.key}:{self.aspect.topic or self.aspect.key}:{way}:{self.id}"


@dataclass(frozen=True, slots=True)
class Changes:
    """What changed, by consequence. tested: how many comparisons were made; came, went: subjects of one side
    alone."""

    changes: list[Change]
    tested: int
    came: list[tuple[Kind, str]]
    went: list[tuple[Kind, str]]


def held(chances: Floats, rate: float) -> Bools:
    """Which of some chances stand at a false discovery rate, NaN for none.

    References
    ----------
    Benjamini & Hochberg (1995), Journal of the Royal Statistical Society B 57, 289–300.
    """
    told = np.zeros(len(chances), dtype=bool)
    known = np.flatnonzero(~np.isnan(chances))
    if known.size:
        told[known] = stats.false_discovery_control(np.clip(chances[known], 0, 1)) <= rate
    return told


def compare(
    pairs: Sequence[tuple[Side, Side]], rate: float, settings: Settings = DEFAULTS
) -> Changes:
    """Hold looks against earlier ones of the same kinds.

    Parameters
    ----------
    pairs : sequence of (before, after)
        Two sides of one kind each.
    rate : float
        False discovery rate over everything that is compared, 0–1: of what is told beside facts, at most so
        much is chance.
    settings : Settings
        Thresholds.

    Returns
    -------
    Changes
        Those of subjects that both sides have, by consequence: aspect, then how far beyond chance, then name.

    Raises
    ------
    CoreError
        Where the rate is none, or a look is not later than the one it is held against.
    """
    if not 0 < rate < 1:
        raise CoreError(f"A false discovery rate lies between 0 and 1, as 0.05; got {rate:g}.")
    sides: list[tuple[Side, Compared]] = []
    came: list[tuple[Kind, str]] = []
    went: list[tuple[Kind, str]] = []
    for before, after in pairs:
        if after.as_of < before.as_of:
            raise CoreError(
                f"The later figures end on {date.fromordinal(after.as_of)}, before the earlier ones, which "
                f"end on {date.fromordinal(before.as_of)}. Name the earlier ones first."
            )
        early, late = in_common(before, after)
        had, has = set(before.ids), set(after.ids)
        came += [(after.kind, one) for one in after.ids if one not in had]
        went += [(before.kind, one) for one in before.ids if one not in has]
        then, now = before.take(early), after.take(late)
        sides += [(now, aspect(then, now, settings)) for aspect in ASPECTS if _holds(aspect, now)]
    told, tested = _decide([one for _, one in sides], rate)
    changes = [
        _change(side, one, row)
        for (side, one), rows in zip(sides, told, strict=True)
        for row in np.flatnonzero(rows).tolist()
    ]
    changes.sort(key=_consequence)
    return Changes(_once_a_topic(changes), tested, came, went)


def _once_a_topic(changes: Sequence[Change]) -> list[Change]:
    """Without those that tell again what one before them did."""
    told: set[tuple[str, str]] = set()
    kept = []
    for one in changes:
        mark = (one.market, one.key)
        if not one.aspect.topic or mark not in told:
            kept.append(one)
        told.add(mark)
    return kept


def _consequence(change: Change) -> tuple[int, float, str, str]:
    chance = -1.0 if change.chance is None else change.chance
    return change.aspect.weight, chance, change.name, change.id


def _holds(aspect: Aspect, side: Side) -> bool:
    """Whether anything an aspect reads is known of a kind."""
    return aspect.reads[0] in side.columns


def _decide(found: Sequence[Compared], rate: float) -> tuple[list[Bools], int]:
    """What is told of each comparison: facts, and what is beyond chance and was not already."""
    if not found:
        return [], 0
    now = np.concatenate([one.p for one in found])
    before = np.concatenate([np.where(np.isnan(one.p), np.nan, one.p_before) for one in found])
    told, known = held(now, rate), held(before, rate)
    out, start = [], 0
    for one in found:
        part = slice(start, start + len(one.p))
        start = part.stop
        same = known[part] & (one.up == one.up_before) & ~one.further
        out.append(one.fact | (told[part] & ~same))
    return out, int((~np.isnan(now)).sum())


def _change(side: Side, found: Compared, row: int) -> Change:
    def number(values: Floats) -> float | None:
        value = float(values[row])
        return None if np.isnan(value) else value

    since = number(found.since)
    words = {name: _plain(values[row]) for name, values in found.words.items()}
    return Change(
        side.kind, side.market, side.ids[row], side.names[row], found.aspect,
        number(found.then), number(found.now),
        number(found.low), number(found.high), None if since is None else date.fromordinal(int(since)),
        None if found.fact[row] else number(found.p), bool(found.up[row]), bool(found.further[row]), words,
    )  # fmt: skip


def _plain(value: Any) -> Any:
    if isinstance(value, np.generic):
        value = value.item()
    return None if isinstance(value, float) and np.isnan(value) else value
