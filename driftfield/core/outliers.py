"""Single wild periods: a bot's week must become neither a season nor a drift.

Robust STL cannot be asked for them on a few years of weeks: when all the weights of a slot's few
values fall to zero, the published procedure keeps the values, wild one included. So a period is
judged against what it should resemble: its neighbours, and the same time of the other years.
"""

from __future__ import annotations

import numpy as np
from scipy.ndimage import maximum_filter1d

from .periods import Bools, Floats

REACH = 5  # Weeks a feast may move from year to year, to each side.
TIMES = (
    3.0  # How far above anything comparable; a demand that trebles in one week alone is no demand.
)
SPREADS = 6.0  # ... and beyond counting noise, in standard deviations of a Poisson count.
MOST = 3  # More than these are a heavy tail and not outliers.


def outlying(values: Floats, per_year: int) -> tuple[Bools, Floats]:
    """Wild periods of curves, (subjects, length) bool, and what stands in for any of them.

    ``values`` is (subjects, length), none absent, at least two years. A period is wild when it is
    over three times, and six Poisson deviations above, both the middle of its four neighbours and
    what the other years show within five periods of its time: the second highest of them, for one
    may be wild too, in a record of under four years the highest. The stand-in is the middle of the
    four neighbours. A curve with more than three such periods has none marked.
    """
    length = values.shape[1]
    padded = np.pad(values, ((0, 0), (2, 2)), mode="reflect")
    far, near, next_, after = (padded[:, k : k + length] for k in (0, 1, 3, 4))
    # The middle of four: without the highest and the lowest, the mean of the other two.
    low = np.minimum(np.maximum(far, near), np.maximum(next_, after))
    high = np.maximum(np.minimum(far, near), np.minimum(next_, after))
    middle = (low + high) / 2
    # Counting noise is at least that of a single count; the exact bound comes below.
    marks = values > TIMES * middle + SPREADS
    # The other years are asked only about curves that have a candidate.
    rows = np.flatnonzero(marks.any(axis=1))
    highest = maximum_filter1d(values[rows], 2 * REACH + 1, axis=1, mode="nearest")
    first, second = np.zeros_like(highest), np.zeros_like(highest)
    for lag in range(per_year, length, per_year):
        for here, there in (
            (slice(lag, None), slice(None, -lag)),
            (slice(None, -lag), slice(lag, None)),
        ):
            other = highest[:, there]
            np.maximum(second[:, here], np.minimum(first[:, here], other), out=second[:, here])
            np.maximum(first[:, here], other, out=first[:, here])
    others = second if length >= 4 * per_year else first
    marks[rows] = _beyond(values[rows], np.maximum(middle[rows], others))
    marks[marks.sum(axis=1) > MOST] = False
    return marks, middle


def _beyond(values: Floats, comparable: Floats) -> Bools:
    return np.asarray(values > TIMES * comparable + SPREADS * np.sqrt(comparable + 1))
