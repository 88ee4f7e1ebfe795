"""Times that are asked about: months, the weeks up to a feast, the last season."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from driftfield.core.base import CoreError, Period

from .feasts import FEAST_NAMES, FEASTS, Feast, feast_dates
from .season_dates import slot_date

FEAST_WEEKS = 4  # Weeks up to a feast in which one buys for it; common practice, no source.
_WEEKS = "four"


@dataclass(frozen=True, slots=True)
class Time:
    """From one day to another, and what that is called.

    text: how it is written where it is asked for; empty for what is not.
    """

    first: date
    last: date
    name: str
    text: str = ""

    @classmethod
    def of_month(cls, text: str) -> Time:
        """A month as “2026-10” or “2026-10-01”. Raises CoreError for what is none."""
        try:
            first = date.fromisoformat(text if len(text) > 7 else f"{text}-01").replace(day=1)
        except ValueError:
            raise CoreError(f"“{text}” is not a month; write it as 2026-10.") from None
        after = (first + timedelta(days=31)).replace(day=1)
        return cls(first, after - timedelta(days=1), f"{first:%B %Y}", f"{first:%Y-%m}")

    @classmethod
    def of_months(cls, first: Time, last: Time) -> Time:
        """From one month to another. Raises CoreError where the second comes before the first."""
        if first == last:
            return first
        if last.first < first.first:
            raise CoreError(f"{last.name} comes before {first.name}.")
        return cls(
            first.first, last.last, f"{first.name} to {last.name}", f"{first.text} to {last.text}"
        )

    @classmethod
    def of_feast_in(cls, name: str, year: int) -> Time:
        """The weeks up to a feast of a year. Raises CoreError for what is none, or where its day is unknown."""
        feast = _feast(name)
        days = [day for day in feast_dates(feast, year, year) if day.year == year]
        if not days:
            raise CoreError(f"When {feast.name} is in {year} is not known here.")
        return cls._upto(feast, days[0])

    @classmethod
    def _upto(cls, feast: Feast, day: date) -> Time:
        named = f"{feast.name} {day.year}"
        return cls(day - timedelta(weeks=FEAST_WEEKS), day, named, named)

    @property
    def within(self) -> str:
        """As it stands in a sentence: “in October 2025”, “in the four weeks up to Easter 2026”."""
        feast = self.text.startswith(FEAST_NAMES)
        return f"in the {_WEEKS} weeks up to {self.name}" if feast else f"in {self.name}"

    @classmethod
    def of_feast(cls, name: str, day: date) -> Time:
        """The weeks up to the latest feast of a name before a day. Raises CoreError for what is none."""
        feast = _feast(name)
        last = max(one for one in feast_dates(feast, day.year - 2, day.year) if one <= day)
        return cls._upto(feast, last)

    @classmethod
    def of_peak(cls, slots: Sequence[int] | None, period: Period, day: date) -> Time:
        """The latest peak that was over by a day; the last year where there is none.

        ``slots`` are its weeks (months) of the year, numbered from 1.
        """
        if not slots:
            return cls(day - timedelta(days=363), day, "the last year")
        for year in (day.year, day.year - 1, day.year - 2):
            first = slot_date(slots[0] - 1, period, year)
            ends = year + (slots[-1] < slots[0])
            last = slot_date(slots[-1] - 1, period, ends)
            last = period.start(period.number(last) + 1) - timedelta(days=1)
            if last <= day:
                break
        return cls(first, last, f"its last season, {first:%B %Y} to {last:%B %Y}")

    def latest_upto(self, day: date) -> Time:
        """The same a whole number of years earlier, so that it is over by a day."""
        first, last = self.first, self.last
        while last > day:
            first, last = _year_before(first), _year_before(last)
        return Time(first, last, f"{first:%B %Y}" if first != self.first else self.name)


def _feast(name: str) -> Feast:
    found = next((one for one in FEASTS if one.name.lower() == name.strip().lower()), None)
    if found is None:
        raise CoreError(f"“{name}” is none of the feasts that move: {', '.join(FEAST_NAMES)}.")
    return found


def _year_before(day: date) -> date:
    try:
        return day.replace(year=day.year - 1)
    except ValueError:  # 29 February.
        return day.replace(year=day.year - 1, day=28)
