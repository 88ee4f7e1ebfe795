"""The season profile: the calendar's share in a curve, with its error and the tests of it.

The ratio-to-moving-average method (see ``level``), in sums instead of means of ratios: a factor is
what a slot of the year brought over what the level led to expect of it, so that a nearly empty
year weighs as little as it says. Of four years or more the highest and the lowest ratio of a slot
are left out; the circle of weeks is lightly smoothed; the mean is 1.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Period, Settings, row_products

from .level import block_sums, centred_average, growth_path, seen_over_expected
from .pooling import Prior, borrowed_share, prefers
from .recurrence import count_noise, dispersion, recurs_by_chance

_A_YEAR = 2026  # Any will do: a week's Thursday moves by days.
TRIM_FROM = 4  # Years from which a slot's highest and lowest ratio are left out.


@dataclass(frozen=True, slots=True)
class Axis:
    """How columns fall on the circle of the year.

    slots: (length,) the slot of each column, 0 to per_year − 1. years: (years, per_year) the
    columns of each whole year that is compared with the others.
    """

    slots: Ints
    years: Ints

    @classmethod
    def calendar(cls, first_slot: int, length: int, per_year: int) -> Axis:
        """The plain calendar: whole years counted back from the end."""
        years = length // per_year
        columns = np.arange(length - years * per_year, length).reshape(years, per_year)
        return cls((first_slot + np.arange(length)) % per_year, columns)

    @property
    def rest(self) -> Ints:
        """Columns that belong to no whole year."""
        return np.setdiff1d(np.arange(len(self.slots)), self.years.ravel())

    def sums(self, values: Floats) -> Floats:
        """Sums of columns by slot: (subjects, length) to (subjects, per_year)."""
        years, per_year = self.years.shape
        out = np.zeros((len(values), per_year), dtype=values.dtype)
        if years:
            out[:, self.slots[self.years[0]]] = self.by_year(values).sum(axis=1)
        rest = self.rest
        if rest.size:
            place = np.zeros((rest.size, per_year), dtype=values.dtype)
            place[np.arange(rest.size), self.slots[rest]] = 1
            out += row_products(values[:, rest], place)
        return out

    def over(self, factors: Floats) -> Floats:
        """Factors by slot, (subjects, slots), laid over the columns: (subjects, length)."""
        # Indexing would leave the result in column order, and all that follows would crawl.
        laid: Floats = np.take(factors, self.slots, axis=1)
        return laid

    def by_year(self, values: Floats) -> Floats:
        """(subjects, length) as (subjects, years, per_year), a view where the years are a run."""
        years, per_year = self.years.shape
        if not years:
            return np.empty((len(values), 0, per_year))
        start, stop = self.years[0, 0], self.years[-1, -1] + 1
        # Years around a feast overlap and leave gaps, which may well cancel; each column counts.
        if np.array_equal(self.years.ravel(), np.arange(start, stop)):
            return values[:, start:stop].reshape(len(values), years, per_year)
        return np.take(values, self.years, axis=1)


@dataclass(frozen=True, slots=True)
class SeasonProfile:
    """Profiles of curves of one length.

    factors: (subjects, slots) with mean 1; all ones where no season is claimed; NaN without data.
    error: (subjects, slots) standard error of each factor; 0 where none is claimed.
    level: (subjects, length) what an average week of the year would have brought.
    blocks: (subjects, years, blocks) detrended four-week (or monthly) levels of each whole year.
    expected: (subjects, years, blocks) what the level alone would have brought in each block.
    significant: (subjects,) whether a season is claimed.
    dispersion: (subjects,) variance of a block's count over its expectation; 1 for pure counting, NaN
        with under two years.
    noise: (subjects,) mean sampling variance of a factor, whether a season is claimed or not.
    borrowed: (subjects,) share of the profile that is the category's, 0–1.
    p_recurring, p_counts: (subjects,) p-values of the two tests; NaN where they cannot be made.
    """

    factors: Floats
    error: Floats
    level: Floats
    blocks: Floats
    expected: Floats
    significant: Bools
    dispersion: Floats
    p_recurring: Floats
    p_counts: Floats
    noise: Floats
    borrowed: Floats


def trimmed_ratio(seen: Floats, expected: Floats, axis: Axis) -> Floats:
    """Sum over sum by slot, (subjects, slots), without each slot's highest and lowest year.

    ``seen`` and ``expected`` are (subjects, length). Whole years take part in the trimming, from
    ``TRIM_FROM`` of them on. A slot in which nothing was expected is NaN.
    """
    top, bottom = axis.sums(seen), axis.sums(expected)
    if len(axis.years) >= TRIM_FROM:
        slot = axis.slots[axis.years[0]]
        for above in (True, False):
            out, base = _extreme(axis.by_year(seen), axis.by_year(expected), above)
            top[:, slot] -= out
            bottom[:, slot] -= base
    with np.errstate(invalid="ignore", divide="ignore"):
        found: Floats = np.where(bottom > 1e-9, np.maximum(top, 0) / bottom, np.nan)
    return found


def _extreme(seen: Floats, expected: Floats, highest: bool) -> tuple[Floats, Floats]:
    """Seen and expected of the year with the highest (lowest) ratio by slot, (subjects, slots) each."""
    top, bottom = seen[:, 0], expected[:, 0]
    for year in range(1, seen.shape[1]):
        here, base = seen[:, year], expected[:, year]
        # a ÷ b above c ÷ d as a × d above c × b, which needs no division and bears zeros.
        left, right = here * bottom, top * base
        beyond = left > right if highest else left < right
        top, bottom = np.where(beyond, here, top), np.where(beyond, base, bottom)
    return top, bottom


def _smooth(factors: Floats) -> Floats:
    smoothed: Floats = 2 * factors
    smoothed[:, 1:] += factors[:, :-1]
    smoothed[:, 0] += factors[:, -1]
    smoothed[:, :-1] += factors[:, 1:]
    smoothed[:, -1] += factors[:, 0]
    smoothed /= 4
    return smoothed


def _normalised(raw: Floats, weekly: bool) -> Floats:
    """Mean 1, slots without data at the mean, weeks smoothed with their neighbours."""
    known = ~np.isnan(raw)
    count = known.sum(axis=1, keepdims=True)
    total = np.where(known, raw, 0).sum(axis=1, keepdims=True)
    with np.errstate(invalid="ignore", divide="ignore"):
        filled = np.where(known & (total > 0), raw * (count / total), 1.0)
    return _smooth(filled) if weekly else filled


def _factor_error(
    values: Floats, factors: Floats, level: Floats, axis: Axis, weekly: bool, counts: bool
) -> Floats:
    """Standard error of each factor from how far the years lie from it, (subjects, slots).

    Five neighbouring slots share their variances, for a few years give a poor one; where values are
    counts it is at least Poisson's.
    """
    per_year = axis.years.shape[1]
    left = axis.over(factors)
    left *= level
    np.subtract(values, left, out=left)
    left *= left
    squares, weight = axis.sums(left), axis.sums(level)
    number = np.bincount(axis.slots, minlength=per_year)
    # The factors were taken from the same years: one degree of freedom a slot is spent.
    squares *= number / np.maximum(number - 1, 0.5)
    if weekly:
        around = np.concatenate([squares[:, -2:], squares, squares[:, :2]], axis=1)
        squares = sum(around[:, k : k + per_year] for k in range(5)) / 5  # type: ignore[assignment]
    with np.errstate(invalid="ignore", divide="ignore"):
        variance = squares / weight**2
        if counts:
            variance = np.maximum(variance, np.maximum(factors, 0.5 / weight) / weight)
        # Smoothing with weights ¼, ½, ¼ leaves 3/8 of independent noise's variance.
        error: Floats = np.sqrt(variance * (0.375 if weekly else 1))
    return np.where(weight > 0, error, np.nan)


def _nothing(n: int, length: int, period: Period) -> SeasonProfile:
    slots, nan = period.per_year, np.full(n, np.nan)
    empty = np.empty((n, 0, slots // period.block))
    blank = np.full((n, slots), np.nan)
    level = np.full((n, length), np.nan)
    none = np.zeros(n, dtype=bool)
    return SeasonProfile(
        blank, blank, level, empty, empty, none, np.ones(n), nan, nan, nan, np.zeros(n)
    )


def season_profile(
    values: Floats,
    axis: Axis,
    period: Period,
    settings: Settings,
    *,
    counts: bool = True,
    path: Floats | None = None,
    prior: Prior | None = None,
) -> SeasonProfile:
    """Profiles of curves (subjects, length) on a regular axis, none absent.

    ``counts`` says that values are counts, so that counting noise can be tested; a relative curve
    has none. ``path`` (subjects, length) is a course of the level known beforehand, up to a factor,
    such as growth and level shifts; default is the mean growth. A season that the tests do not
    support is not claimed: its factors are ones. With a ``prior`` the profile leans on it by its
    own noise, and a season that own counts support only together with it is claimed too. Under one
    year there is no profile (NaN).
    """
    n, length = values.shape
    per_year, weekly = period.per_year, period is Period.WEEK
    if length < per_year or not len(axis.years):
        return _nothing(n, length, period)
    course = growth_path(values, per_year) if path is None else path
    level = centred_average(values / course, per_year)
    level *= course
    top, bottom = axis.sums(values), axis.sums(level)
    with np.errstate(invalid="ignore", divide="ignore"):
        first = _normalised(np.where(bottom > 0, top / bottom, np.nan), weekly)
    expected = axis.over(first)
    expected *= course
    level = seen_over_expected(values, expected, per_year)
    level *= course
    np.nan_to_num(level, copy=False)
    factors = _normalised(trimmed_ratio(values, level, axis), weekly)
    error = _factor_error(values, factors, level, axis, weekly, counts)

    years = len(axis.years)
    shape = (n, years, per_year // period.block)
    hoped = block_sums(axis.by_year(level).reshape(n, -1), period.block).reshape(shape)
    seen = block_sums(axis.by_year(values).reshape(n, -1), period.block).reshape(shape)
    with np.errstate(invalid="ignore", divide="ignore"):
        blocks = np.where(hoped > 0, seen / hoped, 0.0)

    p_recurring = recurs_by_chance(blocks)
    p_counts = count_noise(blocks, hoped) if counts else np.full(n, np.nan)
    significant = p_recurring < settings.season_alpha
    if counts:
        significant &= p_counts < settings.count_alpha
    spread = dispersion(blocks, hoped, floor=1 if counts else 0)
    known = ~np.isnan(error)
    squares = np.where(known, error, 0) ** 2
    with np.errstate(invalid="ignore", divide="ignore"):
        noise = squares.sum(axis=1) / known.sum(axis=1)
    borrowed = np.zeros(n)
    if prior is not None:
        share = borrowed_share(noise, prior)
        lent = (share >= settings.pool_least) & (
            significant | prefers(axis.sums(values), axis.sums(level), prior.factors, spread)
        )
        borrowed = np.where(lent, share, 0)
        weight = borrowed[:, None]
        factors = np.where(lent[:, None], (1 - weight) * factors + weight * prior.factors, factors)
        error *= np.sqrt(1 - weight)
        significant = significant | lent
    claimed = significant | (length < settings.min_years * per_year)
    factors[~claimed] = 1.0
    error[~claimed] = 0.0
    return SeasonProfile(
        factors, error, level, blocks, hoped, significant, spread, p_recurring, p_counts,
        noise, borrowed,
    )  # fmt: skip


def months_of_weeks(factors: Floats) -> Floats:
    """A profile by weeks as one by months, (rows, 12): the mean of the weeks whose Thursday lies in each.

    ``factors`` is (rows, 52) with mean 1, NaN where there is none.
    """
    month = np.array([date.fromisocalendar(_A_YEAR, week + 1, 4).month - 1 for week in range(52)])
    marks = (month[:, None] == np.arange(12)) / np.bincount(month, minlength=12)
    found = row_products(factors, marks)
    mean: Floats = found.mean(axis=1, keepdims=True)
    return np.asarray(found / mean)


def best_share(factors: Floats, window: int) -> tuple[Floats, Ints]:
    """Find the best consecutive slots of a year.

    Parameters
    ----------
    factors : array (subjects, slots)
        Season profiles with mean 1.
    window : int
        Consecutive slots; they may run round the turn of the year.

    Returns
    -------
    share : array (subjects,)
        The share of a year in them, 0–1.
    start : int array (subjects,)
        The slot they start in; on ties the earliest.
    """
    n, slots = factors.shape
    sums = np.zeros((n, slots + window))
    np.cumsum(np.concatenate([factors, factors[:, : window - 1]], axis=1), axis=1, out=sums[:, 1:])
    windows = sums[:, window:] - sums[:, :-window]
    # Rounding keeps floating-point dust from deciding a tie.
    start = np.round(windows, 9).argmax(axis=1)
    share: Floats = np.take_along_axis(windows, start[:, None], axis=1)[:, 0] / slots
    return share, start
