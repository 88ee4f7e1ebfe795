"""What the API says of what several sellers carry together."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.shared import serializer_of
from driftfield.readings.shops import BESIDE


class ChosenSeller(serializers.Serializer[Any]):
    """A seller who is asked about, and how many listings it has at the as-of."""

    id = serializers.CharField()
    name = serializers.CharField()
    listings = serializers.IntegerField()
    own = serializers.BooleanField()


class TogetherListing(serializer_of("TogetherFigures", BESIDE)):  # type: ignore[misc]
    """A listing that several of them carry, or dropped. units_52w: null for unknown, then estimated_units."""

    listing_id = serializers.CharField()
    title = serializers.CharField()
    brand = serializers.CharField(allow_null=True)
    category = serializers.CharField()
    price = serializers.FloatField(allow_null=True)
    units_52w = serializers.FloatField(allow_null=True)
    estimated_units = serializers.FloatField(allow_null=True)
    sellers = serializers.IntegerField()
    carried_by = serializers.ListField(child=serializers.CharField())
    first_seen = serializers.DateField(allow_null=True)
    last_seen = serializers.DateField(allow_null=True)
    mine = serializers.BooleanField(allow_null=True)


class TogetherGroup(serializers.Serializer[Any]):
    """A brand or a category that recurs among them oftener than chance explains."""

    id = serializers.CharField()
    name = serializers.CharField()
    sellers = serializers.IntegerField()
    carried_by = serializers.ListField(child=serializers.CharField())
    expected = serializers.FloatField(help_text="How many of them would have it by chance.")
    chance = serializers.FloatField(help_text="Probability that at least so many do.")
    listings = serializers.IntegerField(help_text="Of them that any of these sellers has.")
    market_listings = serializers.IntegerField()


class Together(serializers.Serializer[Any]):
    """What sellers carry together.

    unknown: pieces of the text that name no seller. all_rows: how many there are, of which the first are told.
    """

    sellers = ChosenSeller(many=True)
    unknown = serializers.ListField(child=serializers.CharField())
    least = serializers.IntegerField()
    all_rows = serializers.IntegerField()
    listings = TogetherListing(many=True)
    groups = TogetherGroup(many=True)
    sentence = serializers.CharField()
