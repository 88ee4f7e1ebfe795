"""What the API says of markets and of what is declared: figures, signals, parts of headroom."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import KindField
from driftfield.core.market import Figure, FigureType
from driftfield.core.ranking import OF_CATEGORIES, PARTS
from driftfield.core.sieve import asked, short_name
from driftfield.core.signals import SIGNALS_BY_KEY, Tone
from driftfield.market.models import Market
from driftfield.readings.chosen import chosen_for

# Demand and competition, openness and settledness.
SIDES = list(dict.fromkeys(part.side for part in (*PARTS, *OF_CATEGORIES)))


class MarketSummary(serializers.Serializer[Any]):
    """A market that was analysed."""

    market_id = serializers.CharField()
    name = serializers.CharField()
    currency = serializers.CharField()
    as_of = serializers.DateField(source="run.as_of")
    period = serializers.ChoiceField(choices=["week", "month"], source="run.period")
    niches = serializers.IntegerField(source="run.niches")
    note = serializers.CharField(source="run.note")
    data_set = serializers.CharField(
        source="run.data_set",
        help_text="Where the tables of linked figures lie; empty for a market that was imported.",
    )
    lead_days = serializers.IntegerField(source="run.settings.lead_days")
    planning_date = serializers.DateField(
        source="run.planning",
        help_text="The day dates are planned from; the as-of unless another was set.",
    )
    arrival = serializers.DateField(
        source="run.arrival", help_text="When goods ordered on that day are on sale."
    )
    language = serializers.SerializerMethodField(
        help_text="Of its terms: whose endings are taken off words."
    )
    own_lead_days = serializers.DictField(
        child=serializers.IntegerField(),
        source="run.own_lead_days",
        help_text="The lead time of niches that have one of their own, by id.",
    )

    def get_language(self, market: Market) -> str:
        return chosen_for(market.market_id).language


class FigureRow(serializers.Serializer[Any]):
    """A figure of the registry: what it means and how it is worked out."""

    key = serializers.CharField()
    column = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    type = serializers.ChoiceField(choices=[one.value for one in FigureType])
    unit = serializers.CharField()
    direction = serializers.IntegerField()
    formula = serializers.CharField()
    source = serializers.CharField()  # type: ignore[assignment]
    needs = serializers.CharField()
    choices = serializers.ListField(child=serializers.CharField())
    kinds = serializers.ListField(child=KindField(), help_text="What it holds for.")
    condition_name = serializers.SerializerMethodField(
        help_text="How to type it in a condition; null where none can be put on it."
    )

    def get_condition_name(self, figure: Figure) -> str | None:
        return short_name(figure) if asked(figure) else None


class SignalRow(serializers.Serializer[Any]):
    """A rule of the registry of signals."""

    key = serializers.ChoiceField(choices=list(SIGNALS_BY_KEY))
    name = serializers.CharField()
    tone = serializers.ChoiceField(choices=[t.value for t in Tone])
    reads = serializers.ListField(
        child=serializers.CharField(), help_text="Keys of the figures it rests on."
    )
    look = serializers.CharField()


class GlossaryWord(serializers.Serializer[Any]):
    """A word of the glossary. figures: keys of figures that it is about."""

    key = serializers.CharField()
    word = serializers.CharField()
    short = serializers.CharField()
    more = serializers.CharField()
    figures = serializers.ListField(child=serializers.CharField())


class LensPart(serializers.Serializer[Any]):
    """A part of headroom, openness or settledness, and its weight in the default lens."""

    key = serializers.CharField()
    figure = serializers.CharField()
    side = serializers.ChoiceField(choices=SIDES)
    weight = serializers.FloatField()
    why = serializers.CharField()
    more_is_more = serializers.BooleanField()


class ReadyLens(serializers.Serializer[Any]):
    """A lens to start from, and whom it is for."""

    name = serializers.CharField()
    purpose = serializers.CharField()
    weights = serializers.DictField(child=serializers.FloatField(), source="as_dict")


class CategoryRow(serializers.Serializer[Any]):
    """A category with the number of niches in it and below it."""

    path = serializers.CharField()
    name = serializers.CharField()
    category_id = serializers.CharField()
    niches = serializers.IntegerField()
