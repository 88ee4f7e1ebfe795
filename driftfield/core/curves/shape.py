"""Shape: what the calendar does to a curve, as a word with a confidence and a runner-up."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray
from scipy.special import chdtrc, ndtr

from driftfield.core.base import Bools, Floats, Ints, Period, Settings

from .level import block_sums
from .profile import SeasonProfile, best_share, correlations, recurrence


class Shape(StrEnum):
    """The six words; their order is that of the design."""

    EVERGREEN = "Evergreen"
    LEANING = "Leaning"
    SEASONAL = "Seasonal"
    OCCASION = "Occasion"
    FAD = "Fad"
    UNSETTLED = "Unsettled"


FAMILY = {
    Shape.EVERGREEN: "evergreen",
    Shape.LEANING: "evergreen",
    Shape.SEASONAL: "seasonal",
    Shape.OCCASION: "seasonal",
    Shape.FAD: "fad",
    Shape.UNSETTLED: "unsettled",
}

Words = NDArray[np.object_]
# How much more alike the years of one kind must be than those of both, as a correlation.
CHANGED = 0.2
# Poisson deviations of an even year's count that a fad's best year must stand out by; six of them leave
# room for the search for the best one.
BURST_SPREADS = 6


@dataclass(frozen=True, slots=True)
class ShapeReading:
    """Shapes of curves of one length, each field (subjects,).

    runner_up and provisional are None where there is none; confidence is NaN where the data do not
    allow one; reason is a sentence for Unsettled and None otherwise. peak_start is the slot in
    which the best quarter (for an Occasion the best four weeks) starts, peak_length its length.
    moved: share of the year's demand that falls in other blocks in the last two years than before,
    NaN where there are not two of both. changed: whether that is a change of season and not the
    years' own unevenness. recurring: whether the profile comes back at all.
    """

    shape: Words
    confidence: Floats
    runner_up: Words
    provisional: Words
    reason: Words
    best13: Floats
    best4: Floats
    recurrence: Floats
    peak_start: Ints
    peak_length: Ints
    moved: Floats
    changed: Bools
    recurring: Bools


@dataclass(frozen=True, slots=True)
class Gaps:
    """What is missing of curves as they came, (subjects,): the share of periods absent, 0–1, and how
    many are absent at the end."""

    missing: Floats
    tail: Ints


def excess_swing(profile: SeasonProfile) -> Floats:
    """Spread of the detrended block levels with the Poisson part of it taken out, (subjects,)."""
    if not profile.blocks.shape[1]:
        return np.zeros(len(profile.blocks))
    with np.errstate(invalid="ignore", divide="ignore"):
        noise = np.where(profile.expected > 0, 1 / profile.expected, 0).mean(axis=(1, 2))
    spread = profile.blocks.var(axis=(1, 2))
    swing: Floats = np.sqrt(np.maximum(spread - noise, 0))
    return swing


def beyond_counting(profile: SeasonProfile, alpha: float) -> Bools:
    """Whether block levels swing by more than Poisson counts around the level would, (subjects,).

    Pearson's chi-squared over all blocks of all years; True for relative curves, which do not count.
    """
    years, blocks = profile.blocks.shape[1:]
    if not years:
        return np.ones(len(profile.blocks), dtype=bool)
    index = ((profile.blocks - 1) ** 2 * profile.expected).sum(axis=(1, 2))
    p = chdtrc(years * (blocks - 1), index)
    return np.asarray((p < alpha) | np.isnan(profile.p_counts))


def _window_error(profile: SeasonProfile, share: Floats, blocks: int) -> Floats:
    """Standard error of a best-window share, from how unevenly the years fill their best window."""
    years = profile.blocks.shape[1]
    if years < 2:
        return np.full(len(share), 0.1)
    total = profile.blocks.sum(axis=2)
    pooled = profile.blocks.mean(axis=1)
    _, start = best_share(pooled, blocks)
    columns = (start[:, None] + np.arange(blocks)) % profile.blocks.shape[2]
    inside = np.take_along_axis(profile.blocks, columns[:, None, :], axis=2).sum(axis=2)
    yearly = np.where(total > 0, inside / np.where(total > 0, total, 1), share[:, None])
    error: Floats = np.maximum(yearly.std(axis=1, ddof=1) / np.sqrt(years), 0.005)
    return error


def _moved(profile: SeasonProfile, settings: Settings) -> tuple[Floats, Bools]:
    """Half the sum of differences between the last two years' shares by block and the older ones',
    and whether the season changed.

    What counting noise alone would move is taken off the first. The season changed when enough
    moved and the old years are like one another, and the new, by ``CHANGED`` more than old to new.
    """
    n, years, _ = profile.blocks.shape
    if years < 4:
        return np.full(n, np.nan), np.zeros(n, dtype=bool)
    seen = profile.blocks * profile.expected
    late, early = (part.sum(axis=1) for part in (seen[:, -2:], seen[:, :-2]))
    with np.errstate(invalid="ignore", divide="ignore"):
        totals = late.sum(axis=1, keepdims=True), early.sum(axis=1, keepdims=True)
        shares = late / totals[0], early / totals[1]
        apart = np.abs(shares[0] - shares[1]).sum(axis=1) / 2
        middle = (shares[0] + shares[1]) / 2
        # Mean absolute value of a normal error is its deviation times the root of 2 over pi.
        variance = profile.dispersion[:, None] * middle * (1 / totals[0] + 1 / totals[1])
        chance = np.sqrt(2 / np.pi * variance).sum(axis=1) / 2
        moved: Floats = np.where(np.isfinite(apart), np.maximum(apart - chance, 0), np.nan)
    pairs = correlations(profile.blocks)
    first, second = np.triu_indices(years, 1)
    new, old = first >= years - 2, second < years - 2
    within = np.minimum(pairs[:, new].mean(axis=1), pairs[:, old].mean(axis=1))
    between = pairs[:, ~new & ~old].mean(axis=1)
    with np.errstate(invalid="ignore"):
        changed = (moved >= settings.season_moved) & (within - between >= CHANGED)
        changed &= within >= settings.min_recurrence
    return moved, np.asarray(changed)


def _fad(values: Floats, period: Period, settings: Settings) -> tuple[Bools, Floats]:
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
    """``_fad`` week by week, for curves that may be one; ``least`` is the share that is asked for."""
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


def classify(
    values: Floats, profile: SeasonProfile, period: Period, gaps: Gaps, settings: Settings
) -> ShapeReading:
    """Shapes of curves (subjects, length), none absent, from their profiles.

    The thresholds are those of ``settings``. The confidence is the weakest link: the smallest of
    the probabilities, under a normal error, that each figure the reading rests on lies on its side
    of its threshold. The runner-up is the reading on that link's other side.
    """
    n, length = values.shape
    quarter, month = period.span(13), period.span(4)
    factors = profile.factors
    have: Bools = ~np.asarray(np.isnan(factors).any(axis=1))
    best13, peak13 = best_share(np.where(have[:, None], factors, 1), quarter)
    best4, peak4 = best_share(np.where(have[:, None], factors, 1), month)
    best13[~have] = np.nan
    best4[~have] = np.nan
    again = recurrence(profile.blocks, profile.expected)
    years = length / period.per_year

    swing = excess_swing(profile)
    error13 = _window_error(profile, best13, max(1, round(quarter / period.block)))
    error4 = _window_error(profile, best4, 1)
    with np.errstate(invalid="ignore", divide="ignore"):
        p_ever = ndtr((settings.evergreen_best13 - best13) / error13)
        p_season = ndtr((best13 - settings.seasonal_best13) / error13)
        p_occasion = ndtr((best4 - settings.occasion_best4) / error4)
        bounded = np.clip(again, -0.999, 0.999)
        # Fisher's z on 13 (or 12) blocks.
        z = np.arctanh(bounded) - np.arctanh(settings.min_recurrence)
        p_again = ndtr(z * np.sqrt(profile.blocks.shape[2] - 3))
        p_swing = ndtr((swing - settings.large_swing) / (0.15 * np.maximum(swing, 0.05)))
    p_test = np.where(
        profile.significant, 1.0, 0.5 + np.fmax(profile.p_recurring, np.nan_to_num(profile.p_counts)) / 2
    )  # fmt: skip

    provisional_data = years < settings.min_years
    # What is borrowed recurs by the category's record; own counts are too few to say.
    recurring = np.asarray((again >= settings.min_recurrence) | (profile.borrowed > 0))
    claimed: Bools = np.asarray(profile.significant & recurring)
    burst, beyond = _fad(values, period, settings)
    # A handful of counts may fall into one year by chance.
    even = values.sum(axis=1) * period.per_year / max(length, 1)
    with np.errstate(invalid="ignore"):
        least = settings.fad_share - 0.2
        chance = least * values.sum(axis=1) < BURST_SPREADS * np.sqrt(even)
    burst &= ~chance | np.isnan(profile.p_counts)
    # A burst's own level makes the quiet before and after it look average, and alike in other years;
    # so its years must be alike as they came, too.
    rows = np.flatnonzero(burst & recurring)
    as_came = recurrence(profile.blocks[rows] * profile.expected[rows])
    faded = burst & ~recurring
    faded[rows] = as_came < settings.min_recurrence
    if provisional_data:
        # One year or so: the calendar cannot be told from a single event, so size alone speaks.
        claimed = have
        again_word = np.zeros(n, dtype=bool)
    else:
        again_word = ~recurring | ~profile.significant

    shape = np.full(n, Shape.EVERGREEN, dtype=object)
    runner = np.full(n, Shape.LEANING, dtype=object)
    confidence = np.where(profile.significant, p_ever, p_test)

    def assign(where: np.ndarray, word: Shape, links: list[tuple[Floats, Shape]]) -> None:
        shape[where] = word
        chances = np.stack([np.broadcast_to(chance, (n,)) for chance, _ in links])
        weakest = np.nan_to_num(chances, nan=1.0).argmin(axis=0)
        confidence[where] = np.take_along_axis(chances, weakest[None], axis=0)[0][where]
        others = np.array([other for _, other in links], dtype=object)
        runner[where] = others[weakest][where]

    leaning = claimed & (best13 >= settings.evergreen_best13)
    assign(
        leaning,
        Shape.LEANING,
        [(1 - p_ever, Shape.EVERGREEN), (1 - p_season, Shape.SEASONAL), (p_again, Shape.UNSETTLED)],
    )
    seasonal = claimed & (best13 >= settings.seasonal_best13)
    assign(
        seasonal,
        Shape.SEASONAL,
        [(p_season, Shape.LEANING), (1 - p_occasion, Shape.OCCASION), (p_again, Shape.UNSETTLED)],
    )
    occasion = claimed & (best4 >= settings.occasion_best4)
    assign(occasion, Shape.OCCASION, [(p_occasion, Shape.SEASONAL), (p_again, Shape.UNSETTLED)])
    wild = again_word & ~claimed & (swing > settings.large_swing)
    wild &= beyond_counting(profile, settings.count_alpha)
    assign(wild, Shape.UNSETTLED, [(p_swing, Shape.EVERGREEN), (1 - p_again, Shape.SEASONAL)])
    assign(faded, Shape.FAD, [(ndtr(beyond / 0.05), Shape.UNSETTLED)])

    reason = np.full(n, None, dtype=object)
    reason[shape == Shape.UNSETTLED] = (
        "It swings widely, and the swings do not come back at the same time of year."
    )
    provisional = np.full(n, None, dtype=object)
    whole = f"{settings.min_years:g} years"
    lacks = [
        (gaps.missing > settings.max_missing, "Too many {p}s are missing to tell."),
        (np.full(n, provisional_data), f"Under {whole} of unbroken figures; {whole} are needed."),
        (gaps.tail > settings.bridge_periods, "The latest {p}s are missing."),
        (values.sum(axis=1) <= 0, "There were no searches at all."),
    ]
    for where, text in lacks:
        provisional[where] = np.where(shape[where] == Shape.UNSETTLED, None, shape[where])
        reason[where] = text.format(p=period.value)
    lacking = np.any([where for where, _ in lacks], axis=0)
    runner[lacking] = provisional[lacking]
    shape[lacking] = Shape.UNSETTLED
    confidence[lacking] = np.nan

    moved, changed = _moved(profile, settings)
    is_occasion = best4 >= settings.occasion_best4
    return ShapeReading(
        shape=shape,
        confidence=confidence,
        runner_up=runner,
        provisional=provisional,
        reason=reason,
        best13=best13,
        best4=best4,
        recurrence=again,
        peak_start=np.where(is_occasion, peak4, peak13),
        peak_length=np.where(is_occasion, month, quarter),
        moved=moved,
        changed=changed,
        recurring=claimed,
    )
