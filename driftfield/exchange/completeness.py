"""Which period of some figures is the last one complete."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import Floats, Tally, Timeline, to_digits

USABLE = 20  # Searches in a period from which a term's change says something.
LEAST_TERMS = 20


def last_complete(
    searches: Floats, timeline: Timeline, as_of: date | None, created_until: date | None
) -> tuple[date, str | None]:
    """As-of for figures that run to ``timeline.end``, and a sentence when something is left out.

    What the user asks for comes first; then what the package says of its making; then the look of
    the last period itself.
    """
    return end_of(Ratios.of(searches, timeline), timeline, as_of, created_until)


def end_of(
    ratios: Ratios, timeline: Timeline, as_of: date | None, created_until: date | None
) -> tuple[date, str | None]:
    """The same from what terms did in the last period."""
    if as_of is not None:
        day = timeline.upto(as_of).end
        return day, None
    if created_until is not None and created_until < timeline.end:
        day = timeline.upto(created_until).end
        return day, f"Periods after {day} were not complete when the package was made."
    if ratios.running():
        day = timeline.start(timeline.length - 1) - timedelta(days=1)
        return day, (
            f"The {timeline.period.value} of {timeline.start(timeline.length - 1)} is far below any "
            "other and was taken as still running; created in datapackage.json, or --as-of on the command "
            "line, settles it."
        )
    return timeline.end, None


@dataclass(frozen=True, slots=True)
class Ratios:
    """How terms did in the last period over the one before, and a year earlier at the same time; counts by
    ratio, those of parts of a market add up."""

    now: Tally
    then: Tally

    @classmethod
    def of(cls, searches: Floats, timeline: Timeline) -> Ratios:
        """Of terms with USABLE searches or more, (terms, length)."""
        if timeline.length < 3:
            return cls(Tally.nothing(), Tally.nothing())
        year = timeline.period.per_year
        last, before = searches[:, -1], searches[:, -2]
        usable = ~np.isnan(last) & (before >= USABLE)
        then = Tally.nothing()
        if timeline.length > year + 1:
            then_last, then_before = searches[:, -1 - year], searches[:, -2 - year]
            had = usable & (then_before >= USABLE) & ~np.isnan(then_last)
            then = Tally.of(to_digits(then_last[had] / then_before[had]))
        return cls(Tally.of(to_digits(last[usable] / before[usable])), then)

    @classmethod
    def together(cls, several: Sequence[Ratios]) -> Ratios:
        """Of all terms."""
        return cls(
            Tally.together(one.now for one in several), Tally.together(one.then for one in several)
        )

    def running(self, *, fall: float = 0.7) -> bool:
        """Whether the last period looks like one that was still running when the data were taken.

        Nothing in a file says so, but a market does not lose 30% of its searches in one period: the last is
        taken as running when the median term fell to under ``fall`` of its period before, and under ``fall`` of
        what it did a year earlier at the same time. Needs LEAST_TERMS usable terms; with fewer a season's own
        end could look the same, and the answer is no.
        """
        if self.now.total < LEAST_TERMS:
            return False
        now = self.now.median()
        if self.then.total >= LEAST_TERMS:
            return now < fall and now < fall * self.then.median()
        return now < fall


def running_period(searches: Floats, timeline: Timeline, *, fall: float = 0.7) -> bool:
    """Whether the last column of searches, (terms, length), looks as if still running; see ``Ratios``."""
    return Ratios.of(searches, timeline).running(fall=fall)
