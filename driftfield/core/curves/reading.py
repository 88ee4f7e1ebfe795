"""The demand side of a reading: from niche curves to shape, drift, growth splits and forecasts.

Curves of unequal length are read together: they are grouped by the length of their unbroken span,
and each group is one dense matrix.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings, Timeline, assign_rows, fold_week53

from .align import before_launch, bridge
from .calendar import Calendar, Span, read_calendar, steady
from .drift import DriftReading
from .feasts import NO_FEAST
from .forecast import Forecast, Sums, forecast, sum_ahead
from .growth import GrowthSplit, Noise, growth_split, years_apart
from .level import block_sums
from .level_shifts import MAX_SHIFTS
from .outliers import outlying
from .pooling import Prior
from .seasons import Season, season_marks
from .shape import Gaps, Shape, ShapeReading
from .stl import Decomposition, robust_stl, stl, strengths

WINDOWS = (4, 13, 26, 52)
HORIZONS = (26, 52)


@dataclass(slots=True)
class CurveReadings:
    """What was read from niche curves; fields are (niches,) unless they say otherwise.

    Quality: coverage, periods, gaps, bridged, outliers, not_yet (zeros from before a launch), begin
    (first column of the span that was read).
    factors, error: (niches, slots), for a niche that keeps time with a feast as the coming year
    will have them. shape: see ``ShapeReading``; its peak is -1 where no season is claimed. season:
    the marks of the profile. feast: place in FEASTS or -1; feast_gain: what it gains. noise,
    borrowed: see ``SeasonProfile``. life: New, Established or Fading.
    rate to late_high, shifts, shifts_at: see ``DriftReading``. growth: by window in weeks, last
    window against the one before; year_on_year: the last 13 weeks against the same a year before.
    ahead: sums of the forecast by horizon in weeks.
    """

    coverage: Floats
    periods: Ints
    gaps: Ints
    bridged: Ints
    outliers: Ints
    not_yet: Ints
    begin: Ints
    shape: ShapeReading
    season: Season
    season_p: Floats
    claimed: Bools
    factors: Floats
    error: Floats
    noise: Floats
    borrowed: Floats
    feast: Ints
    feast_gain: Floats
    life: np.ndarray
    drift: np.ndarray
    rate: Floats
    rate_low: Floats
    rate_high: Floats
    late: Floats
    late_low: Floats
    late_high: Floats
    acceleration: Floats
    shifts: Floats
    shifts_at: Ints
    strength_seasonal: Floats
    strength_trend: Floats
    growth: dict[int, GrowthSplit]
    year_on_year: GrowthSplit
    ahead: dict[int, Sums]

    @classmethod
    def empty(cls, n: int, slots: int) -> CurveReadings:
        """Room for ``n`` niches with nothing read yet."""

        def nan() -> Floats:
            return np.full(n, np.nan)

        def whole(value: int = 0) -> Ints:
            return np.full(n, value, dtype=np.int64)

        def words(value: object = None) -> np.ndarray:
            return np.full(n, value, dtype=object)

        def flags() -> Bools:
            return np.zeros(n, dtype=bool)

        def split() -> GrowthSplit:
            return GrowthSplit(*(nan() for _ in range(5)))

        shape = ShapeReading(
            words(Shape.UNSETTLED), nan(), words(), words(), words("There are no figures for it."),
            nan(), nan(), nan(), whole(-1), whole(), nan(), flags(), flags(),
        )  # fmt: skip
        season = Season(whole(-1), whole(-1), whole(-1), whole(), whole(-1), whole())
        return cls(
            coverage=nan(), periods=whole(), gaps=whole(), bridged=whole(), outliers=whole(),
            not_yet=whole(), begin=whole(), shape=shape, season=season, season_p=nan(),
            claimed=flags(), factors=np.full((n, slots), np.nan),
            error=np.full((n, slots), np.nan), noise=nan(), borrowed=np.zeros(n),
            feast=whole(NO_FEAST), feast_gain=nan(), life=words(), drift=words(),
            rate=nan(), rate_low=nan(), rate_high=nan(), late=nan(), late_low=nan(), late_high=nan(),
            acceleration=nan(), shifts=np.full((n, MAX_SHIFTS), np.nan),
            shifts_at=np.full((n, MAX_SHIFTS), -1, dtype=np.int64),
            strength_seasonal=nan(), strength_trend=nan(),
            growth={w: split() for w in WINDOWS}, year_on_year=split(),
            ahead={h: Sums(nan(), nan(), nan()) for h in HORIZONS},
        )  # fmt: skip


def clean(values: Floats, per_year: int) -> tuple[Floats, Bools]:
    """Curves with wild periods replaced, and where: (subjects, length) of at least two years."""
    marks, stand_in = outlying(values, per_year)
    rows = np.flatnonzero(marks.any(axis=1))
    if not rows.size:
        return values, marks
    cleaned = values.copy()
    cleaned[rows] = np.where(marks[rows], stand_in[rows], values[rows])
    return cleaned, marks


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


def read_curves(
    values: Floats,
    timeline: Timeline,
    settings: Settings,
    *,
    counts: bool = True,
    prior: Prior | None = None,
) -> CurveReadings:
    """Read niche curves (niches, length) on ``timeline``, NaN where absent.

    ``counts`` says the values are counts, so that counting noise can be told from a season.
    ``prior`` is what noisy niches may borrow of their category's season.
    """
    period = timeline.period
    n, length = values.shape
    out = CurveReadings.empty(n, period.per_year)
    out.not_yet = before_launch(values, period.per_year, settings.launch_counts)
    if out.not_yet.any():
        values = np.where(np.arange(length) < out.not_yet[:, None], np.nan, values)
    aligned = bridge(values, settings.bridge_periods, period.per_year)
    lived = np.maximum(length - np.argmax(~np.isnan(values), axis=1), 1)
    out.coverage = np.where(aligned.observed > 0, aligned.observed / lived, np.nan)
    out.gaps, out.bridged = aligned.gaps, aligned.bridged
    out.begin = aligned.begin
    for begin, end in np.unique(np.stack([aligned.begin, aligned.end]), axis=1).T:
        if begin >= end:
            continue
        rows = np.flatnonzero((aligned.begin == begin) & (aligned.end == end))
        span = Span(
            timeline=Timeline(period, timeline.start(int(begin)), int(end - begin)),
            gaps=Gaps(aligned.missing[rows], aligned.tail[rows]),
            late=begin > 0,
            settings=settings,
            counts=counts,
            prior=None if prior is None else prior.rows(rows),
        )
        _read_span(out, rows, aligned.values[rows, begin:end], span)
    return out


def _read_span(out: CurveReadings, rows: Ints, values: Floats, span: Span) -> None:
    """Read curves of one length, none absent, and put what was found into rows of ``out``."""
    timeline, settings = span.timeline, span.settings
    year = timeline.period.per_year
    folded = fold_week53(values, timeline)
    length = folded.shape[1]
    out.periods[rows] = timeline.length

    # Seven digits are more than any count has; the sums of the growth split keep all of them.
    cleaned: Floats = folded.astype(np.float32)
    if length >= 2 * year:
        cleaned, marks = clean(cleaned, year)
        out.outliers[rows] = marks.sum(axis=1)
        found = strengths(decompose(cleaned, marks, year))
        out.strength_seasonal[rows], out.strength_trend[rows] = found

    made = read_calendar(cleaned, span)
    shape, drift = made.shape, made.drift
    assign_rows(out.shape, shape, rows)
    for name in ("factors", "error", "noise", "borrowed", "feast", "feast_gain"):
        getattr(out, name)[rows] = getattr(made, name)
    out.season_p[rows] = made.p_recurring

    two_years = length >= settings.min_years * year
    # What has no figures of late has a shape it once had, but no drift and no growth now.
    current = span.gaps.tail <= settings.bridge_periods
    claimed = made.significant & two_years
    out.claimed[rows] = claimed
    # An Evergreen has a best quarter too, but no peak that anyone should plan for.
    peaked = claimed & shape.recurring & (shape.best13 >= settings.evergreen_best13)
    out.shape.peak_start[rows] = np.where(peaked, shape.peak_start, -1)
    out.shape.peak_length[rows] = np.where(peaked, shape.peak_length, 0)
    some = np.flatnonzero(peaked)
    if some.size:
        marks_of = season_marks(
            made.factors[some], shape.peak_start[some], shape.peak_length[some],
            settings.quiet_level, settings.hump_share,
        )  # fmt: skip
        assign_rows(out.season, marks_of, rows[some])
    out.life[rows] = _life(cleaned, shape, drift, span)

    if two_years:
        _put_drift(out, rows, drift, span, current)
        ahead = forecast_of(made, span)
        calm = current & steady(shape)
        for weeks, sums in out.ahead.items():
            assign_rows(
                sums, _where(calm, sum_ahead(ahead, timeline.period.span(weeks), settings)), rows
            )

    # The raw change is that of the figures as they came, outliers and week 53 included.
    tail = slice(max(timeline.length - 2 * year - 1, 0), timeline.length)
    known = (
        values[:, tail] if current.all() else np.where(current[:, None], values[:, tail], np.nan)
    )
    season = np.full_like(known, np.nan)
    if two_years:
        season = np.take(made.season, timeline.fold[tail], axis=1)
    uneven = _Unevenness(cleaned, made, year)
    for weeks, split in out.growth.items():
        window = timeline.period.span(weeks)
        noise = Noise(
            timeline.slots[tail],
            made.error,
            made.dispersion,
            uneven(window, window),
            settings.interval,
        )
        assign_rows(split, growth_split(known, season, window, noise=noise), rows)
    window = timeline.period.span(13)
    noise = replace(noise, uneven=uneven(window, year))
    assign_rows(out.year_on_year, growth_split(known, season, window, lag=year, noise=noise), rows)


class _Unevenness:
    """How far the years' own seasons move a drift part, for curves with a season and no shift."""

    def __init__(self, values: Floats, made: Calendar, per_year: int) -> None:
        self.per_year, self.n = per_year, len(values)
        # A shift in the record would pass for a year unlike the others.
        shifted = (made.drift.shifts_at >= 0).any(axis=1)
        self.rows = np.flatnonzero(made.significant & ~shifted)
        self.dispersion = made.dispersion[self.rows]
        self.seen, self.expected = (self._sums(of[self.rows]) for of in (values, made.season))

    def _sums(self, of: Floats) -> Floats:
        sums = np.zeros((len(of), of.shape[1] + 1))
        np.cumsum(of, axis=1, out=sums[:, 1:])
        return sums

    def __call__(self, window: int, lag: int) -> Floats:
        found = np.zeros(self.n)
        if self.rows.size:
            found[self.rows] = years_apart(
                self.seen, self.expected, window, lag, self.per_year, self.dispersion
            )
        return found


def _where(known: Bools, sums: Sums) -> Sums:
    return Sums(*(np.where(known, getattr(sums, name), np.nan) for name in sums.__slots__))


def _life(values: Floats, shape: ShapeReading, drift: DriftReading, span: Span) -> np.ndarray:
    """New: begun after the market's record, under two years ago. Fading: the last year under a
    quarter of the best and no Fad. Established: the rest."""
    year = span.timeline.period.per_year
    n, length = values.shape
    life = np.full(n, "Established", dtype=object)
    if length < span.settings.min_years * year:
        life[:] = "New" if span.late else "Established"
        return life
    block = span.timeline.period.block
    sums = np.cumsum(np.pad(block_sums(values, block), ((0, 0), (1, 0))), axis=1)
    years = sums[:, year // block :] - sums[:, : -year // block]
    fading = (years[:, -1] < 0.25 * years.max(axis=1)) & (shape.shape != Shape.FAD)
    life[fading] = "Fading"
    return life


def _put_drift(
    out: CurveReadings, rows: Ints, drift: DriftReading, span: Span, current: Bools
) -> None:
    out.drift[rows] = drift.word
    out.drift[rows[~current]] = None
    for target, source in (
        (out.rate, drift.rate), (out.rate_low, drift.low), (out.rate_high, drift.high),
        (out.late, drift.late), (out.late_low, drift.late_low), (out.late_high, drift.late_high),
        (out.acceleration, drift.acceleration),
    ):  # fmt: skip
        target[rows] = np.where(current, source, np.nan)
    stands = current[:, None] & (drift.shifts_at >= 0)
    out.shifts[rows] = np.where(stands, drift.shifts, np.nan)
    # Back from the folded axis to the periods as they came.
    place = np.searchsorted(span.timeline.fold, np.maximum(drift.shifts_at, 0))
    out.shifts_at[rows] = np.where(stands, place + out.begin[rows][:, None], -1)


def look_ahead(
    values: Floats, timeline: Timeline, settings: Settings, *, counts: bool = True
) -> Forecast | None:
    """The coming year of curves of one length, (subjects, a year), by period.

    ``values`` is (subjects, length), none absent. None for under two years. Bursts and swings
    without a pattern have a forecast here, though no reading shows one.
    """
    year = timeline.period.per_year
    folded = fold_week53(values, timeline)
    if folded.shape[1] < 2 * year:
        return None
    cleaned, _ = clean(folded, year)
    n = len(values)
    none = Gaps(np.zeros(n), np.zeros(n, dtype=np.int64))
    span = Span(timeline, none, False, settings, counts)
    made = read_calendar(cleaned, span)
    return forecast_of(made, span)


def forecast_of(made: Calendar, span: Span) -> Forecast:
    """The coming year of curves whose calendar was read, by period."""
    drift, period = made.drift, span.timeline.period
    slots = (int(span.timeline.slots[-1]) + 1 + np.arange(period.per_year)) % period.per_year
    return forecast(
        drift.levels, drift.slope, drift.slope_error, made.ahead, np.take(made.error, slots, axis=1),
        made.dispersion, period, span.settings,
    )  # fmt: skip


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
