"""Figures of volume: searches, clicks, purchases, what is sold and what an income takes."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from driftfield.core.base import Floats, ratio, wilson
from driftfield.core.curves import Shape

from ..kinds import KINDS, LISTING, NICHE, OF_TERMS, TERM
from ..workings import Workings
from .figure import Compute, Figure, FigureType, Stage, marked

WILSON = "Wilson (1927)"
SPEARMAN = "Spearman (1904); Bonett & Wright (2000)"
BARTLETT = "cross-correlation; Box, Jenkins & Reinsel, Time Series Analysis, 3rd ed., 11.1"


def _rate(work: Workings, trials: Floats) -> Floats:
    """Purchases over trials; unknown where there are more purchases, which no rate explains."""
    found = ratio(work.purchases_52w, trials)
    return np.where(found <= 1, found, np.nan)


def _wilson(end: int, trials: Callable[[Workings], Floats]) -> Compute:
    return lambda w: wilson(w.purchases_52w, trials(w), w.settings.interval)[end]


def _everywhere(key: str) -> Compute:
    """The market's median, the same for every niche."""
    return lambda w: np.full(w.count, w.usual[key])


def _slip(work: Workings) -> Floats | None:
    return None if work.misspelt is None else (work.misspelt >= 0).astype(np.float64)


def _words(work: Workings) -> Floats:
    return np.array([len(name.split()) for name in work.data.subjects], dtype=np.float64)


def _searches(work: Workings) -> Floats:
    return work.searches_52w


def _clicks(work: Workings) -> Floats:
    return work.clicks_52w


def _open_searches(work: Workings) -> Floats:
    return work.searches_52w * (1 - np.nan_to_num(work.shares.owned))


def _lasting(work: Workings) -> Floats:
    left = np.minimum(4 * ratio(work.searches_13w, work.searches_52w), 1)
    return np.where(work.curves.shape.shape == Shape.FAD, left, 1.0)


# What is told of the whole market by its median.
USUAL: dict[str, Callable[[Workings], Floats]] = {
    "usual.searches": _searches,
    "usual.clicks": _clicks,
    "usual.purchase_rate": lambda w: _rate(w, w.searches_52w),
    "usual.click_purchase_rate": lambda w: _rate(w, w.clicks_52w),
}

VOLUME: tuple[Figure, ...] = (
    Figure(key="searches_52w", label="Searches a year", type=FigureType.AMOUNT, unit="searches",
           direction=1, formula="sum of the last 52 weeks", compute=_searches, kinds=OF_TERMS),
    Figure(key="impressions_52w", label="Impressions a year", type=FigureType.AMOUNT, unit="impressions",
           formula="sum of the last 52 weeks: how often a listing was shown after its terms",
           compute=lambda w: w.impressions_52w, kinds=OF_TERMS),
    Figure(key="branded_share", label="Searches with brand words", type=FigureType.SHARE,
           unit="share of searches", direction=-1,
           formula="searches of terms that hold a brand's name ÷ all, last 52 weeks", needs="terms",
           compute=lambda w: w.shares.branded, kinds=(NICHE,)),
    Figure(key="protected_share", label="Searches with protected words", type=FigureType.SHARE,
           unit="share of searches", direction=-1,
           formula="searches of terms that hold a protected word ÷ all, last 52 weeks",
           needs="protected_words", compute=lambda w: w.shares.protected, kinds=(NICHE,)),
    Figure(key="open_searches_52w", label="Searches a year without brand and protected words",
           type=FigureType.AMOUNT, unit="searches", direction=1,
           formula="searches a year × (1 − share with brand or protected words); all, where none is marked",
           compute=_open_searches),
    Figure(key="lasting_share", label="What of it lasts", type=FigureType.SHARE, unit="share of a year",
           direction=1,
           formula="1; for a Fad four times the last 13 weeks' searches ÷ the year's, for its burst is over",
           compute=_lasting, kinds=OF_TERMS),
    Figure(key="clicks_52w", label="Clicks a year", type=FigureType.AMOUNT, unit="clicks", direction=1,
           formula="sum of the last 52 weeks", compute=_clicks, kinds=OF_TERMS),
    Figure(key="purchases_52w", label="Purchases a year", type=FigureType.AMOUNT, unit="purchases",
           direction=1, formula="sum of the last 52 weeks", compute=lambda w: w.purchases_52w, kinds=OF_TERMS),
    Figure(key="purchase_rate", label="Purchase rate", type=FigureType.SHARE, unit="purchases a search",
           direction=1, formula="purchases a year ÷ searches a year; unknown above 1",
           compute=lambda w: _rate(w, w.searches_52w), digits=5, kinds=OF_TERMS),
    Figure(key="purchase_rate_low", label="Purchase rate, low end", type=FigureType.SHARE,
           unit="purchases a search", direction=1, formula="lower end of Wilson's 90% interval",
           source=WILSON, compute=_wilson(0, _searches), digits=5, kinds=OF_TERMS),
    Figure(key="purchase_rate_high", label="Purchase rate, high end", type=FigureType.SHARE,
           unit="purchases a search", direction=1, formula="upper end of Wilson's 90% interval",
           source=WILSON, compute=_wilson(1, _searches), digits=5, kinds=OF_TERMS),
    Figure(key="click_purchase_rate", label="Purchases a click", type=FigureType.SHARE,
           unit="purchases a click", direction=1,
           formula="purchases a year ÷ clicks a year; unknown above 1",
           compute=lambda w: _rate(w, w.clicks_52w), digits=5, kinds=OF_TERMS),
    Figure(key="click_purchase_high", label="Purchases a click, high end", type=FigureType.SHARE,
           unit="purchases a click", direction=1, formula="upper end of Wilson's 90% interval",
           source=WILSON, compute=_wilson(1, _clicks), digits=5, kinds=OF_TERMS),
    Figure(key="usual.searches", label="The market's usual searches", type=FigureType.AMOUNT,
           unit="searches", formula="median searches a year over the market's niches, or its terms",
           compute=_everywhere("usual.searches"), stage=Stage.RANKED),
    Figure(key="usual.clicks", label="The market's usual clicks", type=FigureType.AMOUNT, unit="clicks",
           formula="median clicks a year over the market's niches, or its terms",
           compute=_everywhere("usual.clicks"), stage=Stage.RANKED),
    Figure(key="usual.purchase_rate", label="The market's usual purchase rate", type=FigureType.SHARE,
           unit="purchases a search", formula="median purchase rate over the market's niches, or its terms",
           compute=_everywhere("usual.purchase_rate"), digits=5, stage=Stage.RANKED),
    Figure(key="usual.click_purchase_rate", label="The market's usual purchases a click",
           type=FigureType.SHARE, unit="purchases a click",
           formula="median over the market's niches, or its terms",
           compute=_everywhere("usual.click_purchase_rate"), digits=5, stage=Stage.RANKED),
    Figure(key="purchase_lag.weeks", label="Purchases trail searches by", type=FigureType.SIGNED,
           unit="weeks",
           formula="lag at which the years' mean profile of purchases lies best on that of searches; "
               "only where a season is claimed", source=BARTLETT, compute=lambda w: w.lag.weeks,
           kinds=OF_TERMS),
    Figure(key="purchase_lag.low", label="Purchases trail, low end", type=FigureType.SIGNED, unit="weeks",
           formula="lower end of the lag's 90% interval, a jackknife over years", source=BARTLETT,
           compute=lambda w: w.lag.low, kinds=OF_TERMS),
    Figure(key="purchase_lag.high", label="Purchases trail, high end", type=FigureType.SIGNED, unit="weeks",
           formula="upper end of the lag's 90% interval", source=BARTLETT,
           compute=lambda w: w.lag.high, kinds=OF_TERMS),
    Figure(key="purchase_lag.rest", label="Purchases trail, calendar apart", type=FigureType.SIGNED,
           unit="weeks",
           formula="lag of the largest correlation between what is left of both without calendar and years' "
               "levels, where it is told from noise", source=BARTLETT,
           compute=lambda w: w.lag.rest, kinds=OF_TERMS),
    Figure(key="purchase_lag.correlation", label="Correlation at that lag", type=FigureType.RATIO,
           unit="correlation", formula="the largest correlation itself", source=BARTLETT,
           compute=lambda w: w.lag.rest_correlation, kinds=OF_TERMS),
    Figure(key="price_answer.correlation", label="Price answer", type=FigureType.RATIO,
           unit="rank correlation",
           formula="Spearman's ρ between changes of the price and of the purchase rate from period to period",
           source=SPEARMAN, needs="listing_weeks", compute=lambda w: w.price_answer.correlation),
    Figure(key="price_answer.low", label="Price answer, low end", type=FigureType.RATIO,
           unit="rank correlation", formula="lower end of its 90% interval", source=SPEARMAN,
           needs="listing_weeks", compute=lambda w: w.price_answer.low),
    Figure(key="price_answer.high", label="Price answer, high end", type=FigureType.RATIO,
           unit="rank correlation", formula="upper end of its 90% interval", source=SPEARMAN,
           needs="listing_weeks", compute=lambda w: w.price_answer.high),
    Figure(key="price_answer.changes", label="Changes it rests on", type=FigureType.COUNT, unit="changes",
           formula="periods in which both changes are known", needs="listing_weeks",
           compute=lambda w: w.price_answer.changes),
)  # fmt: skip


OF_ONE = ("units_52w", "revenue_52w")  # What a listing alone has as well.
OF_SUMS = ("unsponsored_units_52w", "unsponsored_revenue_52w")  # What all have that have listings.
OF_MANY = tuple(kind for kind in KINDS if kind != LISTING)


def _of_sales() -> list[Figure]:
    rows = [
        ("units_52w", "Units a year", FigureType.AMOUNT, "units", 1,
         "units of the last 52 weeks, its own or those of its listings; those of a listing that several niches "
         "share are divided by clicks"),
        ("revenue_52w", "Revenue a year", FigureType.AMOUNT, "currency", 1,
         "units × price, period by period, its own or of its listings; what several niches share is divided by "
         "clicks"),
        ("unsponsored_units_52w", "Unsponsored units a year", FigureType.AMOUNT, "units", 1,
         "units of the last 52 weeks of those of its listings that are known not to be sponsored, counted as "
         "units a year are"),
        ("unsponsored_revenue_52w", "Unsponsored revenue a year", FigureType.AMOUNT, "currency", 1,
         "units × price, period by period, of those of its listings that are known not to be sponsored"),
        ("price_low", "Price, low", FigureType.AMOUNT, "currency", 0,
         "10th percentile over the listings clicked now"),
        ("price_median", "Price", FigureType.AMOUNT, "currency", 0, "median over the listings clicked now"),
        ("price_high", "Price, high", FigureType.AMOUNT, "currency", 0,
         "90th percentile over the listings clicked now"),
        ("revenue_per_listing", "Revenue a listing", FigureType.AMOUNT, "currency", 1,
         "revenue a year ÷ listings with known sales"),
        ("listing_units", "Units a year of the median listing", FigureType.AMOUNT, "units", 1,
         "median over the listings clicked now"),
        ("listing_revenue", "Revenue a year of the median listing", FigureType.AMOUNT, "currency", 1,
         "median over the listings clicked now"),
        ("month_of_stock", "A month of stock", FigureType.AMOUNT, "currency", -1,
         "median price × units a year of the median listing ÷ 12"),
        ("gone", "Left by a listing that is gone", FigureType.SHARE, "share of clicks", 1,
         "largest share of the clicks of a year ago that went to a listing that has none now"),
    ]  # fmt: skip

    def of(key: str) -> Compute:
        return lambda w: np.asarray(getattr(w.supply.sales, key))

    needs = {"gone": "term_clicks", "price_low": "listings", "price_median": "listings",
             "price_high": "listings"}  # fmt: skip
    return [
        Figure(key=f"sales.{key}", label=label, type=kind, unit=unit, direction=direction, formula=formula,
               needs=needs.get(key, "listing_weeks"), compute=of(key),
               kinds=KINDS if key in OF_ONE else OF_MANY if key in OF_SUMS else OF_TERMS)
        for key, label, kind, unit, direction, formula in rows
    ]  # fmt: skip


def _of_target() -> list[Figure]:
    rows = [
        ("units_low", "Units for the target, low price", FigureType.AMOUNT, "units a year", -1,
         "target_income ÷ low price of the niche"),
        ("units_median", "Units for the target", FigureType.AMOUNT, "units a year", -1,
         "target_income ÷ median price of the niche"),
        ("units_high", "Units for the target, high price", FigureType.AMOUNT, "units a year", -1,
         "target_income ÷ high price of the niche"),
        ("multiple", "Median listing over the target", FigureType.AMOUNT, "×", 1,
         "revenue a year of the median listing ÷ target_income; 1 reaches it"),
        ("reaching", "Listings that reach the target", FigureType.SHARE, "share of listings", 1,
         "listings clicked now whose revenue a year reaches target_income ÷ those with known sales"),
    ]  # fmt: skip

    def of(key: str) -> Compute:
        return lambda w: np.asarray(getattr(w.supply.target, key))

    return [
        Figure(key=f"target.{key}", label=label, type=kind, unit=unit, direction=direction, formula=formula,
               needs="listings" if key.startswith("units") else "listing_weeks", compute=of(key))
        for key, label, kind, unit, direction, formula in rows
    ]  # fmt: skip


SALES: tuple[Figure, ...] = (*_of_sales(), *_of_target())

TERMS: tuple[Figure, ...] = (
    Figure(key="branded", label="Names a brand", type=FigureType.WORD, needs="terms",
           formula="whether the term holds a brand's name, as the table says",
           compute=marked(lambda w: w.data.branded), choices=("no", "yes"), kinds=(TERM,)),
    Figure(key="protected", label="Holds a protected word", type=FigureType.WORD, needs="protected_words",
           formula="whether the term holds a word of the list of protected words; a hint, no legal advice",
           compute=marked(lambda w: w.data.protected), choices=("no", "yes"), kinds=(TERM,)),
    Figure(key="misspelt", label="Likely mistyped", type=FigureType.WORD, needs="term_weeks",
           formula="whether it is one slip of the keys from a term of its niche that is typed 4 times as often",
           source="Damerau (1964)", compute=marked(_slip), choices=("no", "yes"), kinds=(TERM,)),
    Figure(key="words", label="Words", type=FigureType.COUNT, unit="words",
           formula="words of the term", compute=_words, kinds=(TERM,)),
)  # fmt: skip
