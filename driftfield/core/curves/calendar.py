"""The calendar of curves and what is left without it: profile, feast, shape and drift together.

They hang on one another: a level shift bends the profile, and a moving feast is seen only against the
calendar's profile. So curves are read once, and those with a shift or a feast once more.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Period, Settings, Timeline, assign_rows

from .drift import DriftReading, read_drift
from .feasts import FEASTS, NO_FEAST, feast_axis, keeps_time_with
from .level import growth_path
from .level_shifts import MAX_SHIFTS
from .pooling import Prior
from .profile import Axis, SeasonProfile, best_share, season_profile
from .shape import Gaps, Shape, ShapeReading, classify, excess_swing


@dataclass(frozen=True, slots=True)
class Span:
    """What is common to curves of one length: their time, what is missing, how they are read.

    late: whether they begin after the market's record does.
    """

    timeline: Timeline
    gaps: Gaps
    late: bool
    settings: Settings
    counts: bool
    prior: Prior | None = None

    def rows(self, which: Ints) -> Span:
        prior = None if self.prior is None else self.prior.rows(which)
        gaps = Gaps(self.gaps.missing[which], self.gaps.tail[which])
        return replace(self, gaps=gaps, prior=prior)


@dataclass(slots=True)
class Calendar:
    """What the calendar does to curves of one length, and what is left.

    factors, error: (subjects, slots); season, ahead: (subjects, length) and (subjects, a year) the
    factor of each period read and to come; the rest as in ``Demand``, ``SeasonProfile`` and
    ``DriftReading``.
    """

    factors: Floats
    error: Floats
    season: Floats
    ahead: Floats
    significant: Bools
    p_recurring: Floats
    dispersion: Floats
    noise: Floats
    borrowed: Floats
    feast: Ints
    feast_gain: Floats
    shape: ShapeReading
    drift: DriftReading


def read_calendar(values: Floats, span: Span) -> Calendar:
    """Read cleaned curves (subjects, length) on a folded axis, none absent."""
    made = _read_once(values, span)
    _mend_shifts(made, values, span)
    return made


def _read_once(values: Floats, span: Span, path: Floats | None = None) -> Calendar:
    """Profile, feast, shape and drift of cleaned curves (subjects, length) on a folded axis."""
    period, settings = span.timeline.period, span.settings
    n, length = values.shape
    year = period.per_year
    axis = Axis.calendar(int(span.timeline.slots[0]), length, year)
    profile = season_profile(
        values, axis, period, settings, counts=span.counts, path=path, prior=span.prior
    )
    shape = classify(values, profile, period, span.gaps, settings, counts=span.counts)
    ahead = (axis.slots[-1] + 1 + np.arange(year)) % year
    made = Calendar(
        factors=profile.factors, error=profile.error, season=axis.over(profile.factors),
        ahead=np.take(profile.factors, ahead, axis=1), significant=profile.significant,
        p_recurring=profile.p_recurring, dispersion=profile.dispersion, noise=profile.noise,
        borrowed=profile.borrowed, feast=np.full(n, NO_FEAST, dtype=np.int64),
        feast_gain=np.full(n, np.nan), shape=shape,
        drift=None,  # type: ignore[arg-type]  # read below, once the feasts are known
    )  # fmt: skip
    if period is Period.WEEK and length >= 2 * year:
        _try_feasts(made, values, profile, axis, ahead, span)
    calm = steady(made.shape)
    wide = made.factors.std(axis=1) >= settings.large_swing
    made.drift = read_drift(
        values, made.season, period, settings, calm, wide,
        dispersion=made.dispersion, counts=span.counts,
    )  # fmt: skip
    return made


def _try_feasts(
    made: Calendar, values: Floats, profile: SeasonProfile, axis: Axis, ahead: Ints, span: Span
) -> None:
    """Read again, feast on feast, the curves that keep time with one; in place."""
    settings = span.settings
    with np.errstate(invalid="ignore"):
        poor = (excess_swing(profile) > settings.large_swing) & (made.shape.recurrence < 0.97)
    rows = np.flatnonzero(poor & (made.shape.shape != Shape.FAD))
    if not rows.size:
        return
    # Weeks are folded, so the axis of weeks is that of a record without a week 53; at most one
    # week in five years, which the smoothing of the comparison bears.
    line = Timeline(
        Period.WEEK, span.timeline.start(span.timeline.length - len(axis.slots)), len(axis.slots)
    )
    place, gain = keeps_time_with(
        values[rows], profile.level[rows], axis, line, settings.feast_gain
    )
    longer = Timeline(Period.WEEK, line.first, line.length + len(ahead))
    for feast in np.unique(place[place != NO_FEAST]):
        mine = rows[place == feast]
        whole = feast_axis(FEASTS[feast], longer)
        moving = Axis(whole.slots[: line.length], feast_axis(FEASTS[feast], line).years)
        again = season_profile(values[mine], moving, Period.WEEK, settings, counts=span.counts)
        shape = classify(
            values[mine], again, Period.WEEK, span.rows(mine).gaps, settings, counts=span.counts
        )
        # As good as the calendar's reading at least, or the feast explains nothing.
        better = np.flatnonzero(shape.recurring)
        mine = mine[better]
        to_come = whole.slots[line.length :]
        for name in ("significant", "p_recurring", "dispersion", "noise", "borrowed"):
            getattr(made, name)[mine] = getattr(again, name)[better]
        made.season[mine] = moving.over(again.factors[better])
        made.ahead[mine] = again.factors[better][:, to_come]
        # The coming year's own calendar, so that strip, peak and dates are where they will be.
        made.factors[np.ix_(mine, ahead)] = made.ahead[mine]
        made.error[np.ix_(mine, ahead)] = again.error[better][:, to_come]
        made.feast[mine] = feast
        made.feast_gain[mine] = gain[place == feast][better]
        assign_rows(made.shape, _rows_of(shape, better), mine)
        for row in mine:
            _, start = best_share(made.factors[row : row + 1], int(made.shape.peak_length[row]))
            made.shape.peak_start[row] = start[0]


def _rows_of(reading: ShapeReading, which: Ints) -> ShapeReading:
    return ShapeReading(*(getattr(reading, name)[which] for name in reading.__slots__))


def _mend_shifts(made: Calendar, values: Floats, span: Span) -> None:
    """Read again, with their level shifts known, the curves that have any; in place.

    A shift bends the moving average for a year around it, and so the profile.
    """
    rows = np.flatnonzero((made.drift.shifts_at >= 0).any(axis=1) & (made.feast == NO_FEAST))
    if not rows.size:
        return
    shifts, at = made.drift.shifts[rows], made.drift.shifts_at[rows]
    columns = np.arange(values.shape[1])
    path = np.ones((len(rows), values.shape[1]))
    for place in range(MAX_SHIFTS):
        on = (at[:, place] >= 0)[:, None] & (columns >= at[:, place][:, None])
        path *= np.where(on, 1 + np.nan_to_num(shifts[:, place])[:, None], 1)
    path *= growth_path(values[rows] / path, span.timeline.period.per_year)
    assign_rows(made, _read_once(values[rows], span.rows(rows), path), rows)


def steady(shape: ShapeReading) -> Bools:
    """Curves with a level to speak of: neither a burst nor swings without a pattern."""
    words = shape.shape
    return np.asarray((words != Shape.FAD) & (words != Shape.UNSETTLED), dtype=bool)
