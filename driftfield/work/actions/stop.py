"""Stopping long work."""

from __future__ import annotations

from django.utils import timezone

from driftfield.work.models import Job, State


def stop(job: Job) -> Job:
    """Ask a job to stop; one that has not begun ends at once, one that has ended stays as it is."""
    waiting = Job.objects.filter(pk=job.pk, state=State.WAITING)
    if not waiting.update(
        state=State.STOPPED, ended_at=timezone.now(), messages=["Nothing was changed."]
    ):
        Job.objects.filter(pk=job.pk, state=State.RUNNING).update(stop_asked=True)
    job.refresh_from_db()
    return job
