"""What may come: profile times damped drift, with intervals.

The level is simple exponential smoothing of the deseasonalised four-week levels, its weight chosen
per curve by the squared one-step errors; the trend is the robust drift, shrunk by its own error
and damped (Gardner & McKenzie 1985, Management Science 31). The variance ahead is that of
exponential smoothing (Hyndman, Koehler, Ord & Snyder, Forecasting with Exponential Smoothing, 2008,
table 6.1): s² (1 + (h − 1) a²), plus that of the drift, of the profile and of the weeks around
their level.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import ndtri

from driftfield.core.base import Floats, Period, Settings, finite

WEIGHTS = (0.1, 0.2, 0.35, 0.5, 0.7, 0.9)  # Smoothing weights that are tried.
WARM_UP = 6  # Blocks before errors count: a level must be found first.


@dataclass(frozen=True, slots=True)
class Forecast:
    """Values ahead with their interval, (subjects, horizon) each; NaN where none can be made.

    log_error: (subjects, horizon) standard error of the logarithm of the level, which all weeks
    ahead share; noise: (subjects, horizon) variance of a single period's value around it.
    """

    values: Floats
    low: Floats
    high: Floats
    log_error: Floats
    noise: Floats


@dataclass(frozen=True, slots=True)
class Sums:
    """Sum of the values ahead and its interval, (subjects,) each."""

    value: Floats
    low: Floats
    high: Floats


def smooth_level(levels: Floats) -> tuple[Floats, Floats, Floats]:
    """Smooth log levels exponentially up to now.

    Parameters
    ----------
    levels : array (subjects, blocks)
        Logarithms of block levels, NaN where absent: an absent block leaves the level as it is.

    Returns
    -------
    level, weight, variance : array (subjects,)
        Last smoothed level, the smoothing weight, 0–1, and the one-step error variance; NaN where under
        eight blocks are there.

    References
    ----------
    Simple exponential smoothing, Hyndman & Athanasopoulos, Forecasting: Principles and Practice, 3rd
    ed., section 8.1.
    """
    n, blocks = levels.shape
    have = ~np.isnan(levels)
    filled = np.where(have, levels, 0)
    start = filled[np.arange(n), have.argmax(axis=1)]
    # Blocks first and all weights at once, so that each step runs over one stretch of memory.
    by_block, there = np.ascontiguousarray(filled.T), np.ascontiguousarray(have.T)
    alpha = np.array(WEIGHTS)[:, None]
    now = np.repeat(start[None], len(WEIGHTS), axis=0)
    total = np.zeros_like(now)
    for t in range(blocks):
        error = by_block[t] - now
        if not there[t].all():
            error *= there[t]
        if t >= WARM_UP:
            total += error * error
        error *= alpha
        now += error
    best = total.argmin(axis=0)
    rows = np.arange(n)
    count = have[:, WARM_UP:].sum(axis=1)
    known = count >= 2
    with np.errstate(invalid="ignore", divide="ignore"):
        variance = np.where(known, total[best, rows] / count, np.nan)
    return (
        np.where(known, now[best, rows], np.nan),
        np.where(known, alpha[best, 0], np.nan),
        variance,
    )


def damped(slope: Floats, error: Floats, steps: Floats, damping: float) -> tuple[Floats, Floats]:
    """Change of the log level after ``steps`` blocks, and its standard error; (subjects, steps).

    The slope is shrunk by its reliability, slope² ÷ (slope² + error²), and fades by ``damping`` a
    block: the sum of damping¹ to dampingʰ slopes are gone after h blocks.
    """
    with np.errstate(invalid="ignore", divide="ignore"):
        trust = np.where(slope == 0, 0, slope**2 / (slope**2 + error**2))
    gone = steps if damping >= 1 else damping * (1 - damping**steps) / (1 - damping)
    return (slope * trust)[:, None] * gone, (error * trust)[:, None] * gone


def forecast(
    levels: Floats,
    slope: Floats,
    slope_error: Floats,
    ahead: Floats,
    ahead_error: Floats,
    dispersion: Floats,
    period: Period,
    settings: Settings,
) -> Forecast:
    """Forecast curves from log levels (subjects, blocks), see ``drift.DriftReading``.

    ``ahead`` (subjects, horizon) is the season's factor of each period to come and ``ahead_error`` its
    standard error, ``dispersion`` (subjects,) the variance of a block's count over its expectation.
    The interval covers ``forecast_interval``.
    """
    horizon = ahead.shape[1]
    level, weight, variance = smooth_level(levels)
    # The level stands in the middle of the last block; a period ahead is half a block further on.
    steps = (np.arange(horizon) + 0.5) / period.block + 0.5
    change, change_error = damped(
        np.nan_to_num(slope), np.nan_to_num(slope_error), steps, settings.damping
    )
    log_level = level[:, None] + change
    values = np.exp(log_level) * ahead
    # Level and weight were chosen by the same errors: two degrees of freedom are spent.
    count = (~np.isnan(levels[:, WARM_UP:])).sum(axis=1)
    honest = variance * count / np.maximum(count - 2, 1)
    spread = honest[:, None] * (1 + np.maximum(steps - 1, 0) * weight[:, None] ** 2)
    spread += change_error**2
    with np.errstate(invalid="ignore", divide="ignore"):
        spread += np.where(ahead > 0, (ahead_error / ahead) ** 2, 0)
    # A period scatters more than its block, whose scatter is in the one-step errors already. What is
    # beyond counting is a share of the volume, and so a block's dispersion holds ``block`` times a
    # period's.
    counting = np.minimum(dispersion, 1)
    single = counting + (dispersion - counting) / period.block
    noise = (1 - 1 / period.block) * single[:, None] * values
    z = ndtri(0.5 + settings.forecast_interval / 2)
    with np.errstate(invalid="ignore", divide="ignore"):
        relative = np.where(values > 0, noise / values**2, 0)
        reach = z * np.sqrt(spread + np.log1p(relative))
        low, high = values * np.exp(-reach), values * np.exp(reach)
    return Forecast(values, low, high, np.sqrt(spread), noise)


def sum_ahead(made: Forecast, periods: int, settings: Settings) -> Sums:
    """Sum of the first ``periods`` ahead: the level's error is shared, the scatter is not."""
    values = made.values[:, :periods]
    total = values.sum(axis=1)
    z = ndtri(0.5 + settings.forecast_interval / 2)
    with np.errstate(invalid="ignore", divide="ignore"):
        shared = (values * made.log_error[:, :periods]).sum(axis=1) / total
        alone = made.noise[:, :periods].sum(axis=1) / total**2
        reach = z * np.sqrt(shared**2 + alone)
    with np.errstate(over="ignore", invalid="ignore"):
        return Sums(*map(finite, (total, total * np.exp(-reach), total * np.exp(reach))))


def units_ahead(now: Floats, factor_now: Floats, factor_then: Floats, drift: Floats) -> Floats:
    """Say how many units a future time brings: units now × factor then ÷ factor now × drift until then.

    The ratio goes this way round: who sells 100 while searches stand at 30,000 may be expected to sell
    150 when they stand at 45,000.

    Parameters
    ----------
    now : array (n,)
        Units now.
    factor_now, factor_then : array (n,)
        Seasonal factors or searches, whichever is known of both times.
    drift : array (n,)
        Change of the level until then, as a fraction.

    Returns
    -------
    array (n,)
        Units then; NaN where anything is unknown.
    """
    with np.errstate(invalid="ignore", divide="ignore"):
        ratio = np.where(factor_now > 0, factor_then / factor_now, np.nan)
    return np.asarray(now * ratio * drift, dtype=np.float64)
