"""Conditions that deny one, or join several by “or”."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools
from driftfield.core.market import FIGURES_BY_KEY, FigureType

from .asked import Asked, Columns
from .clauses import Atom, Decided, OneOf, Peak, SignalIs, Terms


@dataclass(frozen=True, slots=True)
class Not(Asked):
    """A clause that can be told, and does not hold."""

    clause: Atom

    @property
    def text(self) -> str:
        return f"not {self.clause.text}"

    def sentence(self, currency: str = "") -> str:
        return self.clause.denied(currency)

    def passes(self, columns: Columns) -> Bools:
        denied: Bools = self.clause.known(columns) & ~self.clause.passes(columns)
        return denied


@dataclass(frozen=True, slots=True)
class AnyOf(Asked):
    """At least one of some clauses holds."""

    clauses: tuple[Atom | Not, ...]

    @property
    def text(self) -> str:
        return " or ".join(one.text for one in self.clauses)

    def sentence(self, currency: str = "") -> str:
        return ", or ".join(one.sentence(currency) for one in self.clauses)

    def passes(self, columns: Columns) -> Bools:
        held: Bools = np.logical_or.reduce([one.passes(columns) for one in self.clauses])
        return held


Clause = Atom | Not | AnyOf


def parts_of(clause: Clause) -> tuple[Atom, ...]:
    """What a clause is joined of."""
    if isinstance(clause, AnyOf):
        return tuple(part for one in clause.clauses for part in parts_of(one))
    return (clause.clause,) if isinstance(clause, Not) else (clause,)


def deny(clause: Atom) -> Atom | Not:
    """What holds where a clause does not; in the form that has a name of its own, where there is one."""
    if isinstance(clause, SignalIs):
        return SignalIs(clause.signal, not clause.raised)
    if isinstance(clause, Terms) and clause.how in {"contain", "lack"}:
        return Terms("lack" if clause.how == "contain" else "contain", clause.words)
    if isinstance(clause, OneOf) and FIGURES_BY_KEY[clause.figure].type is FigureType.FLAG:
        rest = tuple(word for word in ("no", "yes") if word not in clause.words)
        return OneOf(clause.figure, rest) if rest else Not(clause)
    return Not(clause)


def either(clauses: Sequence[Atom | Not]) -> Clause:
    """Clauses joined by “or”; words of one figure, months and decisions in one list."""
    joined: list[Atom | Not] = []
    for clause in clauses:
        last = joined[-1] if joined else None
        if isinstance(last, OneOf) and isinstance(clause, OneOf) and last.figure == clause.figure:
            joined[-1] = OneOf(last.figure, tuple(dict.fromkeys((*last.words, *clause.words))))
        elif isinstance(last, Peak) and isinstance(clause, Peak):
            joined[-1] = Peak(tuple(dict.fromkeys((*last.months, *clause.months))))
        elif isinstance(last, Decided) and isinstance(clause, Decided):
            joined[-1] = Decided(tuple(dict.fromkeys((*last.choices, *clause.choices))))
        elif clause not in joined:
            joined.append(clause)
    return joined[0] if len(joined) == 1 else AnyOf(tuple(joined))
