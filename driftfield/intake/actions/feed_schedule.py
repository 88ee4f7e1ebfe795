"""How often the feed is asked by itself."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db.models import Max
from django.utils import timezone

from driftfield.core.base import CoreError
from driftfield.intake.models import FeedSchedule, FeedState

HOURS = (0, 1, 6, 24, 168)  # That can be chosen; 0 is never.


def schedule() -> FeedSchedule:
    """The schedule as it stands."""
    return FeedSchedule.objects.first() or FeedSchedule()


def set_schedule(every_hours: int) -> FeedSchedule:
    """Ask the feed every so many hours. Raises CoreError for another number than HOURS."""
    if every_hours not in HOURS:
        raise CoreError(
            f"The feed is asked every {', '.join(map(str, HOURS[1:]))} hours, or never (0)."
        )
    found = schedule()
    found.every_hours = every_hours
    found.save()
    return found


def next_at() -> datetime | None:
    """When the feed is asked next by itself; None for never. It may be past."""
    found = schedule()
    if not found.every_hours:
        return None
    asked = FeedState.objects.aggregate(at=Max("asked_at"))["at"]
    last = max((moment for moment in (asked, found.tried_at) if moment is not None), default=None)
    return timezone.now() if last is None else last + timedelta(hours=found.every_hours)


def claim_due_pull() -> bool:
    """Whether the feed is to be asked now; if so, that is noted, whatever comes of it."""
    due = next_at()
    if due is None or due > timezone.now():
        return False
    found = schedule()
    found.tried_at = timezone.now()
    found.save()
    return True
