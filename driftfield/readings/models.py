"""Runs, and what they found: a typed column for each kind and figure."""

from __future__ import annotations

from typing import Any, ClassVar

from django.db import models

from driftfield.core.base import Settings
from driftfield.core.market import NICHE
from driftfield.market.models import Market


class Run(models.Model):
    """One analysis of a market, with the settings it was made with.

    counts: how many subjects of each kind were read, by the kind's key.
    """

    market = models.OneToOneField(Market, on_delete=models.CASCADE, related_name="run")
    made_at = models.DateTimeField(auto_now=True)
    as_of = models.DateField()
    period = models.CharField(max_length=5)
    settings: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    counts: models.JSONField[dict[str, int]] = models.JSONField(default=dict)
    note = models.TextField(blank=True)

    @property
    def niches(self) -> int:
        return int(self.counts.get(NICHE.key, 0))

    @property
    def made_with(self) -> Settings:
        """The settings as the core takes them."""
        return Settings.from_dict(self.settings)

    @property
    def sentence(self) -> str:
        note = f" {self.note}" if self.note else ""
        return f"{self.market.name}: {NICHE.many(self.niches)} analysed as of {self.as_of}.{note}"


class Column(models.Model):
    """A block of one column of a run: so many subjects' values in the order of the run.

    Readings are derived: columns are dropped and made anew with every run, and a new figure needs no
    change here. name: a figure's key, or what ``store`` names besides. values: an Arrow IPC stream of
    one column.
    """

    run = models.ForeignKey(Run, on_delete=models.CASCADE, related_name="columns", db_index=False)
    kind = models.CharField(max_length=20)
    name = models.CharField(max_length=80)
    block = models.IntegerField()
    values = models.BinaryField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["run", "kind", "name", "block"], name="one_block_of_a_column"
            )
        ]
        indexes: ClassVar = [
            models.Index(fields=["run", "kind", "block"], name="blocks_of_some_subjects")
        ]
