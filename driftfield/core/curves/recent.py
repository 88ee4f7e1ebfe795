"""Recent moves: whether the latest stretch of a curve stands off its own course by more than its noise.

A level shift is named once half a year has followed it (``level_shifts``). Before that, the latest one to six
blocks are held against the thirteen before them, and the difference against what the curve has done of itself:
its block noise with autocorrelation, the differences that the same windows showed at any earlier time, and
those that they showed at the same time of earlier years, when seasons came early, late or unlike.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import stats

from driftfield.core.base import Floats, Ints

# Blocks (four weeks, or a month) of the latest stretch that are tried, and of the base before it.
STRETCHES = (1, 2, 3, 4, 5, 6)
BASE, LEAST_BASE = 13, 6
LEAST_HISTORY = 14  # Blocks before the longest stretch from which a curve's own noise can be told.
MOST_CORRELATED = 0.9
# Weight, in years, of the noise at any time of the year beside that at the same time of earlier years.
PRIOR_YEARS = 4
# Weeks by which a season is early or late as a rule, the part by which it swings more or less, and the years
# these are taken as known from. Our choice.
USUAL_SHIFT, USUAL_SWING, USUAL_YEARS = 0.25, 0.03, 2
LEAST_LEAN = (
    1e-3  # Sum of squares of a year's leans below which a season is too flat to be another.
)
# What a block must count on average: below it counts are too few to be judged by their spread.
LEAST_COUNT = 20
# Stretches are about as sure where their chances differ by so much, or lie below this. Our choice.
ABOUT, SURE = 30.0, 1e-6
# How far beyond what single blocks explain the differences of the past go where a curve wanders. Our choice.
WANDERS = 1.5


@dataclass(frozen=True, slots=True)
class Recent:
    """A recent move of each curve, (subjects,), NaN where it cannot be told.

    size: how far the stretch stands off its course, in the unit of the levels. error: standard error of it.
    df: degrees of freedom of that. p: chance of a move as large in a curve that moves by its noise alone, over
    all stretches that were tried. blocks: length of the stretch that shows it most, 0 for unknown. tried:
    stretches.
    """

    size: Floats
    error: Floats
    df: Floats
    p: Floats
    blocks: Ints
    tried: Floats

    @classmethod
    def unknown(cls, n: int) -> Recent:
        """``n`` curves of which nothing can be told."""
        size, error, df, p, tried = np.full((5, n), np.nan)
        return cls(size, error, df, p, np.zeros(n, dtype=np.int64), tried)

    def interval(self, coverage: float) -> tuple[Floats, Floats]:
        """Ends of the interval of the size, (subjects,) each; ``coverage`` is 0–1."""
        with np.errstate(invalid="ignore"):
            reach = stats.t.ppf(0.5 + coverage / 2, self.df) * self.error
        return self.size - reach, self.size + reach


def apart(first: Recent, second: Recent) -> Recent:
    """How much further the first curve of each pair moved than the second.

    Parameters
    ----------
    first, second : Recent
        Moves of the same subjects; their noise is taken as independent, and so as more than it is where both
        follow the same weeks.

    Returns
    -------
    Recent
        The differences, judged by Welch's t test (1947), times the stretches that were tried of both; the
        stretch is the first one's. Unknown where either is.
    """
    size, error = first.size - second.size, np.hypot(first.error, second.error)
    with np.errstate(invalid="ignore", divide="ignore"):
        parts = first.error**4 / first.df + second.error**4 / second.df
        df = np.where(parts > 0, error**4 / parts, first.df)
        t = np.where(error > 0, size / error, np.where(size == 0, 0, np.inf))
    tried = first.tried + second.tried
    p = np.minimum(2 * stats.t.sf(np.abs(t), df) * tried, 1)
    unknown = np.isnan(size)
    df, p = (np.where(unknown, np.nan, one) for one in (df, p))
    return Recent(size, error, df, p, np.where(unknown, 0, first.blocks), tried)


def recent_move(
    levels: Floats,
    per_year: int,
    *,
    counts: Floats | None = None,
    timing: Floats | None = None,
    swing: Floats | None = None,
) -> Recent:
    """Hold the latest stretch of each curve against its course before.

    Parameters
    ----------
    levels : array (subjects, blocks)
        Levels with the season and known shifts taken out, usually logarithms; NaN where absent.
    per_year : int
        Blocks a year: 13 of four weeks, 12 months.
    counts : array (subjects,), optional
        What a block counts on average, where levels are logarithms of counts.
    timing : array (subjects, blocks), optional
        By how much each level would rise if the season were a week early, 0 where there is none.
    swing : array (subjects, blocks), optional
        By how much it would rise if the season swung by twice as much.

    Returns
    -------
    Recent
        Unknown where the latest block is absent, under twenty blocks are known, or a block counts under
        twenty on average.

    Notes
    -----
    The size is the mean of the stretch less that of the base before it, less the same difference in the middle
    of the curve's past, which is what a steady drift makes of it. Its variance is the largest of: that of means
    of values with lag-one autocorrelation (Bayley & Hammersley 1946), half a standard error above the estimate;
    the mean square of the differences that the same windows showed in the past; and the same at this time of
    earlier years, pooled with the others as four years of them. To it comes what a season makes of it that is
    early or late, or swings more or less, by as much as those of earlier years did. The chance is Student's,
    with degrees of freedom after Satterthwaite (1946), times the stretches that were tried (Bonferroni).
    Logarithms of small counts fall further than they rise; so a size is judged on the scale of Box & Cox (1964)
    between the logarithm and, where counting is all the noise, the square root.
    """
    n, blocks = levels.shape
    longest = max(STRETCHES)
    best = Recent.unknown(n)
    if blocks < longest + LEAST_HISTORY or not n:
        return best
    x = levels.astype(np.float64)
    known = ~np.isnan(x)
    past = x[:, : blocks - longest]
    seen = known[:, : blocks - longest].sum(axis=1)
    enough = known[:, -1] & (seen >= LEAST_HISTORY)
    rows = np.flatnonzero(enough if counts is None else enough & (counts >= LEAST_COUNT))
    if not rows.size:
        return best
    x, past = x[rows], past[rows]
    noise, rho = block_noise(past)
    df = np.maximum(0.6 * seen[rows], 3)
    root = np.zeros(len(rows))
    if counts is not None:
        with np.errstate(invalid="ignore", divide="ignore"):
            root = np.clip(np.nan_to_num(1 / counts[rows] / noise), 0, 1) / 2
    leans = [
        (lean[rows], yearly_variance(past, lean[rows, : past.shape[1]], per_year, noise, usual))
        for lean, usual in ((timing, USUAL_SHIFT), (swing, USUAL_SWING))
        if lean is not None
    ]
    found = [_over(x, stretch, per_year, noise, rho, df, root, leans) for stretch in STRETCHES]
    chance = np.stack([one.p for one in found])
    # Of stretches that show it about as surely the one that fits best, as least squares have it with one noise.
    lowest = np.where(np.isnan(chance), np.inf, chance).min(axis=0)
    sure = chance <= np.maximum(ABOUT * lowest, SURE)
    width = np.array([1 / (1 / stretch + 1 / BASE) for stretch in STRETCHES])
    fit = np.stack([one.size**2 for one in found]) * width[:, None]
    first = np.where(sure, fit, -1.0).argmax(axis=0)

    def chosen(name: str) -> Floats:
        picked: Floats = np.stack([getattr(one, name) for one in found])[
            first, np.arange(len(rows))
        ]
        return picked

    for name in ("size", "error", "df"):
        getattr(best, name)[rows] = chosen(name)
    best.p[rows] = np.minimum(chosen("p") * len(STRETCHES), 1)
    best.tried[rows] = len(STRETCHES)
    best.blocks[rows] = np.where(np.isnan(best.p[rows]), 0, np.array(STRETCHES)[first])
    return best


def _sums(values: Floats) -> tuple[Floats, Floats]:
    """Running sums of the known values and of how many they are, (rows, columns + 1) each."""
    known = ~np.isnan(values)
    total = np.zeros((len(values), values.shape[1] + 1))
    count = np.zeros_like(total)
    np.cumsum(np.where(known, values, 0), axis=1, out=total[:, 1:])
    np.cumsum(known, axis=1, out=count[:, 1:])
    return total, count


def block_noise(past: Floats) -> tuple[Floats, Floats]:
    """Variance of single blocks around their own neighbourhood, and their autocorrelation, (rows,) each."""
    columns = past.shape[1]
    total, count = _sums(past)
    place = np.arange(columns)
    low, high = np.maximum(place - BASE // 2, 0), np.minimum(place + BASE // 2 + 1, columns)
    number = count[:, high] - count[:, low]
    with np.errstate(invalid="ignore", divide="ignore"):
        left = past - (total[:, high] - total[:, low]) / number
        free = np.where(np.isnan(left), 0, 1 - 1 / np.maximum(number, 1))
    have = ~np.isnan(left)
    filled = np.where(have, left, 0)
    squares = (filled**2).sum(axis=1)
    variance = squares / np.maximum(free.sum(axis=1), 1)
    both = have[:, 1:] & have[:, :-1]
    pairs = np.maximum(both.sum(axis=1), 1)
    spread = squares / np.maximum(have.sum(axis=1), 1)
    cross = (filled[:, 1:] * filled[:, :-1]).sum(axis=1) / pairs
    with np.errstate(invalid="ignore", divide="ignore"):
        rho = np.where(spread > 0, cross / spread, 0)
    # Taking the neighbourhood out lowers it by about one over its width.
    rho = rho + 1 / BASE + 0.5 / np.sqrt(pairs)
    return variance, np.clip(rho, 0, MOST_CORRELATED)


Leans = list[tuple[Floats, Floats]]


def yearly_variance(
    past: Floats, lean: Floats, per_year: int, noise: Floats, usual: float
) -> Floats:
    """Mean square of how far each year's season was another, (rows,), in units of ``lean``; 0 without one.

    ``lean`` is (rows, columns), what one unit of it makes of each level. Each year's is found by least squares,
    what noise makes of it taken off, and ``usual`` counts as so many years more.
    """
    columns = past.shape[1]
    years = columns // per_year
    if not years:
        return np.zeros(len(past))
    cut = slice(columns - years * per_year, columns)
    shape = (len(past), years, per_year)
    x, by = past[:, cut].reshape(shape), lean[:, cut].reshape(shape)
    have = ~np.isnan(x)

    def centred(values: Floats) -> Floats:
        number = np.maximum(have.sum(axis=2, keepdims=True), 1)
        filled = np.where(have, values, 0)
        return np.where(have, filled - filled.sum(axis=2, keepdims=True) / number, 0)

    x, by = centred(x), centred(by)
    weight = (by**2).sum(axis=2)
    with np.errstate(invalid="ignore", divide="ignore"):
        square = np.maximum(((x * by).sum(axis=2) / weight) ** 2 - noise[:, None] / weight, 0)
    known = np.isfinite(square) & (weight > LEAST_LEAN)
    total = np.where(known, square, 0).sum(axis=1) + USUAL_YEARS * usual**2
    return np.where(known.any(axis=1), total / (known.sum(axis=1) + USUAL_YEARS), 0)


def _over(
    x: Floats,
    stretch: int,
    per_year: int,
    noise: Floats,
    rho: Floats,
    df: Floats,
    root: Floats,
    leans: Leans,
) -> Recent:
    """The move over one stretch; ``blocks`` is not filled."""
    n, columns = x.shape
    total, count = _sums(x)
    base = min(BASE, columns - max(STRETCHES) - stretch - 2)
    if base < LEAST_BASE:
        return Recent.unknown(n)
    ends = np.arange(base + stretch, columns + 1)

    def mean(first: Ints, last: Ints, least: float) -> tuple[Floats, Floats]:
        number = count[:, last] - count[:, first]
        with np.errstate(invalid="ignore", divide="ignore"):
            middle = (total[:, last] - total[:, first]) / number
        return np.where(number >= least, middle, np.nan), number

    late, late_number = mean(ends - stretch, ends, stretch / 2)
    early, early_number = mean(ends - stretch - base, ends - stretch, LEAST_BASE)
    apart = late - early
    # What stands before the longest stretch that is tried is the past; it says nothing of the present.
    before = apart[:, : max(apart.shape[1] - max(STRETCHES), 0)]
    told = (~np.isnan(before)).sum(axis=1)
    # How much windows that overlap tell twice: the sum of their squared correlations.
    overlap = (2 * stretch + 1 / stretch) / 3
    usual = np.zeros(n)
    some = told >= 3
    if some.any():
        usual[some] = np.nanmedian(before[some], axis=1)
    size = apart[:, -1] - usual
    with np.errstate(invalid="ignore", divide="ignore"):
        plain = noise * (1 + rho) / (1 - rho) * (1 / late_number[:, -1] + 1 / early_number[:, -1])
        off = np.where(np.isnan(before), 0, before - usual[:, None]) ** 2
        # Overlapping windows tell less than they are: their mean square is a little low.
        moved = np.where(some, off.sum(axis=1) / np.maximum(told - 1, 1), 0)
        variance = np.maximum(plain, moved)
        # Where they are far more than single blocks explain, it is they that tell the noise.
        free = np.where(moved > WANDERS * plain, np.minimum(df, told / overlap), df)
        same = apart[:, apart.shape[1] - 1 - per_year :: -per_year][:, ::-1]
        years = (~np.isnan(same)).sum(axis=1)
        yearly = np.where(np.isnan(same), 0, same - usual[:, None]) ** 2
        any_time, this_time = PRIOR_YEARS * variance, yearly.sum(axis=1)
        pooled = (any_time + this_time) / (PRIOR_YEARS + years)
        shared = (any_time + this_time) ** 2 / (any_time**2 / free + this_time**2 / years)
        free = np.where(pooled > variance, np.minimum(free, shared), free)
        variance = np.maximum(variance, pooled)
        # By how much the season leans on the stretch more than on the base before it.
        parts = []
        for lean, square in leans:
            late_lean, early_lean = lean[:, -stretch:], lean[:, -stretch - base : -stretch]
            parts.append((late_lean.mean(axis=1) - early_lean.mean(axis=1)) ** 2 * square)
        whole = variance + sum(parts)
        years_known = max(columns // per_year - 1, 1)
        free = whole**2 / (variance**2 / free + sum(one**2 for one in parts) / years_known)
        error = np.sqrt(whole)
        judged = np.where(root > 0, np.expm1(root * size) / np.where(root > 0, root, 1), size)
        t = np.where(error > 0, judged / error, np.where(size == 0, 0, np.inf))
        p = np.where(np.isnan(size), np.nan, 2 * stats.t.sf(np.abs(t), free))
    error, free = (np.where(np.isnan(size), np.nan, one) for one in (error, free))
    return Recent(size, error, free, p, np.zeros(n, dtype=np.int64), np.zeros(n))
