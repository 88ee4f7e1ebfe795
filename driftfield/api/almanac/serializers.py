"""What the API says of the almanac."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.ledger.serializers import BlockedRow, ConditionRow
from driftfield.core.market import WHATS
from driftfield.desk.models import Choice


class AlmanacSeason(serializers.Serializer[Any]):
    """A season of a row. order_by: for all of it; open_until: for half. caught: when ordering on the day that
    is planned from. level: what its usual year has on that day as a share of its highest."""

    order_by = serializers.DateField()
    open_until = serializers.DateField()
    start = serializers.DateField()
    rise = serializers.DateField()
    peak_start = serializers.DateField()
    peak_end = serializers.DateField()
    wind_down = serializers.DateField()
    end = serializers.DateField()
    share = serializers.FloatField()
    caught = serializers.FloatField()
    level = serializers.FloatField(allow_null=True)


class NextDeadline(serializers.Serializer[Any]):
    """The next thing to do: for all of the first season that is still open, or for half of it."""

    what = serializers.ChoiceField(choices=list(WHATS[:2]))
    day = serializers.DateField()
    caught = serializers.FloatField()


class AlmanacLine(serializers.Serializer[Any]):
    """A row of the almanac. levels: its usual year by week of the window, 1 for its mean; empty for unknown."""

    id = serializers.CharField()
    name = serializers.CharField()
    category = serializers.CharField()
    niche = serializers.CharField()
    decision = serializers.ChoiceField(choices=Choice.choices, allow_null=True)
    shape = serializers.CharField(allow_null=True)
    lead_days = serializers.IntegerField()
    next = NextDeadline(allow_null=True)
    seasons = AlmanacSeason(many=True)
    levels = serializers.ListField(child=serializers.FloatField())


class AlmanacFeast(serializers.Serializer[Any]):
    """A feast or a public holiday; moving: one that curves may keep time with."""

    name = serializers.CharField()
    day = serializers.DateField()
    moving = serializers.BooleanField()


class AlmanacHappening(serializers.Serializer[Any]):
    """What is to be done or happens for a row's season. day: the last of a deadline, or the first; until: the
    last day of what takes several."""

    id = serializers.CharField()
    name = serializers.CharField()
    what = serializers.ChoiceField(choices=list(WHATS))
    day = serializers.DateField()
    until = serializers.DateField(allow_null=True)
    title = serializers.CharField()


class AlmanacWeeks(serializers.Serializer[Any]):
    """What is to be done and happens from the day that is planned from, by day. count: of all, of which so many
    are left out; those that come first are told."""

    on = serializers.DateField()
    happenings = AlmanacHappening(many=True)
    count = serializers.IntegerField()


class Almanac(serializers.Serializer[Any]):
    """Fifteen months of what passes. on: the day that is planned from here; planning_date: the market's.

    first, last: the days that are shown; holidays_of: the country whose holidays are among the feasts, empty
    where it is not known. count: how many pass, of ``total``.
    """

    first = serializers.DateField()
    last = serializers.DateField()
    on = serializers.DateField()
    planning_date = serializers.DateField()
    as_of = serializers.DateField()
    lead_days = serializers.IntegerField()
    holidays_of = serializers.CharField()
    feasts = AlmanacFeast(many=True)
    sentences = serializers.ListField(child=serializers.CharField())
    rows = AlmanacLine(many=True)
    count = serializers.IntegerField()
    near = serializers.IntegerField()
    total = serializers.IntegerField()
    offset = serializers.IntegerField()
    conditions = ConditionRow(many=True)
    blocked = BlockedRow(allow_null=True)
