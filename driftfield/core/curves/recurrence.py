"""Whether a season comes back: what the years' own profiles have in common, and what chance makes of it."""

from __future__ import annotations

import numpy as np
from scipy.special import chdtrc, ndtr

from driftfield.core.base import Floats, mid_ranks

MIN_YEAR = (
    0.05  # A year with less than this share of the mean year's volume has no profile to compare.
)


def friedman(blocks: Floats) -> Floats:
    """Test whether parts of the year rank alike in all years.

    Parameters
    ----------
    blocks : array (subjects, years, treatments)
        Levels: years are the blocks of the test, parts of the year its treatments.

    Returns
    -------
    array (subjects,)
        p-values with the correction for ties, 0–1; NaN with under two years or where every year is
        level throughout.

    References
    ----------
    Friedman (1937), JASA 32.
    """
    n, years, k = blocks.shape
    if years < 2:
        return np.full(n, np.nan)
    ranks = mid_ranks(blocks)
    sums = ranks.sum(axis=1)
    between = 12 * (sums**2).sum(axis=1) / (years * k * (k + 1)) - 3 * years * (k + 1)
    # Ties: the variance that is left of the ranks, over that of ranks without ties.
    left = ranks.var(axis=2).sum(axis=1) / (years * (k**2 - 1) / 12)
    with np.errstate(invalid="ignore", divide="ignore"):
        statistic = np.where(left > 1e-12, between / left, np.nan)
    p: Floats = chdtrc(k - 1, statistic)
    return p


def count_noise(blocks: Floats, expected: Floats) -> Floats:
    """p-value that Poisson counts around the level alone spread as the seasons do, (subjects,).

    Pearson's index of dispersion of the parts of the year, summed over years: sum (O − E)² / E is
    about chi-squared with parts − 1 degrees of freedom (Fisher, Thornton & Mackenzie 1922).
    """
    hoped = expected.sum(axis=1)
    seen = (blocks * expected).sum(axis=1)
    total = hoped.sum(axis=1, keepdims=True)
    with np.errstate(invalid="ignore", divide="ignore"):
        hoped = hoped * seen.sum(axis=1, keepdims=True) / total
        index = ((seen - hoped) ** 2 / hoped).sum(axis=1)
    p: Floats = chdtrc(blocks.shape[2] - 1, index)
    return p


def correlations(blocks: Floats) -> Floats:
    """Correlate the years' own profiles with one another.

    Parameters
    ----------
    blocks : array (subjects, years, parts)
        Levels by year and part of the year.

    Returns
    -------
    array (subjects, pairs of years)
        Pearson correlations, −1 to 1; a year that never moves correlates with none (0).
    """
    years = blocks.shape[1]
    centred = blocks - blocks.mean(axis=2, keepdims=True)
    norm = np.sqrt((centred**2).sum(axis=2, keepdims=True))
    centred /= np.where(norm > 1e-12, norm, np.inf)
    matrix = centred @ centred.transpose(0, 2, 1)
    first, second = np.triu_indices(years, 1)
    pairs: Floats = np.take(
        matrix.reshape(len(blocks), years * years), first * years + second, axis=1
    )
    return pairs


def recurrence(blocks: Floats, expected: Floats | None = None) -> Floats:
    """Say how alike the years' own profiles are.

    On four-week levels, for single weeks are too noisy to compare.

    Parameters
    ----------
    blocks : array (subjects, years, parts)
        Levels by year and part of the year.
    expected : array (subjects, years, parts), optional
        What the level led to expect of each block. A pair of years then weighs by the root of its
        volumes' product, so that four quiet years do not vouch for the loud fifth; and a year that
        brought under 5% of the mean year's is left out: before a launch and after an end there is no
        profile to compare.

    Returns
    -------
    array (subjects,)
        Median correlation, −1 to 1; NaN with under two years.
    """
    n, years, _k = blocks.shape
    if years < 2:
        return np.full(n, np.nan)
    pairs = correlations(blocks)
    if expected is None:
        return np.asarray(np.median(pairs, axis=1))
    volume = expected.sum(axis=2)
    kept = np.where(volume >= MIN_YEAR * volume.mean(axis=1, keepdims=True), volume, 0)
    first, second = np.triu_indices(years, 1)
    weight = np.sqrt(np.take(kept, first, axis=1) * np.take(kept, second, axis=1))
    order = np.argsort(pairs, axis=1)
    ordered, weight = np.take_along_axis(pairs, order, 1), np.take_along_axis(weight, order, 1)
    below = np.cumsum(weight, axis=1)
    whole = below[:, -1:]
    # The weighted median: between the pairs on either side of half the weight, as with equal ones.
    rows = np.arange(n)
    lower = (below >= whole * (0.5 - 1e-9)).argmax(axis=1)
    upper = (below > whole * (0.5 + 1e-9)).argmax(axis=1)
    median = (ordered[rows, lower] + ordered[rows, upper]) / 2
    return np.where(whole[:, 0] > 0, median, np.nan)


def dispersion(blocks: Floats, expected: Floats, floor: float = 1) -> Floats:
    """Variance of block counts around profile and level over their expectation, (subjects,).

    Pearson's chi-squared over its degrees of freedom, as in quasi-Poisson regression (McCullagh &
    Nelder, Generalized Linear Models, 2nd ed., section 6.2), at least ``floor``: counts cannot vary
    by less than 1, a relative curve can. NaN with under two years.
    """
    n, years, k = blocks.shape
    if years < 2:
        return np.full(n, np.nan)
    seen = blocks * expected
    with np.errstate(invalid="ignore", divide="ignore"):
        usual = seen.sum(axis=1, keepdims=True) / expected.sum(axis=1, keepdims=True) * expected
        index = np.where(usual > 0, (seen - usual) ** 2 / usual, 0).sum(axis=(1, 2))
    found: Floats = np.maximum(index / ((years - 1) * (k - 1)), floor)
    return found


def recurs_by_chance(blocks: Floats) -> Floats:
    """p-value that the years' profiles are alike by chance, (subjects,); NaN with under two years.

    Twice the smaller (Bonferroni) of the Friedman test's and of that of the median correlation by
    Fisher's z. Ranks see a season that bends the whole year, the correlation one that fills a few
    weeks of it and leaves the rest to noise, which ranks cannot see in two or three years.
    """
    n, years, k = blocks.shape
    if years < 2:
        return np.full(n, np.nan)
    ranks = friedman(blocks)
    bounded = np.clip(recurrence(blocks), -0.9999, 0.9999)
    alike = ndtr(-np.arctanh(bounded) * np.sqrt(k - 3))
    p: Floats = np.minimum(2 * np.fmin(ranks, alike), 1)
    return np.where(np.isnan(ranks), np.nan, p)
