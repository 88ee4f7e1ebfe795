"""What the API says of those who sell already."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.niche.serializers import LeadHeld
from driftfield.api.previews import ShownCurve, SubjectPreview
from driftfield.api.shared import serializer_of
from driftfield.core.market import LISTING, figures_of
from driftfield.readings.listing_page import BESIDE


class ListingPreview(SubjectPreview):
    """One listing close up. Its curve is what it sells; brand, seller and niche are empty for unknown."""

    brand = serializers.CharField()
    seller = serializers.CharField(help_text="Id of the seller it names.")
    vars()["figures"] = serializer_of("ListingFigures", figures_of(LISTING))()


class ListingSeller(serializers.Serializer[Any]):
    """A seller of a listing. until: null while the offer stands. lead: share of the last year's lead offers."""

    id = serializers.CharField()
    name = serializers.CharField()
    since = serializers.DateField(allow_null=True)
    until = serializers.DateField(allow_null=True)
    lead = serializers.FloatField(allow_null=True)


class LeadingTerm(serializers.Serializer[Any]):
    """A term that leads to a listing. share: of the clicks after it in the latest weeks."""

    term = serializers.CharField()
    niche = serializers.CharField()
    share = serializers.FloatField()
    searches = serializers.FloatField(allow_null=True)


class ListingBeside(serializer_of("ListingBesideFigures", BESIDE)):  # type: ignore[misc]
    """A listing of the same niche."""

    id = serializers.CharField()
    name = serializers.CharField()


class ListingPage(serializers.Serializer[Any]):
    """What the page of a listing shows besides its preview."""

    curves = ShownCurve(many=True)
    held = LeadHeld(many=True)
    sellers = ListingSeller(many=True)
    terms = LeadingTerm(many=True)
    beside = ListingBeside(many=True)
