"""Figures of volume: searches, clicks, purchases, what is sold and what an income takes."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from driftfield.core.base import Floats, ratio, wilson
from driftfield.core.curves import Shape

from ..workings import Workings
from .figure import OWN, Compute, Figure, FigureType

WILSON = "Wilson (1927)"
SPEARMAN = "Spearman (1904); Bonett & Wright (2000)"
BARTLETT = "cross-correlation; Box, Jenkins & Reinsel, Time Series Analysis, 3rd ed., 11.1"


def _rate(work: Workings, trials: Floats) -> Floats:
    """Purchases over trials; unknown where there are more purchases, which no rate explains."""
    found = ratio(work.purchases_52w, trials)
    return np.where(found <= 1, found, np.nan)


def _wilson(end: int, trials: Callable[[Workings], Floats]) -> Compute:
    return lambda w: wilson(w.purchases_52w, trials(w), w.settings.interval)[end]


def _everywhere(values: Callable[[Workings], Floats]) -> Compute:
    """The market's median, the same for every niche."""

    def compute(work: Workings) -> np.ndarray:
        found = values(work)
        known = found[~np.isnan(found)]
        return np.full(len(found), np.median(known) if known.size else np.nan)

    return compute


def _searches(work: Workings) -> Floats:
    return work.searches_52w


def _clicks(work: Workings) -> Floats:
    return work.clicks_52w


def _open_searches(work: Workings) -> Floats:
    return work.searches_52w * (1 - np.nan_to_num(work.branded_share))


def _lasting(work: Workings) -> Floats:
    left = np.minimum(4 * ratio(work.searches_13w, work.searches_52w), 1)
    return np.where(work.curves.shape.shape == Shape.FAD, left, 1.0)


VOLUME: tuple[Figure, ...] = (
    Figure("searches_52w", "Searches a year", FigureType.AMOUNT, "searches", 1,
           "sum of the last 52 weeks", OWN, "term_weeks", _searches),
    Figure("branded_share", "Searches with brand words", FigureType.SHARE, "fraction of searches", -1,
           "searches of terms that hold a brand's name ÷ all, last 52 weeks", OWN, "terms",
           lambda w: w.branded_share),
    Figure("open_searches_52w", "Searches a year without brand words", FigureType.AMOUNT, "searches", 1,
           "searches a year × (1 − share with brand words); all, where brand words are not marked",
           OWN, "term_weeks", _open_searches),
    Figure("lasting_share", "What of it lasts", FigureType.SHARE, "fraction of a year", 1,
           "1; for a Fad four times the last 13 weeks' searches ÷ the year's, for its burst is over",
           OWN, "term_weeks", _lasting),
    Figure("clicks_52w", "Clicks a year", FigureType.AMOUNT, "clicks", 1,
           "sum of the last 52 weeks", OWN, "term_weeks", _clicks),
    Figure("purchases_52w", "Purchases a year", FigureType.AMOUNT, "purchases", 1,
           "sum of the last 52 weeks", OWN, "term_weeks", lambda w: w.purchases_52w),
    Figure("purchase_rate", "Purchase rate", FigureType.SHARE, "purchases a search", 1,
           "purchases a year ÷ searches a year; unknown above 1", OWN, "term_weeks",
           lambda w: _rate(w, w.searches_52w), digits=5),
    Figure("purchase_rate_low", "Purchase rate, low end", FigureType.SHARE, "purchases a search", 1,
           "lower end of Wilson's 90% interval", WILSON, "term_weeks", _wilson(0, _searches), digits=5),
    Figure("purchase_rate_high", "Purchase rate, high end", FigureType.SHARE, "purchases a search", 1,
           "upper end of Wilson's 90% interval", WILSON, "term_weeks", _wilson(1, _searches), digits=5),
    Figure("click_purchase_rate", "Purchases a click", FigureType.SHARE, "purchases a click", 1,
           "purchases a year ÷ clicks a year; unknown above 1", OWN, "term_weeks",
           lambda w: _rate(w, w.clicks_52w), digits=5),
    Figure("click_purchase_high", "Purchases a click, high end", FigureType.SHARE, "purchases a click", 1,
           "upper end of Wilson's 90% interval", WILSON, "term_weeks", _wilson(1, _clicks), digits=5),
    Figure("usual.searches", "The market's usual searches", FigureType.AMOUNT, "searches", 0,
           "median searches a year over the market's niches", OWN, "term_weeks",
           _everywhere(_searches)),
    Figure("usual.clicks", "The market's usual clicks", FigureType.AMOUNT, "clicks", 0,
           "median clicks a year over the market's niches", OWN, "term_weeks",
           _everywhere(_clicks)),
    Figure("usual.purchase_rate", "The market's usual purchase rate", FigureType.SHARE,
           "purchases a search", 0, "median purchase rate over the market's niches", OWN, "term_weeks",
           _everywhere(lambda w: _rate(w, w.searches_52w)), digits=5),
    Figure("usual.click_purchase_rate", "The market's usual purchases a click", FigureType.SHARE,
           "purchases a click", 0, "median over the market's niches", OWN, "term_weeks",
           _everywhere(lambda w: _rate(w, w.clicks_52w)), digits=5),
    Figure("purchase_lag.weeks", "Purchases trail searches by", FigureType.SIGNED, "weeks", 0,
           "lag at which the years' mean profile of purchases lies best on that of searches; "
           "only where a season is claimed", BARTLETT, "term_weeks", lambda w: w.lag.weeks),
    Figure("purchase_lag.low", "Purchases trail, low end", FigureType.SIGNED, "weeks", 0,
           "lower end of the lag's 90% interval, a jackknife over years", BARTLETT, "term_weeks",
           lambda w: w.lag.low),
    Figure("purchase_lag.high", "Purchases trail, high end", FigureType.SIGNED, "weeks", 0,
           "upper end of the lag's 90% interval", BARTLETT, "term_weeks", lambda w: w.lag.high),
    Figure("purchase_lag.rest", "Purchases trail, calendar apart", FigureType.SIGNED, "weeks", 0,
           "lag of the largest correlation between what is left of both without calendar and years' "
           "levels, where it is told from noise", BARTLETT, "term_weeks", lambda w: w.lag.rest),
    Figure("purchase_lag.correlation", "Correlation at that lag", FigureType.RATIO, "correlation", 0,
           "the largest correlation itself", BARTLETT, "term_weeks",
           lambda w: w.lag.rest_correlation),
    Figure("price_answer.correlation", "Price answer", FigureType.RATIO, "rank correlation", 0,
           "Spearman's ρ between changes of the price and of the purchase rate from period to period",
           SPEARMAN, "listing_weeks", lambda w: w.price_answer.correlation),
    Figure("price_answer.low", "Price answer, low end", FigureType.RATIO, "rank correlation", 0,
           "lower end of its 90% interval", SPEARMAN, "listing_weeks", lambda w: w.price_answer.low),
    Figure("price_answer.high", "Price answer, high end", FigureType.RATIO, "rank correlation", 0,
           "upper end of its 90% interval", SPEARMAN, "listing_weeks", lambda w: w.price_answer.high),
    Figure("price_answer.changes", "Changes it rests on", FigureType.COUNT, "changes", 0,
           "periods in which both changes are known", OWN, "listing_weeks",
           lambda w: w.price_answer.changes),
)  # fmt: skip


def _of_sales() -> list[Figure]:
    rows = [
        ("units_52w", "Units a year", FigureType.AMOUNT, "units", 1,
         "units of the niche's listings in the last 52 weeks; a listing's are divided by clicks"),
        ("revenue_52w", "Revenue a year", FigureType.AMOUNT, "currency", 1,
         "units × price, period by period, of the niche's listings; a listing's are divided by clicks"),
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
        ("gone", "Left by a listing that is gone", FigureType.SHARE, "fraction of clicks", 1,
         "largest share of the clicks of a year ago that went to a listing that has none now"),
    ]  # fmt: skip

    def of(key: str) -> Compute:
        return lambda w: np.asarray(getattr(w.supply.sales, key))

    needs = {"gone": "term_clicks", "price_low": "listings", "price_median": "listings",
             "price_high": "listings"}  # fmt: skip
    return [
        Figure(f"sales.{key}", label, kind, unit, direction, formula, OWN,
               needs.get(key, "listing_weeks"), of(key))
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
        ("reaching", "Listings that reach the target", FigureType.SHARE, "fraction of listings", 1,
         "listings clicked now whose revenue a year reaches target_income ÷ those with known sales"),
    ]  # fmt: skip

    def of(key: str) -> Compute:
        return lambda w: np.asarray(getattr(w.supply.target, key))

    return [
        Figure(f"target.{key}", label, kind, unit, direction, formula, OWN,
               "listings" if key.startswith("units") else "listing_weeks", of(key))
        for key, label, kind, unit, direction, formula in rows
    ]  # fmt: skip


SALES: tuple[Figure, ...] = (*_of_sales(), *_of_target())
