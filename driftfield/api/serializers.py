"""What the API says. Fields of figures are made from the registry."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from rest_framework import serializers

from driftfield.core.market import FIGURES_BY_KEY, NICHE, Figure, FigureType, figures_of
from driftfield.core.ranking import COMPETITION, DEMAND
from driftfield.core.sieve import asked, short_name
from driftfield.core.signals import SIGNALS_BY_KEY, Tone
from driftfield.desk.models import Choice
from driftfield.exchange.terms import TERM_COLUMNS

from .fields import KindField
from .ledger import COLUMNS


class LevelShift(serializers.Serializer[Any]):
    """A dated change of level."""

    size = serializers.FloatField(help_text="Fraction by which the level changed.")

    def get_fields(self) -> dict[str, serializers.Field[Any, Any, Any, Any]]:
        """``from`` is a word of the language, so the field cannot be declared like the others."""
        return {"from": serializers.DateField(), **super().get_fields()}


class SignalRaised(serializers.Serializer[Any]):
    """A signal that was raised."""

    signal = serializers.ChoiceField(choices=list(SIGNALS_BY_KEY))
    severity = serializers.FloatField(help_text="0 at its threshold, towards 1 far beyond it.")


def field_for(figure: Figure) -> serializers.Field[Any, Any, Any, Any]:
    """The serializer field of a figure; unknown is null."""
    options: dict[str, Any] = {"allow_null": True, "help_text": f"{figure.label}: {figure.formula}"}
    if figure.type is FigureType.PROFILE:
        return serializers.ListField(child=serializers.FloatField(), **options)
    if figure.type is FigureType.WEEKS:
        return serializers.ListField(child=serializers.IntegerField(), **options)
    if figure.type is FigureType.SHIFTS:
        return LevelShift(many=True, help_text=options["help_text"])
    if figure.type is FigureType.SIGNALS:
        return SignalRaised(many=True, help_text=options["help_text"])
    if figure.type is FigureType.FLAG:
        return serializers.BooleanField(help_text=options["help_text"])
    if figure.type is FigureType.COUNT:
        return serializers.IntegerField(**options)
    if figure.type is FigureType.DATE:
        return serializers.DateField(**options)
    if figure.choices:
        return serializers.ChoiceField(choices=figure.choices, **options)
    if figure.type in {FigureType.WORD, FigureType.SENTENCE}:
        return serializers.CharField(**options)
    return serializers.FloatField(**options)


def serializer_of(name: str, figures: Iterable[Figure]) -> type[serializers.Serializer[Any]]:
    """A serializer with a field a figure."""
    return type(name, (serializers.Serializer,), {f.column: field_for(f) for f in figures})


Figures = serializer_of("Figures", figures_of(NICHE))
_LedgerFigures = serializer_of("LedgerFigures", COLUMNS)


class LedgerRow(_LedgerFigures):  # type: ignore[valid-type,misc]
    """One niche in the ledger."""

    id = serializers.CharField()
    name = serializers.CharField()
    category = serializers.CharField(
        help_text="Under its root, as “Growing › Bed covers”; or empty."
    )
    decision = serializers.ChoiceField(choices=Choice.choices, allow_null=True)
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


class ConditionSaid(serializers.Serializer[Any]):
    """A condition as it is written, as it is read, and how many niches it alone removes. figure, low,
    high: what it compares, if it does."""

    text = serializers.CharField()
    says = serializers.CharField()
    figure = serializers.CharField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    on = serializers.BooleanField()
    removes = serializers.IntegerField(allow_null=True)


class Ledger(serializers.Serializer[Any]):
    """A page of the ledger. count pass the conditions, of total in the market; near narrowly miss."""

    count = serializers.IntegerField()
    near = serializers.IntegerField()
    conditions = ConditionSaid(many=True)
    total = serializers.IntegerField()
    offset = serializers.IntegerField()
    rows = LedgerRow(many=True)


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


class CategoryRow(serializers.Serializer[Any]):
    """A category with the number of niches in it and below it."""

    path = serializers.CharField()
    name = serializers.CharField()
    category_id = serializers.CharField()
    niches = serializers.IntegerField()


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


class MarketSummary(serializers.Serializer[Any]):
    """A market that was analysed."""

    market_id = serializers.CharField()
    name = serializers.CharField()
    currency = serializers.CharField()
    as_of = serializers.DateField(source="run.as_of")
    period = serializers.ChoiceField(choices=["week", "month"], source="run.period")
    niches = serializers.IntegerField(source="run.niches")
    note = serializers.CharField(source="run.note")
    lead_days = serializers.IntegerField(source="run.settings.lead_days")
    arrival = serializers.SerializerMethodField()

    def get_arrival(self, market: Any) -> str:
        from datetime import timedelta

        day = market.run.as_of + timedelta(days=market.run.settings["lead_days"])
        return str(day.isoformat())


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
    typed = serializers.SerializerMethodField(
        help_text="How to type it in a condition; null where none can be put on it."
    )

    def get_typed(self, figure: Figure) -> str | None:
        return short_name(figure) if asked(figure) else None


class ConditionRead(serializers.Serializer[Any]):
    """A condition as it is kept and as it is read. figure: the one it compares, if it does."""

    text = serializers.CharField()
    says = serializers.CharField()
    figure = serializers.CharField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)


class Spread(serializers.Serializer[Any]):
    """How a figure is spread over the niches that pass the conditions."""

    edges = serializers.ListField(child=serializers.FloatField())
    counts = serializers.ListField(child=serializers.IntegerField())
    known = serializers.IntegerField()
    unknown = serializers.IntegerField()


class SeasonCall(serializers.Serializer[Any]):
    """The date to order by for the next season that can be met."""

    order_by = serializers.DateField()
    rise = serializers.DateField()
    missed = serializers.DateField(allow_null=True)


class YearCurve(serializers.Serializer[Any]):
    year = serializers.IntegerField()
    values = serializers.ListField(child=serializers.FloatField(allow_null=True))


class SignalSaid(serializers.Serializer[Any]):
    """A signal of one niche in sentences."""

    key = serializers.ChoiceField(choices=list(SIGNALS_BY_KEY))
    name = serializers.CharField()
    tone = serializers.ChoiceField(choices=[t.value for t in Tone])
    severity = serializers.FloatField()
    says = serializers.CharField(help_text="The evidence, with this niche's numbers.")
    jointly = serializers.ListField(
        child=serializers.CharField(), help_text="What it means together with others."
    )
    look = serializers.CharField(help_text="What to look at next.")


class SignalRow(serializers.Serializer[Any]):
    """A rule of the registry of signals."""

    key = serializers.ChoiceField(choices=list(SIGNALS_BY_KEY))
    name = serializers.CharField()
    tone = serializers.ChoiceField(choices=[t.value for t in Tone])
    reads = serializers.ListField(
        child=serializers.CharField(), help_text="Keys of the figures it rests on."
    )
    look = serializers.CharField()


class LensPart(serializers.Serializer[Any]):
    """A part of headroom and its weight in the default lens."""

    key = serializers.CharField()
    figure = serializers.CharField()
    side = serializers.ChoiceField(choices=[DEMAND, COMPETITION])
    weight = serializers.FloatField()
    why = serializers.CharField()
    more_is_more = serializers.BooleanField()


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


class NichePreview(serializers.Serializer[Any]):
    """One niche close up."""

    id = serializers.CharField()
    name = serializers.CharField()
    category = serializers.CharField()
    decision = serializers.ChoiceField(choices=Choice.choices, allow_null=True)
    reason = serializers.CharField(help_text="Of the decision; empty for none.")
    note = serializers.CharField()
    tags = serializers.ListField(child=serializers.CharField())
    period = serializers.ChoiceField(choices=["week", "month"])
    first = serializers.DateField(help_text="First day of the first period of values.")
    values = serializers.ListField(child=serializers.FloatField(allow_null=True))
    level = serializers.ListField(
        child=serializers.FloatField(allow_null=True), allow_null=True,
        help_text="The curve without calendar and noise; null for under two years.",
    )  # fmt: skip
    years = YearCurve(many=True)
    verdict = serializers.ListField(child=serializers.CharField())
    call = SeasonCall(allow_null=True)
    signals = SignalSaid(many=True)
    figures = Figures()


class ProblemDetail(serializers.Serializer[Any]):
    """RFC 9457 problem details."""

    title = serializers.CharField()
    status = serializers.IntegerField()
    detail = serializers.CharField()
    fault = serializers.CharField(
        required=False, help_text="Of a fault in the program: its id, under which it was noted."
    )
