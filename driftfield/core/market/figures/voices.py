"""Figures of what buyers write about a niche."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..kinds import NICHE
from ..said import Said
from ..workings import Workings
from .figure import Compute, Figure, FigureType, marked

_OF = (NICHE,)
_THEMES = "Church & Hanks (1990); Traag et al. (2019); Nigam et al. (2000)"
_AS_FOUND = "; themes as they were found, before any decision on them"


def _number(pick: Callable[[Said], np.ndarray]) -> Compute:
    return lambda w: np.full(w.count, np.nan) if w.said is None else pick(w.said)


def _name(pick: Callable[[Said], np.ndarray]) -> Compute:
    return lambda w: np.full(w.count, None, dtype=object) if w.said is None else pick(w.said)


def _worse(work: Workings) -> np.ndarray | None:
    return None if work.said is None else work.said.worsening


VOICES: tuple[Figure, ...] = (
    Figure(key="voices.texts", label="Texts of buyers", type=FigureType.COUNT, needs="voices", digits=0,
           formula="reviews, comments and notes on returns, copies counted once",
           compute=_number(lambda said: said.texts), kinds=_OF),
    Figure(key="voices.complaint", label="Complained of most", type=FigureType.SENTENCE, needs="voices",
           formula="the complaint that most texts say" + _AS_FOUND, source=_THEMES,
           compute=_name(lambda said: said.complaint), kinds=_OF),
    Figure(key="voices.complaint_share", label="Share of the largest complaint", type=FigureType.SHARE,
           needs="voices", formula="texts that say it / texts" + _AS_FOUND, source=_THEMES,
           compute=_number(lambda said: said.share), kinds=_OF),
    Figure(key="voices.complaint_low", label="Largest complaint, at least", type=FigureType.SHARE,
           needs="voices", formula="lower end of the 90% Wilson interval of that share",
           source="Wilson (1927)", compute=_number(lambda said: said.low), kinds=_OF),
    Figure(key="voices.fault", label="Complaint that no leader lacks", type=FigureType.SENTENCE, needs="voices",
           formula="the largest complaint that at least half of the ten most clicked listings have (two texts "
               "say it) and none surely lacks (said under half as often)" + _AS_FOUND,
           compute=_name(lambda said: said.fault), kinds=_OF),
    Figure(key="voices.fault_share", label="Share of the complaint that no leader lacks",
           type=FigureType.SHARE, needs="voices", formula="texts that say it / texts" + _AS_FOUND,
           compute=_number(lambda said: said.fault_share), kinds=_OF),
    Figure(key="voices.worsening", label="Complaint that grows", type=FigureType.WORD, needs="voices",
           formula="a complaint is said in a larger share of the last 52 weeks' texts than of the 52 before, "
               "their 90% intervals apart", choices=("no", "yes"), compute=marked(_worse), kinds=_OF),
    Figure(key="voices.wishes", label="Texts that wish", type=FigureType.COUNT, needs="voices", digits=0,
           formula="texts with a sentence that wishes for something, by how the language words it",
           compute=_number(lambda said: said.wishes), kinds=_OF),
)  # fmt: skip
