"""One curve in detail: what its reading was made from, period by period, and what may come.

The same pipeline as ``reading.read_curves``, kept instead of summed up.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import ndtri

from driftfield.core.base import Bools, Floats, Settings, Timeline

from .forecast import Forecast
from .pipeline import SpanReading, align_curves, read_spans
from .pooling import Prior


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
    prior = None if profile is None else Prior(profile[None], np.array([CERTAIN]))
    lifetime = align_curves(values[None], timeline, settings)
    begin = int(lifetime.aligned.begin[0])
    absent = np.isnan(values) & (np.arange(len(values)) >= begin)
    outliers = np.zeros(len(values), dtype=bool)
    for part in read_spans(lifetime, timeline, settings, counts=counts, prior=prior):
        outliers[part.begin : part.end] = part.outliers[0][part.span.timeline.fold]
        if part.long_enough:
            made = part.calendar
            error = ndtri(0.5 + settings.interval / 2) * made.error[0]
            return CurveDetail(
                absent, outliers, _without(values, part), made.factors[0],
                np.maximum(made.factors[0] - error, 0), made.factors[0] + error,
                *(_ahead(part) or (None,) * 3),
            )  # fmt: skip
    return CurveDetail(absent, outliers, *(None,) * 7)


# Variance of a prior that is taken as it stands.
CERTAIN = 1e-12


def _without(values: Floats, part: SpanReading) -> Floats | None:
    """The curve over its season's factors; NaN where a factor is next to nothing."""
    if not part.claimed[0]:
        return None
    season = np.full(len(values), np.nan)
    season[part.begin : part.end] = part.calendar.season[0][part.span.timeline.fold]
    return np.where(season > 0.05, values / np.maximum(season, 0.05), np.nan)


def _ahead(part: SpanReading) -> tuple[Floats, Floats, Floats] | None:
    if not part.foreseeable[0]:
        return None
    ahead = part.forecast()
    return ahead.values[0], ahead.low[0], ahead.high[0]


def curve_forecast(
    values: Floats, timeline: Timeline, settings: Settings, profile: Floats | None = None
) -> Forecast | None:
    """The coming year of one curve (length,), NaN where absent, by period: (1, a year).

    None for under two years, for a burst, for swings without a pattern and for a curve that has ended.
    ``profile`` as in ``curve_detail``.
    """
    prior = None if profile is None else Prior(profile[None], np.array([CERTAIN]))
    lifetime = align_curves(values[None], timeline, settings)
    for part in read_spans(lifetime, timeline, settings, prior=prior):
        if part.long_enough and bool(part.foreseeable[0]):
            return part.forecast()
    return None
