"""One curve close up: what its reading was made from, period by period, and what may come.

The same steps as ``demand.read_demand`` takes for a whole market, kept instead of summed up.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import ndtri

from driftfield.core.base import Bools, Floats, Settings, Timeline, fold_week53

from .align import before_launch, bridge
from .calendar import Calendar, Span, read_calendar, steady
from .pooling import Prior
from .reading import clean, forecast_of
from .shape import Gaps


@dataclass(frozen=True, slots=True)
class CurveDetail:
    """A curve (length,) period by period; None where under two years were read.

    absent: periods without a figure within the span that was read, and those after it. outliers:
    periods taken for wild. without: the curve with the calendar taken out; None where no season is
    claimed. factors, low, high: (slots,) season profile, mean 1, with its interval. ahead, ahead_low,
    ahead_high: (a year,) forecast with its interval; None for a burst, for swings without a pattern
    and for a curve that has ended.
    """

    absent: Bools
    outliers: Bools
    without: Floats | None
    factors: Floats | None
    low: Floats | None
    high: Floats | None
    ahead: Floats | None
    ahead_low: Floats | None
    ahead_high: Floats | None


def curve_detail(
    values: Floats,
    timeline: Timeline,
    settings: Settings,
    *,
    counts: bool = True,
    profile: Floats | None = None,
) -> CurveDetail:
    """Look at one curve (length,) on ``timeline``, NaN where absent.

    ``profile`` (slots,) is given for a niche whose season was borrowed: it is taken as it stands
    where the counts do not speak against it.
    """
    year = timeline.period.per_year
    launch = int(before_launch(values[None], year, settings.launch_counts)[0])
    lived = np.where(np.arange(len(values)) < launch, np.nan, values)
    aligned = bridge(lived[None], settings.bridge_periods, year)
    begin, end = int(aligned.begin[0]), int(aligned.end[0])
    absent = np.isnan(values) & (np.arange(len(values)) >= begin)
    outliers = np.zeros(len(values), dtype=bool)
    nothing = CurveDetail(absent, outliers, *(None,) * 7)
    span_of = Timeline(timeline.period, timeline.start(begin), end - begin)
    if begin >= end:
        return nothing
    folded = fold_week53(aligned.values[:, begin:end], span_of)
    if folded.shape[1] < settings.min_years * year:
        return nothing
    cleaned, marks = clean(folded.astype(np.float32), year)
    outliers[begin:end] = marks[0][span_of.fold]
    prior = None if profile is None else Prior(profile[None], np.array([CERTAIN]))
    gaps = Gaps(aligned.missing, aligned.tail)
    span = Span(span_of, gaps, begin > 0, settings, counts, prior)
    made = read_calendar(cleaned, span)
    error = ndtri(0.5 + settings.interval / 2) * made.error[0]
    return CurveDetail(
        absent, outliers, _without(values, made, span, begin), made.factors[0],
        np.maximum(made.factors[0] - error, 0), made.factors[0] + error,
        *(_ahead(made, span) or (None,) * 3),
    )  # fmt: skip


# Variance of a prior that is taken as it stands.
CERTAIN = 1e-12


def _without(values: Floats, made: Calendar, span: Span, begin: int) -> Floats | None:
    """The curve over its season's factors; NaN where a factor is next to nothing."""
    if not made.significant[0]:
        return None
    season = np.full(len(values), np.nan)
    season[begin : begin + span.timeline.length] = made.season[0][span.timeline.fold]
    return np.where(season > 0.05, values / np.maximum(season, 0.05), np.nan)


def _ahead(made: Calendar, span: Span) -> tuple[Floats, Floats, Floats] | None:
    if span.gaps.tail[0] > span.settings.bridge_periods or not steady(made.shape)[0]:
        return None
    ahead = forecast_of(made, span)
    return ahead.values[0], ahead.low[0], ahead.high[0]
