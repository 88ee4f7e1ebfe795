"""Whom a theme concerns: the listings that it is said of, and the words of it that a reader looks for."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, wilson
from driftfield.core.market.words import stem_of

from .corpus import words_of
from .themes import LEVEL
from .words import language_of

TWICE = 2  # Texts from which a listing is said to have a fault: one may be mistaken; our choice.
LESS = 0.5  # Part of the theme's share under which a listing surely lacks it; our choice.


@dataclass(frozen=True, slots=True)
class Concern:
    """How it stands with each of some listings, (listings,).

    own, whole: its texts that say the theme, and all. has: at least ``TWICE`` say it. lacks: fewer do, and so
    many do not that it is surely said of it under ``LESS`` as often as of all. Of the others it is not known.
    """

    own: Floats
    whole: Floats
    has: Bools
    lacks: Bools


def concern_of(texts: Ints, groups: Ints, many: int, share: float) -> Concern:
    """Whether each listing has what a theme says.

    texts: places of the texts that say it. groups: (texts,) the listing of each text, −1 for none. many: how
    many listings. share: of all texts that say it.
    """
    inside = np.flatnonzero(groups >= 0)
    says = np.zeros(len(groups), dtype=bool)
    says[texts] = True
    whole = np.bincount(groups[inside], minlength=many).astype(float)
    own = np.bincount(groups[inside][says[inside]], minlength=many).astype(float)
    has = own >= TWICE
    _, high = wilson(own, np.maximum(whole, 1), LEVEL)
    return Concern(own, whole, has, ~has & (whole > 0) & (high < LESS * share))


def marked_words(said: str, stems: Collection[str], language: str) -> list[tuple[int, int]]:
    """Where in a sentence the words of a theme stand: their beginnings and ends."""
    wanted, graded = set(stems), language_of(language).graded
    return [
        (begin, end)
        for word, begin, end in words_of(said)
        if stem_of(graded.get(plain := word.removesuffix("'s"), plain), language) in wanted
    ]
