"""Shape: what the calendar does to a curve, as a word with a confidence and a runner-up."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray
from scipy.special import chdtrc, ndtr

from driftfield.core.base import Bools, Floats, Ints, Period, Settings

from .fad import fads
from .gone import Gone, read_gone
from .profile import SeasonProfile, best_share
from .recurrence import correlations, recurrence


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


@dataclass(frozen=True, slots=True)
class ShapeReading:
    """Shapes of curves of one length, each field (subjects,).

    runner_up and provisional are None where there is none; confidence is NaN where the data do not
    allow one; reason is a sentence for Unsettled and None otherwise. peak_start is the slot in
    which the best quarter (for an Occasion the best four weeks) starts, peak_length its length.
    moved: share of the year's demand that falls in other blocks in the last two years than before,
    NaN where there are not two of both. changed: whether that is a change of season and not the
    years' own unevenness. recurring: whether the profile comes back at all. gone_since: column from which
    on there is next to no demand, -1 where there is some.
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
    gone_since: Ints


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


@dataclass(frozen=True, slots=True)
class _Measures:
    """What a shape is decided by, (subjects,) each; peaks are the slots in which a window starts."""

    best13: Floats
    best4: Floats
    peak13: Ints
    peak4: Ints
    recurrence: Floats
    swing: Floats
    recurring: Bools
    significant: Bools


@dataclass(frozen=True, slots=True)
class _Chances:
    """Probabilities, under a normal error, that a measure lies on its side of its threshold,
    (subjects,): under Evergreen's, over Seasonal's, over Occasion's, and that the profile recurs or
    swings widely. no_season: that there is none, by the tests of significance."""

    evergreen: Floats
    seasonal: Floats
    occasion: Floats
    recurs: Floats
    swings: Floats
    no_season: Floats


def _measure(profile: SeasonProfile, period: Period, settings: Settings) -> _Measures:
    have: Bools = ~np.asarray(np.isnan(profile.factors).any(axis=1))
    factors = np.where(have[:, None], profile.factors, 1)
    best13, peak13 = best_share(factors, period.span(13))
    best4, peak4 = best_share(factors, period.span(4))
    best13[~have] = np.nan
    best4[~have] = np.nan
    again = recurrence(profile.blocks, profile.expected)
    # What is borrowed recurs by the category's record; own counts are too few to say.
    recurring = np.asarray((again >= settings.min_recurrence) | (profile.borrowed > 0))
    return _Measures(
        best13, best4, peak13, peak4, again, excess_swing(profile), recurring, profile.significant
    )


def _chances(
    found: _Measures, profile: SeasonProfile, period: Period, settings: Settings
) -> _Chances:
    error13 = _window_error(profile, found.best13, max(1, round(period.span(13) / period.block)))
    error4 = _window_error(profile, found.best4, 1)
    with np.errstate(invalid="ignore", divide="ignore"):
        bounded = np.clip(found.recurrence, -0.999, 0.999)
        # Fisher's z on 13 (or 12) blocks.
        z = np.arctanh(bounded) - np.arctanh(settings.min_recurrence)
        wide = (found.swing - settings.large_swing) / (0.15 * np.maximum(found.swing, 0.05))
        return _Chances(
            evergreen=ndtr((settings.evergreen_best13 - found.best13) / error13),
            seasonal=ndtr((found.best13 - settings.seasonal_best13) / error13),
            occasion=ndtr((found.best4 - settings.occasion_best4) / error4),
            recurs=ndtr(z * np.sqrt(profile.blocks.shape[2] - 3)),
            swings=ndtr(wide),
            no_season=0.5 + np.fmax(profile.p_recurring, np.nan_to_num(profile.p_counts)) / 2,
        )


@dataclass(frozen=True, slots=True)
class _Decision:
    """Words of curves, how sure they are and what comes second, (subjects,) each."""

    shape: Words
    confidence: Floats
    runner_up: Words

    @classmethod
    def evergreen(cls, found: _Measures, chance: _Chances) -> _Decision:
        """Every curve is Evergreen until something speaks against it."""
        n = len(found.best13)
        return cls(
            np.full(n, Shape.EVERGREEN, dtype=object),
            np.where(found.significant, chance.evergreen, chance.no_season),
            np.full(n, Shape.LEANING, dtype=object),
        )  # fmt: skip

    def assign(self, where: Bools, word: Shape, links: list[tuple[Floats, Shape]]) -> None:
        """Some curves are ``word``, as sure as the weakest of ``links``, whose other side comes second."""
        n = len(self.shape)
        self.shape[where] = word
        chances = np.stack([np.broadcast_to(chance, (n,)) for chance, _ in links])
        weakest = np.nan_to_num(chances, nan=1.0).argmin(axis=0)
        self.confidence[where] = np.take_along_axis(chances, weakest[None], axis=0)[0][where]
        others = np.array([other for _, other in links], dtype=object)
        self.runner_up[where] = others[weakest][where]


def _decide(
    found: _Measures, chance: _Chances, claimed: Bools, wild: Bools, faded: Bools, beyond: Floats,
    settings: Settings,
) -> _Decision:  # fmt: skip
    """The words, from the mildest season to the strongest, then what is no season at all."""
    made = _Decision.evergreen(found, chance)
    made.assign(
        claimed & (found.best13 >= settings.evergreen_best13),
        Shape.LEANING,
        [
            (1 - chance.evergreen, Shape.EVERGREEN),
            (1 - chance.seasonal, Shape.SEASONAL),
            (chance.recurs, Shape.UNSETTLED),
        ],
    )
    made.assign(
        claimed & (found.best13 >= settings.seasonal_best13),
        Shape.SEASONAL,
        [
            (chance.seasonal, Shape.LEANING),
            (1 - chance.occasion, Shape.OCCASION),
            (chance.recurs, Shape.UNSETTLED),
        ],
    )
    made.assign(
        claimed & (found.best4 >= settings.occasion_best4),
        Shape.OCCASION,
        [(chance.occasion, Shape.SEASONAL), (chance.recurs, Shape.UNSETTLED)],
    )
    made.assign(
        wild,
        Shape.UNSETTLED,
        [(chance.swings, Shape.EVERGREEN), (1 - chance.recurs, Shape.SEASONAL)],
    )
    made.assign(faded, Shape.FAD, [(ndtr(beyond / 0.05), Shape.UNSETTLED)])
    return made


def _explain(
    made: _Decision, total: Floats, short: bool, ended: Gone, gaps: Gaps, period: Period, settings: Settings
) -> tuple[Words, Words]:  # fmt: skip
    """Why curves are Unsettled, and what they would be; what lacks figures becomes so, in place."""
    n = len(made.shape)
    reason = np.full(n, None, dtype=object)
    reason[made.shape == Shape.UNSETTLED] = (
        "It swings widely, and the swings do not come back at the same time of year."
    )
    provisional = np.full(n, None, dtype=object)
    whole = f"{settings.min_years:g} years"
    lacks = [
        (gaps.missing > settings.max_missing, "Too many {p}s are missing to tell."),
        # That a burst is over shows in a shorter record, too.
        (
            short & ~(ended.gone & (made.shape == Shape.FAD)),
            f"Under {whole} of unbroken figures; {whole} are needed.",
        ),
        (
            ended.empty & (made.shape != Shape.FAD),
            f"The last {period.span(52)} {{p}}s are all but empty, and few searches came before.",
        ),
        (
            ended.gone & (made.shape != Shape.FAD),
            f"The last {period.span(52)} {{p}}s are all but empty.",
        ),
        (gaps.tail > settings.bridge_periods, "The latest {p}s are missing."),
        (total <= 0, "There were no searches at all."),
    ]
    for where, text in lacks:
        provisional[where] = np.where(made.shape[where] == Shape.UNSETTLED, None, made.shape[where])
        reason[where] = text.format(p=period.value)
    provisional[total <= 0] = None  # Of nothing there is no shape, not even so far.
    lacking = np.any([where for where, _ in lacks], axis=0)
    made.runner_up[lacking] = provisional[lacking]
    made.shape[lacking] = Shape.UNSETTLED
    made.confidence[lacking] = np.nan
    return reason, provisional


def classify(
    values: Floats,
    profile: SeasonProfile,
    period: Period,
    gaps: Gaps,
    settings: Settings,
    *,
    counts: bool = True,
) -> ShapeReading:
    """Shapes of curves (subjects, length), none absent, from their profiles; ``counts`` says what they are.

    The thresholds are those of ``settings``. The confidence is the weakest link: the smallest of
    the probabilities, under a normal error, that each figure the reading rests on lies on its side
    of its threshold. The runner-up is the reading on that link's other side.
    """
    found = _measure(profile, period, settings)
    chance = _chances(found, profile, period, settings)
    short = values.shape[1] / period.per_year < settings.min_years
    # One year or so: the calendar cannot be told from a single event, so size alone speaks.
    known = ~np.asarray(np.isnan(profile.factors).any(axis=1))
    claimed = known if short else np.asarray(found.significant & found.recurring)
    wild = np.zeros(len(values), dtype=bool)
    if not short:
        wild = ~claimed & (found.swing > settings.large_swing)
        wild &= beyond_counting(profile, settings.count_alpha)
    ended = read_gone(values, period, settings, counts=counts)
    faded, beyond = fads(values, profile, found.recurring, ended.gone, period, settings)
    made = _decide(found, chance, claimed, wild, faded, beyond, settings)
    reason, provisional = _explain(made, values.sum(axis=1), short, ended, gaps, period, settings)
    moved, changed = _moved(profile, settings)
    brief = found.best4 >= settings.occasion_best4
    return ShapeReading(
        shape=made.shape,
        confidence=made.confidence,
        runner_up=made.runner_up,
        provisional=provisional,
        reason=reason,
        best13=found.best13,
        best4=found.best4,
        recurrence=found.recurrence,
        peak_start=np.where(brief, found.peak4, found.peak13),
        peak_length=np.where(brief, period.span(4), period.span(13)),
        moved=moved,
        changed=changed,
        recurring=claimed & ~ended.empty,
        gone_since=ended.since,
    )
