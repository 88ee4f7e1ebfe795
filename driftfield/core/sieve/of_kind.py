"""Which kinds a condition can be asked of."""

from __future__ import annotations

from dataclasses import replace

from driftfield.core.base import CoreError
from driftfield.core.market import FIGURES_BY_KEY, LISTING, Figure, Kind

from .clauses import Atom, OneOf, Range
from .joined import AnyOf, Clause, Not, either
from .of_listings import HasAttribute, InTime, LedBy, Whose


class NotOfKindError(CoreError):
    """A figure was asked for that the kind does not have."""


def check_kind(figure: Figure, kind: Kind) -> None:
    """Raises NotOfKindError where the figure does not hold for the kind."""
    if kind not in figure.kinds:
        holds = " and ".join(one.plural for one in figure.kinds)
        raise NotOfKindError(
            f"{kind.plural.capitalize()} have no figure “{figure.label}”; {holds} do. Choose another."
        )


# What a listing, a brand or a seller has of its own where niches and the like have it of their listings:
# “price under 20” asks each kind for what it has.
OWN: dict[str, tuple[str, ...]] = {
    "sales.price_median": ("listing.price", "carried.price"),
    "review_barrier": ("listing.reviews", "carried.reviews"),
    "barriers.rating": ("listing.rating", "carried.rating"), "barriers.weight_g": ("listing.weight_g",),
    "barriers.size_mm": ("listing.size_mm",), "barriers.return_rate": ("listing.return_rate",),
    "barriers.quality": ("listing.quality",), "barriers.age_days": ("listing.age", "carried.age"),
    "pressure.offers": ("listing.offers",), "pressure.units_change": ("listing.units_yoy",),
    "pressure.offers_change": ("listing.offers_yoy",), "pressure.offers_lead": ("listing.offers_lead",),
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
    if isinstance(atom, InTime) and kind != LISTING:
        raise NotOfKindError(
            f"What {kind.plural} did in a time is not kept; of listings it is. Ask it in Rivals."
        )
    if isinstance(atom, HasAttribute | LedBy) and kind != LISTING:
        what = "attributes" if isinstance(atom, HasAttribute) else "lead offers"
        raise NotOfKindError(
            f"{kind.plural.capitalize()} have no {what} of their own; listings do. Ask it in Rivals."
        )
    if isinstance(atom, Whose) and kind != LISTING:
        raise NotOfKindError(
            f"{kind.plural.capitalize()} have no {atom.role} of their own; listings do. Ask it in Rivals."
        )
    if not isinstance(atom, Range | OneOf):
        return clause
    figure = own_figure(FIGURES_BY_KEY[atom.figure], kind)
    if figure is None:
        check_kind(FIGURES_BY_KEY[atom.figure], kind)
        return clause
    atom = replace(atom, figure=figure.key)
    return Not(atom) if isinstance(clause, Not) else atom


def own_figure(figure: Figure, kind: Kind) -> Figure | None:
    """A figure as a kind has it: itself, or the one that stands for it; None for neither."""
    if kind in figure.kinds:
        return figure
    others = (FIGURES_BY_KEY[key] for key in OWN.get(figure.key, ()))
    return next((one for one in others if kind in one.kinds), None)
