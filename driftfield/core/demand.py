"""The demand side of a reading: from niche curves to shape, drift and growth splits.

Curves of unequal length are read together: they are grouped by the length of their unbroken span,
and each group is one dense matrix.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .align import bridge
from .dates import rise_start
from .drift import read_drift
from .growth import GrowthSplit, growth_split
from .outliers import outlying
from .periods import Bools, Floats, Ints, Timeline, fold_week53
from .profile import season_profile
from .settings import Settings
from .shape import Shape, classify
from .stl import Decomposition, robust_stl, stl, strengths

WINDOWS = (4, 13, 26, 52)


@dataclass(slots=True)
class Demand:
    """What was read from niche curves; fields are (niches,) unless they say otherwise.

    growth: by window in weeks, last window against the one before; year_on_year: the last 13 weeks
    against the same a year before. factors: (niches, slots). peak_start, peak_length, rise: slots;
    -1 where no season is claimed. begin: first column of the span that was read.
    """

    coverage: Floats
    periods: Ints
    bridged: Ints
    outliers: Ints
    begin: Ints
    shape: np.ndarray
    confidence: Floats
    runner_up: np.ndarray
    provisional: np.ndarray
    reason: np.ndarray
    best13: Floats
    best4: Floats
    recurrence: Floats
    season_p: Floats
    claimed: Bools
    factors: Floats
    peak_start: Ints
    peak_length: Ints
    rise: Ints
    drift: np.ndarray
    rate: Floats
    rate_low: Floats
    rate_high: Floats
    step: Floats
    step_at: Ints
    strength_seasonal: Floats
    strength_trend: Floats
    growth: dict[int, GrowthSplit]
    year_on_year: GrowthSplit

    @classmethod
    def empty(cls, n: int, slots: int) -> Demand:
        """Room for ``n`` niches with nothing read yet."""

        def nan() -> Floats:
            return np.full(n, np.nan)

        def whole(value: int = 0) -> Ints:
            return np.full(n, value, dtype=np.int64)

        def words(value: object = None) -> np.ndarray:
            return np.full(n, value, dtype=object)

        def split() -> GrowthSplit:
            return GrowthSplit(nan(), nan(), nan())

        return cls(
            coverage=nan(), periods=whole(), bridged=whole(), outliers=whole(), begin=whole(),
            shape=words(Shape.UNSETTLED), confidence=nan(), runner_up=words(),
            provisional=words(), reason=words("There are no figures for it."),
            best13=nan(), best4=nan(), recurrence=nan(), season_p=nan(),
            claimed=np.zeros(n, dtype=bool), factors=np.full((n, slots), np.nan),
            peak_start=whole(-1), peak_length=whole(), rise=whole(-1), drift=words(),
            rate=nan(), rate_low=nan(), rate_high=nan(), step=nan(), step_at=whole(-1),
            strength_seasonal=nan(), strength_trend=nan(),
            growth={w: split() for w in WINDOWS}, year_on_year=split(),
        )  # fmt: skip


def clean(values: Floats, per_year: int) -> tuple[Floats, Bools]:
    """Curves with wild periods replaced, and where: (subjects, length) of at least two years."""
    marks, stand_in = outlying(values, per_year)
    return np.where(marks, stand_in, values), marks


def decompose(values: Floats, marks: Bools, per_year: int) -> Decomposition:
    """STL of cleaned curves: the linear one, robust for those that had wild periods.

    With two years only, no weight can be taken from one value without the other deciding alone, so
    those stay linear.
    """
    parts = stl(values, per_year)
    rows = np.flatnonzero(marks.any(axis=1))
    if rows.size and values.shape[1] >= 3 * per_year:
        robust = robust_stl(values[rows], per_year)
        parts.trend[rows] = robust.trend
        parts.seasonal[rows] = robust.seasonal
        parts.remainder[rows] = robust.remainder
    return parts


def read_demand(
    values: Floats, timeline: Timeline, settings: Settings, *, counts: bool = True
) -> Demand:
    """Read niche curves (niches, length) on ``timeline``, NaN where absent.

    ``counts`` says the values are counts, so that counting noise can be told from a season.
    """
    period = timeline.period
    n, length = values.shape
    out = Demand.empty(n, period.per_year)
    aligned = bridge(values, settings.bridge_periods, period.per_year)
    lived = np.maximum(length - np.argmax(~np.isnan(values), axis=1), 1)
    out.coverage = np.where(aligned.observed > 0, aligned.observed / lived, np.nan)
    out.bridged = aligned.bridged
    out.begin = aligned.begin
    for begin, end in np.unique(np.stack([aligned.begin, aligned.end]), axis=1).T:
        if begin >= end:
            continue
        rows = np.flatnonzero((aligned.begin == begin) & (aligned.end == end))
        span = Timeline(period, timeline.start(int(begin)), int(end - begin))
        _read_span(
            out, rows, aligned.values[rows, begin:end], span, aligned.missing[rows],
            aligned.tail[rows], settings, counts,
        )  # fmt: skip
    return out


def _read_span(
    out: Demand,
    rows: Ints,
    values: Floats,
    timeline: Timeline,
    missing: Floats,
    tail: Ints,
    settings: Settings,
    counts: bool,
) -> None:
    """Read curves of one length, none absent, and put what was found into rows of ``out``."""
    period = timeline.period
    year = period.per_year
    folded = fold_week53(values, timeline)
    slot = int(timeline.slots[0])
    slots = (slot + np.arange(folded.shape[1])) % year
    out.periods[rows] = timeline.length

    cleaned = folded
    if folded.shape[1] >= 2 * year:
        cleaned, marks = clean(folded, year)
        out.outliers[rows] = marks.sum(axis=1)
        found = strengths(decompose(cleaned, marks, year))
        out.strength_seasonal[rows], out.strength_trend[rows] = found

    profile = season_profile(cleaned, slot, period, settings, counts=counts)
    shape = classify(cleaned, profile, period, missing, tail, settings)
    out.shape[rows] = shape.shape
    out.confidence[rows] = shape.confidence
    out.runner_up[rows] = shape.runner_up
    out.provisional[rows] = shape.provisional
    out.reason[rows] = shape.reason
    out.best13[rows] = shape.best13
    out.best4[rows] = shape.best4
    out.recurrence[rows] = shape.recurrence
    out.season_p[rows] = profile.p_recurring
    out.factors[rows] = profile.factors

    two_years = folded.shape[1] >= settings.min_years * year
    # What has no figures of late has a shape it once had, but no drift and no growth now.
    current = tail <= settings.bridge_periods
    claimed = profile.significant & two_years
    out.claimed[rows] = claimed
    usable = profile.factors if two_years else np.full_like(profile.factors, np.nan)
    # An Evergreen has a best quarter too, but no peak that anyone should plan for.
    peaked = claimed & (shape.best13 >= settings.evergreen_best13)
    rise = rise_start(profile.factors, shape.peak_start, shape.peak_length)
    out.peak_start[rows] = np.where(peaked, shape.peak_start, -1)
    out.peak_length[rows] = np.where(peaked, shape.peak_length, 0)
    out.rise[rows] = np.where(peaked, rise, -1)

    if two_years:
        steady = ~np.isin(shape.shape.astype(str), [Shape.FAD, Shape.UNSETTLED])
        drift = read_drift(cleaned, slots, profile.factors, period, settings, steady)
        out.drift[rows] = drift.word
        out.drift[rows[~current]] = None
        out.rate[rows] = np.where(current, drift.rate, np.nan)
        out.rate_low[rows] = np.where(current, drift.low, np.nan)
        out.rate_high[rows] = np.where(current, drift.high, np.nan)
        out.step[rows] = np.where(current, drift.step, np.nan)
        # Back from the folded axis to the periods as they came.
        place = np.searchsorted(timeline.fold, np.maximum(drift.step_at, 0))
        offset = out.begin[rows]
        out.step_at[rows] = np.where(current & (drift.step_at >= 0), place + offset, -1)

    # The raw change is that of the figures as they came, outliers and week 53 included.
    known = np.where(current[:, None], values, np.nan)
    for weeks, split in out.growth.items():
        _put(split, rows, growth_split(known, timeline.slots, usable, period.span(weeks)))
    yoy = growth_split(known, timeline.slots, usable, period.span(13), lag=year)
    _put(out.year_on_year, rows, yoy)


def _put(target: GrowthSplit, rows: Ints, split: GrowthSplit) -> None:
    target.raw[rows] = split.raw
    target.season[rows] = split.season
    target.drift[rows] = split.drift


def drift_line(values: Floats, timeline: Timeline, settings: Settings) -> Floats | None:
    """A curve's level with calendar and noise taken out, (length,), NaN outside its span.

    The trend component of STL, robust where there are outliers; None for under two years.
    ``values`` is (length,), NaN where absent.
    """
    per_year = timeline.period.per_year
    aligned = bridge(values[None, :], settings.bridge_periods, per_year)
    begin, end = int(aligned.begin[0]), int(aligned.end[0])
    if begin >= end:
        return None
    span = Timeline(timeline.period, timeline.start(begin), end - begin)
    folded = fold_week53(aligned.values[:, begin:end], span)
    if folded.shape[1] < 2 * per_year:
        return None
    cleaned, marks = clean(folded, per_year)
    trend = decompose(cleaned, marks, per_year).trend[0]
    line = np.full(timeline.length, np.nan)
    line[begin:end] = np.maximum(trend, 0)[span.fold]
    return line
