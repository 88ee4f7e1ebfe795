"""What the worker does by the clock: it asks the feed when its time has come."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone
from django_tasks import task
from django_tasks_db.models import DBTaskResult

from driftfield.intake.actions import claim_due_pull
from driftfield.readings.actions import claim_due_replay

from . import incoming
from .actions.start import start, start_replay
from .models import AT_WORK, Job, Kind

EVERY = timedelta(minutes=1)
FEED = "the market feed"


@task()
def look_at_the_clock() -> None:
    """Start what is due, and look again a minute later."""
    try:
        # While other work is going on, its turn comes after that.
        incoming.sweep()
        if not Job.objects.filter(state__in=AT_WORK).exists() and claim_due_pull():
            start(Kind.PULL, FEED)
        elif not Job.objects.filter(state__in=AT_WORK).exists() and (due := claim_due_replay()):
            start_replay(due.market, due.kind, due.every)
    finally:
        schedule_look(timezone.now() + EVERY)


def schedule_look(at: object = None) -> None:
    """See to it that the clock is looked at, once, at a moment or at once."""
    looks = DBTaskResult.objects.filter(task_path=look_at_the_clock.module_path)
    looks.filter(status__in=["READY", "SUCCESSFUL"]).delete()
    look_at_the_clock.using(run_after=at).enqueue()  # type: ignore[arg-type]
