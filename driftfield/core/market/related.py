"""What else the buyers of a term look for, whatever they call it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from driftfield.core.base import Bools, Floats, Ints

from .seeds import TermIndex
from .vectors import Vectors

LEAST = 0.05  # Cosine under which two terms are not called related. Our choice, as for groups.
SEASON = 0.8  # Correlation from which two seasons are one. Our choice.


By = Literal["clicks", "words"]


@dataclass(frozen=True, slots=True)
class Relation:
    """A term beside another. place: its place. strength: 0–1. shared: how much the two have in common,
    as a number of listings, of words or of weeks."""

    place: int
    strength: float
    shared: int


def by_clicks_or_words(
    clicks: Vectors, index: TermIndex, place: int, *, most: int = 20, apart: bool = True
) -> tuple[By, list[Relation]]:
    """What the buyers of the term at ``place`` look for besides, and by what that is told.

    By the listings they click; where these are not known, by shared words. ``apart`` leaves out terms with
    a word of its own; where there is nothing but words to go by, these come all the same.
    """
    if clicks.indptr[place + 1] == clicks.indptr[place]:
        return "words", alike(index.vectors, place, most=most)
    among = ~index.sharing(place) if apart else None
    return "clicks", alike(clicks, place, most=most, among=among)


def alike(
    vectors: Vectors, place: int, *, most: int = 20, among: Bools | None = None
) -> list[Relation]:
    """The terms nearest to the one at ``place`` by cosine, nearest first.

    ``vectors`` is (terms, features), rows of length 1; of clicks, terms whose buyers click the same
    listings come first. ``among`` (terms,): terms that may come; all by default.
    """
    own = vectors[[place]]
    near = np.asarray(vectors @ own.toarray().ravel())
    near[place] = 0
    if among is not None:
        near[~among] = 0
    first = _first(near, LEAST, most)
    mine = np.zeros(vectors.shape[1], dtype=bool)
    mine[own.indices] = True
    relations = []
    for at in first.tolist():
        theirs = vectors.indices[vectors.indptr[at] : vectors.indptr[at + 1]]
        relations.append(Relation(at, min(float(near[at]), 1.0), int(mine[theirs].sum())))
    return relations


def of_one_season(
    profiles: Floats, place: int, *, most: int = 20, among: Bools | None = None
) -> list[Relation]:
    """The terms whose year runs like that of the one at ``place``, most alike first.

    ``profiles`` is (terms, slots), season profiles, NaN rows where none is claimed. Alike is a correlation
    (Pearson) of at least SEASON.
    """
    away = profiles - profiles.mean(axis=1, keepdims=True)
    length = np.sqrt((away**2).sum(axis=1))
    with np.errstate(invalid="ignore", divide="ignore"):
        near = away @ away[place] / (length * length[place])
    near = np.nan_to_num(near, nan=0.0, posinf=0.0, neginf=0.0)
    near[place] = 0
    if among is not None:
        near[~among] = 0
    first = _first(near, SEASON, most)
    return [Relation(at, min(float(near[at]), 1.0), profiles.shape[1]) for at in first.tolist()]


def _first(near: Floats, least: float, most: int) -> Ints:
    """Places of the largest values from ``least`` on, largest first, equal ones in their order."""
    found = np.flatnonzero(near >= least)
    order = np.lexsort((found, -near[found]))
    return found[order][:most]
