"""A batch is one import that changed something."""

from __future__ import annotations

from typing import Any, ClassVar

from django.core.serializers.json import DjangoJSONEncoder
from django.db import models

from .stored import OF_CURVES


class _Imported(models.Manager["Batch"]):
    def get_queryset(self) -> models.QuerySet[Batch]:
        return super().get_queryset().filter(linked_to="")


class _Copied(models.Manager["Batch"]):
    def get_queryset(self) -> models.QuerySet[Batch]:
        return super().get_queryset().exclude(linked_to="")


class Batch(models.Model):
    """One import. counts: by table, how many rows or curves were new, changed and unchanged.

    by: the account of this machine it was made from. undone_at: when it was undone. mappings: how
    files of other layouts were read, by the name of the file. feed: of a pull, the feed's address, the
    market's id there and the position before, from which it tells the same again. linked_to: the market for
    which it copied rows of a data set; nobody imported these, and the other batches know nothing of them.
    """

    objects: ClassVar[models.Manager[Batch]] = _Imported()
    copied: ClassVar[models.Manager[Batch]] = _Copied()

    made_at = models.DateTimeField(auto_now_add=True)
    source = models.CharField(max_length=500)
    digest = models.CharField(max_length=64)
    counts: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    notes: models.JSONField[list[str]] = models.JSONField(default=list)
    by = models.CharField(max_length=200, default="")
    undone_at = models.DateTimeField(null=True)
    mappings: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    feed: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    linked_to = models.CharField(max_length=200, default="", blank=True)

    class Meta:
        ordering: ClassVar = ["-made_at", "-pk"]
        verbose_name_plural = "batches"

    @property
    def changed(self) -> bool:
        return any(c["new"] or c["changed"] for c in self.counts.values())

    @property
    def sentence(self) -> str:
        """What the import did, in a sentence."""
        if not self.changed:
            return f"{self.source}: nothing is new, nothing was changed."
        parts = []
        for table, count in self.counts.items():
            counted = [f"{count[what]:,} {what}" for what in ("new", "changed") if count[what]]
            what = "curves" if table in OF_CURVES else "rows"
            parts += [f"{table} {' and '.join(counted)} {what}"] if counted else []
        return f"{self.source}: {'; '.join(parts)}."


class LayoutMapping(models.Model):
    """How files of a layout were last read. layout: the key of its columns' names; names: those names."""

    layout = models.CharField(max_length=64, unique=True)
    names: models.JSONField[list[str]] = models.JSONField()
    mapping: models.JSONField[dict[str, Any]] = models.JSONField()
    saved_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering: ClassVar = ["-saved_at"]


class FeedState(models.Model):
    """How far a market of a feed was pulled. position: what is told after it is new; empty before the
    first pull. asked_at: when it was last asked, whatever came."""

    address = models.CharField(max_length=500)
    market_id = models.CharField(max_length=200)
    position = models.CharField(max_length=500, blank=True)
    asked_at = models.DateTimeField(null=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["address", "market_id"], name="one_state_a_market")
        ]


class FeedSchedule(models.Model):
    """How often the feed is asked by itself: every so many hours, 0 for never. tried_at: when it last
    was, whatever came of it. There is one row."""

    every_hours = models.IntegerField(default=0)
    tried_at = models.DateTimeField(null=True)


class Made(models.Model):
    """Rows of one table that a batch made: those numbered above ``after``, or those with ``keys``."""

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="made")
    table = models.CharField(max_length=30)
    after = models.BigIntegerField(null=True)
    upto = models.BigIntegerField(null=True)
    keys: models.JSONField[list[str] | None] = models.JSONField(null=True)


class RowBefore(models.Model):
    """What fields of a row were before a batch changed them."""

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="rows_before")
    table = models.CharField(max_length=30)
    key = models.CharField(max_length=200)
    fields: models.JSONField[dict[str, Any]] = models.JSONField(encoder=DjangoJSONEncoder)


class CurveBefore(models.Model):
    """What a curve was before a batch changed it: its first period and length, and from place ``at`` on
    the values that are others now."""

    batch = models.ForeignKey(Batch, on_delete=models.CASCADE, related_name="curves_before")
    table = models.CharField(max_length=30)
    row = models.BigIntegerField()
    first = models.IntegerField()
    length = models.IntegerField()
    at = models.IntegerField()
    values = models.BinaryField()
