"""What the API says of those who sell already."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.niche.serializers import LeadHeld
from driftfield.api.previews import ShownCurve, SubjectPreview
from driftfield.api.shared import serializer_of
from driftfield.core.market import BRAND, LISTING, SELLER, figures_of
from driftfield.readings.holder_page import OF_GOODS
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
    fulfilment = serializers.CharField(help_text="“marketplace” or “seller”; empty for unknown.")


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


class BrandPreview(SubjectPreview):
    """One brand close up. Its curve is what its listings sell."""

    vars()["figures"] = serializer_of("BrandFigures", figures_of(BRAND))()


class SellerPreview(SubjectPreview):
    """One seller close up. Its curve is what is sold while it holds the lead offer."""

    vars()["figures"] = serializer_of("SellerFigures", figures_of(SELLER))()


class HolderGood(serializer_of("HolderGoodFigures", OF_GOODS)):  # type: ignore[misc]
    """A listing that a brand or a seller has, or had.

    units: its part of the year's. mine: one's own sellers have it now.
    """

    id = serializers.CharField()
    name = serializers.CharField()
    brand = serializers.CharField()
    category = serializers.CharField()
    units = serializers.FloatField(allow_null=True)
    estimated = serializers.BooleanField()
    since = serializers.DateField(allow_null=True)
    until = serializers.DateField(allow_null=True)
    on_sale = serializers.BooleanField()
    moved = serializers.ChoiceField(choices=["came", "went", ""])
    fate = serializers.ChoiceField(choices=["worked", "fell short", ""])
    mine = serializers.BooleanField()


class HolderPart(serializers.Serializer[Any]):
    """A category, brand or seller that shares in the goods. lead: share of their lead offers, of sellers."""

    id = serializers.CharField()
    name = serializers.CharField()
    listings = serializers.IntegerField()
    units = serializers.FloatField(allow_null=True)
    share = serializers.FloatField(allow_null=True)
    lead = serializers.FloatField(allow_null=True)


class HolderPage(serializers.Serializer[Any]):
    """What the page of a brand or a seller shows besides its preview.

    others: of a brand its sellers, of a seller its brands. on: the day the goods are of; null for ever. mine:
    how many of all goods one's own sellers have now; null where none is one's own, and of such a seller itself.
    """

    goods = HolderGood(many=True)
    all_goods = serializers.IntegerField()
    categories = HolderPart(many=True)
    others = HolderPart(many=True)
    on = serializers.DateField(allow_null=True)
    mine = serializers.IntegerField(allow_null=True)
