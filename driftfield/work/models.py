"""Long work, one row a piece; in a database of its own, see ``router``."""

from __future__ import annotations

from typing import Any, ClassVar

from django.db import models
from django.utils import timezone


class Kind(models.TextChoices):
    CHECK = "check"
    IMPORT = "import"
    UNDO = "undo"
    PULL = "pull"
    ANALYSE = "analyse"
    PROPOSE = "propose"
    REPLAY = "replay"


class State(models.TextChoices):
    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    REFUSED = "refused"  # The files are not right; problems say why.
    STOPPED = "stopped"  # By the researcher.
    CUT_OFF = "cut off"  # The program ended in the middle.
    FAILED = "failed"  # By a fault of the program.


AT_WORK = (State.WAITING, State.RUNNING)


class Job(models.Model):
    """A piece of long work.

    source: what it is called. folder: where its files lie; empty where it needs none. step, done, whole:
    how far it is, of a whole that is 0 while it is not known, counted in ``unit``. messages: what came of it,
    in sentences. counts: by table, new, changed and unchanged rows. problems: the first of
    ``problem_count``. batch: key of the batch that was made or undone. mappings: how files of other
    layouts are read, by key of the layout. market: id of the one that new niches belong to which name none,
    or that is worked on. options: what else was asked for.
    """

    kind = models.CharField(max_length=10, choices=Kind.choices)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    source = models.CharField(max_length=500)
    folder = models.CharField(max_length=1000, blank=True)
    made_at = models.DateTimeField(default=timezone.now)
    started_at = models.DateTimeField(null=True)
    ended_at = models.DateTimeField(null=True)
    step = models.CharField(max_length=200, blank=True)
    step_at = models.DateTimeField(null=True)
    done = models.BigIntegerField(default=0)
    whole = models.BigIntegerField(default=0)
    unit = models.CharField(max_length=20, default="bytes")
    stop_asked = models.BooleanField(default=False)
    messages: models.JSONField[list[str]] = models.JSONField(default=list)
    counts: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    notes: models.JSONField[list[str]] = models.JSONField(default=list)
    problems: models.JSONField[list[dict[str, Any]]] = models.JSONField(default=list)
    problem_count = models.IntegerField(default=0)
    batch = models.BigIntegerField(null=True)
    mappings: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    market = models.CharField(max_length=200, blank=True)
    options: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)

    class Meta:
        ordering: ClassVar = ["-pk"]

    @property
    def rate(self) -> float | None:
        """Units a second in the present step; None while that is not known."""
        if self.state != State.RUNNING or not self.whole or not self.done or self.step_at is None:
            return None
        taken = (timezone.now() - self.step_at).total_seconds()
        return self.done / taken if taken > 0 else None

    @property
    def seconds_left(self) -> float | None:
        """By the pace of the present step; None while that is not known."""
        pace = self.rate
        return None if pace is None else (self.whole - self.done) / pace
