"""Which kinds a condition can be asked of."""

from __future__ import annotations

from dataclasses import replace

from driftfield.core.base import CoreError
from driftfield.core.market import FIGURES_BY_KEY, Figure, Kind

from .clauses import Atom, OneOf, Range
from .joined import AnyOf, Clause, Not, either


class NotOfKindError(CoreError):
    """A figure was asked for that the kind does not have."""


def check_kind(figure: Figure, kind: Kind) -> None:
    """Raises NotOfKindError where the figure does not hold for the kind."""
    if kind not in figure.kinds:
        holds = " and ".join(one.plural for one in figure.kinds)
        raise NotOfKindError(
            f"{kind.plural.capitalize()} have no figure “{figure.label}”; {holds} do. Choose another."
        )


# What a listing has of its own where niches and the like have it of their listings: “price under 20” asks each
# kind for what it has.
OWN = {
    "sales.price_median": "listing.price", "review_barrier": "listing.reviews",
    "barriers.rating": "listing.rating", "barriers.weight_g": "listing.weight_g",
    "barriers.size_mm": "listing.size_mm", "barriers.return_rate": "listing.return_rate",
    "barriers.quality": "listing.quality", "barriers.age_days": "listing.age",
    "pressure.offers": "listing.offers", "pressure.units_change": "listing.units_yoy",
    "pressure.offers_change": "listing.offers_yoy", "pressure.offers_lead": "listing.offers_lead",
}  # fmt: skip


def for_kind(clause: Clause, kind: Kind) -> Clause:
    """A clause that asks a kind for its own figures.

    Raises NotOfKindError where it asks for one that the kind does not have.
    """
    if isinstance(clause, AnyOf):
        return either([_part(one, kind) for one in clause.clauses])
    return _part(clause, kind)


def _part(clause: Atom | Not, kind: Kind) -> Atom | Not:
    atom = clause.clause if isinstance(clause, Not) else clause
    if not isinstance(atom, Range | OneOf):
        return clause
    figure = FIGURES_BY_KEY[atom.figure]
    if kind not in figure.kinds and kind in FIGURES_BY_KEY[OWN.get(figure.key, figure.key)].kinds:
        atom = replace(atom, figure=OWN[figure.key])
        return Not(atom) if isinstance(clause, Not) else atom
    check_kind(figure, kind)
    return clause
