"""Drift: what is left of a curve when the calendar is taken out.

The rate is a Theil–Sen slope (Theil 1950; Sen 1968, JASA 63) of the logarithm of deseasonalised
four-week levels, with Sen's interval; its variance is widened for lag-one autocorrelation
(Bayley & Hammersley 1946), without which intervals on weekly demand come out far too narrow.
Level shifts (see ``steps``) are taken out first.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import ndtri

from driftfield.core.base import Bools, Floats, Ints, Period, Settings, row_products

from .level import block_sums
from .level_shifts import MAX_SHIFTS, Shifts, level_shifts, week_of_shift

MIN_BLOCKS = 8  # Below this many informative blocks (four a year) a median of slopes says little.
STANDING = 8  # Latest blocks in which a shift is a recent move, whatever the search for shifts makes of it.
LATE = 26  # Weeks behind the late rate, and so behind the acceleration.
UNEVEN = (
    0.1  # What one year's season differs from the next by itself, where nothing better is known.
)


class Drift(StrEnum):
    """The words for what is left without the calendar."""

    RISING = "Rising"
    HOLDING = "Holding"
    EASING = "Easing"
    STEPPED_UP = "Stepped up"
    STEPPED_DOWN = "Stepped down"


@dataclass(frozen=True, slots=True)
class DriftReading:
    """Each (subjects,) unless it says otherwise. Rates are fractions a year.

    word is None and the figures NaN where a rate cannot be taken. late, late_low, late_high: the
    rate of the last 26 weeks. acceleration: how much faster a year those are than the whole window.
    shifts: (subjects, MAX_SHIFTS) fraction of each level shift, NaN for none, in order of time; shifts_at
    the column at which each new level starts, -1 for none. levels: (subjects, blocks) the log
    deseasonalised levels, at today's level where it shifted; standing: the same, but for shifts of the last
    ``STANDING`` blocks, which stand. slope and slope_error: log change a
    block and its standard error.
    """

    word: np.ndarray
    rate: Floats
    low: Floats
    high: Floats
    late: Floats
    late_low: Floats
    late_high: Floats
    acceleration: Floats
    shifts: Floats
    shifts_at: Ints
    levels: Floats
    standing: Floats
    slope: Floats
    slope_error: Floats


def block_levels(
    values: Floats, calendar: Floats, block: int, *, counts: bool = True, floor: float = 0.25
) -> Floats:
    """Take the logarithms of deseasonalised block levels, counted back from the end.

    A level is the block's sum over the sum of ``calendar``, so true zeros out of season do no harm.
    Half a count is added, as usual for logarithms of counts; to a relative curve a thousandth of its
    mean.

    Parameters
    ----------
    values : array (subjects, length)
        Counts or relative figures by period.
    calendar : array (subjects, length)
        The season's factor in each period, 1 in the middle of the year.
    block : int
        Periods of a block.
    counts : bool
        Whether ``values`` are counts.
    floor : float
        Blocks in which the calendar brings less than this share of an average block carry no
        information on the level.

    Returns
    -------
    array (subjects, blocks)
        Logarithms of levels a period; NaN where a block carries no information.
    """
    seen, usual = block_sums(values, block), block_sums(calendar, block)
    total = seen.sum(axis=1, keepdims=True)
    half = 0.5 if counts else 1e-3 * total / max(seen.shape[1], 1)
    known = (usual >= floor * block) & (seen + half > 0)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(known, np.log((seen + half) / usual), np.nan)


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
    """Compute the median slope per column with its interval.

    Parameters
    ----------
    levels : array (subjects, columns)
        Levels, usually logarithms, NaN where absent.
    coverage : float
        Coverage of the interval, 0–1.
    lag : int, optional
        Only values that many columns apart are compared: the seasonal Kendall slope, which a misjudged
        season cannot bend. By default all pairs are.

    Returns
    -------
    slope, low, high : array (subjects,)
        Change a column; NaN with under two values.

    References
    ----------
    Sen (1968), JASA 63; with ``lag`` Hirsch, Slack & Smith (1982), Water Resources Research 18.
    """
    n, columns = levels.shape
    first, second = np.triu_indices(columns, 1)
    if lag is not None:
        apart = (second - first) % lag == 0
        first, second = first[apart], second[apart]
    if not len(first):
        unknown = np.full(n, np.nan)
        return unknown, unknown.copy(), unknown.copy()
    count = (~np.isnan(levels)).sum(axis=1)
    whole = count == columns
    slopes = np.empty((n, len(first)), dtype=levels.dtype)
    if whole.any():
        # All differences at once, as a product with a matrix of contrasts.
        contrasts = np.zeros((columns, len(first)), dtype=levels.dtype)
        contrasts[second, np.arange(len(first))] = 1 / (second - first)
        contrasts[first, np.arange(len(first))] = -1 / (second - first)
        if whole.all():
            slopes = row_products(levels, contrasts)
        else:
            slopes[whole] = row_products(levels[whole], contrasts)
    pairs = np.full(n, len(first))
    if not whole.all():
        gaps = np.take(levels[~whole], second, axis=1)
        gaps -= np.take(levels[~whole], first, axis=1)
        gaps /= (second - first).astype(levels.dtype)
        slopes[~whole], pairs[~whole] = gaps, (~np.isnan(gaps)).sum(axis=1)
    slopes.sort(axis=1)  # NaN last
    rows = np.arange(n)

    def at(place: Floats) -> Floats:
        place = np.clip(place, 0, np.maximum(pairs - 1, 0))
        below = np.floor(place).astype(np.int64)
        above = np.minimum(below + 1, np.maximum(pairs - 1, 0))
        share = place - below
        found: Floats = slopes[rows, below] * (1 - share) + slopes[rows, above] * share
        return np.where(pairs > 0, found, np.nan)

    middle = at((pairs - 1) / 2)
    residual = levels - np.nan_to_num(middle)[:, None] * np.arange(columns)
    rho = _autocorrelation(residual)
    # Var(S) of Kendall's statistic; for two values a season it is one a pair.
    variance = pairs if lag is not None else count * (count - 1) * (2 * count + 5) / 18
    reach = ndtri(0.5 + coverage / 2) * np.sqrt(variance * (1 + rho) / (1 - rho))
    return middle, at((pairs - reach) / 2 - 0.5), at((pairs + reach) / 2 - 0.5)


def _rates(
    window: Floats, wide: Bools, per_year: int, settings: Settings
) -> tuple[Floats, Floats, Floats]:
    """Slopes of a window of levels, by years apart where the profile swings widely."""
    # Half the bytes to sort, and seven digits are more than a slope of counts has.
    narrow = window.astype(np.float32)
    found = np.full((3, len(window)), np.nan)
    apart = wide & (window.shape[1] > per_year)
    # Curves that are whole go by themselves, for they are quicker.
    whole = ~apart & ~np.isnan(narrow).any(axis=1)
    for some, lag in ((whole, None), (~apart & ~whole, None), (apart, per_year)):
        if some.any():
            found[:, some] = theil_sen(narrow[some], settings.interval, lag)
    return found[0], found[1], found[2]


def read_drift(
    values: Floats,
    calendar: Floats,
    period: Period,
    settings: Settings,
    steady: Bools,
    wide: Bools,
    *,
    dispersion: Floats,
    counts: bool = True,
) -> DriftReading:
    """Drift of curves (subjects, length), none absent, with the season's factors (subjects, length).

    ``steady`` (subjects,) says which may have a level shift at all: no split describes a burst that
    came and went. ``wide`` says where the profile swings so widely that only blocks a whole year
    apart are compared. ``dispersion`` (subjects,) is the variance of a block over its expectation.

    The rate is taken from the last ``drift_weeks``; level shifts inside the record are taken out
    of it first, and name the drift when one lies inside those weeks. Where fewer than eight blocks
    carry information, as for a good sold three weeks a year, the rate is the last 52 weeks over the
    52 before, with an interval from counting noise and 10% for the years' own unevenness.
    """
    block, year = period.block, period.per_year
    per_year = year // block
    levels = block_levels(values, calendar, block, counts=counts)
    columns = levels.shape[1]
    recent = min(columns, period.span(settings.drift_weeks) // block)
    shifts = level_shifts(levels, steady, settings)
    moved = _without_shifts(levels, shifts)
    window = moved[:, columns - recent :]
    slopes = _rates(window, wide, per_year, settings)
    sparse = (~np.isnan(window)).sum(axis=1) < MIN_BLOCKS
    between = _year_on_year(values, period, dispersion, counts, settings)
    slope, low, high = (np.where(sparse, b, s) for s, b in zip(slopes, between, strict=True))
    late, late_low, late_high = _late_rate(moved, wide, period, settings)
    unknown = (values.sum(axis=1) <= 0) | (values.shape[1] < 2 * year)
    for figure in (slope, low, high, late, late_low, late_high):
        figure[unknown] = np.nan

    def yearly(log: Floats) -> Floats:
        with np.errstate(over="ignore"):
            return np.asarray(np.expm1(log * per_year), dtype=np.float64)

    rate, rate_low, rate_high = yearly(slope), yearly(low), yearly(high)
    z = ndtri(0.5 + settings.interval / 2)
    return DriftReading(
        word=_words(rate, rate_low, rate_high, shifts, columns - recent, settings),
        rate=rate,
        low=rate_low,
        high=rate_high,
        late=yearly(late),
        late_low=yearly(late_low),
        late_high=yearly(late_high),
        acceleration=yearly(late - slope),
        shifts=np.where(shifts.at >= 0, np.expm1(shifts.size), np.nan),
        shifts_at=_weeks(values, calendar, shifts.at, values.shape[1] - columns * block, block),
        # At today's level throughout, as if the latest shift had always been.
        levels=moved + shifts.size.sum(axis=1, keepdims=True),
        standing=_without_shifts(levels, shifts, columns - STANDING),
        slope=np.asarray(slope, dtype=np.float64),
        slope_error=np.asarray((high - low) / (2 * z), dtype=np.float64),
    )


def _without_shifts(levels: Floats, shifts: Shifts, before: int | None = None) -> Floats:
    """Levels with their shifts taken out, or with those that lie before a block, (subjects, blocks)."""
    stepped = np.flatnonzero(shifts.found)
    if not stepped.size:
        return levels
    if before is not None:
        early = (shifts.at >= 0) & (shifts.at < before)
        shifts = Shifts(np.where(early, shifts.size, 0), np.where(early, shifts.at, -1))
    moved = levels.copy()
    moved[stepped] -= shifts.course(levels.shape[1])[stepped]
    return moved


def _year_on_year(
    values: Floats, period: Period, dispersion: Floats, counts: bool, settings: Settings
) -> tuple[Floats, Floats, Floats]:
    """Slope a block of the last 52 weeks over the 52 before, with its interval, (subjects,) each."""
    year = period.per_year
    per_year = year // period.block
    last = values[:, -year:].sum(axis=1)
    prior = values[:, -2 * year : -year].sum(axis=1)
    z = ndtri(0.5 + settings.interval / 2)
    with np.errstate(invalid="ignore", divide="ignore"):
        half = 0.5 if counts else 1e-3 * (last + prior)
        late_year, early_year = last + half, prior + half
        slope = np.log(late_year / early_year) / per_year
        # The years' own unevenness is in the dispersion only as far as single blocks show it.
        chance = np.nan_to_num(dispersion, nan=1.0) * (1 / late_year + 1 / early_year)
        reach = z * np.sqrt(chance + UNEVEN**2) / per_year
    return slope, slope - reach, slope + reach


def _late_rate(
    moved: Floats, wide: Bools, period: Period, settings: Settings
) -> tuple[Floats, Floats, Floats]:
    """Slope of the latest half year with its interval, (subjects,) each; NaN where it has gaps."""
    window = moved[:, moved.shape[1] - period.span(LATE) // period.block :]
    known = ~wide & ~np.isnan(window).any(axis=1)
    late, low, high = np.full((3, len(moved)), np.nan)
    late[known], low[known], high[known] = theil_sen(window[known], settings.interval)
    return late, low, high


def _words(
    rate: Floats, low: Floats, high: Floats, shifts: Shifts, since: int, settings: Settings
) -> np.ndarray:
    """What each drift is called; ``since`` is the block from which on a level shift names it."""
    word = np.full(len(rate), Drift.HOLDING, dtype=object)
    word[(low > 0) & (rate > settings.drift_rate)] = Drift.RISING
    word[(high < 0) & (rate < -settings.drift_rate)] = Drift.EASING
    latest = np.where(shifts.at >= since, shifts.size, 0)
    for place in range(MAX_SHIFTS):  # the last one that lies in the window names it
        word[latest[:, place] > 0] = Drift.STEPPED_UP
        word[latest[:, place] < 0] = Drift.STEPPED_DOWN
    word[np.isnan(rate)] = None
    return word


def _weeks(values: Floats, calendar: Floats, at: Ints, offset: int, block: int) -> Ints:
    """Columns at which the new levels start, from the blocks at which they do."""
    columns = np.where(at >= 0, offset + at * block, -1)
    if block == 1:
        return columns
    for place in range(at.shape[1]):
        rows = np.flatnonzero(at[:, place] >= 0)
        if rows.size:
            with np.errstate(divide="ignore", invalid="ignore"):
                ratio = (values[rows] + 0.5) / calendar[rows]
                logs = np.where(calendar[rows] >= 0.25, np.log(ratio), np.nan)
            columns[rows, place] = week_of_shift(logs, columns[rows, place])
    return columns
