"""Which period of some figures is the last one complete."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np

from driftfield.core.base import Floats, Timeline


def last_complete(
    searches: Floats, timeline: Timeline, as_of: date | None, created_until: date | None
) -> tuple[date, str | None]:
    """As-of for figures that run to ``timeline.end``, and a sentence when something is left out.

    What the user asks for comes first; then what the package says of its making; then the look of
    the last period itself.
    """
    if as_of is not None:
        day = timeline.upto(as_of).end
        return day, None
    if created_until is not None and created_until < timeline.end:
        day = timeline.upto(created_until).end
        return day, f"Periods after {day} were not complete when the package was made."
    if running_period(searches, timeline):
        day = timeline.start(timeline.length - 1) - timedelta(days=1)
        return day, (
            f"The {timeline.period.value} of {timeline.start(timeline.length - 1)} is far below any "
            "other and was taken as still running; created in datapackage.json, or --as-of on the command "
            "line, settles it."
        )
    return timeline.end, None


def running_period(searches: Floats, timeline: Timeline, *, fall: float = 0.7) -> bool:
    """Whether the last column looks like a period that was still running when the data were taken.

    Nothing in a file says so, but a market does not lose 30% of its searches in one period: the
    last is taken as running when the median term fell to under ``fall`` of its period before, and
    under ``fall`` of what it did a year earlier at the same time. Needs 20 terms with 20 searches
    or more; with fewer a season's own end could look the same, and the answer is no.
    """
    year = timeline.period.per_year
    if timeline.length < 3:
        return False
    last, before = searches[:, -1], searches[:, -2]
    usable = ~np.isnan(last) & (before >= 20)
    if usable.sum() < 20:
        return False
    now = float(np.median(last[usable] / before[usable]))
    if timeline.length > year + 1:
        then_last, then_before = searches[:, -1 - year], searches[:, -2 - year]
        had = usable & (then_before >= 20) & ~np.isnan(then_last)
        if had.sum() >= 20:
            usual = float(np.median(then_last[had] / then_before[had]))
            return now < fall and now < fall * usual
    return now < fall
