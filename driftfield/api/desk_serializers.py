"""What the API says of the researcher's own."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.desk.models import Choice


class SieveRow(serializers.Serializer[Any]):
    """A sieve. purpose: what a starting one is for; empty for your own."""

    name = serializers.CharField()
    purpose = serializers.CharField()
    conditions = serializers.ListField(child=serializers.CharField())
    own = serializers.BooleanField()


class SieveSaved(serializers.Serializer[Any]):
    """A sieve to save."""

    name = serializers.CharField(max_length=120)
    conditions = serializers.ListField(child=serializers.CharField(max_length=500))


class LensRow(serializers.Serializer[Any]):
    """A lens of your own: weights by part, and the balance."""

    name = serializers.CharField(max_length=120)
    weights = serializers.DictField(child=serializers.FloatField())


class DecisionRequest(serializers.Serializer[Any]):
    """A decision to make."""

    market_id = serializers.CharField(max_length=200)
    niche_id = serializers.CharField(max_length=500)
    choice = serializers.ChoiceField(choices=Choice.choices)
    reason = serializers.CharField(required=False, allow_blank=True, default="", max_length=5000)


class ReasonRequest(serializers.Serializer[Any]):
    """Why a niche was decided on as it was."""

    market_id = serializers.CharField(max_length=200)
    niche_id = serializers.CharField(max_length=500)
    reason = serializers.CharField(allow_blank=True, max_length=5000)


class DecisionsRequest(serializers.Serializer[Any]):
    """The same decision for several niches of a market."""

    market_id = serializers.CharField(max_length=200)
    niche_ids = serializers.ListField(
        child=serializers.CharField(max_length=500), allow_empty=False, max_length=10_000
    )
    choice = serializers.ChoiceField(choices=Choice.choices)
    reason = serializers.CharField(required=False, allow_blank=True, default="", max_length=5000)


class DecisionMade(serializers.Serializer[Any]):
    """A decision as it is recorded."""

    market_id = serializers.CharField()
    niche_id = serializers.CharField()
    choice = serializers.ChoiceField(choices=Choice.choices)
    reason = serializers.CharField()
    made_at = serializers.DateTimeField()


class NicheNow(serializers.Serializer[Any]):
    """What holds for a niche now; null where it is open."""

    niche_id = serializers.CharField()
    name = serializers.CharField()
    now = serializers.ChoiceField(choices=Choice.choices, allow_null=True)


class DecisionsUndone(serializers.Serializer[Any]):
    """The choice that was undone, and what holds for its niches now."""

    choice = serializers.ChoiceField(choices=Choice.choices)
    niches = NicheNow(many=True)


class RemarkRequest(serializers.Serializer[Any]):
    """A niche's note or tags; what is left out stays as it is."""

    market_id = serializers.CharField(max_length=200)
    niche_id = serializers.CharField(max_length=500)
    note = serializers.CharField(required=False, allow_blank=True, max_length=20_000)
    tags = serializers.ListField(child=serializers.CharField(max_length=200), required=False)


class RemarkSaved(serializers.Serializer[Any]):
    """A niche's note and tags as they are kept."""

    niche_id = serializers.CharField()
    note = serializers.CharField()
    tags = serializers.ListField(child=serializers.CharField())


class OrderRequest(serializers.Serializer[Any]):
    """The shortlist's order by hand: niches by id, first one first."""

    market_id = serializers.CharField(max_length=200)
    niche_ids = serializers.ListField(child=serializers.CharField(max_length=500))


class ChangeSince(serializers.Serializer[Any]):
    """A figure that is another now than at the decision."""

    figure = serializers.CharField()
    then = serializers.JSONField(allow_null=True)
    now = serializers.JSONField(allow_null=True)


class ShortlistEntry(serializers.Serializer[Any]):
    """A niche that was kept or parked. then, now: figures at the decision and today, by key.

    renamed: what it was called at the decision, where that has changed. present: whether the market's
    latest figures know it.
    """

    niche_id = serializers.CharField()
    name = serializers.CharField()
    renamed = serializers.CharField()
    category = serializers.CharField()
    choice = serializers.ChoiceField(choices=Choice.choices)
    reason = serializers.CharField()
    decided_at = serializers.DateTimeField()
    decided_as_of = serializers.DateField(allow_null=True)
    as_of = serializers.DateField(allow_null=True)
    present = serializers.BooleanField()
    note = serializers.CharField()
    tags = serializers.ListField(child=serializers.CharField())
    then = serializers.DictField(child=serializers.JSONField(allow_null=True))
    now = serializers.DictField(child=serializers.JSONField(allow_null=True))
    changes = ChangeSince(many=True)
    profile = serializers.ListField(child=serializers.FloatField(), allow_null=True)
