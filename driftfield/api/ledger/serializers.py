"""What the API says of a ledger: rows, points, conditions, distributions."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.ledger.query import COLUMNS
from driftfield.api.shared import serializer_of
from driftfield.desk.models import Choice

_LedgerFigures = serializer_of("LedgerFigures", COLUMNS)


class LedgerRow(_LedgerFigures):  # type: ignore[valid-type,misc]
    """One niche in the ledger."""

    id = serializers.CharField()
    name = serializers.CharField()
    category = serializers.CharField(
        help_text="Under its root, as “Growing › Bed covers”; or empty."
    )
    niche = serializers.CharField(help_text="The niche it belongs to, by id; of a niche itself.")
    decision = serializers.ChoiceField(choices=Choice.choices, allow_null=True)
    protected = serializers.CharField(
        allow_null=True, help_text="A hint where its name or its searches hold a protected word."
    )
    extra = serializers.DictField(
        child=serializers.JSONField(allow_null=True), help_text="Figures asked for besides, by key."
    )
    before = serializers.IntegerField(
        allow_null=True, help_text="Its rank under the run's lens, where another was asked for."
    )
    misses = serializers.IntegerField(
        allow_null=True,
        help_text="Place of the only condition it fails, narrowly; null where it passes.",
    )


class ConditionRow(serializers.Serializer[Any]):
    """A condition as it is written, as it is read, and how many niches it alone removes. figure, low,
    high: what it compares, if it does."""

    text = serializers.CharField()
    sentence = serializers.CharField()
    figure = serializers.CharField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    on = serializers.BooleanField()
    removes = serializers.IntegerField(allow_null=True)


class WayRow(serializers.Serializer[Any]):
    """A way to let something pass: the condition at a place with another text, or without it where that is
    null. passes: how many niches pass then."""

    place = serializers.IntegerField()
    text = serializers.CharField(allow_null=True)
    sentence = serializers.CharField(allow_null=True)
    passes = serializers.IntegerField()


class BlockedRow(serializers.Serializer[Any]):
    """Why nothing passes. alone: how many niches pass each condition by itself, null where it is off. pair:
    places of two that together let nothing through. ways: the smallest step first."""

    alone = serializers.ListField(child=serializers.IntegerField(allow_null=True))
    pair = serializers.ListField(child=serializers.IntegerField(), allow_null=True)
    ways = WayRow(many=True)


class Ledger(serializers.Serializer[Any]):
    """A page of the ledger. count pass the conditions, of total in the market; near narrowly miss."""

    count = serializers.IntegerField()
    near = serializers.IntegerField()
    conditions = ConditionRow(many=True)
    total = serializers.IntegerField()
    offset = serializers.IntegerField()
    rows = LedgerRow(many=True)
    found = serializers.IntegerField(
        allow_null=True,
        help_text="Place of what ``find`` names; null where it is not among the rows.",
    )
    blocked = BlockedRow(allow_null=True, help_text="Only where conditions let nothing pass.")


class Queue(serializers.Serializer[Any]):
    """Niches by id in their order, and the decisions that hold for some of them."""

    ids = serializers.ListField(child=serializers.CharField())
    decisions = serializers.DictField(child=serializers.ChoiceField(choices=Choice.choices))


class Points(Queue):
    """Points of the chart, a list a column. shape: place among shapes. names: of the first ones.

    balance: how much demand counts against competition, which the lines of equal headroom follow.
    unknown: how many of the niches have no point.
    """

    balance = serializers.FloatField()
    unknown = serializers.IntegerField()
    shapes = serializers.ListField(child=serializers.CharField())
    names = serializers.ListField(child=serializers.CharField())
    competition = serializers.ListField(child=serializers.FloatField())
    demand = serializers.ListField(child=serializers.FloatField())
    headroom = serializers.ListField(child=serializers.FloatField(allow_null=True))
    revenue = serializers.ListField(child=serializers.FloatField(allow_null=True))
    shape = serializers.ListField(child=serializers.IntegerField(allow_null=True))


class CompletionRow(serializers.Serializer[Any]):
    """What can stand in the place of the text that was typed. whole: that it is a condition then."""

    text = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    hint = serializers.CharField()
    whole = serializers.BooleanField()


class OfferRow(serializers.Serializer[Any]):
    """A condition that may be meant, as it is kept and as it is read."""

    text = serializers.CharField()
    sentence = serializers.CharField()


class ConditionRead(serializers.Serializer[Any]):
    """What was made of a text: a condition, as it is kept and as it is read, or the problem with it.

    search: that no condition was found, and its words are looked for. offers: conditions that may be
    meant. figure: one that is named and not yet compared with anything. completions: what can be typed next.
    """

    text = serializers.CharField(allow_blank=True)
    condition = serializers.CharField(allow_null=True)
    sentence = serializers.CharField(allow_null=True)
    search = serializers.BooleanField()
    problem = serializers.CharField(allow_null=True)
    offers = OfferRow(many=True)
    figure = serializers.CharField(allow_null=True)
    completions = CompletionRow(many=True)


class Spread(serializers.Serializer[Any]):
    """How a figure is spread over the niches that pass the conditions."""

    edges = serializers.ListField(child=serializers.FloatField())
    counts = serializers.ListField(child=serializers.IntegerField())
    known = serializers.IntegerField()
    unknown = serializers.IntegerField()
