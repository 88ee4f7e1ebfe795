"""Does the purchase rate rise only when the price falls?

Spearman's rank correlation between the changes of a subject's price and of its purchase rate from one
period to the next. A negative one whose interval excludes zero is a demand that waits for discounts.
Its interval is widened where both series remember the period before (Bartlett's effective number of
pairs, n ÷ (1 + 2 r₁ r₁′)).
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta

import numpy as np
from scipy import sparse

from driftfield.core.base import Floats, Period, Settings, Timeline, correlation_interval

from .listings import History
from .members import Members

LEAST_BOUGHT = 5  # purchases in a period under which its rate says nothing
LEAST_CHANGES = 8
BLOCK = 2_048  # rows that are ranked at a time


@dataclass(frozen=True, slots=True)
class PriceAnswer:
    """correlation −1 to 1 with its interval, and changes it rests on, (subjects,), NaN for unknown."""

    correlation: Floats
    low: Floats
    high: Floats
    changes: Floats

    @classmethod
    def unknown(cls, n: int) -> PriceAnswer:
        return cls(*(np.full(n, np.nan) for _ in range(4)))


def read_price_answer(
    searches: Floats, purchases: Floats, members: Members, history: History, settings: Settings
) -> PriceAnswer:
    """Price answer of subjects from their sums in the history's periods and their listings' prices.

    ``searches`` and ``purchases`` are (subjects, history.timeline.length), as ``at_period`` gives them.
    """
    if "price" not in history.measures:
        return PriceAnswer.unknown(members.subjects)
    change, moved = rate_changes(searches, purchases), price_moves(members, history)
    rho, changes = rank_correlation(change, moved)
    rho = np.where(changes >= LEAST_CHANGES, rho, np.nan)
    # Changes of noisy levels fall back by half a change later, so there are fewer than they seem.
    shared = np.clip(_memory(change) * _memory(moved), 0, 1)
    low, high = correlation_interval(rho, changes / (1 + 2 * shared), settings.interval)
    return PriceAnswer(rho, low, high, np.where(np.isnan(rho), np.nan, changes))


def rate_changes(searches: Floats, purchases: Floats) -> Floats:
    """Take the change of the log purchase rate from period to period.

    Parameters
    ----------
    searches, purchases : array (subjects, length)
        Counts by period, NaN where absent.

    Returns
    -------
    array (subjects, length − 1)
        Changes of the logarithm; NaN where a period has under five purchases, whose rate says nothing.
    """
    good = (searches > 0) & (purchases >= LEAST_BOUGHT)
    with np.errstate(invalid="ignore", divide="ignore"):
        rate = np.where(good, np.log(purchases / searches), np.nan)
    return np.diff(rate, axis=1)


def _memory(values: Floats) -> Floats:
    """Correlation of each row with itself one column later, 0 where it is not known."""
    found, pairs = rank_correlation(values[:, 1:], values[:, :-1])
    return np.where(pairs >= LEAST_CHANGES, np.nan_to_num(found), 0.0)


def at_period(values: Floats, timeline: Timeline, wanted: Timeline) -> Floats:
    """Sum curves over the periods of another timeline.

    Parameters
    ----------
    values : array (subjects, timeline.length)
        Counts by period, NaN where absent.
    timeline, wanted : Timeline
        The periods they are in, and those they are wanted in. A week counts in the month that holds its
        Thursday.

    Returns
    -------
    array (subjects, wanted.length)
        Sums in the unit of ``values``; NaN for a period of which a part is absent.

    References
    ----------
    ISO 8601: the week belongs to the year of its Thursday, here to the month as well.
    """
    days = [timeline.start(i) for i in range(timeline.length)]
    if timeline.period is Period.WEEK and wanted.period is Period.MONTH:
        days = [day + timedelta(days=3) for day in days]
    at = np.array([wanted.period.number(day) for day in days]) - wanted.first_number
    if wanted.period is Period.WEEK and timeline.period is Period.MONTH:
        return np.full((len(values), wanted.length), np.nan)
    out = np.full((len(values), wanted.length), np.nan)
    places, first = np.unique(at, return_index=True)
    sums = np.add.reduceat(values, first, axis=1)
    inside = (places >= 0) & (places < wanted.length)
    # The first and the last month of the weeks may lack some of theirs.
    if timeline.period is not wanted.period:
        inside[0] = False
    out[:, places[inside]] = sums[:, inside]
    return out


def price_moves(members: Members, history: History) -> Floats:
    """Change of a subject's log price from period to period, (subjects, length − 1).

    The mean over the listings known in both periods, by clicks: a matched-model index, which
    listings that come and go do not move (ILO/IMF, Consumer Price Index Manual, 2020, chapter 8).
    """
    with np.errstate(invalid="ignore", divide="ignore"):
        logs = np.log(history.measures["price"].astype(np.float64))
    moved = np.diff(logs, axis=1)
    known = np.isfinite(moved)
    moved[~known] = 0
    weight = np.nan_to_num(members.share[:, 0])
    shape = members.subjects, len(moved)
    clicked = sparse.csr_array((weight, (members.subject, members.listing)), shape=shape)
    total, base = clicked @ moved, clicked @ known.astype(np.float64)
    return np.where(base > 0, total / np.where(base > 0, base, 1), np.nan)


def rank_correlation(x: Floats, y: Floats) -> tuple[Floats, Floats]:
    """Spearman's ρ of each row over the columns known in both, and how many those are."""
    found, pairs = np.full(len(x), np.nan), np.zeros(len(x))
    for start in range(0, len(x), BLOCK):
        rows = slice(start, start + BLOCK)
        found[rows], pairs[rows] = _rank_correlation(x[rows], y[rows])
    return found, pairs


def _rank_correlation(x: Floats, y: Floats) -> tuple[Floats, Floats]:
    known = ~np.isnan(x) & ~np.isnan(y)
    pairs = known.sum(axis=1).astype(np.float64)
    middle = (pairs[:, None] + 1) / 2
    # What is not known in both ranks behind all that is, and counts for nothing.
    dx, dy = (
        np.where(known, _mean_ranks(np.where(known, values, np.inf)) - middle, 0)
        for values in (x, y)
    )
    scale = np.sqrt((dx**2).sum(axis=1) * (dy**2).sum(axis=1))
    cross = (dx * dy).sum(axis=1)
    return np.where(scale > 0, cross / np.where(scale > 0, scale, 1), np.nan), pairs


def _mean_ranks(values: Floats) -> Floats:
    """Rank of each value within its row, from 1, equal values at their mean rank, (rows, columns)."""
    order = np.argsort(values, axis=1)
    ranked = np.take_along_axis(values, order, axis=1)
    columns = np.arange(values.shape[1])
    first = np.ones(values.shape, dtype=bool)
    first[:, 1:] = ranked[:, 1:] != ranked[:, :-1]
    last = np.ones(values.shape, dtype=bool)
    last[:, :-1] = first[:, 1:]
    start = np.maximum.accumulate(np.where(first, columns, 0), axis=1)
    end = np.where(last, columns, values.shape[1])
    end = np.minimum.accumulate(end[:, ::-1], axis=1)[:, ::-1]
    out = np.empty(values.shape)
    np.put_along_axis(out, order, (start + end) / 2 + 1, axis=1)
    return out
