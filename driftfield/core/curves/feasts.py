"""Feasts that move: a curve may keep time with one of them instead of with the calendar.

Dates come from the package ``holidays``: each feast from the public holidays of a country that
keeps it. Ramadan and the lunisolar feasts are as observed or estimated there, which may differ
from another country's by a day.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from functools import lru_cache

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Timeline

from .profile import Axis
from .recurrence import correlations

WEEKS = 52
BEFORE = 26  # Slot of the feast's own week on its axis; slot 0 is half a year before it.
# Buying leads a feast by weeks and ends with it; a peak further away is kept by something else.
LEADS, TRAILS = 9, 3
NO_FEAST = -1
MIN_FEASTS = 3  # Two years may agree on any date by chance.


@dataclass(frozen=True, slots=True)
class Feast:
    """A feast by name, and where its dates stand in the package: country and holiday."""

    name: str
    country: str
    holiday: str


FEASTS = (
    Feast("Easter", "PL", "Easter Sunday"),
    Feast("Ramadan", "BN", "First Day of Ramadan"),
    Feast("Diwali", "IN", "Diwali"),
    Feast("Lunar New Year", "SG", "Chinese New Year"),
)
FEAST_NAMES = tuple(feast.name for feast in FEASTS)


@lru_cache(maxsize=64)
def feast_dates(feast: Feast, first: int, last: int) -> tuple[date, ...]:
    """Dates of a feast in the years ``first`` to ``last``; for Ramadan its first day."""
    from holidays import country_holidays  # tables of many countries, needed by few markets

    known = country_holidays(
        feast.country, years=range(first, last + 1), language="en_US", observed=False
    )
    days = sorted(day for day, name in known.items() if feast.holiday in name)
    # A feast of several days counts by its first.
    return tuple(
        day for i, day in enumerate(days) if i == 0 or (day - days[i - 1]).days > 14
    )  # fmt: skip


def _dates_around(feast: Feast, timeline: Timeline) -> tuple[date, ...]:
    return feast_dates(feast, timeline.first.year - 1, timeline.end.year + 2)


def weeks_from(feast: Feast, timeline: Timeline) -> Ints:
    """Whole weeks from the nearest date of a feast, (timeline.length,), negative before it."""
    days = np.array([day.toordinal() for day in _dates_around(feast, timeline)])
    # A week counts by its Thursday, as in ISO 8601.
    middle = timeline.first.toordinal() + 3 + 7 * np.arange(timeline.length)
    place = np.clip(np.searchsorted(days, middle), 1, len(days) - 1)
    gap_after, gap_before = middle - days[place], middle - days[place - 1]
    gap = np.where(np.abs(gap_after) <= np.abs(gap_before), gap_after, gap_before)
    weeks: Ints = np.rint(gap / 7).astype(np.int64)
    return weeks


def feast_axis(feast: Feast, timeline: Timeline) -> Axis:
    """The axis on which slot 26 is the feast's week; whole years are those around each feast."""
    away = np.clip(weeks_from(feast, timeline), -BEFORE, BEFORE - 1)
    centres = np.flatnonzero(away == 0)
    centres = centres[(centres >= BEFORE) & (centres + BEFORE <= timeline.length)]
    years = centres[:, None] + np.arange(-BEFORE, BEFORE)
    return Axis(away + BEFORE, years)


def _weekly_recurrence(ratio: Floats, axis: Axis) -> Floats:
    """Median correlation between years on smoothed weeks, (subjects,); NaN with under two."""
    by_year = axis.by_year(ratio)
    if by_year.shape[1] < 2:
        return np.full(len(ratio), np.nan)
    median: Floats = np.median(correlations(by_year), axis=1)
    return median


def keeps_time_with(
    values: Floats, level: Floats, calendar: Axis, timeline: Timeline, least_gain: float
) -> tuple[Ints, Floats]:
    """Which feast each curve keeps time with, and what that gains in recurrence; (subjects,) each.

    ``values`` and ``level`` are (subjects, length) by week on ``timeline``. The place in FEASTS, or
    NO_FEAST. The gain is the median correlation between years laid feast on feast, less that of
    calendar years, both on weeks smoothed with ¼, ½, ¼. A feast is named where the gain is at least
    ``least_gain``, the best window of four weeks lies from nine weeks before it to three after, and
    no other gains more.
    """
    n = len(values)
    best, gain = np.full(n, NO_FEAST, dtype=np.int64), np.full(n, np.nan)
    with np.errstate(invalid="ignore", divide="ignore"):
        ratio = np.where(level > 0, values / level, 0)
    # A single loud year would otherwise speak for all.
    ratio = np.minimum(ratio, 15)
    smoothed = ratio.copy()
    smoothed[:, 1:-1] = (ratio[:, :-2] + 2 * ratio[:, 1:-1] + ratio[:, 2:]) / 4
    by_calendar = _weekly_recurrence(smoothed, calendar)
    top = np.full(n, -np.inf)
    for place, feast in enumerate(FEASTS):
        axis = feast_axis(feast, timeline)
        if len(axis.years) < MIN_FEASTS:
            continue
        aligned = _weekly_recurrence(smoothed, axis)
        better: Bools = np.asarray(
            (aligned - by_calendar >= least_gain) & (aligned > top) & _near(smoothed, axis)
        )
        top[better], best[better] = aligned[better], place
        gain[better] = (aligned - by_calendar)[better]
    return best, gain


def _near(ratio: Floats, axis: Axis) -> Bools:
    """Whether the mean year's best four weeks lie near the feast."""
    mean = axis.by_year(ratio).mean(axis=1)
    sums = np.cumsum(np.pad(mean, ((0, 0), (1, 0))), axis=1)
    start = (sums[:, 4:] - sums[:, :-4]).argmax(axis=1)
    return np.asarray((start >= BEFORE - LEADS) & (start + 3 <= BEFORE + TRAILS))


def feasts_between(timeline: Timeline, late: slice, early: slice) -> list[str]:
    """Feasts that fall in one of two windows of columns and not in the other."""
    apart = []
    for feast in FEASTS:
        days = _dates_around(feast, timeline)

        def falls(window: slice, days: tuple[date, ...] = days) -> bool:
            begin, end = timeline.start(window.start), timeline.start(window.stop)
            return any(begin <= day < end for day in days)

        if falls(late) != falls(early):
            apart.append(feast.name)
    return apart
