"""Intervals for proportions and rank correlations."""

from __future__ import annotations

from statistics import NormalDist

import numpy as np

from .periods import Floats


def wilson(successes: Floats, trials: Floats, level: float) -> tuple[Floats, Floats]:
    """Compute Wilson's score interval of a proportion.

    Parameters
    ----------
    successes, trials : array of one shape
        Counts, NaN where unknown.
    level : float
        Coverage of the interval, 0–1.

    Returns
    -------
    low, high : array of that shape
        Ends of the interval, 0–1; NaN where there are no trials or more successes than trials.

    References
    ----------
    Wilson (1927), JASA 22; recommended for small numbers by Brown, Cai & DasGupta (2001), Statistical
    Science 16.
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
    """Compute the interval of a rank correlation.

    Fisher's z with the standard error √(1 + ρ²/2) / √(n − 3).

    Parameters
    ----------
    rho : array (n,)
        Spearman's rank correlations, −1 to 1.
    pairs : array (n,)
        How many pairs each comes from.
    level : float
        Coverage of the interval, 0–1.

    Returns
    -------
    low, high : array (n,)
        Ends of the interval, −1 to 1; NaN with under five pairs.

    References
    ----------
    Bonett & Wright (2000), Psychometrika 65.
    """
    z = NormalDist().inv_cdf(0.5 + level / 2)
    good = (pairs >= 5) & ~np.isnan(rho)
    inside = np.clip(np.where(good, rho, 0), -0.999999, 0.999999)
    error = np.sqrt((1 + inside**2 / 2) / np.where(good, pairs - 3, 1))
    centre = np.arctanh(inside)
    low = np.where(good, np.tanh(centre - z * error), np.nan)
    high = np.where(good, np.tanh(centre + z * error), np.nan)
    return low, high


def newcombe(
    first: Floats, first_trials: Floats, second: Floats, second_trials: Floats, level: float
) -> tuple[Floats, Floats]:
    """Compute Newcombe's interval of the difference of two independent proportions.

    Parameters
    ----------
    first, second : array of one shape
        Proportions, 0–1, NaN where unknown.
    first_trials, second_trials : array of that shape
        What each rests on; need not be whole, where it is an effective number.
    level : float
        Coverage of the interval, 0–1.

    Returns
    -------
    low, high : array of that shape
        Ends of the interval of ``first − second``; NaN where either is unknown.

    References
    ----------
    Newcombe (1998), Statistics in Medicine 17, 873–890: method 10, from the Wilson intervals of both.
    """
    low_1, high_1 = wilson(first * first_trials, first_trials, level)
    low_2, high_2 = wilson(second * second_trials, second_trials, level)
    apart = first - second
    return (
        apart - np.sqrt((first - low_1) ** 2 + (high_2 - second) ** 2),
        apart + np.sqrt((high_1 - first) ** 2 + (second - low_2) ** 2),
    )
