"""After a program that ended in the middle of work."""

from __future__ import annotations

from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from driftfield.readings.actions import stale

from . import incoming
from .models import Job, State


def recover() -> list[Job]:
    """Say of every job that was running that it was cut off; the worker calls this before it begins.

    The market is as it was before the work or after it: an import is one transaction, and so is what is
    stored of an analysis. Files that no recent job needs are taken away.
    """
    cut_off = list(Job.objects.filter(state=State.RUNNING))
    for job in cut_off:
        job.state, job.ended_at = State.CUT_OFF, timezone.now()
        job.messages = [
            f"Driftfield ended during “{job.step or 'the beginning'}”.",
            "Nothing half-done was kept, and what was complete is not done again when it is resumed.",
        ]
        if stale().exists():
            job.messages.append("Niches still have to be analysed again.")
        job.save()
    DBTaskResult.objects.running().delete()
    incoming.sweep()
    return cut_off
