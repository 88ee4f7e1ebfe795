"""The level of a curve: what an average week of the year would have at each point of time.

The centred moving average of the ratio-to-moving-average method (Makridakis, Wheelwright & Hyndman,
Forecasting: Methods and Applications, 3rd ed., section 3/4) starts it. Two things bend that
average: growth, which weighs the late half of its window more, and the two ends of the record,
where it lacks half a year. So the mean growth is taken out first, and once a profile is known the
level is taken again as what was seen over what the profile led to expect, which needs no whole
year and holds with true zeros out of season.
"""

from __future__ import annotations

import numpy as np

from driftfield.core.base import Floats

# A curve that appears or vanishes grows without bound; a factor of four a year is plenty.
MOST_GROWTH = float(np.log(4))
# Share of a mean year's volume that the overall level weighs in a local one, so that a window
# in which nothing is expected has a level all the same.
PRIOR = 0.02


def growth_path(values: Floats, per_year: int) -> Floats:
    """Draw the usual exponential growth of curves, 1 in the middle of the record.

    The median of the growth from each whole year to the next, so that one shift or one loud year is
    not taken for it. Bounded to a factor of four a year.

    Parameters
    ----------
    values : array (subjects, length)
        Any figures by period, none absent.
    per_year : int
        Periods a year, 52 or 12.

    Returns
    -------
    array (subjects, length)
        Factors; ones for curves of under two years.
    """
    length = values.shape[1]
    if length < 2 * per_year:
        return np.ones_like(values)
    yearly = np.log(block_sums(values, per_year) + 0.5)
    bound = MOST_GROWTH / per_year
    rate = np.clip(np.median(np.diff(yearly, axis=1), axis=1) / per_year, -bound, bound)
    steps = (np.arange(length) - (length - 1) / 2).astype(values.dtype)
    path: Floats = np.exp(rate[:, None] * steps)
    return path


def centred_average(values: Floats, per_year: int) -> Floats:
    """Compute the centred one-year moving average, held level at both ends.

    Parameters
    ----------
    values : array (subjects, length)
        Any figures by period, none absent.
    per_year : int
        Periods a year, 52 or 12.

    Returns
    -------
    array (subjects, length)
        Averages in the unit of ``values``; a curve of under one year and a period has its mean.

    References
    ----------
    The 2 × m moving average of Hyndman & Athanasopoulos, Forecasting: Principles and Practice, 3rd ed.,
    section 3.3.
    """
    n, length = values.shape
    if length < per_year + 1:
        return np.repeat(values.mean(axis=1, keepdims=True), length, axis=1)
    half = per_year // 2
    sums = np.zeros((n, length + 1), dtype=values.dtype)
    np.cumsum(values, axis=1, out=sums[:, 1:])
    year = sums[:, per_year:] - sums[:, :-per_year]
    level = np.empty_like(values)
    inner = slice(half, half + length - per_year)
    np.add(year[:, 1:], year[:, :-1], out=level[:, inner])
    level[:, inner] /= 2 * per_year
    level[:, :half] = level[:, half : half + 1]
    level[:, inner.stop :] = level[:, inner.stop - 1 : inner.stop]
    return level


def seen_over_expected(values: Floats, expected: Floats, per_year: int) -> Floats:
    """Say how far curves stand above what was expected, a year around each period.

    Parameters
    ----------
    values, expected : array (subjects, length)
        What was seen and what was expected, in one unit, none absent.
    per_year : int
        Periods a year, 52 or 12.

    Returns
    -------
    array (subjects, length)
        The sum of ``values`` over that of ``expected`` in the year centred on a period, or what of it
        lies in the record; NaN where nothing is expected at all.
    """
    n, length = values.shape
    half = min(per_year // 2, length - 1)
    sums = np.zeros((n, length + 1), dtype=values.dtype)

    def window(of: Floats) -> tuple[Floats, Floats]:
        np.cumsum(of, axis=1, out=sums[:, 1:])
        found = np.empty_like(values)
        found[:, : length - half] = sums[:, half + 1 :]
        found[:, length - half :] = sums[:, -1:]
        found[:, half:] -= sums[:, : length - half]
        return found, sums[:, -1:].copy()

    seen, all_seen = window(values)
    hoped, all_hoped = window(expected)
    with np.errstate(invalid="ignore", divide="ignore"):
        prior = all_hoped * (PRIOR * per_year / max(length, per_year))
        seen += prior * (all_seen / all_hoped)
        hoped += prior
        seen /= hoped
    return seen


def block_sums(values: Floats, block: int) -> Floats:
    """Sum consecutive columns, counted back from the end.

    Parameters
    ----------
    values : array (subjects, length)
        Any figures by period, NaN where absent.
    block : int
        Columns of a block; what is left over at the beginning is in none.

    Returns
    -------
    array (subjects, length // block)
        Sums in the unit of ``values``, NaN where a period of the block is absent.
    """
    n, length = values.shape
    if block == 1:
        return values
    blocks = length // block
    tail = values[:, length - blocks * block :].reshape(n, blocks, block)
    sums: Floats = tail @ np.ones(block, dtype=values.dtype)
    return sums
