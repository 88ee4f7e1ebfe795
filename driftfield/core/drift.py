"""Drift: what is left of a curve when the calendar is taken out.

The rate is a Theil–Sen slope (Theil 1950; Sen 1968, JASA 63) of the logarithm of deseasonalised
four-week levels, with Sen's interval; its variance is widened for lag-one autocorrelation
(Bayley & Hammersley 1946), without which intervals on weekly demand come out far too narrow.
A level shift is the single split with the largest contrast of means (a CUSUM search).
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import ndtri

from .periods import Bools, Floats, Ints, Period
from .settings import Settings

MIN_BLOCKS = 8  # Below this many informative blocks (four a year) a median of slopes says little.
STEP_EDGE = 6  # Blocks on each side of a level shift: about half a year.


class Drift(StrEnum):
    """The words for what is left without the calendar."""

    RISING = "Rising"
    HOLDING = "Holding"
    EASING = "Easing"
    STEPPED_UP = "Stepped up"
    STEPPED_DOWN = "Stepped down"


@dataclass(frozen=True, slots=True)
class DriftReading:
    """Each (subjects,). Rates are fractions a year; step is the fraction of a level shift.

    word is None and the figures NaN where a rate cannot be taken; step_at is the column at which
    the new level starts, -1 without a shift.
    """

    word: np.ndarray
    rate: Floats
    low: Floats
    high: Floats
    step: Floats
    step_at: Ints


def block_levels(
    values: Floats, slots: Ints, factors: Floats, block: int, *, floor: float = 0.25
) -> Floats:
    """Logarithms of deseasonalised block levels, (subjects, blocks), counted back from the end.

    A level is the block's sum over the profile's sum, so true zeros out of season do no harm; half
    a count is added, as usual for logarithms of counts. Blocks in which the profile brings less
    than ``floor`` of an average block carry no information on the level and are NaN.
    """
    n, length = values.shape
    blocks = length // block
    tail = slice(length - blocks * block, length)
    seen = values[:, tail].reshape(n, blocks, block).sum(axis=2)
    usual = factors[:, slots[tail]].reshape(n, blocks, block).sum(axis=2)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(usual >= floor * block, np.log((seen + 0.5) / usual), np.nan)


def _autocorrelation(residual: Floats) -> Floats:
    have = ~np.isnan(residual)
    filled = np.where(have, residual, 0)
    count = np.maximum(have.sum(axis=1), 1)
    centred = np.where(have, filled - (filled.sum(axis=1) / count)[:, None], 0)
    both = (have[:, 1:] & have[:, :-1]).sum(axis=1)
    cross = (centred[:, 1:] * centred[:, :-1]).sum(axis=1) / np.maximum(both, 1)
    spread = (centred**2).sum(axis=1) / count
    return np.clip(np.where(spread > 0, cross / np.where(spread > 0, spread, 1), 0), 0, 0.8)


def theil_sen(
    levels: Floats, coverage: float, lag: int | None = None
) -> tuple[Floats, Floats, Floats]:
    """Median slope per column with its interval, (subjects,) each; NaN with under two values.

    ``levels`` is (subjects, columns), NaN for absent; ``coverage`` is that of the interval, 0–1.
    With ``lag`` only values that many columns apart are compared: the seasonal Kendall slope of
    Hirsch, Slack & Smith (1982, Water Resources Research 18), which a misjudged season cannot bend.
    """
    n, columns = levels.shape
    first, second = np.triu_indices(columns, 1)
    if lag is not None:
        apart = (second - first) % lag == 0
        first, second = first[apart], second[apart]
    slopes = (levels[:, second] - levels[:, first]) / (second - first)
    pairs = (~np.isnan(slopes)).sum(axis=1)
    slopes.sort(axis=1)  # NaN last
    rows = np.arange(n)

    def at(place: Floats) -> Floats:
        place = np.clip(place, 0, np.maximum(pairs - 1, 0))
        below = np.floor(place).astype(np.int64)
        above = np.minimum(below + 1, np.maximum(pairs - 1, 0))
        share = place - below
        if not len(first):
            return np.full(n, np.nan)
        found: Floats = slopes[rows, below] * (1 - share) + slopes[rows, above] * share
        return np.where(pairs > 0, found, np.nan)

    middle = at((pairs - 1) / 2)
    residual = levels - np.nan_to_num(middle)[:, None] * np.arange(columns)
    rho = _autocorrelation(residual)
    # Var(S) of Kendall's statistic; for two values a season it is one a pair.
    count = (~np.isnan(levels)).sum(axis=1)
    variance = pairs if lag is not None else count * (count - 1) * (2 * count + 5) / 18
    reach = ndtri(0.5 + coverage / 2) * np.sqrt(variance * (1 + rho) / (1 - rho))
    return middle, at((pairs - reach) / 2 - 0.5), at((pairs + reach) / 2 - 0.5)


def _steps(levels: Floats, settings: Settings) -> tuple[np.ndarray, Floats, Ints]:
    """The best single level shift of each row: found, size in logs, first column after it."""
    n, columns = levels.shape
    if columns < 2 * STEP_EDGE:
        return np.zeros(n, dtype=bool), np.zeros(n), np.zeros(n, dtype=np.int64)
    have = ~np.isnan(levels)
    filled = np.where(have, levels, 0)
    count = np.cumsum(have, axis=1)
    total = np.cumsum(filled, axis=1)
    squares = (filled**2).sum(axis=1)
    number, whole = count[:, -1:], total[:, -1:]
    cut = slice(STEP_EDGE - 1, columns - STEP_EDGE)
    before_n, before = count[:, cut], total[:, cut]
    after_n, after = number - before_n, whole - before
    with np.errstate(invalid="ignore", divide="ignore"):
        explained = np.where(
            (before_n >= 3) & (after_n >= 3),
            before**2 / before_n + after**2 / after_n,
            -np.inf,
        )
        best = explained.argmax(axis=1)
        rows = np.arange(n)
        left = squares - explained[rows, best]
        size = after[rows, best] / after_n[rows, best] - before[rows, best] / before_n[rows, best]
        # The rival: a straight line through the same blocks.
        x = np.where(have, np.arange(columns), 0.0)
        mean_x = x.sum(axis=1) / number[:, 0]
        mean_y = whole[:, 0] / number[:, 0]
        dx = np.where(have, x - mean_x[:, None], 0)
        dy = np.where(have, filled - mean_y[:, None], 0)
        line = (dy**2).sum(axis=1) - (dx * dy).sum(axis=1) ** 2 / (dx**2).sum(axis=1)
        error = np.sqrt(
            left / np.maximum(number[:, 0] - 2, 1)
            * (1 / before_n[rows, best] + 1 / after_n[rows, best])
        )  # fmt: skip
        # A level that did not last is no new level: the latest blocks must still be on it.
        new_level = after[rows, best] / after_n[rows, best]
        latest_n = count[:, -1] - count[:, -1 - STEP_EDGE]
        latest = (total[:, -1] - total[:, -1 - STEP_EDGE]) / latest_n
        lasts = (latest_n == 0) | (np.abs(latest - new_level) < np.abs(size) / 2)
        # Twice five standard errors leaves room for the search over splits and autocorrelation.
        found = (
            (number[:, 0] >= 2 * STEP_EDGE)
            & (np.abs(size) >= np.log1p(settings.step_size))
            & (left < 0.6 * line)
            & (np.abs(size) > 10 * error)
            & lasts
        )
    return found, np.where(found, size, 0), best + STEP_EDGE


def read_drift(
    values: Floats,
    slots: Ints,
    factors: Floats,
    period: Period,
    settings: Settings,
    steady: Bools,
) -> DriftReading:
    """Drift of curves (subjects, length), none absent, with season profiles (subjects, slots).

    ``steady`` (subjects,) says which may have a level shift at all: one split does not describe a
    burst that came and went.

    The rate is taken from the last ``drift_weeks``; a level shift inside the record is taken out
    of it first, and names the drift when it lies inside those weeks. Where the profile swings
    widely only blocks a whole year apart are compared. Where fewer than eight blocks carry
    information, as for a good sold three weeks a year, the rate is the last 52 weeks over the
    52 before, with an interval from counting noise and 10% for the years' own unevenness.
    """
    n, length = values.shape
    block, year = period.block, period.per_year
    levels = block_levels(values, slots, factors, block)
    columns = levels.shape[1]
    recent = min(columns, period.span(settings.drift_weeks) // block)

    found, size, at = _steps(levels, settings)
    found &= steady
    moved = levels - np.where(
        found[:, None] & (np.arange(columns) >= at[:, None]), size[:, None], 0
    )
    window = moved[:, columns - recent :]
    slope, low, high = theil_sen(window, settings.interval)
    informative = (~np.isnan(window)).sum(axis=1)
    per_year = year // block
    peaked = np.flatnonzero(factors.std(axis=1) >= settings.large_swing)
    if peaked.size:
        figures = theil_sen(window[peaked], settings.interval, lag=per_year)
        slope[peaked], low[peaked], high[peaked] = figures

    with np.errstate(invalid="ignore", divide="ignore", over="ignore"):
        rate, rate_low, rate_high = (np.expm1(s * per_year) for s in (slope, low, high))
        if length >= 2 * year:
            last = values[:, -year:].sum(axis=1)
            prior = values[:, -2 * year : -year].sum(axis=1)
            ratio = np.log((last + 0.5) / (prior + 0.5))
            reach = ndtri(0.5 + settings.interval / 2) * np.sqrt(
                1 / (last + 0.5) + 1 / (prior + 0.5) + 0.1**2
            )
            sparse = informative < MIN_BLOCKS
            rate = np.where(sparse, np.expm1(ratio), rate)
            rate_low = np.where(sparse, np.expm1(ratio - reach), rate_low)
            rate_high = np.where(sparse, np.expm1(ratio + reach), rate_high)
        else:
            unknown = np.full(n, np.nan)
            rate, rate_low, rate_high = unknown, unknown.copy(), unknown.copy()

    silent = values.sum(axis=1) <= 0
    for figure in (rate, rate_low, rate_high):
        figure[silent] = np.nan
    word = np.full(n, Drift.HOLDING, dtype=object)
    word[(rate_low > 0) & (rate > settings.drift_rate)] = Drift.RISING
    word[(rate_high < 0) & (rate < -settings.drift_rate)] = Drift.EASING
    stepped = found & (at >= columns - recent)
    word[stepped & (size > 0)] = Drift.STEPPED_UP
    word[stepped & (size < 0)] = Drift.STEPPED_DOWN
    word[np.isnan(rate)] = None
    offset = length - columns * block
    return DriftReading(
        word=word,
        rate=rate,
        low=rate_low,
        high=rate_high,
        step=np.where(stepped, np.expm1(size), np.nan),
        step_at=np.where(stepped, offset + at * block, -1),
    )
