"""Figures of categories: what lies in them, how unevenly it sells, how new, open and settled they are."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from driftfield.core.base import Floats
from driftfield.core.ranking import OPENNESS, SETTLEDNESS, Index, Part
from driftfield.core.supply import Holdings

from ..kinds import BRAND, CATEGORY, HOLDERS
from ..workings import CategoryWorkings, Workings
from .composite import OECD
from .figure import Compute, Figure, FigureType, Stage, unknown_below

LORENZ = "Lorenz (1905)"
GINI = "Gini (1912)"
_OF = (CATEGORY,)
_OF_HOLDING = (CATEGORY, *HOLDERS)


def _own(work: Workings) -> CategoryWorkings:
    assert work.category is not None, "these are figures of categories"
    return work.category


def _held(pick: Callable[[Holdings], Floats]) -> Compute:
    def compute(work: Workings) -> Floats:
        assert work.holdings is not None, "these are figures of what holds listings"
        return pick(work.holdings)

    return compute


def _index(name: str) -> Callable[[Workings], Index]:
    def read(work: Workings) -> Index:
        found = getattr(_own(work), name)
        assert isinstance(found, Index), "indices come after what they are made of"
        return found

    return read


def _count(key: str, label: str, needs: str, formula: str, compute: Compute) -> Figure:
    return Figure(
        key=f"counts.{key}", label=label, type=FigureType.COUNT, unit=key, formula=formula, needs=needs,
        compute=compute, kinds=_OF,
    )  # fmt: skip


COUNTS = (
    _count("niches", "Niches in it", "niches", "different niches in the category and below it",
           lambda w: _own(w).niches),
    _count("terms", "Terms in it", "niches", "different terms of those niches", lambda w: _own(w).terms),
    _count("listings", "Listings in it", "listings",
           "different listings in the category and below it, launched by the as-of; one that names no "
           "category lies in that of the niche which brings most of its clicks", _held(lambda h: h.listings)),
    _count("brands", "Brands in it", "listings", "different brands of those listings",
           _held(lambda h: h.brands)),
    _count("sellers", "Sellers in it", "listings",
           "different sellers of those listings: those they name and those with an offer at the as-of",
           _held(lambda h: h.sellers)),
)  # fmt: skip

LORENZ_ROWS = (
    Figure(key="lorenz.gini", label="Gini of revenue", type=FigureType.SHARE, unit="0 equal – 1",
           direction=-1,
           formula="mean difference of the listings' revenue of a year ÷ twice its mean, over those with a "
               "known revenue", source=GINI, needs="listing_weeks",
           compute=_held(lambda h: h.lorenz.gini), kinds=_OF_HOLDING),
    Figure(key="lorenz.share_for_80", label="Listings that make 80%", type=FigureType.SHARE,
           unit="share of listings", direction=1,
           formula="fewest listings, most first, that make 80% of a year's revenue ÷ those with known revenue",
           source=LORENZ, needs="listing_weeks", 
           compute=_held(lambda h: h.lorenz.share_for[0.8]), kinds=_OF_HOLDING),
    Figure(key="lorenz.share_for_90", label="Listings that make 90%", type=FigureType.SHARE,
           unit="share of listings", direction=1,
           formula="fewest listings, most first, that make 90% of a year's revenue ÷ those with known revenue",
           source=LORENZ, needs="listing_weeks", 
           compute=_held(lambda h: h.lorenz.share_for[0.9]), kinds=_OF_HOLDING),
)  # fmt: skip


def _newcomer_rows(weeks: int) -> list[Figure]:
    def of(name: str) -> Compute:
        return _held(lambda h: np.asarray(getattr(h.newcomers[weeks], name)))

    rows = (
        ("listings", "New listings", "listings", "listings launched in the {} weeks up to the as-of"),
        ("brands", "New brands", "brands", "brands of the category's listings first seen in those {} weeks"),
        ("sellers", "New sellers", "sellers", "sellers whom its listings name, first seen in those {} weeks"),
    )  # fmt: skip
    return [
        *(
            Figure(key=f"newcomers.{name}_{weeks}w", label=f"{label}, {weeks} weeks", type=FigureType.COUNT,
                   unit=name, formula=formula.format(weeks), needs=needs, compute=of(name), kinds=_OF)
            for (name, label, needs, formula) in rows
        ),
        Figure(key=f"newcomers.units_share_{weeks}w", label=f"Units of new listings, {weeks} weeks",
               type=FigureType.SHARE, unit="share of units", direction=1,
               formula=f"units that listings launched in the last {weeks} weeks sold in them ÷ units of all "
                   "listings with a known launch", needs="listing_weeks", compute=of("units_share"),
               kinds=_OF_HOLDING),
    ]  # fmt: skip


SOLD = (
    Figure(key="established.units_share", label="Units of listings over two years old", type=FigureType.SHARE,
           unit="share of units", direction=-1,
           formula="a year's units of listings launched over 104 weeks ago ÷ those of all with a known launch",
           needs="listing_weeks", compute=_held(lambda h: h.established_share), kinds=_OF_HOLDING),
    Figure(key="established.sold_age_days", label="Age of what is sold", type=FigureType.AMOUNT, unit="days",
           direction=-1,
           formula="the age that half of a year's units come from listings no older than",
           needs="listing_weeks", compute=_held(lambda h: h.sold_age_days), kinds=_OF_HOLDING),
    Figure(key="sold.own_retail", label="Units of the marketplace's own", type=FigureType.SHARE,
           unit="share of units", direction=-1,
           formula="a year's units of listings whose brand or seller is the marketplace itself ÷ those of all "
               "of which it is known", needs="listing_weeks", compute=_held(lambda h: h.own_retail),
           kinds=(CATEGORY, BRAND)),
    Figure(key="sold.sponsored", label="Units of sponsored listings", type=FigureType.SHARE,
           unit="share of units", direction=-1,
           formula="a year's units of sponsored listings ÷ those of all of which it is known",
           needs="listing_weeks", compute=_held(lambda h: h.sponsored), kinds=_OF_HOLDING),
)  # fmt: skip


def _index_rows(name: str, label: str, direction: int, parts: Sequence[Part]) -> tuple[Figure, ...]:
    read = _index(name)

    def part(column: int) -> Compute:
        return lambda w: read(w).contributions[:, column]

    def place(end: str) -> Compute:
        return lambda w: unknown_below(getattr(read(w), end), 1)

    low = label.lower()
    return (
        Figure(key=name, label=label, type=FigureType.INDEX, unit="0–100", direction=direction,
               formula="weighted geometric mean of the percentiles of its parts among the market's categories; "
                   "unknown where under half of the weight is", source=OECD, needs="listings",
               compute=lambda w: read(w).value, stage=Stage.RANKED, kinds=_OF),
        Figure(key=f"{name}_among", label=f"Categories ranked by {low}", type=FigureType.COUNT,
               unit="categories", formula=f"how many categories of the market have {low}", needs="listings",
               compute=lambda w: np.full(w.count, float((read(w).rank > 0).sum())), stage=Stage.RANKED,
               kinds=_OF),
        Figure(key=f"{name}_known", label=f"Parts of {low} known", type=FigureType.SHARE,
               unit="share of the weight", formula="weight of its parts that are known ÷ all", needs="listings",
               compute=lambda w: read(w).known, stage=Stage.RANKED, kinds=_OF),
        *(
            Figure(key=f"{name}_{key}", label=f"Rank by {low}{ending}", type=FigureType.COUNT,
                   unit="place, 1 is the highest", formula=formula, source=OECD, needs="listings",
                   compute=place(end), stage=Stage.RANKED, kinds=_OF)
            for key, end, ending, formula in (
                ("rank", "rank", "", f"1 + categories with more {low}; equal ones share the better rank"),
                ("rank_low", "low", ", best", "5th percentile of that rank over 1,000 draws of shaken weights"),
                ("rank_high", "high", ", worst", "95th percentile of that rank over those draws"),
            )
        ),
        *(
            Figure(key=f"{name}_parts.{one.column}", label=f"Part of {low}: {one.why}", type=FigureType.SIGNED,
                   unit="natural logarithm",
                   formula=f"its weight × ln(percentile of {one.figure} in favour of {low} ÷ ½); all add up to "
                       f"ln({low} ÷ 50)", source=OECD, needs="listings", compute=part(column),
                   stage=Stage.RANKED, kinds=_OF)
            for column, one in enumerate(parts)
        ),
    )  # fmt: skip


CATEGORIES: tuple[Figure, ...] = (
    *COUNTS,
    *LORENZ_ROWS,
    *_newcomer_rows(26),
    *_newcomer_rows(52),
    *SOLD,
    *_index_rows("openness", "Openness", 1, OPENNESS),
    *_index_rows("settledness", "Settledness", -1, SETTLEDNESS),
)
