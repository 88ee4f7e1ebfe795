"""Decisions hang on the ids of the market and of what was decided on, so that no re-import can lose them.

``kind`` and ``subject`` say what that is: the key of a kind, and an id of that kind.
"""

from __future__ import annotations

from typing import Any, ClassVar

from django.db import models

from driftfield.core.market import KINDS_BY_KEY, NICHE, TERM, Kind


class Choice(models.TextChoices):
    """keep, park and pass; open takes a decision back."""

    KEEP = "keep"
    PARK = "park"
    PASS = "pass"
    OPEN = "open"


class Decision(models.Model):
    """One decision. All are kept; ``current`` marks the one that holds for its subject.

    batch: what was decided in one go is undone in one go; null stands alone.
    name, category, as_of, figures: what it was called, where it stood and what was known of
    it when the decision was made (``remembered.REMEMBERED``); empty where nothing was.
    """

    market_id = models.CharField(max_length=200)
    kind = models.CharField(max_length=20, default=NICHE.key)
    subject = models.CharField(max_length=500)
    choice = models.CharField(max_length=4, choices=Choice.choices)
    reason = models.TextField(blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    current = models.BooleanField(default=True)
    undone_at = models.DateTimeField(null=True)
    batch = models.UUIDField(null=True)
    name = models.CharField(max_length=500, blank=True)
    category = models.CharField(max_length=1100, blank=True)
    as_of = models.DateField(null=True)
    figures: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)

    class Meta:
        ordering: ClassVar = ["-pk"]
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["market_id", "kind", "subject"],
                condition=models.Q(current=True),
                name="one_current_decision",
            )
        ]

    @property
    def kind_of(self) -> Kind:
        return KINDS_BY_KEY[self.kind]


class Remark(models.Model):
    """A subject's note, tags and place in the shortlist by hand; null comes after those placed."""

    market_id = models.CharField(max_length=200)
    kind = models.CharField(max_length=20, default=NICHE.key)
    subject = models.CharField(max_length=500)
    note = models.TextField(blank=True)
    tags: models.JSONField[list[str]] = models.JSONField(default=list)
    place = models.IntegerField(null=True)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["market_id", "kind", "subject"], name="one_remark_a_subject"
            )
        ]


class CostSheet(models.Model):
    """Costs the researcher gave for a niche: fields of ``core.money.Costs`` that were set."""

    market_id = models.CharField(max_length=200)
    niche_id = models.CharField(max_length=500)
    costs: models.JSONField[dict[str, float]] = models.JSONField(default=dict)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["market_id", "niche_id"], name="one_sheet_a_niche")
        ]


class FeeTable(models.Model):
    """A market's handling fees by size class, as ``core.money.SizeClass`` has them."""

    market_id = models.CharField(max_length=200, unique=True)
    classes: models.JSONField[list[dict[str, Any]]] = models.JSONField(default=list)
    changed_at = models.DateTimeField(auto_now=True)


class Sieve(models.Model):
    """A named set of conditions as their texts, one that is off with a leading ~.

    removed_at: it was removed, and can come back; no sieve is ever lost.
    """

    name = models.CharField(max_length=120, unique=True)
    conditions: models.JSONField[list[str]] = models.JSONField(default=list)
    made_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    removed_at = models.DateTimeField(null=True)

    class Meta:
        ordering: ClassVar = ["name"]

    def __str__(self) -> str:
        return self.name


class SavedLens(models.Model):
    """A named lens: its weights by part, and the balance. removed_at: as for a sieve.

    purpose: what it is for, or what it was fitted to; empty where the researcher said nothing. kind: of what it
    ranks; terms are ranked by the lenses of niches.
    """

    kind = models.CharField(max_length=20, default=NICHE.key)
    name = models.CharField(max_length=120)
    weights: models.JSONField[dict[str, float]] = models.JSONField(default=dict)
    purpose = models.CharField(max_length=500, default="", blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    removed_at = models.DateTimeField(null=True)

    class Meta:
        ordering: ClassVar = ["name"]
        constraints: ClassVar = [
            models.UniqueConstraint(fields=("kind", "name"), name="one_lens_of_a_name"),
        ]

    def __str__(self) -> str:
        return self.name


class WordList(models.Model):
    """A named list of a market's terms, or of its listings, brands or sellers, to take along.

    kind: of what. terms: what it holds, terms or ids. removed_at: as for a sieve.
    """

    market_id = models.CharField(max_length=200)
    kind = models.CharField(max_length=20, default=TERM.key)
    name = models.CharField(max_length=120)
    note = models.TextField(blank=True, default="")
    terms: models.JSONField[list[str]] = models.JSONField(default=list)
    made_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    removed_at = models.DateTimeField(null=True)

    class Meta:
        ordering: ClassVar = ["name"]
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["market_id", "kind", "name"], name="one_list_of_a_name")
        ]

    def __str__(self) -> str:
        return self.name


class Match(models.Model):
    """A decision on two subjects of two markets: a match that was confirmed or rejected.

    The market whose id sorts first is the first. All decisions are kept; ``current`` marks those that hold.
    same: confirmed. ended_by: the later decision that replaced it.
    """

    kind = models.CharField(max_length=20, default=NICHE.key)
    market_id = models.CharField(max_length=200)
    subject = models.CharField(max_length=500)
    other_market_id = models.CharField(max_length=200)
    other_subject = models.CharField(max_length=500)
    same = models.BooleanField()
    current = models.BooleanField(default=True)
    made_at = models.DateTimeField(auto_now_add=True)
    undone_at = models.DateTimeField(null=True)
    ended_by = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="ended")

    class Meta:
        ordering: ClassVar = ["-pk"]
        indexes: ClassVar = [models.Index(fields=["kind", "current", "market_id"])]
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["kind", "market_id", "subject", "other_market_id", "other_subject"],
                condition=models.Q(current=True),
                name="one_word_on_a_pair",
            )
        ]

    def __str__(self) -> str:
        return f"{self.subject} {'is' if self.same else 'is not'} {self.other_subject}"


class ThemeDecision(models.Model):
    """A decision on a theme of what buyers wrote about a niche; in the order in which they were made.

    act: of ``core.voices.Act``; the rest is what that act takes, see ``core.voices.Decided``. of, into: themes
    as ``core.voices.Named`` has them, with their names. undone_at: it was undone, and is kept.
    """

    market_id = models.CharField(max_length=200)
    niche_id = models.CharField(max_length=500)
    language = models.CharField(max_length=40)
    act = models.CharField(max_length=10)
    of: models.JSONField[dict[str, Any] | None] = models.JSONField(null=True)
    into: models.JSONField[dict[str, Any] | None] = models.JSONField(null=True)
    name = models.CharField(max_length=120, blank=True)
    words: models.JSONField[list[str]] = models.JSONField(default=list)
    tone = models.IntegerField(default=0)
    text = models.TextField(blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    undone_at = models.DateTimeField(null=True)

    class Meta:
        ordering: ClassVar = ["pk"]
        indexes: ClassVar = [models.Index(fields=["market_id", "niche_id", "language"])]

    def __str__(self) -> str:
        return f"{self.act} {self.name or self.of or ''}"


class Pin(models.Model):
    """A sentence of a buyer that is kept with a subject's note, as it was written then.

    said: the sentence. voice_id: of the text it stands in. theme: what it was pinned for. removed_at: as for a
    sieve.
    """

    market_id = models.CharField(max_length=200)
    kind = models.CharField(max_length=20, default=NICHE.key)
    subject = models.CharField(max_length=500)
    voice_id = models.CharField(max_length=200)
    said = models.TextField()
    theme = models.CharField(max_length=200, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    removed_at = models.DateTimeField(null=True)

    class Meta:
        ordering: ClassVar = ["pk"]
        indexes: ClassVar = [models.Index(fields=["market_id", "kind", "subject"])]

    def __str__(self) -> str:
        return self.said


class ExchangeRate(models.Model):
    """What one unit of a currency was in another one on a day, as the researcher set it.

    Currencies are ISO 4217 codes. All that was set is kept; ``current`` marks what holds of a pair.
    """

    currency = models.CharField(max_length=3)
    into = models.CharField(max_length=3)
    rate = models.FloatField()
    day = models.DateField()
    current = models.BooleanField(default=True)
    made_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering: ClassVar = ["-pk"]
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["currency", "into"],
                condition=models.Q(current=True),
                name="one_current_rate",
            )
        ]

    def __str__(self) -> str:
        return f"1 {self.currency} = {self.rate:g} {self.into}"


class Plan(models.Model):
    """A plan of an order for a niche, as it was kept at one time; ``current`` marks the one that holds.

    key: what stays the same while it is changed. document: its inputs, as schemas/plan.schema.json has them.
    planned: what an order was to do when it was placed, against which its sales are held; null for a draft.
    undone_at: this change was undone.
    """

    class State(models.TextChoices):
        """drafted, ordered: it was placed; dropped: it is not shown any more."""

        DRAFTED = "drafted"
        ORDERED = "ordered"
        DROPPED = "dropped"

    market_id = models.CharField(max_length=200)
    niche_id = models.CharField(max_length=500)
    key = models.UUIDField()
    name = models.CharField(max_length=120)
    document: models.JSONField[dict[str, Any]] = models.JSONField()
    planned: models.JSONField[dict[str, Any] | None] = models.JSONField(null=True)
    state = models.CharField(max_length=7, choices=State.choices, default=State.DRAFTED)
    made_at = models.DateTimeField(auto_now_add=True)
    current = models.BooleanField(default=True)
    undone_at = models.DateTimeField(null=True)

    class Meta:
        ordering: ClassVar = ["pk"]
        indexes: ClassVar = [models.Index(fields=["market_id", "niche_id"])]
        constraints: ClassVar = [
            models.UniqueConstraint(
                fields=["key"], condition=models.Q(current=True), name="one_current_plan"
            )
        ]

    def __str__(self) -> str:
        return self.name


class Purse(models.Model):
    """The cash at hand for orders in a market, and the chance of a loss that is borne; null for not said."""

    market_id = models.CharField(max_length=200, unique=True)
    cash = models.FloatField(null=True)
    most_loss = models.FloatField(null=True)
    changed_at = models.DateTimeField(auto_now=True)


class Look(models.Model):
    """What was known of a market after one import, as far as the watch and the history need it.

    batch: the latest import that stood then; another analysis of the same import takes its place. kept: how
    many subjects of each kind, by the kind's key. tested: how many comparisons with the look before were made.
    method: the computation that made it.
    """

    market_id = models.CharField(max_length=200)
    batch = models.BigIntegerField()
    as_of = models.DateField()
    planning = models.DateField()
    made_at = models.DateTimeField(auto_now=True)
    method = models.CharField(max_length=64, default="", blank=True)
    kept: models.JSONField[dict[str, int]] = models.JSONField(default=dict)
    tested = models.IntegerField(default=0)

    class Meta:
        ordering: ClassVar = ["pk"]
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["market_id", "batch"], name="one_look_an_import")
        ]

    def __str__(self) -> str:
        return f"{self.market_id} as of {self.as_of}"


class LookColumn(models.Model):
    """One figure of all subjects of a kind at a look, packed as columns of a run are.

    name: a figure's key; ``watch.looks`` names what else there is.
    """

    look = models.ForeignKey(Look, on_delete=models.CASCADE, related_name="columns", db_index=False)
    kind = models.CharField(max_length=20)
    name = models.CharField(max_length=80)
    values = models.BinaryField()

    class Meta:
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["look", "kind", "name"], name="one_column_of_a_look")
        ]

    def __str__(self) -> str:
        return f"{self.kind} {self.name}"


class Told(models.Model):
    """One change that the watch told, once. look: the one that told it.

    kind, subject: of what; empty kind and the sieve's name for what newly passes or fails a sieve. aspect, key:
    what changed, and what tells it from every other change. figures: then, now, low, high, chance, since and
    what else belongs to it. seen_at: the researcher has seen it.
    """

    market_id = models.CharField(max_length=200)
    look = models.ForeignKey(Look, on_delete=models.CASCADE, related_name="told")
    kind = models.CharField(max_length=20, blank=True)
    subject = models.CharField(max_length=500)
    name = models.CharField(max_length=500)
    aspect = models.CharField(max_length=40)
    key = models.CharField(max_length=700)
    weight = models.IntegerField()
    sentence = models.TextField()
    figures: models.JSONField[dict[str, Any]] = models.JSONField(default=dict)
    told_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    seen_at = models.DateTimeField(null=True)

    class Meta:
        ordering: ClassVar = ["weight", "pk"]
        indexes: ClassVar = [models.Index(fields=["market_id", "seen_at"])]

    def __str__(self) -> str:
        return self.sentence
