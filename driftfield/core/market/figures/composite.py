"""Figures of the composite: demand, competition, headroom, rank and what they are made of."""

from __future__ import annotations

import numpy as np

from driftfield.core.ranking import PARTS

from ..workings import Workings
from .figure import Compute, Figure, FigureType, Stage, unknown_below

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


def _high(work: Workings) -> np.ndarray:
    assert work.high is not None, "composites come after what they are made of"
    return work.high


def _contribution(column: int) -> Compute:
    return lambda w: _ranking("contributions")(w)[:, column]


COMPOSITE: tuple[Figure, ...] = (
    Figure(key="demand", label="Demand", type=FigureType.INDEX, unit="0–100", direction=1,
           formula="weighted geometric mean of the percentiles of its parts, by the lens", source=OECD,
           compute=_ranking("demand"), stage=Stage.RANKED),
    Figure(key="competition", label="Competition", type=FigureType.INDEX, unit="0–100", direction=-1,
           formula="100 − weighted geometric mean of the inverted percentiles of its parts, by the lens",
           source=OECD, needs="term_clicks", compute=_ranking("competition"), stage=Stage.RANKED),
    Figure(key="headroom", label="Headroom", type=FigureType.INDEX, unit="0–100", direction=1,
           formula="√(demand × (100 − competition)), with the lens's balance at ½", source=OECD,
           needs="term_clicks", compute=_ranking("headroom"), stage=Stage.RANKED),
    Figure(key="headroom_known", label="Parts of headroom known", type=FigureType.SHARE,
           unit="share of the weight",
           formula="weight of the lens's parts that are known ÷ all; the less, the wider the band",
           compute=_ranking("known"), stage=Stage.RANKED),
    Figure(key="rank", label="Rank", type=FigureType.COUNT, unit="place, 1 is best", direction=-1,
           formula="1 + niches with more headroom; equal ones share the better rank", source=OECD,
           compute=_place, stage=Stage.RANKED),
    Figure(key="rank_low", label="Rank band, best", type=FigureType.COUNT, unit="place", direction=-1,
           formula="5th percentile of the rank over 1,000 draws of shaken weights", source=OECD,
           compute=_band("rank_low"), stage=Stage.RANKED),
    Figure(key="rank_high", label="Rank band, worst", type=FigureType.COUNT, unit="place", direction=-1,
           formula="95th percentile of the rank over 1,000 draws of shaken weights", source=OECD,
           compute=_band("rank_high"), stage=Stage.RANKED),
    Figure(key="top_ten", label="In the top ten", type=FigureType.SHARE, unit="share of draws",
           direction=1, formula="draws of shaken weights in which the rank is ten or better",
           source=OECD, compute=_band("top_ten"), stage=Stage.RANKED),
    Figure(key="frontier", label="On the frontier", type=FigureType.FLAG, direction=1,
           formula="no other niche is at least as good on demand and competition and better on one",
           source=OECD, needs="term_clicks", compute=_ranking("frontier"), stage=Stage.RANKED),
    Figure(key="high_under_all", label="High under every lens", type=FigureType.FLAG, direction=1,
           formula="rank in the best tenth, ten at least, under each of the ready lenses, of each of which "
               "at least half is known", compute=_high, stage=Stage.RANKED),
    *(
        Figure(key=f"contributions.{part.key}", label=f"Part of headroom: {part.why}", type=FigureType.SIGNED,
               unit="natural logarithm", direction=1,
               formula=f"its weight × ln(percentile of {part.figure} in the entrant's favour ÷ ½); all add up "
                   "to ln(headroom ÷ 50)", source=OECD, compute=_contribution(i), stage=Stage.RANKED)
        for i, part in enumerate(PARTS)
    ),
)  # fmt: skip
