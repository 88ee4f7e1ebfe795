"""The growth split: (1 + raw change) = (1 + season part) × (1 + drift part)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import ndtri

from driftfield.core.base import CoreError, Floats, Ints, row_products


@dataclass(frozen=True, slots=True)
class GrowthSplit:
    """A change and its parts as fractions, each (subjects,); NaN where unknown.

    low, high: the interval of the drift part.
    """

    raw: Floats
    season: Floats
    drift: Floats
    low: Floats
    high: Floats


@dataclass(frozen=True, slots=True)
class Noise:
    """What the interval of a drift part is made from.

    slots: (length,) slot of each column. error: (subjects, slots) standard error of the profile's
    factors. dispersion: (subjects,) variance of a count over its expectation. uneven: (subjects,)
    variance of the log ratio that is the years' own, see ``years_apart``. coverage: of the interval,
    0–1.
    """

    slots: Ints
    error: Floats
    dispersion: Floats
    uneven: Floats
    coverage: float


MIN_YEARS_APART = 3  # Earlier years below which their scatter says too little.


def years_apart(
    seen: Floats, expected: Floats, window: int, lag: int, per_year: int, dispersion: Floats
) -> Floats:
    """Variance of the drift part that comes of seasons being early, late or unlike, (subjects,).

    ``seen`` and ``expected`` are running sums, (subjects, length + 1), of values and of calendar. The
    same two windows in each earlier year: variance of the log ratio of seen over expected across
    those years, less what counting makes of it; 0 with under three of them.
    """
    length = seen.shape[1] - 1
    back = [k for k in range(1, length // per_year + 1) if length - k * per_year >= window + lag]
    if len(back) < MIN_YEARS_APART:
        return np.zeros(len(seen))

    def between(sums: Floats, start: list[int]) -> Floats:
        return np.take(sums, [s + window for s in start], axis=1) - np.take(sums, start, axis=1)

    late = [length - k * per_year - window for k in back]
    early = [start - lag for start in late]
    with np.errstate(invalid="ignore", divide="ignore"):
        after, before = between(seen, late), between(seen, early)
        ratio = np.log(after / before) - np.log(between(expected, late) / between(expected, early))
        chance = (dispersion[:, None] * (1 / after + 1 / before)).mean(axis=1)
        found = ratio.var(axis=1, ddof=1) - chance
    return np.where(np.isfinite(found), np.maximum(found, 0), 0)


def growth_split(
    values: Floats,
    calendar: Floats,
    window: int,
    lag: int | None = None,
    noise: Noise | None = None,
) -> GrowthSplit:
    """Split a change into the calendar's part and what is left: (1 + raw) = (1 + season) × (1 + drift).

    The last ``window`` periods stand against as many that end ``lag`` periods earlier. The season part is
    the ratio of the calendar's sums over the same periods, and the drift part is what is left, so the two
    multiply to the raw change exactly.

    The interval is that of a log-normal drift part: counting noise of both sums, 1/A + 1/B times the
    dispersion, plus the variance of the calendar's ratio by the delta method, plus what the years' own
    unevenness makes of it.

    Parameters
    ----------
    values : array (subjects, length)
        Counts by period, NaN where absent.
    calendar : array (subjects, length)
        The season's factor in each period.
    window : int
        Periods of each of the two windows.
    lag : int, optional
        Periods between their ends; by default ``window``, so that they follow one another.
    noise : Noise, optional
        What the interval is made from; by default there is none.

    Returns
    -------
    GrowthSplit
        Fractions. All are NaN without enough periods, where one is absent or where the earlier window
        sums to nothing; the parts where the calendar is, the interval where it is so wide that an end of
        it is no number any more.
    """
    lag = window if lag is None else lag
    length = values.shape[1]
    if window < 1 or lag < 1:
        raise CoreError(f"A window and its lag are at least 1; got {window} and {lag}.")
    n = len(values)
    if length < window + lag:
        unknown = np.full(n, np.nan)
        return GrowthSplit(*(unknown.copy() for _ in range(5)))
    late = slice(length - window, length)
    early = slice(length - window - lag, length - lag)
    with np.errstate(invalid="ignore", divide="ignore", over="ignore"):
        after, before = values[:, late].sum(axis=1), values[:, early].sum(axis=1)
        change = np.where(before > 0, after / before, np.nan)
        usual = calendar[:, late].sum(axis=1, dtype=np.float64)
        usual_before = calendar[:, early].sum(axis=1, dtype=np.float64)
        # Below a thousandth of a mean year's window the profile is too near zero to divide by.
        season = np.where(usual_before > 1e-3 * window, usual / usual_before, np.nan)
        drift = np.where(season > 0, change / season, np.nan)
        low = high = np.full(n, np.nan)
        if noise is not None:
            variance = noise.dispersion * (1 / (after + 0.5) + 1 / before) + noise.uneven
            variance += _calendar_variance(noise, late, early, usual, usual_before)
            reach = ndtri(0.5 + noise.coverage / 2) * np.sqrt(variance)
            # Half a count in place of none, so that a fall to nothing has an upper end.
            centre = drift * np.where(after > 0, 1, np.nan)
            centre = np.where(after > 0, centre, 0.5 / before / season)
            low, high = centre * np.exp(-reach), centre * np.exp(reach)
            low = np.where(after > 0, low, 0.0 * centre)
            ends = np.isfinite(low) & np.isfinite(high)
            low, high = np.where(ends, low, np.nan), np.where(ends, high, np.nan)
    return GrowthSplit(
        change - 1, np.where(np.isnan(drift), np.nan, season) - 1, drift - 1, low - 1, high - 1
    )


def _calendar_variance(
    noise: Noise, late: slice, early: slice, usual: Floats, usual_before: Floats
) -> Floats:
    """Variance of the log ratio of the calendar's sums; a slot in both windows cancels."""
    slots = noise.error.shape[1]
    a = np.bincount(noise.slots[late], minlength=slots).astype(np.float64)
    b = np.bincount(noise.slots[early], minlength=slots).astype(np.float64)
    squares = noise.error**2
    both = row_products(squares, np.stack([a * a, a * b, b * b], axis=1))
    variance: Floats = (
        both[:, 0] / usual**2
        - 2 * both[:, 1] / (usual * usual_before)
        + both[:, 2] / usual_before**2
    )
    return np.maximum(variance, 0)
