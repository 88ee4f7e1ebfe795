"""The last weeks of a category's curve against those before, each change with its season part."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Floats, Period, Timeline
from driftfield.core.curves import growth_split

from .found import MEASURES, CategoryReading

WINDOWS = (1, 4, 13, 26, 52)  # Weeks; of monthly figures those that make whole months.


@dataclass(frozen=True, slots=True)
class Window:
    """Sums of the last ``weeks`` weeks, and the change of searches against as many before; None for unknown.

    (1 + raw) = (1 + season) × (1 + drift). low, high: interval of the drift part, where it is known.
    """

    weeks: int
    searches: float | None
    impressions: float | None
    clicks: float | None
    purchases: float | None
    units: float | None
    revenue: float | None
    raw: float | None
    season: float | None
    drift: float | None
    low: float | None
    high: float | None


def windows_of(reading: CategoryReading) -> list[Window]:
    """The windows of a category, shortest first."""
    curve = reading.curve("searches")
    if curve is None:
        return []
    timeline, values = curve
    return [
        Window(
            weeks=weeks,
            **{measure: _last(reading, measure, weeks) for measure in MEASURES},
            **_change(reading, timeline, values, weeks),
        )
        for weeks in WINDOWS
        if _holds(timeline, weeks)
    ]


def _holds(timeline: Timeline, weeks: int) -> bool:
    """Whether figures of that period say anything of so few weeks: a month nothing of one."""
    return timeline.period is Period.WEEK or weeks >= 4


def _change(
    reading: CategoryReading, timeline: Timeline, values: Floats, weeks: int
) -> dict[str, float | None]:
    """The change of searches and its parts: as figures where they are some, else read from the curve."""
    key = f"growth_{weeks}w"
    if f"{key}.raw" in reading.figures:
        ends = {
            "raw": "raw",
            "season": "season",
            "drift": "drift",
            "low": "drift_low",
            "high": "drift_high",
        }
        return {name: reading.figures[f"{key}.{end}"] for name, end in ends.items()}
    profile = reading.figures["season_profile"]
    factors = np.array(profile, dtype=np.float64) if profile else np.full(52, np.nan)
    split = growth_split(values[None], factors[timeline.slots][None], timeline.period.span(weeks))
    found = {
        "raw": split.raw,
        "season": split.season,
        "drift": split.drift,
        "low": split.low,
        "high": split.high,
    }
    return {name: _known(float(each[0])) for name, each in found.items()}


def _last(reading: CategoryReading, measure: str, weeks: int) -> float | None:
    """The sum of a curve's last weeks; None where it does not reach as far or a period is unknown."""
    curve = reading.curve(measure)
    if curve is None or not _holds(curve[0], weeks):
        return None
    timeline, values = curve
    span = timeline.period.span(weeks)
    return None if span > len(values) else _known(float(values[-span:].sum()))


def _known(value: float) -> float | None:
    return None if np.isnan(value) else value
