"""What the API says of several plans: schemas/plans.schema.json in the words of its description."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import Number, Text

WHY = ("past", "loses", "risky", "alone", "other", "beside")


def _three() -> serializers.ListField:
    return serializers.ListField(child=serializers.FloatField(), min_length=3, max_length=3)


class PurseRequest(serializers.Serializer[Any]):
    """The cash at hand, and the chance of a loss that is borne; null for not said."""

    market_id = Text(max_length=200)
    cash = Number(allow_null=True, min_value=0, max_value=1e9)
    most_loss = Number(allow_null=True, min_value=0, max_value=1)


class SummaryPayment(serializers.Serializer[Any]):
    """What is paid in a week; told: the amount in words."""

    what = serializers.CharField()
    week = serializers.DateField()
    amount = serializers.FloatField()
    told = serializers.CharField()


class PlanSummary(serializers.Serializer[Any]):
    """The main figures of a plan. lowest, final: 10th, 50th, 90th percentile; back: of the day the money is
    back, in the middle; caught: share of the season that is still to come."""

    ordered = serializers.DateField()
    on_sale = serializers.DateField()
    until = serializers.DateField()
    supplier = serializers.CharField(allow_blank=True)
    ways = serializers.CharField(allow_blank=True)
    units = serializers.IntegerField()
    landed = serializers.FloatField()
    unit_landed = serializers.FloatField()
    lowest = _three()
    final = _three()
    mean = serializers.FloatField()
    loss = serializers.FloatField()
    back = serializers.DateField(allow_null=True)
    caught = serializers.FloatField(allow_null=True)
    payments = SummaryPayment(many=True)
    sentence = serializers.CharField()
    warnings = serializers.ListField(child=serializers.CharField())


class OrderAmongOthers(serializers.Serializer[Any]):
    """A plan among others. taken: it is added up; proposed: it fits the cash, else reason; problem: why no plan
    can be made; came_of_it: units sold, held against the plan."""

    key = serializers.CharField()
    niche_id = serializers.CharField()
    niche = serializers.CharField()
    name = serializers.CharField()
    placed = serializers.BooleanField()
    problem = serializers.CharField(allow_blank=True)
    taken = serializers.BooleanField()
    proposed = serializers.BooleanField()
    why = serializers.ChoiceField(choices=WHY, allow_null=True)
    reason = serializers.CharField(allow_blank=True)
    summary = PlanSummary(allow_null=True)
    came_of_it = serializers.CharField(allow_null=True)


class OrdersWeek(serializers.Serializer[Any]):
    """The cash in a week: 10th, 50th and 90th percentile; without cash at hand the change of it."""

    week = serializers.DateField()
    low = serializers.FloatField()
    middle = serializers.FloatField()
    high = serializers.FloatField()


class OrdersCash(serializers.Serializer[Any]):
    """The cash path of what is taken. alike: the lowest in one draw in ten if all come out badly at once;
    short: chance that the cash does not suffice; gained: 10th, 50th, 90th percentile of what is added."""

    weeks = OrdersWeek(many=True)
    lowest = _three()
    lowest_week = serializers.DateField()
    alike = serializers.FloatField()
    short = serializers.FloatField()
    gained = _three()
    loss = serializers.FloatField()
    mean = serializers.FloatField()


class OrdersMonth(serializers.Serializer[Any]):
    """Units expected in a month; quiet: less than a third of the mean month of the year to come."""

    month = serializers.DateField()
    units = serializers.FloatField()
    quiet = serializers.BooleanField()


class FillingNiche(serializers.Serializer[Any]):
    """A niche whose season fills the quiet months. share: of its year's demand that falls into them, even: of
    an even year's; leaves: what these units of all its listings leave, at costs that may be assumed."""

    niche_id = serializers.CharField()
    niche = serializers.CharField()
    share = serializers.FloatField()
    even = serializers.FloatField()
    left_a_unit = serializers.FloatField()
    leaves = serializers.FloatField()
    decision = serializers.ChoiceField(choices=("keep", "park"), allow_null=True)


class Orders(serializers.Serializer[Any]):
    """All plans of a market on one cash path. more: there are more than are looked at."""

    today = serializers.DateField()
    currency = serializers.CharField()
    cash_at_hand = serializers.FloatField(allow_null=True)
    most_loss = serializers.FloatField(allow_null=True)
    sentences = serializers.ListField(child=serializers.CharField())
    plans = OrderAmongOthers(many=True)
    cash = OrdersCash()
    months = OrdersMonth(many=True)
    fills = FillingNiche(many=True)
    more = serializers.BooleanField()


class Purse(serializers.Serializer[Any]):
    """The cash at hand, and the chance of a loss that is borne."""

    cash = serializers.FloatField(allow_null=True)
    most_loss = serializers.FloatField(allow_null=True)
