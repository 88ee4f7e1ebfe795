"""What the API says of the catalogue."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.ledger.serializers import ConditionRow
from driftfield.api.previews import YearCurve
from driftfield.api.shared import serializer_of
from driftfield.core.market import CATEGORY, figures_of
from driftfield.desk.models import Choice


def _number(**options: Any) -> serializers.FloatField:
    return serializers.FloatField(allow_null=True, **options)


def _numbers(**options: Any) -> serializers.ListField:
    return serializers.ListField(child=serializers.FloatField(), **options)


class CategoryTreeRow(serializers.Serializer[Any]):
    """A category in the tree. children: how many lie right below it that are shown where it is open. passes:
    itself, and not only something below it."""

    id = serializers.CharField()
    name = serializers.CharField()
    depth = serializers.IntegerField()
    children = serializers.IntegerField()
    open = serializers.BooleanField()
    passes = serializers.BooleanField()
    decision = serializers.ChoiceField(choices=Choice.choices, allow_null=True)
    season_profile = _numbers(allow_null=True)
    cells = serializers.DictField(help_text="Figures by key: the tree’s own, and those asked for.")


class CategoryTree(serializers.Serializer[Any]):
    """The tree of a market's categories as rows. shown: how many rows there are, of which the first come;
    total: how many categories; passing: how many pass."""

    rows = CategoryTreeRow(many=True)
    conditions = ConditionRow(many=True)
    shown = serializers.IntegerField()
    passing = serializers.IntegerField()
    total = serializers.IntegerField()


class CategoryPoint(serializers.Serializer[Any]):
    """A category where openness and settledness meet. above: the name of the one above it, empty at the top."""

    id = serializers.CharField()
    name = serializers.CharField()
    above = serializers.CharField(allow_blank=True)
    openness = serializers.FloatField()
    settledness = serializers.FloatField()
    revenue = _number()
    shape = serializers.CharField(allow_null=True)


class CategoryPoints(serializers.Serializer[Any]):
    """Categories with both indices, most revenue first. known: how many there are, also beyond those; total: of
    how many."""

    points = CategoryPoint(many=True)
    known = serializers.IntegerField()
    total = serializers.IntegerField()


class NamedCategory(serializers.Serializer[Any]):
    """A category by id and name."""

    id = serializers.CharField()
    name = serializers.CharField()


class IciclePiece(serializers.Serializer[Any]):
    """A category in the icicle. start, size: shares of the whole, 0–1. low, high: of its drift a year."""

    id = serializers.CharField()
    name = serializers.CharField()
    depth = serializers.IntegerField()
    start = serializers.FloatField()
    size = serializers.FloatField()
    value = serializers.FloatField()
    drift = _number()
    low = _number()
    high = _number()


class CategoryIcicle(serializers.Serializer[Any]):
    """Categories as large as their share. whole: what they are shares of; small: how many are too small to be
    drawn; unknown: of how many the figure is not known; above: what lies above it, from the top."""

    pieces = IciclePiece(many=True)
    whole = serializers.FloatField()
    small = serializers.IntegerField()
    unknown = serializers.IntegerField()
    above = NamedCategory(many=True)


class CategorySearches(serializers.Serializer[Any]):
    """The searches of a category. first: first day of the first period of values."""

    period = serializers.ChoiceField(choices=["week", "month"])
    first = serializers.DateField()
    values = serializers.ListField(child=serializers.FloatField(allow_null=True))
    level = serializers.ListField(
        child=serializers.FloatField(allow_null=True), allow_null=True,
        help_text="The curve without calendar and noise; null for under two years.",
    )  # fmt: skip


class CategoryWindow(serializers.Serializer[Any]):
    """Sums of the last weeks, and the change of searches: (1 + raw) = (1 + season) × (1 + drift)."""

    weeks = serializers.IntegerField()
    searches = _number()
    impressions = _number()
    clicks = _number()
    purchases = _number()
    units = _number()
    revenue = _number()
    raw = _number()
    season = _number()
    drift = _number()
    low = _number()
    high = _number()


class IndexPartRow(serializers.Serializer[Any]):
    """A part of openness or settledness: the figure it reads, and by what share it lifts the index."""

    index = serializers.ChoiceField(choices=["openness", "settledness"])
    figure = serializers.CharField()
    lifts = _number()


class CategoryAtAGlance(serializers.Serializer[Any]):
    """A category at a glance. above: from the top; siblings: with itself, most searches first."""

    id = serializers.CharField()
    name = serializers.CharField()
    above = NamedCategory(many=True)
    siblings = NamedCategory(many=True)
    children = NamedCategory(many=True)
    decision = serializers.ChoiceField(choices=Choice.choices, allow_null=True)
    reason = serializers.CharField(allow_blank=True)
    note = serializers.CharField(allow_blank=True)
    tags = serializers.ListField(child=serializers.CharField())
    openness = serializers.ListField(child=serializers.CharField(), help_text="How open it is.")
    parts = IndexPartRow(many=True)
    size = serializers.ListField(
        child=serializers.CharField(), help_text="How big, and whether it grows."
    )
    lead_days = serializers.IntegerField(help_text="Days from ordering to being on sale.")
    calendar = serializers.CharField(help_text="When it comes.")
    newness = serializers.ListField(child=serializers.CharField(), help_text="Who came lately.")
    holders = serializers.ListField(child=serializers.CharField(), help_text="How few hold it.")
    searches = CategorySearches(allow_null=True)
    years = YearCurve(many=True, help_text="Searches by calendar year.")
    windows = CategoryWindow(many=True)
    condition = serializers.CharField(
        help_text="The condition of a sieve that it and all below it are."
    )
    vars()["figures"] = serializer_of("CategoryFigures", figures_of(CATEGORY))()


class RevenueHolder(serializers.Serializer[Any]):
    """A brand or a seller, and its share of a year's revenue."""

    id = serializers.CharField(allow_blank=True)
    name = serializers.CharField(allow_blank=True)
    listings = serializers.IntegerField()
    share = _number()


class RevenueHolders(serializers.Serializer[Any]):
    """Those with most revenue, with a sentence."""

    sentence = serializers.CharField()
    top = RevenueHolder(many=True)
    count = serializers.IntegerField()
    selling = serializers.IntegerField(allow_null=True)
    selling_before = serializers.IntegerField(allow_null=True)


class PriceSpread(serializers.Serializer[Any]):
    """Listings by price now and a year ago: edges, and how many lie between them."""

    sentence = serializers.CharField()
    edges = _numbers()
    now = serializers.ListField(child=serializers.IntegerField())
    then = serializers.ListField(child=serializers.IntegerField())
    median = _number()
    median_then = _number()


class Histogram(serializers.Serializer[Any]):
    """A histogram: one edge more than counts."""

    edges = _numbers()
    counts = serializers.ListField(child=serializers.IntegerField())
    known = serializers.IntegerField()
    unknown = serializers.IntegerField()


class ValueDemand(serializers.Serializer[Any]):
    """A value of an attribute: its share of units against that of listings. low, high: of the difference."""

    value = serializers.CharField()
    listings = serializers.IntegerField()
    listing_share = serializers.FloatField()
    unit_share = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    says = serializers.ChoiceField(choices=["wanted", "oversupplied", ""], allow_blank=True)


class AttributeDemand(serializers.Serializer[Any]):
    """An attribute and its values, most listings first."""

    attribute = serializers.CharField()
    values = ValueDemand(many=True)


class LedListing(serializers.Serializer[Any]):
    """A listing that leads or is new. worked: as a launch, against its niche; null where it is not judged."""

    id = serializers.CharField()
    title = serializers.CharField()
    brand = serializers.CharField(allow_blank=True)
    price = _number()
    units = _number()
    revenue = _number()
    share = _number()
    weeks = serializers.IntegerField(allow_null=True, help_text="Weeks since its launch.")
    reviews = _number()
    worked = serializers.BooleanField(allow_null=True)


class ReturnReason(serializers.Serializer[Any]):
    """A reason for returns, and the share it has beside."""

    theme = serializers.CharField()
    mentions = serializers.IntegerField()
    share = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    beside = _number()
    says = serializers.ChoiceField(choices=["more", "less", ""], allow_blank=True)


class CategoryReturns(serializers.Serializer[Any]):
    """What comes back and why."""

    sentence = serializers.CharField()
    rate = _number()
    above_rate = _number()
    beside = serializers.CharField()
    mentions = serializers.IntegerField()
    reasons = ReturnReason(many=True)


class CategorySold(serializers.Serializer[Any]):
    """What is sold in a category. lorenz: points of the curve, most first."""

    listings = serializers.IntegerField()
    brands = RevenueHolders()
    sellers = RevenueHolders()
    lorenz_listings = _numbers()
    lorenz_revenue = _numbers()
    prices = PriceSpread()
    ratings = Histogram()
    reviews = Histogram()
    wanted = serializers.CharField()
    attributes = AttributeDemand(many=True)
    leaders = LedListing(many=True)
    leaders_share = serializers.CharField(allow_null=True)
    newest = LedListing(many=True)
    newest_share = serializers.CharField(allow_null=True)
    returned = CategoryReturns()


class FigureRange(serializers.Serializer[Any]):
    """A figure over the niches of a category: lowest, quartiles, highest, and a histogram."""

    figure = serializers.CharField()
    known = serializers.IntegerField()
    unknown = serializers.IntegerField()
    low = _number()
    quarter = _number()
    median = _number()
    three_quarters = _number()
    high = _number()
    edges = _numbers()
    counts = serializers.ListField(child=serializers.IntegerField())


class CategoryRanges(serializers.Serializer[Any]):
    """The ranges of figures, and over how many niches."""

    niches = serializers.IntegerField()
    ranges = FigureRange(many=True)
