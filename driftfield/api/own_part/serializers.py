"""What the API says of own part."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.core.market.figures.own import BY
from driftfield.core.supply import Against, OwnVerdict


def _number(**options: Any) -> serializers.FloatField:
    return serializers.FloatField(allow_null=True, **options)


def _ends(name: str, what: str) -> dict[str, serializers.FloatField]:
    return {
        name: _number(help_text=f"{what}, as a fraction."), f"{name}_low": _number(), f"{name}_high": _number(),
    }  # fmt: skip


_SPLIT: dict[str, Any] = {
    "weeks": serializers.IntegerField(allow_null=True),
    "against": serializers.ChoiceField(choices=list(map(str, Against)), allow_null=True),
    "from": serializers.DateField(allow_null=True),
    "to": serializers.DateField(allow_null=True),
    "periods": _number(help_text="Weeks or months of each time that count."),
    "own_then": _number(help_text="Own units."),
    "own_now": _number(),
    "revenue_then": _number(),
    "revenue_now": _number(),
    "share_then": _number(help_text="Share of the units sold in the niche, 0–1."),
    "share_now": _number(),
    **_ends("own", "Growth of own units: (1 + own) = (1 + season) × (1 + market) × (1 + share)"),
    "season": _number(help_text="What the season made of it, as a fraction."),
    **_ends("market", "What the market made of it, without the season"),
    **_ends("share", "What the change of the share made of it"),
    "verdict": serializers.ChoiceField(choices=list(map(str, OwnVerdict)), allow_null=True),
}

OwnComparison = type(
    "OwnComparison",
    (serializers.Serializer,),
    {
        "__doc__": "Two times of one niche compared.",
        **_SPLIT,
        "length": serializers.CharField(help_text="How long both are, in words."),
        "then_from": serializers.DateField(allow_null=True),
        "then_to": serializers.DateField(allow_null=True),
        "market_then": _number(help_text="Units sold in the niche, or its searches."),
        "market_now": _number(),
        "whole_market": _number(help_text="Growth of the niche with its season, as a fraction."),
        "sentence": serializers.CharField(allow_null=True),
    },
)

OwnRow = type(
    "OwnRow",
    (serializers.Serializer,),
    {
        "__doc__": "A niche in which one sells, by the comparison that is told first.",
        "market_id": serializers.CharField(),
        "niche_id": serializers.CharField(),
        "name": serializers.CharField(),
        "by": serializers.ChoiceField(choices=BY),
        **_SPLIT,
        "sentence": serializers.CharField(),
    },
)


class OwnTotal(serializers.Serializer[Any]):
    """All niches of which the same comparison is told first, together."""

    niches = serializers.IntegerField()
    of = serializers.IntegerField(help_text="Niches in which one sells.")
    weeks = serializers.IntegerField()
    length = serializers.CharField()
    against = serializers.ChoiceField(choices=list(map(str, Against)))
    own_then = serializers.FloatField()
    own_now = serializers.FloatField()
    own = _number()
    own_low = _number()
    own_high = _number()
    market = _number()
    market_low = _number()
    market_high = _number()
    share = _number()
    share_low = _number()
    share_high = _number()
    sentence = serializers.CharField()


class OwnOverview(serializers.Serializer[Any]):
    """Every niche in which one sells; sentence says why, where there are none."""

    rows = OwnRow(many=True)
    total = OwnTotal(allow_null=True)
    sentence = serializers.CharField()


class OwnCurve(serializers.Serializer[Any]):
    """Own sales and the market by week or month, null for unknown."""

    first = serializers.DateField()
    units = serializers.ListField(child=_number())
    revenue = serializers.ListField(child=_number())
    market = serializers.ListField(child=_number())


class Reported(serializers.Serializer[Any]):
    """What market figures say of own listings, and what was sold of these."""

    listings = serializers.IntegerField()
    own = serializers.FloatField()
    told = serializers.FloatField()
    ratio = serializers.FloatField()


class LostTerm(serializers.Serializer[Any]):
    """A term, its clicks and one's own share of them at both times. lost: of all clicks of the niche."""

    term = serializers.CharField()
    clicks_then = _number()
    clicks_now = _number()
    share_then = _number()
    share_now = _number()
    lost = _number()
    ratio_low = _number(
        help_text="Interval of the change of the share; null where clicks were not counted."
    )
    ratio_high = _number()


class LostListing(serializers.Serializer[Any]):
    """A listing and its share of the niche's clicks at both times."""

    listing_id = serializers.CharField()
    name = serializers.CharField()
    mine = serializers.BooleanField()
    share_then = serializers.FloatField()
    share_now = serializers.FloatField()
    gained = serializers.FloatField()


class Lost(serializers.Serializer[Any]):
    """Where clicks went: one's own share of them, by term and by listing; from, to: of the later time."""

    vars()["from"] = serializers.DateField()
    to = serializers.DateField()

    share_then = serializers.FloatField()
    share_now = serializers.FloatField()
    counted = serializers.BooleanField()
    terms = LostTerm(many=True)
    listings = LostListing(many=True)


class OwnPart(serializers.Serializer[Any]):
    """Own part of one niche. headline: which comparison is told first."""

    by = serializers.ChoiceField(choices=BY)
    period = serializers.ChoiceField(choices=["week", "month"])
    until = serializers.DateField()
    curve = OwnCurve()
    headline = serializers.IntegerField(allow_null=True)
    comparisons = OwnComparison(many=True)
    reported = Reported(allow_null=True)
    lost = Lost(allow_null=True)


class NicheOwn(serializers.Serializer[Any]):
    """What is told of own sales in a niche; part is null where none are known."""

    sentences = serializers.ListField(child=serializers.CharField())
    part = OwnPart(allow_null=True)
