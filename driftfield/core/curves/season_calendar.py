"""Every season that a stretch of days touches, and how high demand stands week by week."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Period

from .feasts import NO_FEAST
from .season_dates import SeasonTimes


@dataclass(frozen=True, slots=True)
class SeasonCalendar:
    """Seasons one by one, by subject and the day of the highest slot; each (seasons,).

    Days are ordinals, first days but for ``open_until``, ``peak_end`` and ``end``, which are last ones.
    order_by: ordering then meets all of it. open_until: ordering then still meets half. share: of a year's
    demand. caught: of the season's demand, what comes after arrival.
    """

    subject: Ints
    order_by: Ints
    open_until: Ints
    start: Ints
    rise: Ints
    top: Ints
    peak_start: Ints
    peak_end: Ints
    wind_down: Ints
    end: Ints
    share: Floats
    caught: Floats


def season_calendar(
    factors: Floats,
    starts: Bools,
    peak_length: Ints,
    feast: Ints,
    period: Period,
    *,
    as_of: date,
    planning: date,
    lead_days: Ints,
    first: date,
    last: date,
) -> SeasonCalendar:
    """Date the seasons that something is to be done for, or that run, from one day to another.

    Parameters
    ----------
    factors, starts, peak_length, feast, period, as_of
        As in ``plan_seasons``.
    planning : date
        The day of ordering.
    lead_days : int array (subjects,)
        Days from ordering to being on sale.
    first, last : date
        Seasons whose order-by date comes by ``last`` and that are not over before ``first``.

    Returns
    -------
    SeasonCalendar
    """
    times = SeasonTimes.around(
        factors, starts, peak_length, feast, period, as_of=as_of, day=planning
    )
    lead = lead_days[times.subject]
    shown = (times.end >= first.toordinal()) & (times.rise - lead <= last.toordinal())
    kept = np.flatnonzero(shown)
    times = times.only(kept[np.lexsort((times.top[kept], times.subject[kept]))])
    lead = lead_days[times.subject]
    return SeasonCalendar(
        subject=times.subject, order_by=times.rise - lead, open_until=times.half - lead,
        start=times.day(np.zeros_like(times.hump)), rise=times.rise, top=times.top, peak_start=times.peak_start,
        peak_end=times.peak_end, wind_down=times.wind_down, end=times.end, share=times.share,
        caught=times.caught(planning.toordinal() + lead),
    )  # fmt: skip


def weekly_levels(
    factors: Floats,
    starts: Bools,
    peak_length: Ints,
    feast: Ints,
    period: Period,
    *,
    as_of: date,
    first: date,
    weeks: int,
) -> Floats:
    """How high profiles stand in the weeks from a day on, (subjects, weeks), 1 for the year's mean.

    Of a profile that keeps time with a feast, each season stands where the feast puts it, and the week before
    goes on between two of them. For the rest see ``plan_seasons``.
    """
    days = [first + timedelta(days=7 * at + 3) for at in range(weeks)]
    slots = [
        min(day.isocalendar().week, 52) - 1 if period is Period.WEEK else day.month - 1
        for day in days
    ]
    levels: Floats = factors[:, slots].copy()
    moved = np.flatnonzero((feast != NO_FEAST) & starts.any(axis=1))
    if not moved.size:
        return levels
    times = SeasonTimes.around(
        factors[moved], starts[moved], peak_length[moved], feast[moved], period, as_of=as_of, day=first
    )  # fmt: skip
    own = np.full((len(moved), weeks), np.nan)
    slot = np.arange(period.per_year)
    begin = first.toordinal()
    near = (times.end >= begin) & (times.day(np.zeros_like(times.hump)) < begin + 7 * weeks)
    times = times.only(np.flatnonzero(near))
    for at in range(len(times.hump)):
        hump, place = times.hump[at], times.first[at]
        inside = slot[: times.humps.length[hump]]
        days_of = times.days.table[place + inside] + times.shift[at]
        until = times.days.table[place + inside + 1] + times.shift[at]
        for value, low, high in zip(times.humps.factors[hump], days_of, until, strict=False):
            inside_week = slice(max(-(-(low - begin) // 7), 0), max(-(-(high - begin) // 7), 0))
            own[times.subject[at], inside_week] = value
    for week in range(weeks):  # What two seasons leave between them goes on as it was.
        gap = np.isnan(own[:, week])
        own[gap, week] = own[gap, week - 1] if week else levels[moved][gap, week]
    levels[moved] = own
    return levels
