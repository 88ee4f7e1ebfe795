"""What is said of a family of niches."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

import numpy as np

from driftfield.core.base import Settings
from driftfield.core.market.family_figures import FamilyFigures


def enough_sentence(found: FamilyFigures, settings: Settings) -> str:
    """Enough for a brand? The answer first; it is a usual measure and no more."""
    goods, wanted = len(found.monthly), int(found.wanted.sum())
    band = f"{settings.brand_searches_low:,.0f} to {settings.brand_searches_high:,.0f} searches a month"
    need = f"{settings.brand_goods} of these make a brand by common practice"
    of = f"{wanted} of its {goods} goods {'has' if wanted == 1 else 'have'} {band}"
    if found.enough is None:
        return (
            f"Not known: {of}, and of {int(np.isnan(found.monthly).sum())} it is not known; {need}."
        )
    if found.enough:
        return f"Yes, by the usual measure: {of}; {need}."
    with np.errstate(invalid="ignore"):
        more = int((found.monthly > settings.brand_searches_high).sum())
    beyond = (
        f" {more} {'has' if more == 1 else 'have'} more, which many fight over." if more else ""
    )
    return f"Not by the usual measure: {of}; {need}.{beyond}"


def open_sentence(found: FamilyFigures, names: Sequence[str]) -> str:
    """How open a family is; ``names`` (niches,) in the order of the figures."""
    known = np.flatnonzero(~np.isnan(found.opened))
    unknown = len(names) - len(known)
    if np.isnan(found.openness):
        return (
            "Not known: of too much of what is searched, neither launches nor reviews and shares of clicks are "
            "known."
        )
    text = (
        f"Openness {found.openness:.0f} of 100, its goods weighed by searches; 50 is the middle of the market "
        "in every part."
    )
    most, least = (int(known[at(found.opened[known])]) for at in (np.argmax, np.argmin))
    if f"{found.opened[most]:.0f}" != f"{found.opened[least]:.0f}":
        text += (
            f" Most open: {names[most]} ({found.opened[most]:.0f}); "
            f"least: {names[least]} ({found.opened[least]:.0f})."
        )
    if unknown:
        are = "good" if unknown == 1 else "goods"
        text += f" Of {unknown} {are} it is not known."
    return text


def served_sentence(ties: Mapping[str, int] | None, brands: Sequence[tuple[str, int]]) -> str:
    """Who serves the family as one. ``ties``: how many of its niches brands and sellers tie beyond chance; None
    where it is not known who sells. ``brands``: by how many of its niches each carries, most first."""
    if ties is None:
        return "Who sells here is not known, so what ties it are words or buyers alone."
    several = ", ".join(f"{name} in {many}" for name, many in brands[:3] if many > 1)
    if ties["brands"]:
        named = f" Most: {several}." if several else ""
        return (
            f"Brands serve {ties['brands']} of its goods together, more often than chance.{named}"
        )
    if ties["sellers"]:
        return (
            f"Sellers carry {ties['sellers']} of its goods together more often than chance; that brands do is "
            "not seen."
        )
    by_chance = f" ({several})" if several else ""
    return (
        "None is seen to serve it as one: no brand or seller carries several of its goods more often than "
        f"chance explains{by_chance}."
    )


def chosen_sentence(brands: Sequence[tuple[str, int]], goods: int) -> str:
    """Who serves niches that were chosen by hand; ``brands`` as for ``served_sentence``."""
    several = [(name, many) for name, many in brands if many > 1]
    untested = "You chose them, so whether that is more than chance was not tested."
    if not brands:
        return f"Who sells here is not known. {untested}"
    both = "both goods" if goods == 2 else f"two or more of its {goods} goods"
    if not several:
        return f"No brand is clicked in {both}. {untested}"
    named = ", ".join(name if goods == 2 else f"{name} in {many}" for name, many in several[:3])
    most = "" if len(several) <= 3 else ", among them"
    many = f"{len(several)} brands are" if len(several) > 1 else "1 brand is"
    return f"{many} clicked in {both}{most}: {named}. {untested}"


def year_sentence_of(found: FamilyFigures) -> str:
    """How the seasons of its goods fill one another."""
    if np.isnan(found.year).all():
        return "How its year runs is not known."
    best = f"{date(2026, int(found.year.argmax()) + 1, 1):%B}"
    share = f"{found.year.max():.0%}"
    quiet = [f"{date(2026, int(month) + 1, 1):%B}" for month in np.flatnonzero(found.quiet)]
    if not quiet:
        return f"Its goods fill the year: no month has under half of an even one; {best} has most, {share}."
    return f"Quiet, with under half of an even month: {', '.join(quiet)}; {best} has most, {share}."
