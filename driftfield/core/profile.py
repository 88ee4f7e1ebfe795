"""The season profile: the calendar's share in a curve.

The ratio-to-moving-average method of the textbooks (for example Makridakis, Wheelwright & Hyndman,
Forecasting: Methods and Applications, 3rd ed., section 3/4): each value over the centred one-year
moving average, averaged by slot across years, scaled to mean 1. Here the mean across years is
trimmed, and the circle of weeks is lightly smoothed.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import chdtrc

from .periods import Bools, Floats, Period
from .settings import Settings


@dataclass(frozen=True, slots=True)
class SeasonProfile:
    """Profiles of curves of one length.

    factors: (subjects, slots) with mean 1; all ones where no season is claimed; NaN without data.
    blocks: (subjects, years, blocks) detrended four-week (or monthly) levels of each whole year
        counted back from the end, mean about 1.
    expected: (subjects, years, blocks) what the level alone would have brought in each block.
    significant: (subjects,) whether a season is claimed.
    p_recurring, p_counts: (subjects,) p-values of the two tests; NaN where they cannot be made.
    """

    factors: Floats
    blocks: Floats
    expected: Floats
    significant: Bools
    p_recurring: Floats
    p_counts: Floats


def centred_level(values: Floats, per_year: int) -> Floats:
    """Centred one-year moving average, (subjects, length), carried to both ends.

    The 2 × per_year average of the textbooks. It loses half a year at each end; there it goes on
    at the growth it showed over its own nearest year, so that a growing curve does not bend the
    profile. A curve of under one year and a period has its mean instead.
    """
    n, length = values.shape
    half = per_year // 2
    if length < per_year + 1:
        return np.repeat(values.mean(axis=1, keepdims=True), length, axis=1)
    sums = np.concatenate([np.zeros((n, 1)), np.cumsum(values, axis=1)], axis=1)
    year = (sums[:, per_year:] - sums[:, :-per_year]) / per_year
    middle = (year[:, 1:] + year[:, :-1]) / 2
    level = np.empty_like(values)
    level[:, half : half + middle.shape[1]] = middle
    lag = min(per_year, middle.shape[1] - 1)
    ahead = np.arange(1, length - half - middle.shape[1] + 1)
    back = np.arange(half, 0, -1)
    tiny = 1e-12

    def growth(late: Floats, early: Floats) -> Floats:
        ratio = np.log(np.maximum(late, tiny) / np.maximum(early, tiny)) / max(lag, 1)
        # A curve that appears or vanishes grows without bound; a factor of four a year is plenty.
        bound = np.log(4) / per_year
        usable = (late > tiny) & (early > tiny)
        clipped: Floats = np.clip(np.where(usable, ratio, 0), -bound, bound)
        return clipped

    tail = growth(middle[:, -1], middle[:, -1 - lag])
    head = growth(middle[:, lag], middle[:, 0])
    level[:, half + middle.shape[1] :] = middle[:, -1:] * np.exp(tail[:, None] * ahead)
    level[:, :half] = middle[:, :1] * np.exp(-head[:, None] * back)
    return level


def trimmed_mean(values: Floats) -> Floats:
    """Mean over axis 1 without the highest and the lowest, where at least three values are there.

    NaN counts as absent. Two values give their plain mean. ``values`` is (subjects, years, slots),
    none negative.
    """
    absent = np.isnan(values)
    count = values.shape[1] - absent.sum(axis=1)
    trim = count >= 3
    highest = np.where(absent, -np.inf, values).max(axis=1)
    lowest = np.where(absent, np.inf, values).min(axis=1)
    total = np.where(absent, 0, values).sum(axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        inner = np.where(trim, total - highest - lowest, total) / (count - 2 * trim)
    mean: Floats = np.where(count > 0, np.maximum(inner, 0), np.nan)
    return mean


def _ranks(blocks: Floats) -> Floats:
    """Mid-ranks along the last axis; without ties, which is nearly always, by a plain sort."""
    order = np.argsort(blocks, axis=2)
    ranks = np.empty(blocks.shape)
    np.put_along_axis(ranks, order, np.arange(1.0, blocks.shape[2] + 1)[None, None, :], axis=2)
    ordered = np.take_along_axis(blocks, order, axis=2)
    tied = (ordered[:, :, 1:] == ordered[:, :, :-1]).any(axis=(1, 2))
    if tied.any():
        from scipy.stats import rankdata  # slow to import and seldom needed

        ranks[tied] = rankdata(blocks[tied], axis=2)
    return ranks


def friedman(blocks: Floats) -> Floats:
    """p-value of the Friedman test across years, (subjects,).

    ``blocks`` is (subjects, years, treatments): years are the blocks of the test, parts of the year
    its treatments. Friedman (1937), JASA 32, with the correction for ties; NaN with under two years
    or where every year is level throughout.
    """
    n, years, k = blocks.shape
    if years < 2:
        return np.full(n, np.nan)
    ranks = _ranks(blocks)
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


def _smooth(factors: Floats) -> Floats:
    smoothed: Floats = (
        np.roll(factors, 1, axis=1) + 2 * factors + np.roll(factors, -1, axis=1)
    ) / 4
    return smoothed


def season_profile(
    values: Floats, first_slot: int, period: Period, settings: Settings, *, counts: bool = True
) -> SeasonProfile:
    """Profiles of curves (subjects, length) on a regular axis, none absent.

    ``first_slot`` is the slot of column 0. ``counts`` says that values are counts, so that counting
    noise can be tested; a relative curve has none. A season that the tests do not support is not
    claimed: its factors are ones. Under one year there is no profile (NaN).
    """
    n, length = values.shape
    slots = period.per_year
    level = centred_level(values, slots)
    with np.errstate(invalid="ignore", divide="ignore"):
        ratio = np.where(level > 0, values / level, np.nan)

    years = length // slots
    if years == 0:
        nothing = np.full((n, slots), np.nan)
        empty = np.empty((n, 0, slots // period.block))
        nan = np.full(n, np.nan)
        return SeasonProfile(nothing, empty, empty, np.zeros(n, dtype=bool), nan, nan)

    padded = (years + 1) * slots
    by_year = np.full((n, padded), np.nan)
    by_year[:, padded - length :] = ratio
    raw = trimmed_mean(by_year.reshape(n, years + 1, slots))
    raw = np.roll(raw, first_slot + length - padded, axis=1)
    if period is Period.WEEK:
        raw = _smooth(raw)
    known = (~np.isnan(raw)).sum(axis=1, keepdims=True)
    mean = np.nansum(raw, axis=1, keepdims=True) / np.maximum(known, 1)
    with np.errstate(invalid="ignore", divide="ignore"):
        factors = np.where(mean > 0, raw / mean, 1.0)
    factors = np.where(np.isnan(factors), 1.0, factors)

    tail = slice(length - years * slots, length)
    shape = (n, years, slots // period.block, period.block)
    expected = level[:, tail].reshape(shape).sum(axis=3)
    seen = values[:, tail].reshape(shape).sum(axis=3)
    with np.errstate(invalid="ignore", divide="ignore"):
        blocks = np.where(expected > 0, seen / expected, 0.0)

    p_recurring = friedman(blocks)
    p_counts = count_noise(blocks, expected) if counts else np.full(n, np.nan)
    significant = p_recurring < settings.season_alpha
    if counts:
        significant &= p_counts < settings.count_alpha
    claimed = significant | (years < settings.min_years)
    factors[~claimed] = 1.0
    return SeasonProfile(factors, blocks, expected, significant, p_recurring, p_counts)


def best_share(factors: Floats, window: int) -> tuple[Floats, np.ndarray]:
    """Share of a year in its best ``window`` consecutive slots and the slot they start in.

    ``factors`` is (subjects, slots) with mean 1; windows run round the turn of the year. On ties the
    earliest window counts. Both results are (subjects,); the share is 0–1.
    """
    slots = factors.shape[1]
    around = np.concatenate([factors, factors[:, : window - 1]], axis=1)
    sums = np.cumsum(np.concatenate([np.zeros((len(factors), 1)), around], axis=1), axis=1)
    windows = sums[:, window:] - sums[:, :-window]
    # Rounding keeps floating-point dust from deciding a tie.
    start = np.round(windows, 9).argmax(axis=1)
    share: Floats = np.take_along_axis(windows, start[:, None], axis=1)[:, 0] / slots
    return share, start


def recurrence(blocks: Floats) -> Floats:
    """Median correlation between the years' own profiles, (subjects,), −1 to 1.

    On four-week levels, for single weeks are too noisy to compare. NaN with under two years; a year
    that never moves correlates with none (0).
    """
    n, years, _k = blocks.shape
    if years < 2:
        return np.full(n, np.nan)
    centred = blocks - blocks.mean(axis=2, keepdims=True)
    norm = np.sqrt((centred**2).sum(axis=2, keepdims=True))
    unit = np.where(norm > 1e-12, centred / np.where(norm > 0, norm, 1), 0)
    matrix = unit @ unit.transpose(0, 2, 1)
    first, second = np.triu_indices(years, 1)
    median: Floats = np.median(matrix[:, first, second], axis=1)
    return median
