"""What the API says of one niche."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.previews import ShownCurve, SubjectPreview
from driftfield.api.shared import serializer_of
from driftfield.core.market import FIGURES_BY_KEY, NICHE, figures_of
from driftfield.exchange.terms import TERM_COLUMNS
from driftfield.readings.terms import GROWTH

Figures = serializer_of("Figures", figures_of(NICHE))


class ListingRow(serializers.Serializer[Any]):
    """A listing of a niche. click_share: fraction of the niche's clicks now; age_days: at the as-of."""

    listing_id = serializers.CharField()
    title = serializers.CharField()
    brand = serializers.CharField(allow_null=True)
    price = serializers.FloatField(allow_null=True)
    rating = serializers.FloatField(allow_null=True)
    reviews = serializers.FloatField(allow_null=True)
    sponsored = serializers.BooleanField(allow_null=True)
    age_days = serializers.IntegerField(allow_null=True)
    quality = serializers.FloatField(allow_null=True)
    weight_g = serializers.FloatField(allow_null=True)
    return_rate = serializers.FloatField(allow_null=True)
    launched_on = serializers.DateField(allow_null=True)
    attributes = serializers.DictField(child=serializers.CharField())
    protected = serializers.CharField(
        allow_null=True, help_text="The protected word that its title holds."
    )
    click_share = serializers.FloatField()
    click_share_52w_ago = serializers.FloatField(allow_null=True)
    units_52w = serializers.FloatField(allow_null=True)
    revenue_52w = serializers.FloatField(allow_null=True)
    sales_rank = serializers.FloatField(allow_null=True, help_text="Mean of the last four weeks.")
    offers = serializers.FloatField(allow_null=True, help_text="Mean of the last four weeks.")
    in_stock = serializers.FloatField(allow_null=True, help_text="Mean of the last four weeks.")
    trend = serializers.ListField(
        child=serializers.FloatField(allow_null=True),
        help_text="Units by period of the last two years, oldest first.",
    )


TermRow = type(
    "TermRow",
    (serializers.Serializer,),
    {
        "__doc__": "A term of a niche: how much is looked for with it, and who takes the clicks.",
        "term": serializers.CharField(),
        **{
            name: serializers.FloatField(allow_null=True, help_text=FIGURES_BY_KEY[key].label)
            for name, key in TERM_COLUMNS.items()
        },
    },
)  # fmt: skip


class NichePreview(SubjectPreview):
    """One niche close up."""

    review_limit = serializers.FloatField()
    target_income = serializers.FloatField()
    overruled = serializers.ListField(
        child=serializers.CharField(), help_text="Which of these settings are the niche's own."
    )
    figures = Figures()


def _number(**options: Any) -> serializers.FloatField:
    return serializers.FloatField(allow_null=True, **options)


def _numbers(**options: Any) -> serializers.ListField:
    return serializers.ListField(child=_number(), **options)


class Ahead(serializers.Serializer[Any]):
    """A forecast with its 80% interval: one value a period from first."""

    first = serializers.DateField()
    values = _numbers()
    low = _numbers()
    high = _numbers()


class Profile(serializers.Serializer[Any]):
    """Season profile with its 90% interval, a factor a slot of the year, mean 1."""

    values = _numbers()
    low = _numbers()
    high = _numbers()


class FeastDay(serializers.Serializer[Any]):
    name = serializers.CharField()
    day = serializers.DateField()


class PriceStep(serializers.Serializer[Any]):
    """Changes of price and of purchase rate from one period to the next, as fractions."""

    first = serializers.DateField()
    price = serializers.FloatField()
    rate = serializers.FloatField()


class DemandDetail(serializers.Serializer[Any]):
    """What is behind the demand figures: periods without a figure, wild ones, forecast, profile."""

    absent = serializers.ListField(child=serializers.DateField())
    outliers = serializers.ListField(child=serializers.DateField())
    ahead = Ahead(allow_null=True)
    profile = Profile(allow_null=True)
    feasts = FeastDay(many=True)
    interest = ShownCurve(allow_null=True)
    price_steps = PriceStep(many=True)


class Launch(serializers.Serializer[Any]):
    """A listing that came within two years and what became of it."""

    listing_id = serializers.CharField()
    title = serializers.CharField()
    launched_on = serializers.DateField()
    fate = serializers.ChoiceField(choices=["worked", "fell short", "early", "gone", "stayed"])
    amount = _number(help_text="In four average weeks of a year, in bar_unit.")
    click_share = _number()


class FactSpread(serializers.Serializer[Any]):
    """A fact over the listings clicked now: bins, listings and share of the clicks in each."""

    edges = serializers.ListField(child=serializers.FloatField())
    listings = serializers.ListField(child=serializers.IntegerField())
    clicks = serializers.ListField(child=serializers.FloatField())
    unknown = serializers.IntegerField()


class AttributeValue(serializers.Serializer[Any]):
    """A value of an attribute; clicks: share of the niche's; units a year."""

    attribute = serializers.CharField()
    value = serializers.CharField()
    listings = serializers.IntegerField()
    clicks = serializers.FloatField()
    units = _number()


class WinnersBeside(serializers.Serializer[Any]):
    """Medians of a fact over launches that worked and over the other listings."""

    fact = serializers.CharField()
    winners = _number()
    others = _number()


class Holders(serializers.Serializer[Any]):
    """Who holds a niche."""

    verdict = serializers.ListField(child=serializers.CharField())
    listings = ListingRow(many=True)
    launches = Launch(many=True)
    bar = _number(
        help_text="What a launch must reach in four average weeks of a year, in bar_unit."
    )
    bar_unit = serializers.ChoiceField(choices=["units", "revenue"])
    spreads = serializers.DictField(child=FactSpread())
    attributes = AttributeValue(many=True)
    winners = WinnersBeside(many=True)


class LeadHolder(serializers.Serializer[Any]):
    """A seller who held lead offers of a niche's listings.

    share: of the periods in which it is known who did; units: sold in these.
    """

    seller_id = serializers.CharField()
    name = serializers.CharField()
    listings = serializers.IntegerField()
    share = serializers.FloatField()
    units = serializers.FloatField(allow_null=True)


class LeadHolders(serializers.Serializer[Any]):
    """Who held the lead offers on the goods of a niche, who held most first; nobody where it is not known."""

    sentence = serializers.CharField()
    first = serializers.DateField(allow_null=True)
    last = serializers.DateField(allow_null=True)
    rows = LeadHolder(many=True)


class LeadHeld(serializers.Serializer[Any]):
    """A seller who held the lead offer from the first day of a period on."""

    seller = serializers.CharField()
    first = serializers.DateField()
    periods = serializers.IntegerField()


class ListingHistory(serializers.Serializer[Any]):
    """One listing over time."""

    listing_id = serializers.CharField()
    title = serializers.CharField()
    curves = ShownCurve(many=True)
    held = LeadHeld(many=True)


TermDetail = type(
    "TermDetail",
    (serializers.Serializer,),
    {
        "__doc__": "A term of a niche close up: its figures, growth split, season and spelling.",
        "term": serializers.CharField(),
        **{name: _number(help_text=FIGURES_BY_KEY[key].label) for name, key in TERM_COLUMNS.items()},
        **{f"growth_{name}": _number(help_text=FIGURES_BY_KEY[key].label) for name, key in GROWTH.items()},
        "profile": _numbers(allow_null=True, help_text="Season profile; null where none is claimed."),
        "rate_low": _number(help_text="Low end of the 90% interval of purchase_rate."),
        "rate_high": _number(help_text="Its high end."),
        "unserved": serializers.BooleanField(
            help_text="Searched much, with a purchase rate clearly below the niche's."
        ),
        "misspelt_of": serializers.CharField(
            allow_null=True, help_text="The term it is likely a mistyping of."
        ),
        "protected": serializers.CharField(
            allow_null=True, help_text="The protected word that it holds."
        ),
    },
)  # fmt: skip


class WordRow(serializers.Serializer[Any]):
    """A word that recurs in the terms; drift: last 13 weeks against the same a year before."""

    word = serializers.CharField()
    terms = serializers.IntegerField()
    share = serializers.FloatField(help_text="Of the niche's searches.")
    purchase_rate = _number()
    drift = _number()
    low = _number()
    high = _number()


class ReachedTerm(serializers.Serializer[Any]):
    """A term and its searches a year that a newcomer could reach."""

    term = serializers.CharField()
    reach = serializers.IntegerField()


class WordForListing(serializers.Serializer[Any]):
    """A word of these terms. leaders: how many leading listings use it, in their title or tags."""

    word = serializers.CharField()
    reach = serializers.IntegerField()
    terms = serializers.IntegerField()
    leaders = serializers.IntegerField()


class WordsForListing(serializers.Serializer[Any]):
    """Words for a listing. leaders: leading listings that were looked at. text: words fitted into ``length``
    letters. covered: share of the reach whose terms have all their words in it. left_out: terms with brand
    or protected words. known: whether clicks are, without which all searches count as reach.
    """

    terms = ReachedTerm(many=True)
    words = WordForListing(many=True)
    leaders = serializers.IntegerField()
    text = serializers.CharField()
    letters = serializers.IntegerField()
    length = serializers.IntegerField()
    covered = serializers.FloatField(allow_null=True)
    left_out = serializers.IntegerField()
    known = serializers.BooleanField()


class TermsDetail(serializers.Serializer[Any]):
    """What buyers type."""

    verdict = serializers.ListField(child=serializers.CharField())
    terms = TermDetail(many=True)
    words = WordRow(many=True)


class Destination(serializers.Serializer[Any]):
    """A listing clicked after a term; shares of the term's clicks and purchases."""

    listing_id = serializers.CharField()
    title = serializers.CharField()
    click_share = serializers.FloatField()
    before = _number(help_text="Of the clicks a year ago.")
    purchase_share = _number()


class ThemeRow(serializers.Serializer[Any]):
    """What is said of a niche's listings: share of the mentions of its kind and tone, with its 90%
    interval, and the rest of the category's. special: whether the niche is told from it."""

    kind = serializers.CharField()
    tone = serializers.CharField()
    theme = serializers.CharField()
    mentions = serializers.FloatField()
    share = _number()
    low = _number()
    high = _number()
    usual = _number()
    special = serializers.ChoiceField(choices=["more", "fewer"], allow_null=True)


class ComplainedOf(serializers.Serializer[Any]):
    """Complaints of one listing: the most frequent theme beside its share in the niche (usual)."""

    listing_id = serializers.CharField()
    title = serializers.CharField()
    mentions = serializers.FloatField()
    theme = serializers.CharField()
    share = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    usual = serializers.FloatField()
    special = serializers.BooleanField()


class ThemeOverTime(serializers.Serializer[Any]):
    """Mentions of a theme by quarter, and their share of the quarter's of its kind and tone."""

    kind = serializers.CharField()
    tone = serializers.CharField()
    theme = serializers.CharField()
    mentions = serializers.ListField(child=serializers.FloatField())
    share = _numbers()


class FeedbackDetail(serializers.Serializer[Any]):
    """What buyers say and send back."""

    verdict = serializers.ListField(child=serializers.CharField())
    themes = ThemeRow(many=True)
    listings = ComplainedOf(many=True)
    quarters = serializers.ListField(child=serializers.DateField())
    over_time = ThemeOverTime(many=True)
