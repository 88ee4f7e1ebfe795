"""What the API says of settings: of a market, of one niche, and the day dates are planned from."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import Text
from driftfield.core.market.words import LANGUAGES
from driftfield.readings.actions import OVERRULED


class PlanningRequest(serializers.Serializer[Any]):
    """The day to plan a market's dates from, and its lead time."""

    market_id = Text()
    planning_date = serializers.DateField(allow_null=True, help_text="Null for the as-of.")
    lead_days = serializers.IntegerField(help_text="Days from ordering to being on sale.")


class LanguageRequest(serializers.Serializer[Any]):
    """The language of a market's terms."""

    market_id = Text()
    language = serializers.ChoiceField(choices=LANGUAGES)


class SettingRow(serializers.Serializer[Any]):
    """A setting: what it means, which values it takes, and how it stands."""

    key = serializers.CharField()
    name = serializers.CharField()
    help = serializers.CharField()
    default = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    whole = serializers.BooleanField(help_text="Whether it takes whole numbers only.")
    value = serializers.FloatField(help_text="As it holds for the market.")
    used = serializers.FloatField(help_text="As the present readings were made with.")


class SettingGroup(serializers.Serializer[Any]):
    """Settings that belong together, and what changes with them."""

    title = serializers.CharField()
    touches = serializers.CharField()
    settings = SettingRow(many=True)


class MarketSettings(serializers.Serializer[Any]):
    """All settings of a market. pending: keys that hold only after the next analysis."""

    groups = SettingGroup(many=True)
    pending = serializers.ListField(child=serializers.CharField())
    languages = serializers.ListField(
        child=serializers.ChoiceField(choices=LANGUAGES), help_text="Those its terms can be in."
    )


class SettingsRequest(serializers.Serializer[Any]):
    """Settings of a market to change, by key; null goes back to the default."""

    market_id = Text(max_length=200)
    changed = serializers.DictField(child=serializers.FloatField(allow_null=True))


class AnalysisRequest(serializers.Serializer[Any]):
    """A market to analyse anew."""

    market_id = Text(max_length=200)


class NicheSettings(serializers.Serializer[Any]):
    """What is overruled for one niche, by key."""

    overruled = serializers.DictField(child=serializers.FloatField())


NicheSettingsRequest = type(
    "NicheSettingsRequest",
    (serializers.Serializer,),
    {
        "__doc__": "Settings to overrule for one niche; null: the market's again; what is left out stays.",
        "market_id": Text(max_length=200),
        "niche_id": Text(max_length=500),
        **{key: serializers.FloatField(required=False, allow_null=True) for key in OVERRULED},
    },
)
