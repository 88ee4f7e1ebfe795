"""The way from curves as they came to what every reading of them is made from.

A whole market's reading, one curve's detail, a forecast and a drift line all take this one way, so
that they cannot tell different things of the same curve. Curves of unequal length go together: they
are grouped by their unbroken span, and each group is one dense matrix.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings, Timeline, fold_week53

from .align import Aligned, before_launch, bridge
from .calendar import Calendar, Span, read_calendar, steady
from .forecast import Forecast, forecast
from .outliers import outlying
from .pooling import Prior
from .shape import Gaps
from .stl import Decomposition, robust_stl, stl, strengths


@dataclass(frozen=True, slots=True)
class Lifetime:
    """Curves from their launch on, with their gaps bridged.

    values: (subjects, length), NaN before a launch. not_yet: (subjects,) zeros from before it.
    aligned: see ``Aligned``.
    """

    values: Floats
    not_yet: Ints
    aligned: Aligned

    @property
    def coverage(self) -> Floats:
        """Periods with a value ÷ periods since the first one, (subjects,); NaN without any."""
        n, length = self.values.shape
        lived = np.maximum(length - np.argmax(~np.isnan(self.values), axis=1), 1) if length else 1
        observed = self.aligned.observed
        return np.where(observed > 0, observed / lived, np.full(n, np.nan))


@dataclass(frozen=True, slots=True)
class SpanReading:
    """Curves of one span, cleaned, and what is read from them when it is first asked for.

    rows: (n,) which subjects. begin, end: columns begin to end − 1 of the timeline. values: (n, end −
    begin) as they came, bridged. cleaned: (n, folded) with week 53 folded away and wild periods
    replaced; outliers: (n, folded) where.
    """

    rows: Ints
    begin: int
    end: int
    span: Span
    values: Floats
    cleaned: Floats
    outliers: Bools
    _made: dict[str, Calendar] = field(default_factory=dict, repr=False)

    @property
    def calendar(self) -> Calendar:
        """What the calendar does to them, read once."""
        # functools.cached_property lets one thread at a time compute, until Python 3.12.
        if "calendar" not in self._made:
            self._made["calendar"] = read_calendar(self.cleaned, self.span)
        return self._made["calendar"]

    @property
    def per_year(self) -> int:
        return self.span.timeline.period.per_year

    @property
    def long_enough(self) -> bool:
        """Whether the span is long enough for a season and a drift to be told."""
        return bool(self.cleaned.shape[1] >= self.span.settings.min_years * self.per_year)

    @property
    def current(self) -> Bools:
        """Curves with figures of late, (n,): the others have a shape they once had, and no more."""
        return np.asarray(self.span.gaps.tail <= self.span.settings.bridge_periods)

    def column(self, folded: Ints) -> Ints:
        """Columns of the timeline as it came, from those of the folded span; -1 stays."""
        place = np.searchsorted(self.span.timeline.fold, np.maximum(folded, 0))
        return np.where(folded >= 0, place + self.begin, -1)

    @property
    def claimed(self) -> Bools:
        """Curves of which a season is claimed, (n,)."""
        return self.calendar.significant & self.long_enough

    @property
    def foreseeable(self) -> Bools:
        """Curves whose coming year may be told, (n,)."""
        return self.current & steady(self.calendar.shape) & self.long_enough

    def decomposition(self) -> Decomposition | None:
        """STL of the cleaned curves, robust for those with wild periods; None under two years."""
        year = self.per_year
        if self.cleaned.shape[1] < 2 * year:
            return None
        parts = stl(self.cleaned, year)
        rows = np.flatnonzero(self.outliers.any(axis=1))
        # With two years only, no weight can be taken from one value without the other deciding
        # alone, so those stay linear.
        if rows.size and self.cleaned.shape[1] >= 3 * year:
            robust = robust_stl(self.cleaned[rows], year)
            parts.trend[rows] = robust.trend
            parts.seasonal[rows] = robust.seasonal
            parts.remainder[rows] = robust.remainder
        return parts

    def strengths(self) -> tuple[Floats, Floats] | None:
        """Seasonal and trend strength, (n,) each; None under two years."""
        parts = self.decomposition()
        return None if parts is None else strengths(parts)

    def forecast(self) -> Forecast:
        """The coming year by period, (n, a year); see ``foreseeable``."""
        made, timeline = self.calendar, self.span.timeline
        year = timeline.period.per_year
        slots = (int(timeline.slots[-1]) + 1 + np.arange(year)) % year
        return forecast(
            made.drift.levels, made.drift.slope, made.drift.slope_error, made.ahead,
            np.take(made.error, slots, axis=1), made.dispersion, timeline.period, self.span.settings,
        )  # fmt: skip


def align_curves(values: Floats, timeline: Timeline, settings: Settings) -> Lifetime:
    """Take curves from their launch on, with gaps bridged.

    Parameters
    ----------
    values : array (subjects, timeline.length)
        Any figures by period, NaN where absent.
    timeline : Timeline
        The periods of the columns.
    settings : Settings
        How long a gap may be, and what counts as a launch.

    Returns
    -------
    Lifetime
        The bridged curves, with what lies before the launch and before a gap left out.
    """
    year = timeline.period.per_year
    not_yet = before_launch(values, year, settings.launch_counts)
    if not_yet.any():
        values = np.where(np.arange(values.shape[1]) < not_yet[:, None], np.nan, values)
    return Lifetime(values, not_yet, bridge(values, settings.bridge_periods, year))


def read_spans(
    lifetime: Lifetime,
    timeline: Timeline,
    settings: Settings,
    *,
    counts: bool = True,
    prior: Prior | None = None,
) -> Iterator[SpanReading]:
    """Aligned curves a span at a time, ready to be read; curves without any value are in none.

    ``counts`` says the values are counts, so that counting noise can be told from a season.
    ``prior`` is what noisy curves may borrow of a season, (subjects, …).
    """
    aligned = lifetime.aligned
    for begin, end in np.unique(np.stack([aligned.begin, aligned.end]), axis=1).T.tolist():
        if begin >= end:
            continue
        rows = np.flatnonzero((aligned.begin == begin) & (aligned.end == end))
        span = Span(
            timeline=Timeline(timeline.period, timeline.start(begin), end - begin),
            gaps=Gaps(aligned.missing[rows], aligned.tail[rows]),
            late=begin > 0,
            settings=settings,
            counts=counts,
            prior=None if prior is None else prior.rows(rows),
        )
        # Made apart, so that nothing of a span is kept while the next one is read.
        yield _prepare(aligned.values[rows, begin:end], rows, begin, end, span)


def _prepare(values: Floats, rows: Ints, begin: int, end: int, span: Span) -> SpanReading:
    """Curves of one span, (n, end − begin), with week 53 folded away and wild periods replaced."""
    # Seven digits are more than any count has; the sums of the growth split keep all of them.
    folded: Floats = fold_week53(values, span.timeline).astype(np.float32)
    cleaned, outliers = _clean(folded, span.timeline.period.per_year)
    return SpanReading(rows, begin, end, span, values, cleaned, outliers)


def _clean(values: Floats, per_year: int) -> tuple[Floats, Bools]:
    """Curves with wild periods replaced, and where; as they are under two years."""
    if values.shape[1] < 2 * per_year:
        return values, np.zeros(values.shape, dtype=bool)
    marks, stand_in = outlying(values, per_year)
    rows = np.flatnonzero(marks.any(axis=1))
    if not rows.size:
        return values, marks
    cleaned = values.copy()
    cleaned[rows] = np.where(marks[rows], stand_in[rows], values[rows])
    return cleaned, marks
