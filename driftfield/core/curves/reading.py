"""What is read from curves: shape, drift, growth splits, forecasts, and how good the curves are."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings, Timeline, assign_rows

from .align import Aligned
from .feasts import NO_FEAST
from .forecast import Forecast, Sums, sum_ahead
from .growth import GrowthSplit, Noise, growth_split, years_apart
from .level import block_sums
from .level_shifts import MAX_SHIFTS
from .pipeline import Lifetime, SpanReading, align_curves, read_spans
from .pooling import Prior
from .recent import Recent, recent_move
from .season_shift import season_shift
from .seasons import Season, season_marks
from .shape import Shape, ShapeReading

WINDOWS = (4, 13, 26, 52)
HORIZONS = (26, 52)  # Weeks of which figures tell the forecast.
AHEAD = (13, *HORIZONS)


@dataclass(slots=True)
class CurveReadings:
    """What was read from curves; fields are (subjects,) unless they say otherwise.

    Quality: coverage, periods, gaps, bridged, outliers, not_yet (zeros from before a launch), begin
    (first column of the span that was read).
    factors, error: (subjects, slots), for one that keeps time with a feast as the coming year will
    have them. shape: see ``ShapeReading``, ``gone_since`` in columns of the timeline; its peak is -1
    where no season is claimed. season: the marks of the profile. feast: place in FEASTS or -1;
    feast_gain: what it gains. noise, borrowed: see ``SeasonProfile``. life: New, Established, Fading
    or Gone.
    rate to late_high, shifts, shifts_at: see ``DriftReading``. recent: the move of the latest blocks. early: by
    how many weeks the season at hand is early. growth: by window in weeks, last window against the one before;
    year_on_year: the last 13 weeks against the same a year before. ahead: sums of the forecast by horizon in
    weeks. coming: (subjects, slots) the forecast of the year to come by period, in single precision.
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
    recent: Recent
    early: Recent
    strength_seasonal: Floats
    strength_trend: Floats
    growth: dict[int, GrowthSplit]
    year_on_year: GrowthSplit
    ahead: dict[int, Sums]
    coming: Floats

    @classmethod
    def empty(cls, n: int, slots: int) -> CurveReadings:
        """Room for ``n`` subjects with nothing read yet."""

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
            nan(), nan(), nan(), whole(-1), whole(), nan(), flags(), flags(), whole(-1),
        )  # fmt: skip
        season = Season.none(n, slots)
        return cls(
            coverage=nan(), periods=whole(), gaps=whole(), bridged=whole(), outliers=whole(),
            not_yet=whole(), begin=whole(), shape=shape, season=season, season_p=nan(),
            claimed=flags(), factors=np.full((n, slots), np.nan),
            error=np.full((n, slots), np.nan), noise=nan(), borrowed=np.zeros(n),
            feast=whole(NO_FEAST), feast_gain=nan(), life=words(), drift=words(),
            rate=nan(), rate_low=nan(), rate_high=nan(), late=nan(), late_low=nan(), late_high=nan(),
            acceleration=nan(), shifts=np.full((n, MAX_SHIFTS), np.nan),
            shifts_at=np.full((n, MAX_SHIFTS), -1, dtype=np.int64), recent=Recent.unknown(n),
            early=Recent.unknown(n),
            strength_seasonal=nan(), strength_trend=nan(),
            growth={w: split() for w in WINDOWS}, year_on_year=split(),
            ahead={h: Sums(nan(), nan(), nan()) for h in AHEAD},
            coming=np.full((n, slots), np.nan, dtype=np.float32),
        )  # fmt: skip


def read_curves(
    values: Floats,
    timeline: Timeline,
    settings: Settings,
    *,
    counts: bool = True,
    prior: Prior | None = None,
) -> CurveReadings:
    """Read curves: alignment, profile, shape, drift, growth and forecast.

    Parameters
    ----------
    values : array (subjects, timeline.length)
        Figures by period, NaN where absent.
    timeline : Timeline
        The periods of the columns.
    settings : Settings
        Thresholds and windows.
    counts : bool
        Whether the values are counts, so that counting noise can be told from a season.
    prior : Prior, optional
        What noisy subjects may borrow of a season.

    Returns
    -------
    CurveReadings
        A reading of each, (subjects, …); NaN, or no word, where nothing can be said.
    """
    out = CurveReadings.empty(len(values), timeline.period.per_year)
    lifetime = align_curves(values, timeline, settings)
    aligned = lifetime.aligned
    out.not_yet, out.coverage = lifetime.not_yet, lifetime.coverage
    out.gaps, out.bridged, out.begin = aligned.gaps, aligned.bridged, aligned.begin
    for part in read_spans(lifetime, timeline, settings, counts=counts, prior=prior):
        _assign(out, part)
    return out


def _assign(out: CurveReadings, part: SpanReading) -> None:
    """Put what was read of one span into its rows of ``out``."""
    rows, made = part.rows, part.calendar
    out.periods[rows] = part.span.timeline.length
    out.outliers[rows] = part.outliers.sum(axis=1)
    if (found := part.strengths()) is not None:
        out.strength_seasonal[rows], out.strength_trend[rows] = found
    assign_rows(out.shape, made.shape, rows)
    for name in ("factors", "error", "noise", "borrowed", "feast", "feast_gain"):
        getattr(out, name)[rows] = getattr(made, name)
    out.shape.gone_since[rows] = part.column(made.shape.gone_since)
    out.season_p[rows] = made.p_recurring
    out.claimed[rows] = part.claimed
    out.life[rows] = _life(part)
    _assign_peak(out, part)
    if part.long_enough:
        _assign_drift(out, part)
        ahead = part.forecast()
        out.coming[rows] = np.where(part.foreseeable[:, None], ahead.values, np.nan)
        for weeks, sums in out.ahead.items():
            told = sum_ahead(ahead, part.span.timeline.period.span(weeks), part.span.settings)
            assign_rows(sums, _where(part.foreseeable, told), rows)
    _assign_growth(out, part)


def _assign_peak(out: CurveReadings, part: SpanReading) -> None:
    """An Evergreen has a best quarter too, but no peak that anyone should plan for."""
    rows, made, settings = part.rows, part.calendar, part.span.settings
    shape = made.shape
    peaked = part.claimed & shape.recurring & (shape.best13 >= settings.evergreen_best13)
    out.shape.peak_start[rows] = np.where(peaked, shape.peak_start, -1)
    out.shape.peak_length[rows] = np.where(peaked, shape.peak_length, 0)
    some = np.flatnonzero(peaked)
    if some.size:
        marks = season_marks(
            made.factors[some], made.error[some], shape.peak_start[some], shape.peak_length[some],
            settings.quiet_level, settings.hump_share,
        )  # fmt: skip
        assign_rows(out.season, marks, rows[some])


def _leans(part: SpanReading) -> tuple[Floats, Floats]:
    """By how much the logarithm of each block's season would rise if it came a period early, and if it swung
    by twice as much, (n, blocks) each; 0 where none is claimed."""
    season = np.where(part.claimed[:, None], part.calendar.season, 1).astype(np.float64)
    block = part.span.timeline.period.block
    ahead, behind, now = (
        block_sums(np.concatenate(ends, axis=1), block)
        for ends in (
            (season[:, 1:], season[:, -1:]),
            (season[:, :1], season[:, :-1]),
            (season,),
        )
    )
    with np.errstate(invalid="ignore", divide="ignore"):
        timing = np.nan_to_num(np.log(ahead / behind) / 2, posinf=0, neginf=0)
        swing = np.nan_to_num(1 - block / now, posinf=0, neginf=0)
    return timing, swing


def _assign_growth(out: CurveReadings, part: SpanReading) -> None:
    """The raw change is that of the figures as they came, outliers and week 53 included."""
    rows, made, timeline, year = part.rows, part.calendar, part.span.timeline, part.per_year
    tail = slice(max(timeline.length - 2 * year - 1, 0), timeline.length)
    known, current = part.values[:, tail], part.current
    if not current.all():
        known = np.where(current[:, None], known, np.nan)
    season = np.full_like(known, np.nan)
    if part.long_enough:
        season = np.take(made.season, timeline.fold[tail], axis=1)
    uneven = _Unevenness(part)
    for weeks, split in out.growth.items():
        window = timeline.period.span(weeks)
        noise = Noise(
            timeline.slots[tail],
            made.error,
            made.dispersion,
            uneven(window, window),
            part.span.settings.interval,
        )
        assign_rows(split, growth_split(known, season, window, noise=noise), rows)
    window = timeline.period.span(13)
    noise = replace(noise, uneven=uneven(window, year))
    split = growth_split(known, season, window, lag=year, noise=noise)
    assign_rows(out.year_on_year, split, rows)


class _Unevenness:
    """How far the years' own seasons move a drift part, for curves with a season and no shift."""

    def __init__(self, part: SpanReading) -> None:
        made, values = part.calendar, part.cleaned
        self.per_year, self.n = part.per_year, len(values)
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


def _life(part: SpanReading) -> np.ndarray:
    """Gone: the last year all but empty. New: begun after the market's record, under two years ago.
    Fading: the last year under a quarter of the best and no Fad. Established: the rest."""
    values, year = part.cleaned, part.per_year
    gone = part.calendar.shape.gone_since >= 0
    life = np.full(len(values), "Established", dtype=object)
    if not part.long_enough:
        life[:] = "New" if part.span.late else "Established"
        life[gone] = "Gone"
        return life
    block = part.span.timeline.period.block
    sums = np.cumsum(np.pad(block_sums(values, block), ((0, 0), (1, 0))), axis=1)
    years = sums[:, year // block :] - sums[:, : -year // block]
    fading = years[:, -1] < 0.25 * years.max(axis=1)
    life[fading & (part.calendar.shape.shape != Shape.FAD)] = "Fading"
    life[gone] = "Gone"
    return life


def _assign_drift(out: CurveReadings, part: SpanReading) -> None:
    rows, drift, current = part.rows, part.calendar.drift, part.current
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
    out.shifts_at[rows] = part.column(np.where(stands, drift.shifts_at, -1))
    some = np.flatnonzero(current)
    period = part.span.timeline.period
    counts = part.cleaned[some].mean(axis=1) * period.block if part.span.counts else None
    timing, swing = _leans(part)
    moved = recent_move(
        drift.standing[some], period.per_year // period.block,
        counts=counts, timing=timing[some], swing=swing[some],
    )  # fmt: skip
    assign_rows(out.recent, moved, rows[some])
    early = season_shift(
        drift.standing[some], period.per_year // period.block, timing=timing[some], swing=swing[some],
        periods_a_week=period.per_year / 52,
    )  # fmt: skip
    assign_rows(out.early, early, rows[some])


def forecast_curves(
    values: Floats, timeline: Timeline, settings: Settings, *, counts: bool = True
) -> Forecast | None:
    """The coming year of curves of one length, (subjects, a year), by period.

    ``values`` is (subjects, length), none absent. None for under two years. Bursts and swings
    without a pattern have a forecast here, though no reading shows one.
    """
    n = len(values)
    none = np.zeros(n, dtype=np.int64)
    whole = np.full(n, timeline.length, dtype=np.int64)
    aligned = Aligned(values, none, whole, whole, np.zeros(n), none, none, none)
    lifetime = Lifetime(values, none, aligned)
    for part in read_spans(lifetime, timeline, settings, counts=counts):
        if part.cleaned.shape[1] >= 2 * part.per_year:
            return part.forecast()
    return None


def drift_line(values: Floats, timeline: Timeline, settings: Settings) -> Floats | None:
    """A curve's level with calendar and noise taken out, (length,), NaN outside its span.

    The trend component of STL, robust where there are outliers; None for under two years.
    ``values`` is (length,), NaN where absent.
    """
    lifetime = align_curves(values[None], timeline, settings)
    for part in read_spans(lifetime, timeline, settings):
        if (parts := part.decomposition()) is not None:
            line = np.full(timeline.length, np.nan)
            line[part.begin : part.end] = np.maximum(parts.trend[0], 0)[part.span.timeline.fold]
            return line
    return None
