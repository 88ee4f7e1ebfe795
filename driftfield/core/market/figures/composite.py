"""Figures of the composite: demand, competition, headroom, rank and what they are made of."""

from __future__ import annotations

import numpy as np

from driftfield.core.ranking import PARTS

from ..workings import Workings
from .figure import OWN, Compute, Figure, FigureType, Stage, unknown_below

OECD = "OECD/JRC Handbook on Constructing Composite Indicators (2008)"


def _ranking(name: str) -> Compute:
    def compute(work: Workings) -> np.ndarray:
        assert work.ranking is not None, "composites come after what they are made of"
        return np.asarray(getattr(work.ranking, name))

    return compute


def _place(work: Workings) -> np.ndarray:
    return unknown_below(_ranking("rank")(work), 1)


def _band(name: str) -> Compute:
    def compute(work: Workings) -> np.ndarray:
        assert work.bands is not None, "bands come after the ranks"
        found = np.asarray(getattr(work.bands, name))
        return unknown_below(found, 1) if name.startswith("rank") else found

    return compute


def _contribution(column: int) -> Compute:
    return lambda w: _ranking("contributions")(w)[:, column]


COMPOSITE: tuple[Figure, ...] = (
    Figure("demand", "Demand", FigureType.INDEX, "0–100", 1,
           "weighted geometric mean of the percentiles of its parts, by the lens", OECD,
           "term_weeks", _ranking("demand"), stage=Stage.RANKED),
    Figure("competition", "Competition", FigureType.INDEX, "0–100", -1,
           "100 − weighted geometric mean of the inverted percentiles of its parts, by the lens", OECD,
           "term_clicks", _ranking("competition"), stage=Stage.RANKED),
    Figure("headroom", "Headroom", FigureType.INDEX, "0–100", 1,
           "√(demand × (100 − competition)), with the lens's balance at ½", OECD, "term_clicks",
           _ranking("headroom"), stage=Stage.RANKED),
    Figure("headroom_known", "Parts of headroom known", FigureType.SHARE, "fraction of the weight", 0,
           "weight of the lens's parts that are known ÷ all; the less, the wider the band", OWN,
           "term_weeks", _ranking("known"), stage=Stage.RANKED),
    Figure("rank", "Rank", FigureType.COUNT, "place, 1 is best", -1,
           "1 + niches with more headroom; equal ones share the better rank", OECD, "term_weeks",
           _place, stage=Stage.RANKED),
    Figure("rank_low", "Rank band, best", FigureType.COUNT, "place", -1,
           "5th percentile of the rank over 1,000 draws of shaken weights", OECD, "term_weeks",
           _band("rank_low"), stage=Stage.RANKED),
    Figure("rank_high", "Rank band, worst", FigureType.COUNT, "place", -1,
           "95th percentile of the rank over 1,000 draws of shaken weights", OECD, "term_weeks",
           _band("rank_high"), stage=Stage.RANKED),
    Figure("top_ten", "In the top ten", FigureType.SHARE, "fraction of draws", 1,
           "draws of shaken weights in which the rank is ten or better", OECD, "term_weeks",
           _band("top_ten"), stage=Stage.RANKED),
    Figure("frontier", "On the frontier", FigureType.FLAG, "", 1,
           "no other niche is at least as good on demand and competition and better on one", OECD,
           "term_clicks", _ranking("frontier"), stage=Stage.RANKED),
    *(
        Figure(f"contributions.{part.key}", f"Part of headroom: {part.why}", FigureType.SIGNED,
               "natural logarithm", 1,
               f"its weight × ln(percentile of {part.figure} in the entrant's favour ÷ ½); all add up "
               "to ln(headroom ÷ 50)", OECD, "term_weeks", _contribution(i), stage=Stage.RANKED)
        for i, part in enumerate(PARTS)
    ),
)  # fmt: skip
