"""Single wild periods: a bot's week must become neither a season nor a drift.

Robust STL cannot be asked for them on a few years of weeks: when all the weights of a slot's few
values fall to zero, the published procedure keeps the values, wild one included. So a period is
judged against what it should resemble: its neighbours, and the same time of the other years.
"""

from __future__ import annotations

import numpy as np
from scipy.ndimage import maximum_filter1d

from driftfield.core.base import Bools, Floats

from .level import growth_path

# Periods a feast may move from year to year, to each side, and how far above anything comparable a
# period is wild: a demand that trebles in one week alone is no demand. A wild week of ten times the
# usual about trebles its month, and one of six doubles it, so a month is judged more strictly.
REACH, TIMES = {52: 5, 12: 1}, {52: 3.0, 12: 2.0}
SPREADS = 6.0  # ... and beyond counting noise, in standard deviations of a Poisson count.
MAX_OUTLIERS = 3  # More than these are a heavy tail and not outliers.


def outlying(values: Floats, per_year: int) -> tuple[Bools, Floats]:
    """Mark wild periods of curves, and say what stands in for each.

    A week is wild when it is over three times, a month when it is over twice, and six Poisson
    deviations above, both the middle of its four neighbours and what the other years show within five
    weeks (a month) of its time at this year's level: the second highest of them, for one may be wild
    too, in a record of under four years the highest. The stand-in is the middle of the four
    neighbours. A curve with more than three such periods has none marked.

    Parameters
    ----------
    values : array (subjects, length)
        Counts by period, none absent; at least two years.
    per_year : int
        Periods a year, 52 or 12.

    Returns
    -------
    wild : bool array (subjects, length)
        Where a period is wild.
    instead : array (subjects, length)
        What stands in for it, in the unit of ``values``.
    """
    length = values.shape[1]
    reach, times = REACH[per_year], TIMES[per_year]
    padded = np.pad(values, ((0, 0), (2, 2)), mode="reflect")
    far, near, next_, after = (padded[:, k : k + length] for k in (0, 1, 3, 4))
    # The middle of four: without the highest and the lowest, the mean of the other two.
    low = np.minimum(np.maximum(far, near), np.maximum(next_, after))
    high = np.maximum(np.minimum(far, near), np.minimum(next_, after))
    middle = (low + high) / 2
    # Counting noise is at least that of a single count; the exact bound comes below.
    marks = values > times * middle + SPREADS
    # The other years are asked only about curves that have a candidate.
    rows = np.flatnonzero(marks.any(axis=1))
    # Other years are compared at this year's level, or a growing season's last peak would be wild.
    course = growth_path(values[rows], per_year)
    steady = values[rows] / course
    highest = maximum_filter1d(steady, 2 * reach + 1, axis=1, mode="nearest")
    first, second = np.zeros_like(highest), np.zeros_like(highest)
    for lag in range(per_year, length, per_year):
        for here, there in (
            (slice(lag, None), slice(None, -lag)),
            (slice(None, -lag), slice(lag, None)),
        ):
            other = highest[:, there]
            np.maximum(second[:, here], np.minimum(first[:, here], other), out=second[:, here])
            np.maximum(first[:, here], other, out=first[:, here])
    others = course * (second if length >= 4 * per_year else first)
    marks[rows] = _beyond(values[rows], np.maximum(middle[rows], others), times)
    marks[marks.sum(axis=1) > MAX_OUTLIERS] = False
    return marks, middle


def _beyond(values: Floats, comparable: Floats, times: float) -> Bools:
    return np.asarray(values > times * comparable + SPREADS * np.sqrt(comparable + 1))
