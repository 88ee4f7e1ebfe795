"""Sleepers: listings that sold well in their last season, are quiet now, and will be wanted again."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import stats

from driftfield.core.base import Bools, Floats, Groups, Ints, Settings, Timeline, ratio

from .listings import Listings
from .record import running_sums

LOOK_BACK = 65  # Weeks that hold the last season whole, whenever it is; our choice.
MIDDLE = 0.9  # Of the interval of the units expected.
OUT_OF_STOCK = 0.5  # In stock for less than this part of the last four weeks.
DEARER = 1.2  # Price now over that of the last season from which it is a reason; our choice.
# Why a listing is quiet, the calendar first; what is found of the others comes with it.
WHY = ("season", "no stock", "no rank", "price")
CHUNK = (
    16_384  # Listings whose curves are looked at at once: of a million one alone takes gigabytes.
)
STATES = ("Asleep", "In season")


@dataclass(frozen=True, slots=True)
class ListingSeasons:
    """When each listing sells, (listings,): by its own sales or by its niche's searches.

    factors: (listings, slots) in the periods of the listings' history, mean 1. seasonal: whether most of a year
    falls into a season, which returns. rate, low, high: drift a year with its interval, NaN for unknown.
    """

    factors: Floats
    seasonal: Bools
    rate: Floats
    low: Floats
    high: Floats


@dataclass(frozen=True, slots=True)
class Sleepers:
    """What of each listing sleeps or is awake for its season alone, (listings,); NaN and None for unknown.

    state: one of STATES; None for what is neither. why: (listings, len(WHY)) reasons that hold. strong: units
    in four average weeks of the best 13 of the last 65, middle: ordinal of the middle of these. now: units of
    the last four weeks. part: of what the best weeks of all its category's listings together came to. usual:
    what the calendar leaves of ``strong`` in the last four weeks. expected, low, high: ``strong`` in the
    coming season, as in the last one, changed by the drift. price_then, offers_then: means of those weeks.
    """

    state: np.ndarray
    why: Bools
    strong: Floats
    middle: Floats
    now: Floats
    part: Floats
    usual: Floats
    expected: Floats
    low: Floats
    high: Floats
    price_then: Floats
    offers_then: Floats


def read_sleepers(
    units: Floats,
    listings: Listings,
    seasons: ListingSeasons,
    category: Groups | None,
    settings: Settings,
    window: tuple[int, int] | None = None,
) -> Sleepers:
    """Find what sleeps until its season, and what sells for its season alone.

    A listing sleeps whose calendar is seasonal, that was strong in its last season (``sleeper_strong`` units in
    four weeks, or ``sleeper_share`` of its category) and now sells at most ``sleeper_quiet`` of that,
    where one of WHY explains it: the calendar leaves no more, or it is out of stock, has lost its rank,
    or dearer. What merely lost its buyers does not. In season is what is strong in weeks above the mean
    of the year, and of which the calendar would leave at most that part at its quietest.

    Parameters
    ----------
    units : array (listings, length)
        Units by period of the listings' history, NaN for unknown; estimated ones where there is a rank alone.
    listings : Listings
        With that history.
    seasons : ListingSeasons
        Of each listing.
    category : Groups or None
        Of the listings; None where categories are unknown, and nothing is a share of any.
    settings : Settings
    window : (int, int), optional
        First and last column, exclusive, in which a listing must have been strong; by default the best 13 weeks
        of the last 65 of each.

    Returns
    -------
    Sleepers
    """
    history = listings.history
    n = len(listings)
    unknown = np.full(n, np.nan)
    none = np.full(n, None, dtype=object)
    if history is None or not units.shape[1]:
        return Sleepers(
            none, np.zeros((n, len(WHY)), dtype=bool), *(unknown.copy() for _ in range(10))
        )
    timeline, period = history.timeline, history.timeline.period
    first, last = (
        _best(units, timeline) if window is None else (np.full(n, window[0]), np.full(n, window[1]))
    )
    strong = _mean(units, first, last) * period.span(4)
    late = max(timeline.length - period.span(4), 0)
    ending = np.full(n, timeline.length)
    now = _mean(units, np.full(n, late), ending) * period.span(4)
    then_part = _mean(seasons.factors, first, last, timeline.slots)
    now_part = _mean(seasons.factors, np.full(n, late), ending, timeline.slots)
    usual = strong * ratio(now_part, then_part)
    part = unknown
    if category is not None:
        part = ratio(strong, category.sum(strong)[category.own])

    def measure(name: str) -> Floats:
        values = history.measures.get(name)
        return unknown if values is None else _mean(values, first, last)

    ranked_then = ~np.isnan(measure("sales_rank"))
    ranks = history.measures.get("sales_rank")
    ranked_now = (
        np.zeros(n, dtype=bool) if ranks is None else ~np.isnan(ranks[:, late:]).all(axis=1)
    )
    stock = history.measures.get("in_stock")
    in_stock = unknown if stock is None else _mean(stock, np.full(n, late), ending)
    price_then = measure("price")
    with np.errstate(invalid="ignore"):
        was_strong = (strong >= settings.sleeper_strong) | (part >= settings.sleeper_share)
        quiet = ~(now > settings.sleeper_quiet * strong)
        # Counts of so few are far from their mean by chance alone.
        as_usual = (now + 2 * np.sqrt(np.maximum(now, 1)) >= usual / 2) & (
            usual <= settings.sleeper_quiet * strong
        )
        why = np.stack(
            [
                as_usual,
                in_stock < OUT_OF_STOCK,
                ranked_then & ~ranked_now,
                listings.price > DEARER * price_then,
            ],
            axis=1,
        )
        lowest = strong * ratio(seasons.factors.min(axis=1), then_part)
        busy = (
            (now >= settings.sleeper_strong)
            & (now > 0.5 * strong)
            & (now_part >= 1)
            & (lowest <= settings.sleeper_quiet * strong)
        )
    sleeping = seasons.seasonal & was_strong & quiet & why.any(axis=1)
    state = none.copy()
    state[seasons.seasonal & busy] = STATES[1]
    state[sleeping] = STATES[0]
    low, high = _interval(strong, (last - first) / period.span(4), seasons)
    middle = timeline_days(timeline)[np.minimum((first + last) // 2, timeline.length - 1)]
    return Sleepers(
        state=state, why=why & sleeping[:, None], strong=strong,
        middle=np.where(np.isnan(strong), np.nan, middle),
        now=now, part=part, usual=usual, expected=strong * (1 + seasons.rate), low=low, high=high,
        price_then=price_then, offers_then=measure("offers"),
    )  # fmt: skip


def timeline_days(timeline: Timeline) -> Floats:
    """Ordinals of the first days of its periods, (length,)."""
    return np.array([timeline.start(at).toordinal() for at in range(timeline.length)], dtype=float)


def _best(units: Floats, timeline: Timeline) -> tuple[Ints, Ints]:
    """Where the best 13 weeks of the last 65 of each begin and end; without any, the last 13."""
    span = min(timeline.period.span(13), timeline.length)
    begin = max(timeline.length - timeline.period.span(LOOK_BACK), 0)
    first = np.empty(len(units), dtype=np.int64)
    for rows in _chunks(len(units)):
        first[rows] = begin + running_sums(units[rows, begin:], span).argmax(axis=1)
    return first, first + span


def _mean(values: NDArray[Any], first: Ints, last: Ints, columns: Ints | None = None) -> Floats:
    """Mean of what is known of each row from a column to another, exclusive; NaN where nothing is.

    ``columns``: which of the values stand in the columns that are meant; by default they are these.
    """
    found = np.empty(len(values))
    for rows in _chunks(len(values)):
        part = values[rows] if columns is None else values[rows][:, columns]
        known = ~np.isnan(part)
        sums, many = _running(np.where(known, part, 0)), _running(known)
        at = np.arange(len(part))
        begin, end = first[rows], last[rows]
        found[rows] = ratio(sums[at, end] - sums[at, begin], many[at, end] - many[at, begin])
    return found


def _running(values: NDArray[Any]) -> Floats:
    """Sums up to each column, exclusive, (rows, length + 1)."""
    out = np.zeros((len(values), values.shape[1] + 1))
    np.cumsum(values, axis=1, out=out[:, 1:])
    return out


def _chunks(n: int) -> Iterator[slice]:
    """Slices of so many rows."""
    return (slice(start, start + CHUNK) for start in range(0, n, CHUNK))


def _interval(strong: Floats, times: Floats, seasons: ListingSeasons) -> tuple[Floats, Floats]:
    """Where units in four weeks may lie a year on: by counting noise of both seasons and the drift's interval.

    ``times``: how many times four weeks they are the mean of.
    """
    z = float(stats.norm.ppf((1 + MIDDLE) / 2))
    noise = z * np.sqrt(2 * np.maximum(strong, 1) / times)
    low = np.maximum(strong - noise, 0) * (1 + seasons.low)
    return low, (strong + noise) * (1 + seasons.high)
