"""From a season profile to dates: every season is also an order-by date."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Period

DIP = 0.5  # How far the profile must fall between two humps, of the lower one's height above the mean.


@dataclass(frozen=True, slots=True)
class Season:
    """The marks of a season in the year, slots, each (subjects,); -1 for a profile that is level.

    rise: first slot of the unbroken run above the year's mean that holds the highest slot.
    end: last slot of that run. quiet, quiet_length: the longest unbroken run of slots below
    the quiet level; length 0 where there is none.
    second, second_length: the run above the mean of a second hump; length 0 where there is none.
    """

    rise: Ints
    end: Ints
    quiet: Ints
    quiet_length: Ints
    second: Ints
    second_length: Ints


def _longest_run(inside: Bools) -> tuple[Ints, Ints]:
    """Start and length of the longest run of True round each circle; the earliest on ties."""
    n, slots = inside.shape
    twice = np.concatenate([inside, inside], axis=1)
    columns = np.arange(2 * slots, dtype=np.int16)
    last_out = np.maximum.accumulate(np.where(twice, np.int16(-1), columns), axis=1)
    length = np.minimum(columns - last_out, slots)
    # Runs are read off at their last slot; the second round sees those that cross the year's turn.
    end = length[:, slots:].argmax(axis=1)
    longest = length[np.arange(n), slots + end].astype(np.int64)
    start = (end - longest + 1) % slots
    return np.where(longest == slots, 0, start), longest


def season_marks(
    factors: Floats, peak: Ints, peak_length: Ints, quiet_level: float, share: float
) -> Season:
    """Marks of profiles (subjects, slots) with mean 1.

    ``peak`` and ``peak_length`` (subjects,) are the slots of the peak window; ``quiet_level`` is the
    factor below which a slot is quiet. A second hump is another run above the mean that holds at
    least ``share`` of what all runs hold above it, with a fall of half its height between the two.
    """
    slots = factors.shape[1]
    offsets = np.arange(slots)
    since = offsets - peak[:, None]
    inside = np.where(since < 0, since + slots, since) < peak_length[:, None]
    top = np.where(inside, factors, -np.inf).argmax(axis=1)
    # Turned so that the highest slot comes first, its run begins and ends the row.
    place = top[:, None] + offsets
    turned = np.take_along_axis(factors, np.where(place < slots, place, place - slots), axis=1)
    above = turned > 1
    whole = above.all(axis=1)
    after = np.where(whole, slots, (~above).argmax(axis=1))
    before = np.where(whole, 1, (~above[:, ::-1]).argmax(axis=1) + 1)
    rise, end = (top - before + 1) % slots, (top + after - 1) % slots

    rest = above & (offsets >= after[:, None]) & (offsets <= slots - before[:, None])
    excess = np.maximum(turned - 1, 0)
    held = np.where(rest, excess, 0).sum(axis=1)
    second, second_length = np.full((2, len(factors)), -1)
    second_length[:] = 0
    rows = np.flatnonzero((held > 0) & (held >= share * excess.sum(axis=1)))
    if rows.size:
        found = _second_hump(turned[rows], rest[rows], top[rows], share)
        second[rows], second_length[rows] = found

    flat = np.ptp(factors, axis=1) < 1e-9
    quiet, quiet_length = _longest_run(factors < quiet_level)
    for marks in (rise, end, quiet, second):
        marks[flat] = -1
    second_length[flat] = 0
    return Season(
        rise, end, np.where(quiet_length > 0, quiet, -1), quiet_length,
        np.where(second_length > 0, second, -1), second_length,
    )  # fmt: skip


def _second_hump(turned: Floats, rest: Bools, top: Ints, share: float) -> tuple[Ints, Ints]:
    """The run of ``rest`` that holds most above the mean, in slots of the year."""
    n, slots = turned.shape
    excess = np.where(rest, turned - 1, 0)
    total = np.maximum(turned - 1, 0).sum(axis=1)
    begins = rest & ~np.pad(rest, ((0, 0), (1, 0)))[:, :-1]
    label = np.cumsum(begins, axis=1, dtype=np.int16) * rest
    many = int(label.max(initial=0)) + 1
    flat = (np.arange(n)[:, None] * many + label).ravel()
    held = np.bincount(flat, weights=excess.ravel(), minlength=n * many).reshape(n, many)
    size = np.bincount(flat, minlength=n * many).reshape(n, many)
    if many == 1:
        return np.full(n, -1, dtype=np.int64), np.zeros(n, dtype=np.int64)
    best = held[:, 1:].argmax(axis=1) + 1
    rows = np.arange(n)
    mine = label == best[:, None]
    start = mine.argmax(axis=1)
    peak = np.where(mine, turned, -np.inf).max(axis=1)
    place = np.where(mine, turned, -np.inf).argmax(axis=1)
    # The lowest slot on the way to it, from either side, must lie well below both humps.
    columns = np.arange(slots)
    to = np.where(columns <= place[:, None], turned, np.inf).min(axis=1)
    fro = np.where(columns >= place[:, None], turned, np.inf).min(axis=1)
    apart = np.maximum(to, fro) <= 1 + (1 - DIP) * (peak - 1)
    with np.errstate(invalid="ignore", divide="ignore"):
        found = apart & (held[rows, best] >= share * total) & (held[rows, best] > 0)
    return (top + start) % slots, np.where(found, size[rows, best], 0).astype(np.int64)


def slot_date(slot: int, period: Period, year: int) -> date:
    """First day of a slot in a year (for weeks, the ISO year)."""
    if period is Period.WEEK:
        return date.fromisocalendar(year, slot + 1, 1)
    return date(year, slot + 1, 1)


@dataclass(frozen=True, slots=True)
class Call:
    """The date to order by for the next season that can still be met, and the last one missed.

    rise: when that season's rise begins. missed: the order-by date of a season whose rise is still
    ahead but for which it is too late; None when there is none.
    """

    order_by: date
    rise: date
    missed: date | None


def next_call(rise_slot: int, period: Period, as_of: date, lead_days: int) -> Call:
    """Order-by date for a rise that begins in ``rise_slot``: rise − lead time, from ``as_of`` on."""
    lead = timedelta(days=lead_days)
    missed: date | None = None
    first = as_of.year - 1
    for year in range(first, first + 6):
        rise = slot_date(rise_slot, period, year)
        if rise - lead >= as_of:
            return Call(rise - lead, rise, missed)
        if rise > as_of:
            missed = rise - lead
    raise AssertionError("A rise comes every year and a lead time is under two.")


@dataclass(frozen=True, slots=True)
class SeasonDates:
    """What to do when, for the season of a call: order, be on sale, expect the most, run stock down.

    list_by: the rise begins. peak_from, peak_to: first and last day of the peak window, None where
    the profile has none. wind_down: first day of the first period back under the year's mean.
    """

    order_by: date
    list_by: date
    peak_from: date | None
    peak_to: date | None
    wind_down: date


def season_dates(call: Call, peak: Sequence[int], end_slot: int, period: Period) -> SeasonDates:
    """The dates of the season that rises with ``call``; ``peak`` are the slots of its peak window.

    The peak is that nearest to the rise, for the best weeks may begin a little before the year's
    mean is passed; the end is the first after it.
    """
    peak_from = peak_to = None
    if peak:
        peak_from = _nearest(peak[0], period, call.rise)
        peak_to = _past(peak[-1], period, peak_from)
    return SeasonDates(
        call.order_by, call.rise, peak_from,
        None if peak_to is None else peak_to - timedelta(days=1),
        _past(end_slot, period, call.rise),
    )  # fmt: skip


def _nearest(slot: int, period: Period, day: date) -> date:
    days = [slot_date(slot, period, day.year + k) for k in (-1, 0, 1)]
    return min(days, key=lambda one: abs((one - day).days))


def _past(slot: int, period: Period, day: date) -> date:
    """The day after the first such slot that begins on or after ``day``."""
    found = next(
        one
        for year in range(day.year - 1, day.year + 3)
        if (one := slot_date(slot, period, year)) >= day
    )
    return period.start(period.number(found) + 1)
