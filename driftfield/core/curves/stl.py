"""STL as a linear operator: one matrix product decomposes every curve of a length.

Cleveland, Cleveland, McRae & Terpenning (1990), "STL: A Seasonal-Trend Decomposition Procedure
Based on Loess", Journal of Official Statistics 6(1). Without robustness weights each step of STL
(cycle-subseries loess, moving averages, low-pass loess, trend loess) is linear in the data, and so
is their composition: the matrices depend on length, period and windows only. They are derived
once and kept. With robustness weights STL is not linear; ``robust_stl`` runs its loops, still on
many curves at once, since a local line under weights is five matrix products.

Window defaults, the number of loops and the treatment of the loess margins are those of the
published Fortran, as in statsmodels' ``STL``.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from driftfield.core.base import CoreError, Floats, row_products

SEASONAL_WINDOW = 7  # Smallest the authors advise (section 3.4 of the paper).
INNER_LINEAR = 5  # Inner loops where no robustness is asked for, as in the published code.
INNER_ROBUST = 1  # Where it is: one inner loop, and five outer ones as "a very safe value" (paper,
OUTER_ROBUST = 5  # section 3.2; from memory). Only weeks that were cleaned before come this way.


@dataclass(frozen=True, slots=True)
class Decomposition:
    """trend + seasonal + remainder = values, each (subjects, length)."""

    trend: Floats
    seasonal: Floats
    remainder: Floats


def _odd_at_least(value: float) -> int:
    whole = int(np.ceil(value))
    return whole + 1 - whole % 2


def default_windows(period: int, seasonal: int = SEASONAL_WINDOW) -> tuple[int, int, int]:
    """Seasonal, trend and low-pass windows for a period (paper, sections 3.4 to 3.6)."""
    trend = _odd_at_least(1.5 * period / (1 - 1.5 / seasonal))
    return seasonal, trend, _odd_at_least(period + 1)


def _kernel(length: int, window: int, targets: Floats) -> Floats:
    """Tricube weights of ``length`` points for each target, (targets, length), not normalised."""
    positions = np.arange(1, length + 1, dtype=np.float64)
    width = min(window, length)
    left = np.clip(np.floor(targets) - (window + 1) // 2, 0, length - width).astype(np.int64)
    if window >= length:
        left[:] = 0
    index = np.arange(length)
    inside = (index >= left[:, None]) & (index < left[:, None] + width)
    reach = np.maximum(targets - (left + 1), left + width - targets)
    if window > length:
        reach = reach + (window - length) // 2
    distance = np.abs(positions - targets[:, None])
    ratio = distance / np.maximum(reach, 1e-300)[:, None]
    weights: Floats = (1 - np.minimum(ratio, 1) ** 3) ** 3
    # The published code gives full weight very near a point and none at the window's edge.
    weights[ratio <= 0.001] = 1
    weights[(ratio > 0.999) | ~inside] = 0
    return weights


def _loess_matrix(length: int, window: int, targets: Floats | None = None) -> Floats:
    """Matrix (targets, length) of a degree-one loess with tricube weights."""
    positions = np.arange(1, length + 1, dtype=np.float64)
    at = positions if targets is None else targets
    weights = _kernel(length, window, at)
    weights /= weights.sum(axis=1, keepdims=True)
    centre = weights @ positions
    offset = positions - centre[:, None]
    spread = np.einsum("tp,tp->t", weights, offset**2)
    tilt = np.where(
        np.sqrt(spread) > 0.001 * (length - 1), (at - centre) / np.where(spread > 0, spread, 1), 0
    )
    fit: Floats = weights * (1 + tilt[:, None] * offset)
    return fit


def _moving_average(length: int, window: int) -> Floats:
    out = length - window + 1
    rows = np.arange(out)
    matrix = np.zeros((out, length))
    for k in range(window):
        matrix[rows, rows + k] = 1 / window
    return matrix


def _subseries(length: int, period: int) -> list[np.ndarray]:
    return [np.arange(phase, length, period) for phase in range(min(period, length))]


def _subseries_matrix(length: int, period: int, seasonal: int) -> Floats:
    """Cycle-subseries smoothing, extended by one period at each end: (length + 2 period, length)."""
    matrix = np.zeros((length + 2 * period, length))
    for phase, members in enumerate(_subseries(length, period)):
        k = len(members)
        targets = np.arange(0, k + 2, dtype=np.float64)
        matrix[np.ix_(phase + period * np.arange(k + 2), members)] = _loess_matrix(
            k, seasonal, targets
        )
    return matrix


def _low_pass(length: int, period: int, window: int) -> Floats:
    extended = length + 2 * period
    averages = _moving_average(length + 2, 3) @ _moving_average(length + 1 + period, period)
    averages = averages @ _moving_average(extended, period)
    low: Floats = _loess_matrix(length, window) @ averages
    return low


def _check(length: int, period: int) -> None:
    if period < 2:
        raise CoreError(f"STL needs a period of at least 2; got {period}.")
    if length < 2 * period:
        raise CoreError(
            f"STL needs two whole years, {2 * period} periods; got {length}. Give a longer curve."
        )


@lru_cache(maxsize=512)
def stl_operators(
    length: int, period: int, seasonal: int = SEASONAL_WINDOW
) -> tuple[Floats, Floats]:
    """Trend and seasonal matrices, each (length, length): trend = values @ matrix.T.

    Raises CoreError for a curve of under two years.
    """
    _check(length, period)
    seasonal, trend_window, low_window = default_windows(period, seasonal)
    subseries = _subseries_matrix(length, period, seasonal)
    low = _low_pass(length, period, low_window)
    season_of = subseries[period : period + length] - low @ subseries
    trend_of = _loess_matrix(length, trend_window)
    identity = np.eye(length)
    trend = np.zeros((length, length))
    season = np.zeros((length, length))
    for _ in range(INNER_LINEAR):
        season = season_of @ (identity - trend)
        trend = trend_of @ (identity - season)
    for matrix in (trend, season):
        matrix.setflags(write=False)
    return trend, season


def stl(values: Floats, period: int) -> Decomposition:
    """Decompose curves of one length by two matrix products.

    Without robustness weights STL is linear in the data, so its trend and season are products with
    matrices that depend on length and period alone (``stl_operators``).

    Parameters
    ----------
    values : array (subjects, length)
        Any figures by period, none absent; at least two years. In the precision in which they come:
        float64 agrees with the published code to 1e-9.
    period : int
        Periods a year, 52 or 12.

    Returns
    -------
    Decomposition
        Trend, seasonal part and remainder, (subjects, length) each, in the unit of ``values``.

    Raises
    ------
    CoreError
        For curves of under two years.

    References
    ----------
    Cleveland, Cleveland, McRae & Terpenning (1990), Journal of Official Statistics 6.
    """
    trend_of, season_of = _transposed(values.shape[1], period, values.dtype.char)
    trend, seasonal = row_products(values, trend_of), row_products(values, season_of)
    remainder = values - trend
    remainder -= seasonal
    return Decomposition(trend, seasonal, remainder)


@lru_cache(maxsize=512)
def _transposed(length: int, period: int, precision: str) -> tuple[Floats, Floats]:
    """The operators as right-hand factors of a product in one precision."""
    trend, season = stl_operators(length, period)
    return np.ascontiguousarray(trend.T, precision), np.ascontiguousarray(season.T, precision)


@lru_cache(maxsize=512)
def _kept_kernel(length: int, window: int, beyond: int, precision: str) -> Floats:
    """Kernel (length, targets) for the points themselves and ``beyond`` more at each end."""
    targets = np.arange(1 - beyond, length + 1 + beyond, dtype=np.float64)
    return np.ascontiguousarray(_kernel(length, window, targets).T, precision)


@lru_cache(maxsize=512)
def _kept_low_pass(length: int, period: int, window: int, precision: str) -> Floats:
    return np.ascontiguousarray(_low_pass(length, period, window).T, precision)


class _WeightedLoess:
    """A degree-one loess, out to ``beyond`` points past each end, whose weights also depend on the
    subject."""

    def __init__(self, length: int, window: int, beyond: int, precision: str) -> None:
        self.positions = np.arange(1, length + 1, dtype=precision)
        self.targets = np.arange(1 - beyond, length + 1 + beyond, dtype=precision)
        self.kernel = _kept_kernel(length, window, beyond, precision)

    def weigh(self, weights: Floats) -> None:
        """Take the subjects' weights; what depends on them alone is worked out once."""
        x, kernel = self.positions, self.kernel
        self.weights = weights
        self.total = row_products(weights, kernel)
        self.safe = np.where(self.total > 0, self.total, 1)
        self.mean_x = row_products(weights * x, kernel) / self.safe
        mean_xx = row_products(weights * x * x, kernel) / self.safe
        spread = np.maximum(mean_xx - self.mean_x**2, 0)
        sloped = np.sqrt(spread) > 0.001 * (len(x) - 1)
        # Distance to the target over the spread; 0 where the points are too close for a slope.
        reach = (self.targets - self.mean_x) / np.where(sloped, spread, 1)
        self.tilt = np.where(sloped, reach, 0)

    def __call__(self, values: Floats) -> Floats:
        weighted = self.weights * values
        mean_y = row_products(weighted, self.kernel) / self.safe
        mean_xy = row_products(weighted * self.positions, self.kernel) / self.safe
        fit: Floats = mean_y + self.tilt * (mean_xy - self.mean_x * mean_y)
        # Where every weight in reach is zero the published code keeps the nearest observation.
        nearest = np.clip(self.targets.astype(np.int64) - 1, 0, len(self.positions) - 1)
        return np.where(self.total > 0, fit, values[:, nearest])


def robust_stl(values: Floats, period: int) -> Decomposition:
    """Decompose curves with bisquare robustness weights, so that outliers do not bend them.

    Parameters
    ----------
    values : array (subjects, length)
        Any figures by period, none absent; at least two years.
    period : int
        Periods a year, 52 or 12.

    Returns
    -------
    Decomposition
        Trend, seasonal part and remainder, (subjects, length) each, in the unit of ``values``.

    References
    ----------
    Cleveland, Cleveland, McRae & Terpenning (1990), Journal of Official Statistics 6, section 2.4.
    """
    n, length = values.shape
    _check(length, period)
    seasonal_window, trend_window, low_window = default_windows(period)
    precision = values.dtype.char
    low = _kept_low_pass(length, period, low_window, precision)
    smooth_trend = _WeightedLoess(length, trend_window, 0, precision)
    # Phases with as many values are smoothed together, as rows of one matrix.
    phases = _subseries(length, period)
    batches = []
    for k in {len(members) for members in phases}:
        columns = np.array([members for members in phases if len(members) == k])
        smoother = _WeightedLoess(k, seasonal_window, 1, precision)
        batches.append((smoother, columns, columns[:, :1] + period * np.arange(k + 2)))
    weights = np.ones_like(values)
    trend = np.zeros_like(values)
    season = np.zeros_like(values)
    extended = np.empty((n, length + 2 * period), dtype=values.dtype)
    for outer in range(OUTER_ROBUST + 1):
        smooth_trend.weigh(weights)
        for smoother, columns, _ in batches:
            smoother.weigh(weights[:, columns].reshape(-1, columns.shape[1]))
        for _ in range(INNER_ROBUST):
            detrended = values - trend
            for smoother, columns, into in batches:
                k = columns.shape[1]
                smooth = smoother(detrended[:, columns].reshape(-1, k))
                extended[:, into] = smooth.reshape(n, len(columns), k + 2)
            season = extended[:, period : period + length] - row_products(extended, low)
            trend = smooth_trend(values - season)
        if outer < OUTER_ROBUST:
            size = np.abs(values - trend - season)
            reach = 6 * np.median(size, axis=1, keepdims=True)
            ratio = size / np.where(reach > 0, reach, 1)
            weights = (1 - np.minimum(ratio, 1) ** 2) ** 2
            weights[ratio > 0.999] = 0
            weights[ratio <= 0.001] = 1
            weights[reach[:, 0] <= 0] = 1
    return Decomposition(trend, season, values - trend - season)


def strengths(parts: Decomposition) -> tuple[Floats, Floats]:
    """Measure how strong season and trend of decomposed curves are.

    max(0, 1 − Var(R) / Var(S + R)), and the same with T in place of S.

    Parameters
    ----------
    parts : Decomposition
        Trend, seasonal part and remainder of curves, (subjects, length) each.

    Returns
    -------
    seasonal, trend : array (subjects,)
        Strengths, 0–1; NaN for a curve that never moves.

    References
    ----------
    Hyndman & Athanasopoulos, Forecasting: Principles and Practice, 3rd ed., section 4.3.
    """

    def variance(part: Floats) -> Floats:
        centred = part - part.mean(axis=1, keepdims=True)
        # By rows, so that it does not depend on where in memory a curve lies.
        return np.asarray(np.square(centred, out=centred).mean(axis=1))

    noise = variance(parts.remainder)

    def strength(part: Floats) -> Floats:
        whole = variance(part + parts.remainder)
        still = whole <= 1e-20 * (1 + np.abs(part).max(axis=1) ** 2)
        return np.where(still, np.nan, np.maximum(0, 1 - noise / np.where(still, 1, whole)))

    return strength(parts.seasonal), strength(parts.trend)
