"""The time axis: weeks named by their Monday, months by their first day.

Weeks follow ISO 8601. A year has 52 slots: slot 0 is ISO week 1, and week 53, which comes every
five or six years, shares the slot of week 52.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from enum import Enum
from functools import cached_property
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from .errors import CoreError

Floats: TypeAlias = NDArray[np.float64]
Ints: TypeAlias = NDArray[np.int64]
Bools: TypeAlias = NDArray[np.bool_]


class Period(Enum):
    """The step of a curve."""

    WEEK = "week"
    MONTH = "month"

    @property
    def per_year(self) -> int:
        """Slots in a year: 52 or 12."""
        return 52 if self is Period.WEEK else 12

    @property
    def block(self) -> int:
        """Periods summed into one block where single weeks are too noisy: four weeks, one month."""
        return 4 if self is Period.WEEK else 1

    def span(self, weeks: int) -> int:
        """How many periods stand for ``weeks`` weeks: 13 weeks are 13 weeks or 3 months."""
        return weeks if self is Period.WEEK else max(1, round(weeks * 12 / 52))

    def number(self, day: date) -> int:
        """A running number of the period that holds ``day``."""
        if self is Period.WEEK:
            return (day.toordinal() - 1) // 7
        return day.year * 12 + day.month - 1

    def start(self, number: int) -> date:
        """First day of the period with this running number."""
        if self is Period.WEEK:
            return date.fromordinal(number * 7 + 1)
        return date(number // 12, number % 12 + 1, 1)


@dataclass(frozen=True)
class Timeline:
    """A run of ``length`` consecutive periods that starts on ``first``."""

    period: Period
    first: date
    length: int

    def __post_init__(self) -> None:
        if self.period.start(self.period.number(self.first)) != self.first:
            raise CoreError(
                f"A {self.period.value} is named by its first day; {self.first} is not one."
            )

    @property
    def first_number(self) -> int:
        return self.period.number(self.first)

    @property
    def end(self) -> date:
        """Last day of the last period: the as-of of figures that stop here."""
        return self.period.start(self.first_number + self.length) - timedelta(days=1)

    def start(self, index: int) -> date:
        """First day of the period at ``index``."""
        return self.period.start(self.first_number + index)

    @cached_property
    def slots(self) -> Ints:
        """Slot of the year for each period, (length,), 0–51 or 0–11; week 53 has slot 51."""
        if self.period is Period.MONTH:
            return (self.first_number + np.arange(self.length)) % 12
        weeks = [self.start(i).isocalendar().week for i in range(self.length)]
        return np.minimum(np.array(weeks, dtype=np.int64), 52) - 1

    @cached_property
    def fold(self) -> Ints:
        """Column on the 52-a-year axis for each period, (length,): week 53 shares week 52's."""
        step = np.ones(self.length, dtype=np.int64)
        step[0] = 0
        step[1:][(self.slots[1:] == self.slots[:-1])] = 0
        return np.cumsum(step)

    def upto(self, as_of: date) -> Timeline:
        """The same run, ended with the last period complete on ``as_of``."""
        length = self.period.number(as_of + timedelta(days=1)) - self.first_number
        if length < 1:
            raise CoreError(
                f"No {self.period.value} is complete by {as_of}: the figures start on {self.first}."
            )
        return Timeline(self.period, self.first, min(length, self.length))


def fold_week53(values: Floats, timeline: Timeline) -> Floats:
    """Put values on a regular axis of 52 a year: weeks 52 and 53 become their mean.

    A mean and not a sum, so that the level of a week stays a week's level.

    Parameters
    ----------
    values : array (subjects, length)
        Any figures by period, NaN where absent.
    timeline : Timeline
        The periods of the columns. Monthly values come back as they are.

    Returns
    -------
    array (subjects, folded length)
        A column for each slot of the regular axis.
    """
    fold = timeline.fold
    width = int(fold[-1]) + 1
    if width == timeline.length:
        return values
    first_at = np.searchsorted(fold, np.arange(width))
    counts = np.bincount(fold, minlength=width)
    folded: Floats = np.add.reduceat(values, first_at, axis=1) / counts
    return folded
