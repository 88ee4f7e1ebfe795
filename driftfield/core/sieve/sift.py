"""Sieves: sets of conditions, what passes them, what each alone removes and what nearly passes."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import islice

import numpy as np

from driftfield.core.base import Bools, CoreError, Ints

from .clauses import Clause, Columns, Range
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


def parse_sieve(texts: Iterable[str]) -> list[Condition]:
    """Conditions from their texts, one that is off marked by a leading ~; raises CoreError.

    At most MAX_CONDITIONS of them: each is asked of every niche.
    """
    wanted = list(islice(texts, MAX_CONDITIONS + 1))
    if len(wanted) > MAX_CONDITIONS:
        raise CoreError(f"A sieve has at most {MAX_CONDITIONS} conditions. Remove some.")
    return [Condition(parse_clause(t.removeprefix(OFF)), not t.startswith(OFF)) for t in wanted]


def sift(conditions: list[Condition], columns: Columns) -> Sifted:
    """Which niches pass all conditions that are on."""
    failed = np.zeros(columns.count, dtype=np.int64)
    only = np.full(columns.count, -1, dtype=np.int64)
    fails: dict[int, Bools] = {}
    for place, condition in enumerate(conditions):
        if condition.on:
            fails[place] = ~condition.clause.passes(columns)
            failed += fails[place]
            only[fails[place]] = place
    alone = failed == 1
    counts = np.bincount(only[alone], minlength=len(conditions))
    near = np.full(columns.count, -1, dtype=np.int64)
    for place, condition in enumerate(conditions):
        if place in fails and isinstance(condition.clause, Range):
            missed = alone & fails[place] & condition.clause.near(columns)
            near[missed] = place
    removes = [int(counts[i]) if c.on else None for i, c in enumerate(conditions)]
    return Sifted(failed == 0, removes, near)
