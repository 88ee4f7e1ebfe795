"""Launches, in season: each is held against the established listings over the weeks it was on sale."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings

from .listings import History, Listings, window_mean, window_sum
from .members import Members

ESTABLISHED = 3  # Listings over a year old from which they alone set the success bar.
YEAR = 52 * 7  # Days.
MONTH = 4  # Weeks that the bar is an amount of.


@dataclass(frozen=True, slots=True)
class Judged:
    """Listings of subjects as launches, (rows,) as in ``Grouped``; NaN for unknown.

    age: days, negative for one that is yet to come. amount: units (revenue, where an amount was set)
    in four average weeks of a year. judged, won: whether it is a launch of the last 52 weeks that
    can be judged, and one that reached the bar. bar: (subjects,).
    """

    age: Floats
    amount: Floats
    bar: Floats
    judged: Bools
    won: Bools


def judge_launches(members: Members, listings: Listings, day: int, settings: Settings) -> Judged:
    """What became of the launches of the last 52 weeks, as of ``day``, an ordinal.

    A listing's units are those of its latest weeks that held ``launch_window`` of the niche's year,
    or of all its weeks where these held less; divided by what the weeks held and by 13, they are
    units in four average weeks of a year, so that the calendar cancels. What weeks hold is told by
    the sales of the niche's listings that were on sale all year; where there are none, every week
    holds the same. A launch is judged once its weeks, four or more, held ``launch_least`` of a year
    and its units in them are known; a listing with a history that has ended and without clicks now
    sold nothing. The bar is ``success_revenue`` or ``success_units`` where set; else the median of
    the subject's listings over a year old (of all, where fewer than three are), at least one unit.
    """
    n = members.subjects
    subject, page = members.subject, members.listing
    age = (day - listings.launched)[page]
    seasoned = ~(age < YEAR)
    sold, held = _in_season(members, listings, seasoned, settings)
    amount = sold
    if settings.success_revenue > 0:
        paid = window_mean(listings, "price", MONTH)
        price = np.where(np.isnan(paid), listings.price, paid)
        amount = sold * np.where(sold > 0, price[page], 1)
        bar = np.full(n, float(settings.success_revenue))
    elif settings.success_units > 0:
        bar = np.full(n, float(settings.success_units))
    else:
        old = seasoned & members.now
        settled = members.groups.of(old).median(sold[old])
        every = members.groups.of(members.now).median(sold[members.now])
        enough = members.groups.of(old).count(sold[old]) >= ESTABLISHED
        bar = np.maximum(np.where(enough, settled, every), 1)
    lately = (age >= 0) & (age < YEAR)
    # A share that is exactly the least one is not lost to the last digit.
    judged = lately & (held >= settings.launch_least - 1e-9)
    judged &= ~np.isnan(amount) & ~np.isnan(bar[subject])
    return Judged(age, amount, bar, judged, judged & (amount >= bar[subject]))


def _in_season(
    members: Members, listings: Listings, seasoned: Bools, settings: Settings
) -> tuple[Floats, Floats]:
    """Units of each pair's listing in four average weeks of a year, and the share of a year, 0–1, that
    the weeks held from which they are known; both NaN for unknown."""
    nothing = np.full(len(members.subject), np.nan)
    history = listings.history
    if history is None or "units" not in history.measures:
        return nothing, nothing
    period, length = history.timeline.period, history.timeline.length
    most, least = min(period.span(52), length), period.span(MONTH)
    units = history.measures["units"]
    gone = ~np.isnan(units).all(axis=1) & np.isnan(window_sum(listings, "units", MONTH))
    given_up = gone[members.listing] & ~members.now
    weeks = _weeks_on_sale(listings, history, most)[members.listing]
    calendar = _calendar(members, units, seasoned, most) * most / period.span(52)
    # The latest weeks that hold enough of a year, four at least; column k is what k of them hold.
    # Less than a launch must have to be judged is never enough.
    wanted = max(settings.launch_window, settings.launch_least) - 1e-9
    enough = (calendar >= wanted).argmax(axis=1)
    enough[calendar[:, -1] < wanted] = most
    window = np.minimum(weeks, np.maximum(enough, least)[members.subject])
    held = calendar[members.subject, window]
    sums = _latest(units, members.listing, window)
    sums[given_up] = 0
    short = (window < least) | (held <= 0)
    with np.errstate(invalid="ignore", divide="ignore"):
        sold = np.where(short, np.nan, sums / held * MONTH / 52)
    return sold, np.where(short, np.nan, held)


def _latest(units: np.ndarray, page: Ints, window: Ints) -> Floats:
    """Units of listings over as many of their latest periods as ``window`` says, (pairs,), NaN where all
    of it is unknown. Window by window, since sums of every window would fill the memory."""
    sums = np.full(len(page), np.nan)
    for many in np.unique(window[window > 0]):
        rows = window == many
        latest = units[page[rows], -many:]
        known = ~np.isnan(latest)
        total = np.where(known, latest, 0).sum(axis=1, dtype=np.float64)
        sums[rows] = np.where(known.any(axis=1), total, np.nan)
    return sums


def _weeks_on_sale(listings: Listings, history: History, most: int) -> Ints:
    """Whole periods since each listing's launch, (listings,), ``most`` where that is unknown."""
    timeline = history.timeline
    starts = [timeline.start(i).toordinal() for i in range(timeline.length - most, timeline.length)]
    since = most - np.searchsorted(starts, listings.launched)
    return np.where(np.isnan(listings.launched), most, since).astype(np.int64)


def _calendar(members: Members, units: np.ndarray, seasoned: Bools, most: int) -> Floats:
    """What part of their last ``most`` periods' units the latest of them held, (subjects, most + 1).

    Of the listings of each subject that were on sale throughout; even where nothing is known of any.
    """
    n = members.subjects
    latest = units[:, -most:]
    rows = np.flatnonzero(seasoned & ~np.isnan(latest).any(axis=1)[members.listing])
    subject, page = members.subject[rows], members.listing[rows]
    sold = np.empty((n, most))
    for column in range(most):
        sold[:, column] = np.bincount(subject, weights=latest[page, column], minlength=n)
    sums = np.cumsum(np.pad(sold[:, ::-1], ((0, 0), (1, 0))), axis=1)
    even = np.arange(most + 1) / most
    whole = sums[:, -1:]
    return np.where(whole > 0, sums / np.where(whole > 0, whole, 1), even)
