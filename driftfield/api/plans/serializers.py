"""What the API says of plans: schemas/plan.schema.json in the words of its description."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import LARGEST_ID, Text, Whole
from driftfield.desk.models import Plan


def _number(**options: Any) -> serializers.FloatField:
    return serializers.FloatField(allow_null=True, **options)


def _three(**options: Any) -> serializers.ListField:
    return serializers.ListField(child=_number(), min_length=3, max_length=3, **options)


class PlanRequest(serializers.Serializer[Any]):
    """Inputs of a plan; without a document those that a first one starts with."""

    market_id = Text(max_length=200)
    niche_id = Text(max_length=500)
    document = serializers.DictField(
        required=False, allow_null=True, default=None,
        help_text="As inputs in schemas/plan.schema.json.",
    )  # fmt: skip


class KeepPlanRequest(serializers.Serializer[Any]):
    """A plan to keep; key: of the one that is changed."""

    market_id = Text(max_length=200)
    niche_id = Text(max_length=500)
    document = serializers.DictField()
    key = serializers.UUIDField(required=False, allow_null=True, default=None)
    state = serializers.ChoiceField(choices=Plan.State.values, required=False, default="drafted")
    version = Whole(
        required=False, allow_null=True, default=None, min_value=1, max_value=LARGEST_ID,
        help_text="The one that was changed; refused where another window changed it meanwhile.",
    )  # fmt: skip


class PlanKeyRequest(serializers.Serializer[Any]):
    """A plan."""

    key = serializers.UUIDField()


class KeptPlan(serializers.Serializer[Any]):
    """A plan that is kept."""

    key = serializers.UUIDField()
    version = serializers.IntegerField(source="pk")
    name = serializers.CharField()
    state = serializers.ChoiceField(choices=Plan.State.values)
    document = serializers.DictField()
    made_at = serializers.DateTimeField()


class ToldPlan(KeptPlan):
    """A plan that is kept, and what it says now. sentence: empty where that was not asked; where nothing comes
    of it, why."""

    sentence = serializers.CharField(allow_blank=True)
    warnings = serializers.ListField(child=serializers.CharField())


class KeptPlans(serializers.Serializer[Any]):
    """Plans of a niche that are kept."""

    plans = ToldPlan(many=True)


class UndonePlan(serializers.Serializer[Any]):
    """A plan as it was before; null where it was not there."""

    plan = KeptPlan(allow_null=True)


class PlanSeason(serializers.Serializer[Any]):
    """The season that is ordered for."""

    rise = serializers.DateField()
    peak_start = serializers.DateField()
    peak_end = serializers.DateField()
    wind_down = serializers.DateField()
    end = serializers.DateField()
    caught = serializers.FloatField()


class PlanDates(serializers.Serializer[Any]):
    """Its dates. on_sale: of each part; order_by: for all of the season, open_until: for half."""

    ordered = serializers.DateField()
    on_sale = serializers.ListField(child=serializers.DateField())
    until = serializers.DateField()
    order_by = serializers.DateField(allow_null=True)
    open_until = serializers.DateField(allow_null=True)
    season = PlanSeason(allow_null=True)
    reorders = serializers.ListField(child=serializers.DateField())
    forecast_until = serializers.DateField()


class ExpectedWeek(serializers.Serializer[Any]):
    """Units of a week: of the niche and one's own, and the band of the draws."""

    week = serializers.DateField()
    niche = serializers.FloatField()
    own = serializers.FloatField()
    low = serializers.FloatField()
    middle = serializers.FloatField()
    high = serializers.FloatField()


class NewcomerMonth(serializers.Serializer[Any]):
    """What launches reached in a month since they were launched; own, pooled: how many that rests on."""

    month = serializers.IntegerField()
    own = serializers.IntegerField()
    pooled = serializers.IntegerField()
    p10 = _number()
    p50 = _number()
    p90 = _number()
    alive = _number()
    alive_of = serializers.IntegerField()
    price = _number()
    reviews = _number()


class Newcomers(serializers.Serializer[Any]):
    """The newcomer's path. sponsored: share of these launches that are advertised now."""

    months = NewcomerMonth(many=True)
    sponsored = _number()


class PlannedSales(serializers.Serializer[Any]):
    """What is to have been sold by the end of each week from a first Monday on: 10th, 50th, 90th percentile."""

    first = serializers.DateField()
    on_sale = serializers.DateField()
    low = serializers.ListField(child=serializers.FloatField())
    middle = serializers.ListField(child=serializers.FloatField())
    high = serializers.ListField(child=serializers.FloatField())


class ProfitPoint(serializers.Serializer[Any]):
    """What a quantity earns on average."""

    units = serializers.IntegerField()
    profit = serializers.FloatField()


class PlanQuantity(serializers.Serializer[Any]):
    """How many, and why."""

    chosen = serializers.IntegerField()
    best = serializers.IntegerField()
    covered = serializers.IntegerField(allow_null=True)
    wanted = _number()
    service = _number()
    ratio = _number()
    earned = serializers.FloatField()
    cost = serializers.FloatField()
    worth = serializers.FloatField()
    mean = _number()
    deviation = _number()
    low = serializers.FloatField()
    middle = serializers.FloatField()
    high = serializers.FloatField()
    safety_stock = _number()
    expected_sold = _number()
    expected_left = _number()
    sells_out = _number()
    working = serializers.ListField(child=serializers.CharField())
    curve = ProfitPoint(many=True)


class PlainPractice(serializers.Serializer[Any]):
    """A rival's units × (searches then ÷ searches now) × days."""

    units = _number()
    growth = _number()
    given = _number()
    working = serializers.CharField()


class PlanBill(serializers.Serializer[Any]):
    """What the order costs."""

    units = serializers.IntegerField()
    unit_cost = serializers.FloatField()
    goods = serializers.FloatField()
    freight = serializers.FloatField()
    duty = serializers.FloatField()
    import_tax = serializers.FloatField()
    reclaimed = serializers.BooleanField(
        help_text="Whether that tax is set off against tax on sales."
    )
    landed = serializers.FloatField()


class PlanPayment(serializers.Serializer[Any]):
    """What is paid in a week."""

    what = serializers.CharField()
    week = serializers.DateField()
    amount = serializers.FloatField()


class CashEnd(serializers.Serializer[Any]):
    """How a cash path ends. final, lowest: 10th, 50th, 90th percentile; back: of the week the money is back;
    rate: the internal rate a year."""

    final = _three()
    mean = serializers.FloatField()
    loss = serializers.FloatField()
    lowest = _three()
    lowest_week = serializers.DateField()
    back = serializers.ListField(child=serializers.DateField(allow_null=True))
    rate = _number()
    never_back = serializers.FloatField()
    sold = serializers.FloatField()
    left = serializers.FloatField()


class CashWeek(serializers.Serializer[Any]):
    """The balance since the order: 10th, 50th and 90th percentile."""

    week = serializers.DateField()
    low = serializers.FloatField()
    middle = serializers.FloatField()
    high = serializers.FloatField()


class PlanCash(CashEnd):
    """The cash path. budget_share: of the budget that it binds at the lowest, in the middle."""

    weeks = CashWeek(many=True)
    budget_share = _number()


class PlanTurn(CashEnd):
    """What comes of the same order if things turn out otherwise; change: of the mean balance at the end."""

    name = serializers.CharField()
    change = serializers.FloatField()


class PlanMoved(serializers.Serializer[Any]):
    """By how much an input moves the mean balance at the end."""

    name = serializers.CharField()
    worse = serializers.FloatField()
    better = serializers.FloatField()


class MadePlan(serializers.Serializer[Any]):
    """What comes of a plan's inputs."""

    name = serializers.CharField()
    sentence = serializers.CharField()
    warnings = serializers.ListField(child=serializers.CharField())
    assumed = serializers.ListField(child=serializers.CharField())
    from_market = serializers.ListField(child=serializers.CharField())
    share_from = serializers.CharField()
    currency = serializers.CharField()
    dates = PlanDates()
    expected = ExpectedWeek(many=True)
    sold_by = PlannedSales()
    newcomers = Newcomers(allow_null=True)
    quantity = PlanQuantity()
    plain_practice = PlainPractice(allow_null=True)
    unit = serializers.DictField(child=serializers.FloatField())
    bill = PlanBill()
    payments = PlanPayment(many=True)
    cash = PlanCash()
    turns = PlanTurn(many=True)
    sensitivity = PlanMoved(many=True)


class PlannedNiche(serializers.Serializer[Any]):
    """Inputs and what comes of them; problem: why nothing does, where it is so."""

    document = serializers.DictField()
    made = MadePlan(allow_null=True)
    problem = serializers.CharField(allow_blank=True)
