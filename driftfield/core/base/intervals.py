"""Intervals for proportions and rank correlations."""

from __future__ import annotations

from statistics import NormalDist

import numpy as np

from .periods import Floats


def wilson(successes: Floats, trials: Floats, level: float) -> tuple[Floats, Floats]:
    """Wilson's score interval of a proportion, low and high end, each of the inputs' shape.

    ``level`` is its coverage, 0–1. NaN where there are no trials or more successes than trials.
    Wilson (1927); recommended for small numbers by Brown, Cai & DasGupta (2001).
    """
    z = NormalDist().inv_cdf(0.5 + level / 2)
    good = (trials > 0) & (successes >= 0) & (successes <= trials)
    n = np.where(good, trials, 1)
    p = np.where(good, successes, 0) / n
    middle = (p + z**2 / (2 * n)) / (1 + z**2 / n)
    half = z / (1 + z**2 / n) * np.sqrt(p * (1 - p) / n + z**2 / (4 * n**2))
    low = np.where(good, np.clip(middle - half, 0, 1), np.nan)
    high = np.where(good, np.clip(middle + half, 0, 1), np.nan)
    return low, high


def correlation_interval(rho: Floats, pairs: Floats, level: float) -> tuple[Floats, Floats]:
    """Interval of a rank correlation, low and high end; NaN with under five pairs.

    Fisher's z with the standard error √(1 + ρ²/2) / √(n − 3) of Bonett & Wright (2000).
    """
    z = NormalDist().inv_cdf(0.5 + level / 2)
    good = (pairs >= 5) & ~np.isnan(rho)
    inside = np.clip(np.where(good, rho, 0), -0.999999, 0.999999)
    error = np.sqrt((1 + inside**2 / 2) / np.where(good, pairs - 3, 1))
    centre = np.arctanh(inside)
    low = np.where(good, np.tanh(centre - z * error), np.nan)
    high = np.where(good, np.tanh(centre + z * error), np.nan)
    return low, high
