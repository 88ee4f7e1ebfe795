"""Runs, and what they found: a typed column for each kind and figure."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any, ClassVar

from django.db import models
from django.utils import timezone

from driftfield.core.base import Period, Settings
from driftfield.core.market import NICHE
from driftfield.market.models import Market


class Run(models.Model):
    """One analysis of a market, with the settings it was made with.

    counts: how many subjects of each kind were read, by the kind's key. planning_date: the day its
    dates are planned from, None for the as-of. planned_at: when the dates were last made, with the
    analysis or after it; what is held of a run in memory is as old as that. method: the computation
    that made it (``method_digest``), empty where it was not recorded. niches_mark: of the niches it read
    (``own_niches.niches_mark``). data_set: where the tables are, of a run over parts; empty for one of what
    lies in the database. columns_in: the folder of its columns then (``linked_columns``).
    """

    market = models.OneToOneField(Market, on_delete=models.CASCADE, related_name="run")
    made_at = models.DateTimeField(auto_now=True)
    planned_at = models.DateTimeField(default=timezone.now)
    as_of = models.DateField()
    planning_date = models.DateField(null=True)
    period = models.CharField(max_length=5)
    settings: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    counts: models.JSONField[dict[str, int]] = models.JSONField(default=dict)
    note = models.TextField(blank=True)
    method = models.CharField(max_length=64, default="", blank=True)
    niches_mark = models.CharField(max_length=40, default="0-0")
    data_set = models.CharField(max_length=2000, default="", blank=True)
    columns_in = models.CharField(max_length=100, default="", blank=True)

    @property
    def linked(self) -> bool:
        """Whether its figures were made over parts, and its tables lie where these do."""
        return bool(self.columns_in)

    @property
    def niches(self) -> int:
        return int(self.counts.get(NICHE.key, 0))

    @property
    def made_with(self) -> Settings:
        """The settings as the core takes them."""
        return Settings.from_dict(self.settings)

    @property
    def made_period(self) -> Period:
        return Period(self.period)

    @property
    def planning(self) -> date:
        """The day dates are planned from."""
        return self.planning_date or self.as_of

    @property
    def arrival(self) -> date:
        """When goods ordered on that day are on sale."""
        return self.planning + timedelta(days=int(self.settings["lead_days"]))

    @property
    def own_lead_days(self) -> dict[str, int]:
        """The lead time of the niches that have one of their own, by id."""
        found = NicheSettings.objects.filter(market_id=self.market.market_id)
        lead = {one.niche_id: one.changed.get("lead_days") for one in found}
        return {niche: int(days) for niche, days in lead.items() if days is not None}

    @property
    def sentence(self) -> str:
        note = f" {self.note}" if self.note else ""
        return f"{self.market.name}: {NICHE.many(self.niches)} analysed as of {self.as_of}.{note}"


class MarketSettings(models.Model):
    """What was chosen for a market; by its id, so that it outlives an import that is undone.

    planning_date: None for the as-of. changed: settings that differ from the defaults, by key. language: of
    its terms, empty for the usual one. own_sellers: ids of those who are the researcher's own.
    """

    market_id = models.CharField(max_length=200, unique=True)
    language = models.CharField(max_length=20, default="", blank=True)
    planning_date = models.DateField(null=True)
    changed: models.JSONField[dict[str, float]] = models.JSONField(default=dict)
    own_sellers: models.JSONField[list[str]] = models.JSONField(default=list)


class NicheSettings(models.Model):
    """Settings overruled for one niche, by its id, as ``MarketSettings`` are for a market."""

    market_id = models.CharField(max_length=200)
    niche_id = models.CharField(max_length=500)
    changed: models.JSONField[dict[str, float]] = models.JSONField(default=dict)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["market_id", "niche_id"], name="one_overruling_a_niche")
        ]


class Proposal(models.Model):
    """The latest proposal of a market's niches. niches, terms: its tables as Arrow IPC, see ``propose``.

    anew: whether all terms were grouped, or those without a niche. niches_mark: of the niches that it was
    made from; of others it cannot be taken over.
    """

    market_id = models.CharField(max_length=200, unique=True)
    made_at = models.DateTimeField(auto_now=True)
    anew = models.BooleanField(default=False)
    notes: models.JSONField[list[str]] = models.JSONField(default=list)
    niches_mark = models.CharField(max_length=40)
    niches = models.BinaryField()
    terms = models.BinaryField()


class NicheVoices(models.Model):
    """What buyers wrote about one niche in one language, read: what its themes are counted in.

    Derived, as columns are, but kept while the texts are the same, so that they are not read anew. mark: of
    the texts and of how they were read. texts: how many there are, without copies; copies: how many more.
    tables: as ``voices.pack`` makes them; empty for a language that cannot be read. contrasts: what is said
    here more than elsewhere, by those who rate low and lately: fields of ``core.voices.Phrase`` by contrast.
    """

    market = models.ForeignKey(Market, on_delete=models.CASCADE, related_name="voices")
    niche_id = models.CharField(max_length=500)
    language = models.CharField(max_length=40)
    mark = models.CharField(max_length=64)
    texts = models.IntegerField()
    copies = models.IntegerField()
    tables = models.BinaryField()
    contrasts: models.JSONField[dict[str, list[dict[str, Any]]]] = models.JSONField(default=dict)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["market", "niche_id", "language"], name="one_reading_of_voices"
            )
        ]


class KeptRecord(models.Model):
    """The track record of a market and kind, as it was last made.

    as_of: up to which it is known what came. every: weeks between two days; last_day: the latest that was
    replayed; days: how many were, taken: how many of them were taken over as they were. rows: as
    ``exchange.proof.record_rows`` makes them. settings, method: it was made with, as in ``Run``. tried: as-of
    of the figures for which it was last continued by itself.
    """

    market = models.ForeignKey(Market, on_delete=models.CASCADE, related_name="records")
    kind = models.CharField(max_length=20)
    made_at = models.DateTimeField(auto_now=True)
    as_of = models.DateField()
    every = models.IntegerField()
    last_day = models.DateField()
    days = models.IntegerField()
    taken = models.IntegerField(default=0)
    rows: models.JSONField[list[dict[str, Any]]] = models.JSONField(default=list)
    settings: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    method = models.CharField(max_length=64)
    tried = models.DateField(null=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["market", "kind"], name="one_record_of_a_kind")
        ]

    @property
    def due(self) -> date:
        """The day whose figures let the next day be replayed."""
        return self.last_day + timedelta(weeks=self.every)


class ReplayedDay(models.Model):
    """What was said on a day that was replayed, packed (``core.market.proof.kept``).

    Derived, as columns are, but kept while the same is known of the day: mark.
    """

    market = models.ForeignKey(Market, on_delete=models.CASCADE, related_name="replayed")
    kind = models.CharField(max_length=20)
    as_of = models.DateField()
    mark = models.CharField(max_length=64)
    packed = models.BinaryField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["market", "kind", "as_of"], name="one_replay_of_a_day")
        ]


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
