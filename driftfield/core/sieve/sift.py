"""Sieves: sets of conditions, what passes them, what each alone removes and what nearly passes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import islice

import numpy as np

from driftfield.core.base import Bools, CoreError, Ints
from driftfield.core.market import FIGURES_BY_KEY, NICHE, Figure, Kind

from .clauses import Clause, Columns, OneOf, Range
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
    near: Ints


class NotOfKindError(CoreError):
    """A figure was asked for that the kind does not have."""


def check_kind(figure: Figure, kind: Kind) -> None:
    """Raises NotOfKindError where the figure does not hold for the kind."""
    if kind not in figure.kinds:
        holds = " and ".join(one.plural for one in figure.kinds)
        raise NotOfKindError(
            f"{kind.plural.capitalize()} have no figure “{figure.label}”; {holds} do. Choose another."
        )


def parse_sieve(texts: Iterable[str], kind: Kind = NICHE) -> list[Condition]:
    """Conditions from their texts, one that is off marked by a leading ~; raises CoreError.

    At most MAX_CONDITIONS of them: each is asked of every subject of ``kind``.
    """
    wanted = list(islice(texts, MAX_CONDITIONS + 1))
    if len(wanted) > MAX_CONDITIONS:
        raise CoreError(f"A sieve has at most {MAX_CONDITIONS} conditions. Remove some.")
    found = []
    for text in wanted:
        clause = parse_clause(text.removeprefix(OFF))
        if isinstance(clause, Range | OneOf):
            check_kind(FIGURES_BY_KEY[clause.figure], kind)
        found.append(Condition(clause, not text.startswith(OFF)))
    return found


def sift(conditions: list[Condition], columns: Columns) -> Sifted:
    """Which niches pass all conditions that are on."""
    failed = np.zeros(columns.count, dtype=np.uint8)
    fails: dict[int, Bools] = {}
    for place, condition in enumerate(conditions):
        if condition.on:
            fails[place] = ~condition.clause.passes(columns)
            failed += fails[place]
    alone = failed == 1
    removes: list[int | None] = [None] * len(conditions)
    near = np.full(columns.count, -1, dtype=np.int16)
    for place, missed in fails.items():
        missed &= alone
        removes[place] = int(np.count_nonzero(missed))
        clause = conditions[place].clause
        if removes[place] and isinstance(clause, Range):
            near[missed & clause.near(columns)] = place
    return Sifted(failed == 0, removes, near.astype(np.int64))
