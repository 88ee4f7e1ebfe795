"""Which kinds a condition can be asked of."""

from __future__ import annotations

from driftfield.core.base import CoreError
from driftfield.core.market import FIGURES_BY_KEY, Figure, Kind

from .clauses import OneOf, Range
from .joined import Clause, parts_of


class NotOfKindError(CoreError):
    """A figure was asked for that the kind does not have."""


def check_kind(figure: Figure, kind: Kind) -> None:
    """Raises NotOfKindError where the figure does not hold for the kind."""
    if kind not in figure.kinds:
        holds = " and ".join(one.plural for one in figure.kinds)
        raise NotOfKindError(
            f"{kind.plural.capitalize()} have no figure “{figure.label}”; {holds} do. Choose another."
        )


def check_clause(clause: Clause, kind: Kind) -> None:
    """Raises NotOfKindError where a clause asks for a figure that the kind does not have."""
    for part in parts_of(clause):
        if isinstance(part, Range | OneOf):
            check_kind(FIGURES_BY_KEY[part.figure], kind)
