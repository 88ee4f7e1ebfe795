"""Figures of each listing by itself: its price, rank, sales, reviews and offers, now and before."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

import numpy as np
from numpy.typing import NDArray

from driftfield.core.base import Bools, Floats, Ints, Period, ratio

from .listings import History, Listings, window_mean, window_sum
from .sales import yearly

LOW_TENTH = 0.1  # The level that a price may fall back to; common practice, no source.
RISE = 0.1  # A price that stood so much under the one now was clearly lower; our choice.


@dataclass(frozen=True, slots=True)
class ListingRecord:
    """Figures of each listing, (listings,), NaN for unknown. Money in the market's currency.

    price_change: mean price of the last four weeks over that of the four 13 weeks earlier, less 1. price_low,
    price_high: least and highest price of the last 52 weeks; price_floor the tenth percentile of them.
    price_before: the latest price of these weeks that lies under the price now by over a tenth, and the ordinal
    of its period's first day in price_before_on. rank: in the last period; best_rank: of the last 52 weeks.
    units, revenue: of the last 52 weeks; units_4w: of the last four; best_quarter: units in four average weeks
    of the best 13 of the last 52. new_reviews: gained in 52 weeks, and review_share these over the units.
    offers: mean of the last four weeks; offers_change and units_change: the last 13 weeks against the same a
    year before; offers_lead: growth of offers over that of units, less 1. lead_share: share of the last 52
    weeks in which one seller held the lead offer, of the one who held it longest. lead_changes: share of steps
    of the last 26 weeks in which it changed hands. in_stock: mean of the last four weeks, 0–1.
    """

    price_change: Floats
    price_low: Floats
    price_high: Floats
    price_floor: Floats
    price_before: Floats
    price_before_on: Floats
    rank: Floats
    best_rank: Floats
    units: Floats
    revenue: Floats
    units_4w: Floats
    best_quarter: Floats
    new_reviews: Floats
    review_share: Floats
    offers: Floats
    offers_change: Floats
    units_change: Floats
    offers_lead: Floats
    lead_share: Floats
    lead_changes: Floats
    in_stock: Floats


def read_records(listings: Listings) -> ListingRecord:
    """Read each listing's own figures; its history ends with the last period that counts."""
    units, revenue = yearly(listings)
    prices = _window(listings, "price", 52)
    low, high, floor = _levels(prices)
    before, before_on = _before_rise(listings, prices)
    ranks = _window(listings, "sales_rank", 52)
    ranked = np.where(ranks >= 1, ranks, np.nan)
    offers, units_change = (
        _year_on_year(listings, "offers"),
        _year_on_year(listings, "units"),
    )
    gained = _gained(listings, "reviews")
    lead_share, lead_changes = _leads(listings)
    return ListingRecord(
        price_change=ratio(window_mean(listings, "price", 4), window_mean(listings, "price", 4, 13)) - 1,
        price_low=low, price_high=high, price_floor=floor, price_before=before, price_before_on=before_on,
        rank=ranked[:, -1].astype(np.float64) if ranked.shape[1] else np.full(len(listings), np.nan),
        best_rank=_over(np.fmin, ranked), units=units, revenue=revenue,
        units_4w=window_sum(listings, "units", 4), 
        best_quarter=best_quarter(_window(listings, "units", 52), listings.history),
        new_reviews=gained, review_share=ratio(gained, units), offers=window_mean(listings, "offers", 4),
        offers_change=offers, units_change=units_change,
        offers_lead=ratio(1 + offers, 1 + units_change) - 1, lead_share=lead_share, lead_changes=lead_changes,
        in_stock=window_mean(listings, "in_stock", 4),
    )  # fmt: skip


def _window(listings: Listings, measure: str, weeks: int) -> NDArray[np.float32]:
    """The last weeks of a measure, or as many as there are; no column where it is unknown."""
    history = listings.history
    values = None if history is None else history.measures.get(measure)
    if values is None or history is None:
        return np.empty((len(listings), 0), dtype=np.float32)
    return values[:, -history.timeline.period.span(weeks) :]


def _over(least: np.ufunc, values: NDArray[np.float32]) -> Floats:
    """Reduce the known values of each row; NaN where there are none."""
    if not values.shape[1]:
        return np.full(len(values), np.nan)
    found: Floats = least.reduce(values, axis=1).astype(np.float64)
    return found


def _levels(prices: NDArray[np.float32]) -> tuple[Floats, Floats, Floats]:
    """Least, highest and tenth percentile of each listing's prices, (listings,) each."""
    unknown = np.full(len(prices), np.nan)
    if not prices.shape[1]:
        return unknown, unknown, unknown
    known = np.sort(prices.astype(np.float64), axis=1)  # NaN sorts behind.
    many = (~np.isnan(known)).sum(axis=1)
    # The usual definition of a quantile (Hyndman & Fan 1996, type 7).
    at = LOW_TENTH * np.maximum(many - 1, 0)
    rows, under = np.arange(len(known)), np.floor(at).astype(np.int64)
    above = np.minimum(under + 1, np.maximum(many - 1, 0))
    tenth = known[rows, under] + (known[rows, above] - known[rows, under]) * (at - under)
    return known[:, 0], _over(np.fmax, prices), np.where(many > 0, tenth, np.nan)


def _before_rise(listings: Listings, prices: NDArray[np.float32]) -> tuple[Floats, Floats]:
    """The latest price clearly under the one now, and the first day of its period."""
    unknown = np.full(len(prices), np.nan)
    history = listings.history
    if not prices.shape[1] or history is None:
        return unknown, unknown
    with np.errstate(invalid="ignore"):
        lower = prices < (listings.price * (1 - RISE) - 1e-6)[:, None]
    last = prices.shape[1] - 1 - lower[:, ::-1].argmax(axis=1)
    there = lower.any(axis=1)
    first = history.timeline.length - prices.shape[1]
    days = np.array(
        [history.timeline.start(first + at).toordinal() for at in range(prices.shape[1])],
        dtype=np.float64,
    )
    price = prices[np.arange(len(prices)), last].astype(np.float64)
    return np.where(there, price, np.nan), np.where(there, days[last], np.nan)


def best_quarter(units: NDArray[np.float32], history: History | None) -> Floats:
    """Units in four average weeks of the best 13 in a row, (listings,); in a month of the best three.

    ``units`` is (listings, length) of ``history``'s periods. Weeks that are unknown count as none, for what
    was sold is sold all the same; NaN where nothing is known of any.
    """
    if history is None or not units.shape[1]:
        return np.full(len(units), np.nan)
    period = history.timeline.period
    span = min(period.span(13), units.shape[1])
    best = running_sums(units, span).max(axis=1) * period.span(4) / span
    return np.where(np.isnan(units).all(axis=1), np.nan, best)


def running_sums(values: NDArray[Any], span: int) -> Floats:
    """Sums of so many columns in a row, (rows, length − span + 1); unknown ones count as none."""
    sums = np.zeros((len(values), values.shape[1] + 1))
    np.cumsum(np.nan_to_num(values), axis=1, out=sums[:, 1:])
    found: Floats = sums[:, span:] - sums[:, :-span]
    return found


def of_time(history: History, measure: str, first: date, last: date) -> Floats:
    """What listings sold from a day to another (“units”), or their best rank then (“sales_rank”), (listings,).

    A week counts where it begins within these days; of a month the part of its units that falls on them by
    days, which of whole months is all. NaN where nothing is known of one, and for what the history does not
    hold whole.
    """
    values = history.measures.get(measure)
    many = len(next(iter(history.measures.values()))) if history.measures else 0
    timeline = history.timeline
    period = timeline.period
    begin = period.number(first)
    if period is Period.WEEK and period.start(begin) < first:
        begin += 1
    end = period.number(last) + 1
    start, stop = begin - timeline.first_number, end - timeline.first_number
    if values is None or start < 0 or stop > timeline.length or start >= stop:
        return np.full(many, np.nan)
    window = values[:, start:stop].astype(np.float64)
    some = ~np.isnan(window).all(axis=1)
    if measure == "sales_rank":
        return np.where(some, _over(np.fmin, values[:, start:stop]), np.nan)
    part = [
        1.0 if period is Period.WEEK else _part(first, last, period.start(at), period.start(at + 1))
        for at in range(begin, end)
    ]
    return np.where(some, np.nan_to_num(window) @ np.array(part), np.nan)


def _part(first: date, last: date, start: date, following: date) -> float:
    """Part of a period's days that lie between two days, both included."""
    after = min(last + timedelta(days=1), following)
    return (after - max(first, start)).days / (following - start).days


def led_share(held: NDArray[np.float32], codes: Ints) -> Floats:
    """Share of the periods in which any of some sellers held the lead offer, (listings,).

    ``held`` (listings, periods) are codes of who did, NaN for unknown; of the known ones alone. NaN for none.
    """
    known = (~np.isnan(held)).sum(axis=1).astype(np.float64)
    return ratio(np.isin(held, codes).sum(axis=1).astype(np.float64), known)


def _gained(listings: Listings, measure: str) -> Floats:
    """How much a measure that only grows has grown in 52 weeks; NaN where either end is unknown, or it fell."""
    history = listings.history
    now, then = (
        (None, None)
        if history is None
        else (history.window(measure, 4), history.window(measure, 4, 52))
    )
    if now is None or then is None:
        return np.full(len(listings), np.nan)
    gained = _over(np.fmax, now) - _over(np.fmax, then)
    return np.where(gained >= 0, gained, np.nan)


def _year_on_year(listings: Listings, measure: str) -> Floats:
    """Change of the mean of 13 weeks against the same a year before."""
    now, then = window_mean(listings, measure, 13), window_mean(listings, measure, 13, 52)
    return ratio(now, then) - 1


def _leads(listings: Listings) -> tuple[Floats, Floats]:
    """How long the seller who held the lead offer longest did, and how often it changed hands."""
    held = _window(listings, "lead_seller", 52)
    unknown = np.full(len(listings), np.nan)
    if not held.shape[1] or listings.history is None:
        return unknown, unknown
    ordered = np.sort(held, axis=1)
    known = (~np.isnan(ordered)).sum(axis=1)
    # Equal ones stand together: the longest run of them is the seller who held it longest.
    run = np.ones(len(held))
    longest = np.where(known > 0, 1.0, np.nan)
    for at in range(1, ordered.shape[1]):
        run = np.where(ordered[:, at] == ordered[:, at - 1], run + 1, 1)
        longest = np.where(known > at, np.maximum(longest, run), longest)
    late = held[:, -listings.history.timeline.period.span(26) :]
    both: Bools = ~np.isnan(late[:, 1:]) & ~np.isnan(late[:, :-1])
    changed = both & (late[:, 1:] != late[:, :-1])
    return ratio(longest, known.astype(float)), ratio(
        changed.sum(axis=1).astype(float), both.sum(axis=1).astype(float)
    )
