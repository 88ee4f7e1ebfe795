"""What the API says of the watch."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import Text
from driftfield.core.market import KINDS
from driftfield.core.market.watch import ASPECTS

KIND_PLURALS = [kind.plural for kind in KINDS]


class WatchLook(serializers.Serializer[Any]):
    """What was known after an import. batch: the import, 0 for none."""

    id = serializers.IntegerField()
    as_of = serializers.DateField()
    made_at = serializers.DateTimeField()
    batch = serializers.IntegerField()


class WatchChange(serializers.Serializer[Any]):
    """One change. id: by which it is marked as seen; null where it was looked up between two imports. low,
    high: interval of now; chance: of as much where nothing changed, null for a fact; told_as_of: the as-of of
    the figures that told it."""

    id = serializers.IntegerField(allow_null=True)
    of = serializers.ChoiceField(choices=KIND_PLURALS)
    subject = serializers.CharField()
    name = serializers.CharField()
    aspect = serializers.ChoiceField(choices=[one.key for one in ASPECTS])
    # The framework has a property of that name, which this description does not use.
    vars()["label"] = serializers.CharField()
    sentence = serializers.CharField()
    then = serializers.FloatField(allow_null=True)
    now = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    chance = serializers.FloatField(allow_null=True)
    since = serializers.DateField(allow_null=True)
    told_as_of = serializers.DateField()
    seen_at = serializers.DateTimeField(allow_null=True)
    key = serializers.CharField()


class SievePasser(serializers.Serializer[Any]):
    """One that newly passes a sieve, or no longer does. why: the conditions that decided; new: it was not
    in the figures before."""

    id = serializers.CharField()
    name = serializers.CharField()
    why = serializers.ListField(child=serializers.CharField())
    new = serializers.BooleanField()


class WatchSieve(serializers.Serializer[Any]):
    """What is new under a named sieve; of many the first 200 are named. of: what they are."""

    id = serializers.IntegerField(allow_null=True)
    of = serializers.ChoiceField(choices=KIND_PLURALS)
    name = serializers.CharField()
    sentence = serializers.CharField()
    told_as_of = serializers.DateField()
    seen_at = serializers.DateTimeField(allow_null=True)
    came = SievePasser(many=True)
    went = SievePasser(many=True)
    came_count = serializers.IntegerField()
    went_count = serializers.IntegerField()


class DueDate(serializers.Serializer[Any]):
    """An order-by date of a watched niche. caught: share of its season after arrival."""

    subject = serializers.CharField()
    name = serializers.CharField()
    day = serializers.DateField()
    days = serializers.IntegerField()
    caught = serializers.FloatField(allow_null=True)


class Watch(serializers.Serializer[Any]):
    """What a week asks for. before: the import it is held against; looks: all that it can be held against, the
    latest first; rate: the false discovery rate; tested: comparisons; watched: how many, by kind; more: changes
    that are not shown."""

    market_id = serializers.CharField()
    market = serializers.CharField()
    as_of = serializers.DateField()
    planning_date = serializers.DateField()
    look = serializers.IntegerField(allow_null=True)
    before = WatchLook(allow_null=True)
    since = serializers.IntegerField(allow_null=True)
    looks = WatchLook(many=True)
    rate = serializers.FloatField()
    tested = serializers.IntegerField()
    watched = serializers.DictField(child=serializers.IntegerField())
    changes = WatchChange(many=True)
    more = serializers.IntegerField()
    sieves = WatchSieve(many=True)
    due = DueDate(many=True)
    sentences = serializers.ListField(child=serializers.CharField())


class SeenRequest(serializers.Serializer[Any]):
    """Changes to mark as seen, or as not seen after all."""

    market_id = Text(max_length=200)
    ids = serializers.ListField(
        child=serializers.IntegerField(min_value=1, max_value=2**53), min_length=1, max_length=2000
    )
    seen = serializers.BooleanField(default=True)


class Seen(serializers.Serializer[Any]):
    """How many were marked."""

    marked = serializers.IntegerField()


class PastFigures(serializers.Serializer[Any]):
    """What was known of a subject after an import: its figures by key, null for unknown."""

    look = WatchLook()
    figures = serializers.DictField(child=serializers.JSONField(allow_null=True))


class PastFigureKept(serializers.Serializer[Any]):
    """A figure of which a history is kept."""

    key = serializers.CharField()
    vars()["label"] = serializers.CharField()


class History(serializers.Serializer[Any]):
    """What was known of a subject, the earliest first. kept: the figures that can be asked for."""

    subject = serializers.CharField()
    rows = PastFigures(many=True)
    kept = PastFigureKept(many=True)
