"""What the API says of families."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.core.market.families import EVIDENCE
from driftfield.desk.models import Choice


class FamilyRow(serializers.Serializer[Any]):
    """A family of niches. niche: its most searched one, by which it is asked for. goods: how many niches;
    wanted: of these searched as a brand needs. enough: null where too little is known."""

    niche = serializers.CharField()
    name = serializers.CharField()
    goods = serializers.IntegerField()
    wanted = serializers.IntegerField()
    searches_52w = serializers.FloatField(allow_null=True)
    open_searches_52w = serializers.FloatField(allow_null=True)
    enough = serializers.BooleanField(allow_null=True)
    ties = serializers.ListField(child=serializers.ChoiceField(choices=EVIDENCE))


class FamilyList(serializers.Serializer[Any]):
    """The families of a market, most searched first. known: whether they were looked for."""

    known = serializers.BooleanField()
    families = FamilyRow(many=True)


class Good(serializers.Serializer[Any]):
    """A niche of a family. wanted: searched as a brand needs. ties: what ties it to the others."""

    id = serializers.CharField()
    name = serializers.CharField()
    category = serializers.CharField()
    searches_month = serializers.FloatField(allow_null=True)
    wanted = serializers.BooleanField()
    headroom = serializers.FloatField(allow_null=True)
    openness = serializers.FloatField(
        allow_null=True, help_text="How open it is to newcomers, 0–100, among the market's niches."
    )
    season_profile = serializers.ListField(child=serializers.FloatField(), allow_null=True)
    decision = serializers.ChoiceField(choices=Choice.choices, allow_null=True)
    ties = serializers.ListField(child=serializers.ChoiceField(choices=EVIDENCE))


class BrandCarrying(serializers.Serializer[Any]):
    """A brand and how many of the family's niches it is clicked in."""

    name = serializers.CharField()
    niches = serializers.IntegerField()


class Family(FamilyRow):
    """One family close up. answer: enough for a brand? year: shares of its searches by month, January first."""

    answer = serializers.CharField()
    served = serializers.CharField()
    openness = serializers.FloatField(
        allow_null=True, help_text="That of its niches, weighed by searches."
    )
    opens = serializers.CharField(help_text="How open it is.")
    runs = serializers.CharField(help_text="How its year runs.")
    start = serializers.CharField(allow_null=True, help_text="The niche to begin with, by id.")
    year = serializers.ListField(child=serializers.FloatField(allow_null=True))
    members = Good(many=True)
    brands = BrandCarrying(many=True)
