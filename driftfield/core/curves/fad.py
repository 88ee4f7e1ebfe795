"""Fads: one bulk of demand that does not come back."""

from __future__ import annotations

import numpy as np

from driftfield.core.base import Bools, Floats, Period, Settings

from .level import block_sums
from .profile import SeasonProfile
from .recurrence import recurrence

# Poisson deviations of an even year's count that a fad's best year must stand out by; six of them leave
# room for the search for the best one.
BURST_SPREADS = 6


def fads(
    values: Floats,
    profile: SeasonProfile,
    recurring: Bools,
    gone: Bools,
    period: Period,
    settings: Settings,
) -> tuple[Bools, Floats]:
    """Curves that are a fad, and how far their burst's share lies beyond the threshold, (subjects,).

    ``values`` is (subjects, length), none absent; ``recurring`` says whose profile comes back, ``gone``
    whose demand is gone.
    """
    burst, beyond = _stands_out(values, period, settings)
    # A handful of counts may fall into one year by chance.
    total = values.sum(axis=1)
    even = total * period.per_year / max(values.shape[1], 1)
    with np.errstate(invalid="ignore"):
        chance = (settings.fad_share - 0.2) * total < BURST_SPREADS * np.sqrt(even)
    burst &= ~chance | np.isnan(profile.p_counts)
    # A burst's own level makes the quiet before and after it look average, and alike in other years;
    # so its years must be alike as they came, too.
    rows = np.flatnonzero(burst & recurring)
    as_came = recurrence(profile.blocks[rows] * profile.expected[rows])
    faded = burst & ~recurring
    faded[rows] = as_came < settings.min_recurrence
    rows = np.flatnonzero(gone)
    over, share = _over(values[rows], period, settings)
    faded[rows] |= over
    beyond[rows] = np.where(over, np.maximum(beyond[rows], share), beyond[rows])
    return faded, beyond


def _over(values: Floats, period: Period, settings: Settings) -> tuple[Bools, Floats]:
    """Whether one bulk carries curves whose demand is gone, and how far its share is beyond the threshold.

    That it is gone, and not by chance, is known; so neither a remnant nor noise need be asked after. A
    record under three years holds no more than one or two years of demand before the empty one: there the
    bulk is that of a half year, or what was level for a year and ended would be a fad.
    """
    length = values.shape[1]
    short = length < 3 * period.per_year
    window = period.span(26) if short else period.per_year
    even = window / length
    least = even + (settings.fad_share - 0.2) / 0.8 * (1 - even)
    sums = np.cumsum(np.pad(values, ((0, 0), (1, 0))), axis=1)
    best = (sums[:, window:] - sums[:, :-window]).max(axis=1, initial=0)
    with np.errstate(invalid="ignore", divide="ignore"):
        share = best / sums[:, -1] - least
    return np.asarray(share >= 0), np.asarray(share)


def _stands_out(values: Floats, period: Period, settings: Settings) -> tuple[Bools, Floats]:
    """Whether one bulk carries a record and is gone, and how far its share is beyond the threshold.

    The threshold is for five years; what counts is how far the share stands from an even spread
    over the years, for one year of two is half of the record by itself. A record that only dwindles,
    at one steady pace, holds no burst: half a year after its best half year it still has a third.
    """
    n, length = values.shape
    burst, beyond = np.zeros(n, dtype=bool), np.zeros(n)
    if length < 2 * period.per_year:
        return burst, beyond
    # Most curves are out of the question by their sums of four weeks, at a quarter of the work.
    blocks = block_sums(values, period.block)
    year = period.per_year // period.block
    sums = np.cumsum(np.pad(blocks, ((0, 0), (1, 0))), axis=1)
    even = period.per_year / length
    least = even + (settings.fad_share - 0.2) / 0.8 * (1 - even)
    best = (sums[:, year:] - sums[:, :-year]).max(axis=1)
    rows = np.flatnonzero(best >= (least - 0.15) * sums[:, -1])
    burst[rows], beyond[rows] = _burst(values[rows], period, least, settings)
    return burst, beyond


def _burst(
    values: Floats, period: Period, least: float, settings: Settings
) -> tuple[Bools, Floats]:
    """``_stands_out`` week by week, for curves that may be one; ``least`` is the share that is asked for."""
    n = len(values)
    year, quarter = period.per_year, period.span(13)
    half = 2 * quarter
    sums = np.cumsum(np.pad(values, ((0, 0), (1, 0))), axis=1)
    total = sums[:, -1]
    best_year = (sums[:, year:] - sums[:, :-year]).max(axis=1)
    windows = sums[:, half:] - sums[:, :-half]
    start = windows.argmax(axis=1)
    rows = np.arange(n)
    # From a quarter after the best half year on, or as late as the record allows.
    later = np.minimum(start + half + quarter, windows.shape[1] - 1)
    with np.errstate(invalid="ignore", divide="ignore"):
        bulk = best_year / total
        remnant = (total - sums[:, -1 - quarter]) / quarter / (best_year / year)
        left = windows[rows, later] / windows[rows, start]
    burst = (bulk >= least) & (remnant <= settings.fad_remnant) & (left <= 0.35)
    return np.asarray(burst), np.asarray(bulk - least)
