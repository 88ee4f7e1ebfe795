"""Figures of brands and sellers: what each has on sale, what came and went, and how it sells."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from driftfield.core.base import Floats
from driftfield.core.supply import Carried

from ..kinds import BRAND, HOLDERS, SELLER
from ..workings import HolderWorkings, Workings
from .dates import iso_days
from .figure import Compute, Figure, FigureType, marked

RANKED = "Goolsbee & Chevalier (2003)"


def _own(work: Workings) -> HolderWorkings:
    assert work.holder is not None, "these are figures of brands and sellers"
    return work.holder


def _carried(pick: Callable[[Carried], Floats]) -> Compute:
    return lambda w: pick(_own(w).carried)


def _person(name: str) -> Compute:
    def compute(work: Workings) -> np.ndarray:
        values: np.ndarray = getattr(_own(work).people, name)
        return values[_own(work).goods.codes]

    return compute


def _age(work: Workings) -> Floats:
    age = _own(work).day - _person("since")(work)
    return np.where(age >= 0, age, np.nan)


CARRIED: tuple[Figure, ...] = (
    Figure(key="carried.listings", label="Its listings", type=FigureType.COUNT, unit="listings",
           formula="listings on sale at the as-of: of a brand those that someone offers, or whose history goes "
               "on; of a seller those it has an offer of, or that name it", needs="listings",
           compute=_carried(lambda c: c.listings), kinds=HOLDERS),
    Figure(key="carried.ever", label="Its listings ever", type=FigureType.COUNT, unit="listings",
           formula="different listings that it has, or had", needs="listings",
           compute=_carried(lambda c: c.ever), kinds=HOLDERS),
    Figure(key="carried.came_52w", label="Listings that came", type=FigureType.COUNT, unit="listings",
           formula="of a brand, launched in the 52 weeks up to the as-of; of a seller, first offered by it in "
               "them; of those of which the day is known", needs="listings",
           compute=_carried(lambda c: c.came), kinds=HOLDERS),
    Figure(key="carried.went_52w", label="Listings that went", type=FigureType.COUNT, unit="listings",
           formula="seen last in the 52 weeks up to the as-of, and not on sale at it", needs="listings",
           compute=_carried(lambda c: c.went), kinds=HOLDERS),
    Figure(key="carried.brands", label="Its brands", type=FigureType.COUNT, unit="brands",
           formula="different brands of its listings on sale", needs="listings",
           compute=_carried(lambda c: c.brands), kinds=(SELLER,)),
    Figure(key="carried.sellers", label="Its sellers", type=FigureType.COUNT, unit="sellers",
           formula="different sellers of its listings on sale: those with an offer and those they name",
           needs="listings", compute=_carried(lambda c: c.sellers), kinds=(BRAND,)),
    Figure(key="carried.categories", label="Its categories", type=FigureType.COUNT, unit="categories",
           formula="different categories of its listings on sale", needs="listings",
           compute=_carried(lambda c: c.categories), kinds=HOLDERS),
    Figure(key="carried.top_category", label="Share of its first category", type=FigureType.SHARE,
           unit="share of units", formula="units a year, estimates with them, from the category that most come "
               "from ÷ all", needs="listing_weeks", compute=_carried(lambda c: c.top_category),
           kinds=HOLDERS),
    Figure(key="carried.top_brand", label="Share of its first brand", type=FigureType.SHARE,
           unit="share of units", formula="units a year, estimates with them, of the brand that most come from "
               "÷ all", needs="listing_weeks", compute=_carried(lambda c: c.top_brand), kinds=(SELLER,)),
    Figure(key="carried.estimated_units", label="Units a year, estimated from ranks", type=FigureType.AMOUNT,
           unit="units", direction=1,
           formula="sum over its listings whose units are not known; of a seller, by its part of their lead "
               "offers", source=RANKED, needs="listing_weeks", compute=_carried(lambda c: c.estimated),
           kinds=HOLDERS),
    Figure(key="carried.unsponsored_estimated", label="Unsponsored units a year, estimated from ranks",
           type=FigureType.AMOUNT, unit="units", direction=1,
           formula="the same of its listings that are known not to be sponsored", source=RANKED,
           needs="listing_weeks", compute=_carried(lambda c: c.unsponsored_estimated), kinds=HOLDERS),
    Figure(key="carried.estimated_share", label="Part that is estimated", type=FigureType.SHARE,
           unit="share of units", formula="units estimated from ranks ÷ these and the known ones",
           source=RANKED, needs="listing_weeks", compute=_carried(lambda c: c.estimated_share),
           kinds=HOLDERS),
    Figure(key="carried.price", label="Price of its listings", type=FigureType.AMOUNT, unit="currency",
           formula="median over its listings on sale", needs="listings", compute=_carried(lambda c: c.price),
           kinds=HOLDERS),
    Figure(key="carried.price_change_13w", label="Its prices, change in 13 weeks", type=FigureType.CHANGE,
           unit="change", formula="median over its listings on sale of price now ÷ price 13 weeks ago − 1",
           needs="listing_weeks", compute=_carried(lambda c: c.price_change), kinds=HOLDERS),
    Figure(key="carried.price_falling", label="Its listings whose price fell", type=FigureType.SHARE,
           unit="share of listings", formula="those whose price fell by more than price_fall in 13 weeks",
           needs="listing_weeks", compute=_carried(lambda c: c.price_falling), kinds=HOLDERS),
    Figure(key="carried.reviews", label="Reviews of its listings", type=FigureType.COUNT, unit="reviews",
           formula="sum over its listings on sale", needs="listings", compute=_carried(lambda c: c.reviews),
           kinds=(BRAND,)),
    Figure(key="carried.new_reviews_52w", label="Reviews its listings gained", type=FigureType.COUNT,
           unit="reviews", formula="sum over its listings on sale of reviews gained in 52 weeks",
           needs="listing_weeks", compute=_carried(lambda c: c.new_reviews), kinds=(BRAND,)),
    Figure(key="carried.unsponsored_reviews", label="Reviews of its unsponsored listings",
           type=FigureType.COUNT, unit="reviews",
           formula="sum over its listings on sale that are known not to be sponsored", needs="listings",
           compute=_carried(lambda c: c.unsponsored_reviews), kinds=(BRAND,)),
    Figure(key="carried.unsponsored_new_reviews", label="Reviews its unsponsored listings gained",
           type=FigureType.COUNT, unit="reviews",
           formula="sum over its listings on sale that are known not to be sponsored, of reviews gained in 52 "
               "weeks", needs="listing_weeks", compute=_carried(lambda c: c.unsponsored_new_reviews),
           kinds=(BRAND,)),
    Figure(key="carried.rating", label="Rating of its listings", type=FigureType.AMOUNT, unit="stars",
           direction=1, formula="median over its listings on sale", needs="listings",
           compute=_carried(lambda c: c.rating), kinds=HOLDERS),
    Figure(key="carried.asleep", label="Its sleepers", type=FigureType.COUNT, unit="listings",
           formula="listings on sale that sleep until their season", needs="listing_weeks",
           compute=_carried(lambda c: c.asleep), kinds=HOLDERS),
    Figure(key="carried.lead_share", label="Its share of lead offers", type=FigureType.SHARE,
           unit="share of periods",
           formula="of the last 52 weeks of its listings in which it is known who held the lead offer, those "
               "in which it did", needs="listing_weeks", compute=_carried(lambda c: c.lead_share),
           kinds=(SELLER,)),
    Figure(key="carried.first_seen", label="First seen", type=FigureType.DATE, unit="date",
           formula="as the table of brands or sellers says", needs="brands",
           compute=lambda w: iso_days(_person("since")(w)), kinds=HOLDERS),
    Figure(key="carried.age", label="Days since first seen", type=FigureType.COUNT, unit="days",
           formula="as-of − first seen", needs="brands", compute=_age, kinds=HOLDERS),
    Figure(key="carried.own_retail", label="The marketplace itself", type=FigureType.WORD,
           formula="as the table of brands or sellers says", needs="brands",
           compute=marked(_person("own_retail")), choices=("no", "yes"), kinds=HOLDERS),
)  # fmt: skip
