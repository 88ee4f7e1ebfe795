"""From seasons to dates: what is caught when ordering on a day, and until when enough can be."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Period

from .feasts import FEASTS, NO_FEAST, feast_dates
from .seasons import Humps, humps_of

WITHIN = timedelta(weeks=78)  # How far from the planning date the peaks of seasons are looked for.
WORTH = 0.5  # Share of a season that must be caught for it to be the one to act on.
QUARTER = 91  # Days of the quarter after arrival.
CHUNK = 4096  # Subjects dated at once: what is held of them is wide.
_BACK, _AHEAD = 3, 7  # Years around the planning date that dates are made for.
_LEAST = 1e-9


@dataclass(frozen=True, slots=True)
class Planned:
    """The seasons to come, one by one, by subject and the day of the highest slot.

    Each (seasons,); days are ordinals, first days but for ``peak_end`` and ``end``. share: of a year's
    demand. caught: of the season's demand, what comes after arrival.
    """

    subject: Ints
    rise: Ints
    peak_start: Ints
    peak_end: Ints
    wind_down: Ints
    end: Ints
    share: Floats
    caught: Floats


@dataclass(frozen=True, slots=True)
class SeasonPlan:
    """What a planning date and a lead time make of seasons; each (subjects,), NaN for unknown.

    planned: the seasons one by one. order_by, open_until: ordinals of the season to act on: the day of
    its rise less the lead time, and the last day on which ordering catches half. caught: of it when
    ordering on the planning date. running_left: what is caught of an earlier one of which less than
    half is. after_arrival: share of a year's demand in the quarter after arrival. next_full: ordinal of
    the next day on which ordering meets a rise. planning: ordinal of the planning date.
    """

    planned: Planned
    order_by: Floats
    open_until: Floats
    caught: Floats
    running_left: Floats
    after_arrival: Floats
    next_full: Floats
    planning: Floats


def slot_date(slot: int, period: Period, year: int) -> date:
    """First day of a slot in a year (for weeks, the ISO year)."""
    if period is Period.WEEK:
        return date.fromisocalendar(year, slot + 1, 1)
    return date(year, slot + 1, 1)


@dataclass(frozen=True, slots=True)
class _Days:
    """First days of slots, ordinals, over some years; ``year`` of them counts as year 0."""

    table: Ints
    year: int
    period: Period

    @classmethod
    def around(cls, day: date, period: Period) -> _Days:
        year = day.year - _BACK
        table = [
            slot_date(slot, period, one).toordinal()
            for one in range(year, day.year + _AHEAD)
            for slot in range(period.per_year)
        ]
        return cls(np.array(table), year, period)

    def place(self, days: Ints) -> Floats:
        """Where days lie among the slots, in slots and parts of them from the table's first."""
        at = np.clip(np.searchsorted(self.table, days, side="right") - 1, 0, len(self.table) - 2)
        return np.asarray(at + (days - self.table[at]) / (self.table[at + 1] - self.table[at]))


def plan_seasons(
    factors: Floats,
    starts: Bools,
    peak_length: Ints,
    feast: Ints,
    period: Period,
    *,
    as_of: date,
    planning: date,
    lead_days: int,
) -> SeasonPlan:
    """Date the seasons of profiles for a planning date and a lead time.

    A season is dated as often as its highest slot starts within 78 weeks of the planning date and it is
    not over on arrival. The season to act on is the first of which at least half of the demand comes
    after arrival; it is dated wherever it lies.

    Parameters
    ----------
    factors : array (subjects, slots)
        Season profiles with mean 1, NaN where there is none.
    starts : bool array (subjects, slots)
        The slots in which seasons start (``season_starts``); none for a subject without a season.
    peak_length : int array (subjects,)
        Slots of a peak window at most.
    feast : int array (subjects,)
        Place in FEASTS of the feast that a profile keeps time with, or ``NO_FEAST``. Its profile is
        that of the year after ``as_of``; in other years it moves with the feast, by whole weeks.
    period : Period
        The step of the profiles.
    as_of, planning : date
        Last day of the figures; day of ordering.
    lead_days : int
        Days from ordering to being on sale.

    Returns
    -------
    SeasonPlan
    """
    n = len(factors)
    places = [np.arange(start, min(start + CHUNK, n)) for start in range(0, max(n, 1), CHUNK)]
    parts = [
        _plan(
            factors[at], starts[at], peak_length[at], feast[at], period, as_of, planning, lead_days
        )
        for at in places
    ]
    return join_plans(parts, places)


def join_plans(parts: list[SeasonPlan], places: list[Ints]) -> SeasonPlan:
    """Plans of the parts of a market as one; ``places`` are those of each part's subjects in it."""
    several = [part.planned for part in parts]
    subject = np.concatenate([at[one.subject] for at, one in zip(places, several, strict=True)])
    order = np.argsort(subject, kind="stable")
    back = np.argsort(np.concatenate(places))
    columns = {
        name: np.concatenate([getattr(one, name) for one in several])[order]
        for name in Planned.__slots__
        if name != "subject"
    }
    rest = {
        name: np.concatenate([getattr(part, name) for part in parts])[back]
        for name in SeasonPlan.__slots__
        if name != "planned"
    }
    return SeasonPlan(planned=Planned(subject=subject[order], **columns), **rest)


@dataclass(frozen=True, slots=True)
class SeasonTimes:
    """Times that seasons come, one by one; days are ordinals, each (times,).

    hump: which season of ``humps``. first: the slot of ``days`` it starts in. shift: days by which it comes
    later than the calendar has it, for it keeps time with a feast.
    """

    humps: Humps
    days: _Days
    hump: Ints
    first: Ints
    shift: Ints

    @classmethod
    def around(
        cls, factors: Floats, starts: Bools, peak_length: Ints, feast: Ints, period: Period,
        *, as_of: date, day: date,
    ) -> SeasonTimes:  # fmt: skip
        """Every time within some years of a day; for the rest see ``plan_seasons``."""
        days = _Days.around(day, period)
        humps = humps_of(np.nan_to_num(factors), starts, peak_length)
        hump, turn = _all_times(humps, days)
        first = turn * period.per_year + humps.start[hump]
        return cls(humps, days, hump, first, _feast_shift(humps, hump, first, feast, days, as_of))

    def only(self, rows: Ints) -> SeasonTimes:
        return SeasonTimes(
            self.humps, self.days, self.hump[rows], self.first[rows], self.shift[rows]
        )

    def day(self, offset: Ints) -> Ints:
        """The first day of a slot of each, counted from its start."""
        found: Ints = self.days.table[self.first + offset] + self.shift
        return found

    @property
    def subject(self) -> Ints:
        return self.humps.subject[self.hump]

    @property
    def share(self) -> Floats:
        return self.humps.share[self.hump]

    @property
    def rise(self) -> Ints:
        return self.day(self.humps.rise[self.hump])

    @property
    def top(self) -> Ints:
        return self.day(self.humps.top[self.hump])

    @property
    def peak_start(self) -> Ints:
        return self.day(self.humps.peak[self.hump])

    @property
    def peak_end(self) -> Ints:
        return self.day((self.humps.peak + self.humps.peak_length)[self.hump]) - 1

    @property
    def end(self) -> Ints:
        return self.day(self.humps.length[self.hump]) - 1

    @property
    def wind_down(self) -> Ints:
        return np.minimum(self.day(self.humps.fall[self.hump]), self.end)

    @property
    def half(self) -> Ints:
        """The last day from which on half of the demand is still to come."""
        return _half_day(self.humps, self.hump, self.days, self.first) + self.shift

    def caught(self, arrival: Ints) -> Floats:
        """Share of the demand that comes after arrival; an ordinal for all, or one for each."""
        return _caught(self.humps, self.hump, self.days.place(arrival - self.shift) - self.first)


def _plan(
    factors: Floats, starts: Bools, peak_length: Ints, feast: Ints, period: Period,
    as_of: date, planning: date, lead_days: int,
) -> SeasonPlan:  # fmt: skip
    n = len(factors)
    times = SeasonTimes.around(
        factors, starts, peak_length, feast, period, as_of=as_of, day=planning
    )
    arrival = np.array(planning.toordinal() + lead_days)
    order_by = times.rise - lead_days
    next_full = np.full(n, np.nan)
    ahead = np.flatnonzero(order_by >= planning.toordinal())
    np.fmin.at(next_full, times.subject[ahead], order_by[ahead].astype(np.float64))

    kept = np.flatnonzero(times.end >= arrival)
    times = times.only(kept[np.lexsort((times.top[kept], times.subject[kept]))])
    caught = times.caught(arrival)
    # Those looked for, and the first worth it where it lies further ahead.
    worth = np.flatnonzero(caught >= WORTH - _LEAST)
    worth = worth[np.diff(times.subject[worth], prepend=-1) > 0]
    near = times.top <= (planning + WITHIN).toordinal()
    near[worth] = True
    times, caught = times.only(np.flatnonzero(near)), caught[near]
    subject = times.subject
    planned = Planned(
        subject=subject, rise=times.rise, peak_start=times.peak_start, peak_end=times.peak_end,
        wind_down=times.wind_down, end=times.end, share=times.share, caught=caught,
    )  # fmt: skip
    # The first of each subject that is worth it, and the one that runs before it.
    acted, running = np.full((2, n), -1)
    worth = np.flatnonzero(caught >= WORTH - _LEAST)[::-1]
    acted[subject[worth]] = worth
    open_days = times.half - lead_days
    less = np.flatnonzero(caught < WORTH - _LEAST)[::-1]
    running[subject[less]] = less
    running[(running > acted) & (acted >= 0)] = -1

    def of(values: np.ndarray, which: Ints) -> Floats:
        padded = np.append(values.astype(np.float64), np.nan)
        return np.asarray(padded[which])

    return SeasonPlan(
        planned=planned, order_by=of(planned.rise - lead_days, acted), open_until=of(open_days, acted),
        caught=of(caught, acted), running_left=of(caught, running),
        after_arrival=_quarter_share(factors, times.days, int(arrival)), next_full=next_full,
        planning=np.full(n, float(planning.toordinal())),
    )  # fmt: skip


def _all_times(humps: Humps, days: _Days) -> tuple[Ints, Ints]:
    """Every time that a hump comes within the table: which hump, in which year of it."""
    # The last year of the table holds the ends of seasons that start in the one before.
    years = len(days.table) // days.period.per_year - 2
    return (
        np.tile(np.arange(len(humps.start)), years),
        np.repeat(np.arange(years), len(humps.start)),
    )


def _feast_shift(
    humps: Humps, hump: Ints, first: Ints, feast: Ints, days: _Days, as_of: date
) -> Ints:
    """Days by which a season that keeps time with a feast comes later than in the year after ``as_of``."""
    shift = np.zeros(len(hump), dtype=np.int64)
    of = feast[humps.subject[hump]]
    for place in np.unique(of[of != NO_FEAST]).tolist():
        rows = np.flatnonzero(of == place)
        year, last = days.year - 1, days.year + len(days.table) // days.period.per_year
        known = np.array([one.toordinal() for one in feast_dates(FEASTS[place], year, last)])
        top = days.table[first[rows] + humps.top[hump[rows]]]
        # The time that comes first after the figures end is the one the profile was laid for.
        base = np.full(len(humps.start), np.iinfo(np.int64).max)
        ahead = top > as_of.toordinal()
        np.minimum.at(base, hump[rows[ahead]], top[ahead])
        own = base[hump[rows]]
        away = own - _nearest(known, own)
        moved = _nearest(known, top - away) + away - top
        shift[rows] = 7 * np.rint(moved / 7).astype(np.int64)
    return shift


def _nearest(known: Ints, days: Ints) -> Ints:
    place = np.clip(np.searchsorted(known, days), 1, len(known) - 1)
    before, after = known[place - 1], known[place]
    nearest: Ints = np.where(days - before <= after - days, before, after)
    return nearest


def _caught(humps: Humps, hump: Ints, since: Floats) -> Floats:
    """Share of seasons' demand that comes after ``since``, in slots from their starts."""
    slots = humps.factors.shape[1]
    passed = np.zeros((len(humps.start), slots + 1))
    np.cumsum(humps.factors, axis=1, out=passed[:, 1:])
    until = np.clip(since, 0, humps.length[hump])
    whole = np.minimum(until.astype(np.int64), slots - 1)
    gone = passed[hump, whole] + (until - whole) * humps.factors[hump, whole]
    return np.asarray(np.clip(1 - gone / passed[hump, -1], 0, 1))


def _half_day(humps: Humps, hump: Ints, days: _Days, first: Ints) -> Ints:
    """The last day, an ordinal, from which on half of seasons' demand is still to come."""
    half = humps.half[hump]
    total = humps.factors.sum(axis=1)[hump]
    before = np.cumsum(humps.factors, axis=1)[hump, half] - humps.factors[hump, half]
    part = np.clip((total / 2 - before) / humps.factors[hump, half], 0, 1)
    start = days.table[first + half]
    whole = np.floor(part * (days.table[first + half + 1] - start) + _LEAST)
    return np.asarray(start + whole.astype(np.int64))


def _quarter_share(factors: Floats, days: _Days, arrival: int) -> Floats:
    """Share of a year's demand in the quarter from ``arrival`` on, (subjects,)."""
    slots = days.period.per_year
    begin, end = days.place(np.array([arrival, arrival + QUARTER]))
    weights = np.zeros(slots)
    for place in range(int(begin), int(np.ceil(end))):
        weights[place % slots] += min(end, place + 1) - max(begin, place)
    with np.errstate(invalid="ignore"):
        found: Floats = (factors * weights).sum(axis=1) / factors.sum(axis=1)
    return found
