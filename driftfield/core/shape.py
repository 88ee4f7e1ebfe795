"""Shape: what the calendar does to a curve, as a word with a confidence and a runner-up."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr

from .periods import Bools, Floats, Ints, Period
from .profile import SeasonProfile, best_share, recurrence
from .settings import Settings


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


@dataclass(frozen=True, slots=True)
class ShapeReading:
    """Shapes of curves of one length, each field (subjects,).

    runner_up and provisional are None where there is none; confidence is NaN where the data do not
    allow one; reason is a sentence for Unsettled and None otherwise. peak_start is the slot in
    which the best quarter (for an Occasion the best four weeks) starts, peak_length its length.
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


def _excess_swing(profile: SeasonProfile) -> Floats:
    """Spread of the detrended block levels with the Poisson part of it taken out."""
    with np.errstate(invalid="ignore", divide="ignore"):
        noise = np.where(profile.expected > 0, 1 / profile.expected, 0).mean(axis=(1, 2))
    spread = profile.blocks.var(axis=(1, 2))
    swing: Floats = np.sqrt(np.maximum(spread - noise, 0))
    return swing


def _window_error(profile: SeasonProfile, factors: Floats, share: Floats, blocks: int) -> Floats:
    """Standard error of a best-window share, from how unevenly the years fill their best window."""
    years = profile.blocks.shape[1]
    if years < 2:
        return np.full(len(factors), 0.1)
    total = profile.blocks.sum(axis=2)
    pooled = profile.blocks.mean(axis=1)
    _, start = best_share(pooled, blocks)
    columns = (start[:, None] + np.arange(blocks)) % profile.blocks.shape[2]
    inside = np.take_along_axis(profile.blocks, columns[:, None, :], axis=2).sum(axis=2)
    yearly = np.where(total > 0, inside / np.where(total > 0, total, 1), share[:, None])
    error: Floats = np.maximum(yearly.std(axis=1, ddof=1) / np.sqrt(years), 0.005)
    return error


def classify(
    values: Floats,
    profile: SeasonProfile,
    period: Period,
    missing: Floats,
    tail: Ints,
    settings: Settings,
) -> ShapeReading:
    """Shapes of curves (subjects, length), none absent, from their profiles.

    ``missing`` is the share of absent periods and ``tail`` the number absent at the end, as the
    curves came. The thresholds are those of ``settings``. The confidence is the weakest link: the
    smallest of the probabilities, under a normal error, that each figure the reading rests on lies
    on its side of its threshold. The runner-up is the reading on that link's other side.
    """
    n, length = values.shape
    quarter, month = period.span(13), period.span(4)
    factors = profile.factors
    have: Bools = ~np.asarray(np.isnan(factors).any(axis=1))
    best13, peak13 = best_share(np.where(have[:, None], factors, 1), quarter)
    best4, peak4 = best_share(np.where(have[:, None], factors, 1), month)
    best13[~have] = np.nan
    best4[~have] = np.nan
    again = recurrence(profile.blocks)
    years = length / period.per_year

    swing = _excess_swing(profile) if profile.blocks.shape[1] else np.zeros(n)
    error13 = _window_error(profile, factors, best13, max(1, round(quarter / period.block)))
    error4 = _window_error(profile, factors, best4, 1)
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

    year = period.per_year
    sums = np.concatenate([np.zeros((n, 1)), np.cumsum(values, axis=1)], axis=1)
    best_year = (sums[:, year:] - sums[:, :-year]).max(axis=1) if length >= year else sums[:, -1]
    with np.errstate(invalid="ignore", divide="ignore"):
        bulk = best_year / sums[:, -1]
        remnant = (sums[:, -1] - sums[:, -1 - quarter]) / quarter / (best_year / year)

    provisional_data = years < settings.min_years
    recurring = np.asarray(again >= settings.min_recurrence)
    claimed: Bools = np.asarray(profile.significant & recurring)

    faded = (
        (bulk >= settings.fad_share) & (remnant <= settings.fad_remnant) & ~recurring & (years >= 3)
    )
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
    assign(wild, Shape.UNSETTLED, [(p_swing, Shape.EVERGREEN), (1 - p_again, Shape.SEASONAL)])
    assign(faded, Shape.FAD, [(ndtr((bulk - settings.fad_share) / 0.05), Shape.UNSETTLED)])

    reason = np.full(n, None, dtype=object)
    reason[shape == Shape.UNSETTLED] = (
        "It swings widely, and the swings do not come back at the same time of year."
    )
    provisional = np.full(n, None, dtype=object)
    whole = f"{settings.min_years:g} years"
    lacks = [
        (missing > settings.max_missing, "Too many {p}s are missing to tell."),
        (np.full(n, provisional_data), f"Under {whole} of unbroken figures; {whole} are needed."),
        (tail > settings.bridge_periods, "The latest {p}s are missing."),
        (sums[:, -1] <= 0, "There were no searches at all."),
    ]
    for where, text in lacks:
        provisional[where] = np.where(shape[where] == Shape.UNSETTLED, None, shape[where])
        reason[where] = text.format(p=period.value)
    lacking = np.any([where for where, _ in lacks], axis=0)
    runner[lacking] = provisional[lacking]
    shape[lacking] = Shape.UNSETTLED
    confidence[lacking] = np.nan

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
    )
