"""Figures of volume: searches, clicks, purchases, what is sold and what an income takes."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from driftfield.core.analysis import Workings
from driftfield.core.groups import ratio
from driftfield.core.intervals import wilson
from driftfield.core.periods import Floats
from driftfield.core.shape import Shape

from .kinds import OWN, Compute, Figure, Kind

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
    return np.where(work.demand_side.shape.shape == Shape.FAD, left, 1.0)


VOLUME: tuple[Figure, ...] = (
    Figure("searches_52w", "Searches a year", Kind.AMOUNT, "searches", 1,
           "sum of the last 52 weeks", OWN, "term_weeks", _searches),
    Figure("branded_share", "Searches with brand words", Kind.SHARE, "fraction of searches", -1,
           "searches of terms that hold a brand's name ÷ all, last 52 weeks", OWN, "terms",
           lambda w: w.branded_share),
    Figure("open_searches_52w", "Searches a year without brand words", Kind.AMOUNT, "searches", 1,
           "searches a year × (1 − share with brand words); all, where brand words are not marked",
           OWN, "term_weeks", _open_searches),
    Figure("lasting_share", "What of it lasts", Kind.SHARE, "fraction of a year", 1,
           "1; for a Fad four times the last 13 weeks' searches ÷ the year's, for its burst is over",
           OWN, "term_weeks", _lasting),
    Figure("clicks_52w", "Clicks a year", Kind.AMOUNT, "clicks", 1,
           "sum of the last 52 weeks", OWN, "term_weeks", _clicks),
    Figure("purchases_52w", "Purchases a year", Kind.AMOUNT, "purchases", 1,
           "sum of the last 52 weeks", OWN, "term_weeks", lambda w: w.purchases_52w),
    Figure("purchase_rate", "Purchase rate", Kind.SHARE, "purchases a search", 1,
           "purchases a year ÷ searches a year; unknown above 1", OWN, "term_weeks",
           lambda w: _rate(w, w.searches_52w), digits=5),
    Figure("purchase_rate_low", "Purchase rate, low end", Kind.SHARE, "purchases a search", 1,
           "lower end of Wilson's 90% interval", WILSON, "term_weeks", _wilson(0, _searches), digits=5),
    Figure("purchase_rate_high", "Purchase rate, high end", Kind.SHARE, "purchases a search", 1,
           "upper end of Wilson's 90% interval", WILSON, "term_weeks", _wilson(1, _searches), digits=5),
    Figure("click_purchase_rate", "Purchases a click", Kind.SHARE, "purchases a click", 1,
           "purchases a year ÷ clicks a year; unknown above 1", OWN, "term_weeks",
           lambda w: _rate(w, w.clicks_52w), digits=5),
    Figure("click_purchase_high", "Purchases a click, high end", Kind.SHARE, "purchases a click", 1,
           "upper end of Wilson's 90% interval", WILSON, "term_weeks", _wilson(1, _clicks), digits=5),
    Figure("usual.searches", "The market's usual searches", Kind.AMOUNT, "searches", 0,
           "median searches a year over the market's niches", OWN, "term_weeks",
           _everywhere(_searches)),
    Figure("usual.clicks", "The market's usual clicks", Kind.AMOUNT, "clicks", 0,
           "median clicks a year over the market's niches", OWN, "term_weeks",
           _everywhere(_clicks)),
    Figure("usual.purchase_rate", "The market's usual purchase rate", Kind.SHARE,
           "purchases a search", 0, "median purchase rate over the market's niches", OWN, "term_weeks",
           _everywhere(lambda w: _rate(w, w.searches_52w)), digits=5),
    Figure("usual.click_purchase_rate", "The market's usual purchases a click", Kind.SHARE,
           "purchases a click", 0, "median over the market's niches", OWN, "term_weeks",
           _everywhere(lambda w: _rate(w, w.clicks_52w)), digits=5),
    Figure("purchase_lag.weeks", "Purchases trail searches by", Kind.SIGNED, "weeks", 0,
           "lag at which the years' mean profile of purchases lies best on that of searches; "
           "only where a season is claimed", BARTLETT, "term_weeks", lambda w: w.lag.weeks),
    Figure("purchase_lag.low", "Purchases trail, low end", Kind.SIGNED, "weeks", 0,
           "lower end of the lag's 90% interval, a jackknife over years", BARTLETT, "term_weeks",
           lambda w: w.lag.low),
    Figure("purchase_lag.high", "Purchases trail, high end", Kind.SIGNED, "weeks", 0,
           "upper end of the lag's 90% interval", BARTLETT, "term_weeks", lambda w: w.lag.high),
    Figure("purchase_lag.rest", "Purchases trail, calendar apart", Kind.SIGNED, "weeks", 0,
           "lag of the largest correlation between what is left of both without calendar and years' "
           "levels, where it is told from noise", BARTLETT, "term_weeks", lambda w: w.lag.rest),
    Figure("purchase_lag.correlation", "Correlation at that lag", Kind.RATIO, "correlation", 0,
           "the largest correlation itself", BARTLETT, "term_weeks",
           lambda w: w.lag.rest_correlation),
    Figure("price_answer.correlation", "Price answer", Kind.RATIO, "rank correlation", 0,
           "Spearman's ρ between changes of the price and of the purchase rate from period to period",
           SPEARMAN, "listing_weeks", lambda w: w.price_answer.correlation),
    Figure("price_answer.low", "Price answer, low end", Kind.RATIO, "rank correlation", 0,
           "lower end of its 90% interval", SPEARMAN, "listing_weeks", lambda w: w.price_answer.low),
    Figure("price_answer.high", "Price answer, high end", Kind.RATIO, "rank correlation", 0,
           "upper end of its 90% interval", SPEARMAN, "listing_weeks", lambda w: w.price_answer.high),
    Figure("price_answer.changes", "Changes it rests on", Kind.COUNT, "changes", 0,
           "periods in which both changes are known", OWN, "listing_weeks",
           lambda w: w.price_answer.changes),
)  # fmt: skip


def _of_sales() -> list[Figure]:
    rows = [
        ("units_52w", "Units a year", Kind.AMOUNT, "units", 1,
         "units of the niche's listings in the last 52 weeks; a listing's are divided by clicks"),
        ("revenue_52w", "Revenue a year", Kind.AMOUNT, "currency", 1,
         "units × price, period by period, of the niche's listings; a listing's are divided by clicks"),
        ("price_low", "Price, low", Kind.AMOUNT, "currency", 0,
         "10th percentile over the listings clicked now"),
        ("price_median", "Price", Kind.AMOUNT, "currency", 0, "median over the listings clicked now"),
        ("price_high", "Price, high", Kind.AMOUNT, "currency", 0,
         "90th percentile over the listings clicked now"),
        ("revenue_per_listing", "Revenue a listing", Kind.AMOUNT, "currency", 1,
         "revenue a year ÷ listings with known sales"),
        ("listing_units", "Units a year of the median listing", Kind.AMOUNT, "units", 1,
         "median over the listings clicked now"),
        ("listing_revenue", "Revenue a year of the median listing", Kind.AMOUNT, "currency", 1,
         "median over the listings clicked now"),
        ("gone", "Left by a listing that is gone", Kind.SHARE, "fraction of clicks", 1,
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
        ("units_low", "Units for the target, low price", Kind.AMOUNT, "units a year", -1,
         "target_income ÷ low price of the niche"),
        ("units_median", "Units for the target", Kind.AMOUNT, "units a year", -1,
         "target_income ÷ median price of the niche"),
        ("units_high", "Units for the target, high price", Kind.AMOUNT, "units a year", -1,
         "target_income ÷ high price of the niche"),
        ("multiple", "Median listing over the target", Kind.AMOUNT, "×", 1,
         "revenue a year of the median listing ÷ target_income; 1 reaches it"),
        ("reaching", "Listings that reach the target", Kind.SHARE, "fraction of listings", 1,
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
