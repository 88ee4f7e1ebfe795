"""From a season profile to dates: every season is also an order-by date."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from .periods import Floats, Ints, Period


def rise_start(factors: Floats, peak_start: Ints, peak_length: Ints) -> Ints:
    """Slot in which the year's rise begins, (subjects,); -1 for a profile that never leaves 1.

    Walking back from the highest slot of the peak window, the rise begins with the first slot of
    the unbroken run above the year's mean. ``factors`` is (subjects, slots) with mean 1.
    """
    n, slots = factors.shape
    rows = np.arange(n)
    offsets = np.arange(slots)
    window = (peak_start[:, None] + offsets) % slots
    inside = offsets < peak_length[:, None]
    in_peak = np.where(inside, factors[rows[:, None], window], -np.inf)
    top = (peak_start + in_peak.argmax(axis=1)) % slots
    back = (top[:, None] - offsets) % slots
    above = factors[rows[:, None], back] > 1
    run = np.where(above.all(axis=1), slots, (~above).argmax(axis=1))
    start = (top - np.maximum(run - 1, 0)) % slots
    flat = np.ptp(factors, axis=1) < 1e-9
    return np.where(flat, -1, start).astype(np.int64)


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
