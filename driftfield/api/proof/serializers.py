"""What the API says of the track record."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import Flag, KindField, Text, Whole
from driftfield.core.market import CATEGORY, NICHE, TERM
from driftfield.core.market.proof import EVERY

PARTS = ("forecast", "shape", "drift", "season", "launch", "signal", "rank")
MOST_WEEKS = 520
KINDS = (NICHE, TERM, CATEGORY)


class TrackLine(serializers.Serializer[Any]):
    """One line of the record; null for unknown. part, measure: what is told of what; group: of a shape, a
    word, a decile, a score, a level of confidence or a signal alone; category: of the niches in one alone, by
    its id; name: of the category or the signal; beside: the same of the obvious alternative; meant: what an
    interval was to hold; stands: whether it holds given how many were tried."""

    part = serializers.ChoiceField(choices=PARTS)
    measure = serializers.CharField()
    group = serializers.CharField(allow_blank=True)
    category = serializers.CharField(allow_blank=True)
    name = serializers.CharField(allow_null=True)
    weeks = serializers.IntegerField()
    value = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    beside = serializers.FloatField(allow_null=True)
    beside_low = serializers.FloatField(allow_null=True)
    beside_high = serializers.FloatField(allow_null=True)
    observations = serializers.IntegerField()
    niches = serializers.IntegerField()
    days = serializers.IntegerField()
    meant = serializers.FloatField(allow_null=True)
    chance = serializers.FloatField(allow_null=True)
    stands = serializers.BooleanField(allow_null=True)
    sentence = serializers.CharField()


class TrackMiss(serializers.Serializer[Any]):
    """What was said that is far from what came: sums of searches, or weeks. there: whether it still is in the
    market."""

    part = serializers.ChoiceField(choices=PARTS)
    weeks = serializers.IntegerField()
    id = serializers.CharField()
    name = serializers.CharField()
    as_of = serializers.DateField()
    said = serializers.FloatField()
    came = serializers.FloatField()
    there = serializers.BooleanField()
    sentence = serializers.CharField()


class FittedLensRow(serializers.Serializer[Any]):
    """What weights fitted to launches come to. value, beside: areas under the curve of these and of the
    default's; low, high: ends of the gain; weights: those proposed, null where none are."""

    name = serializers.CharField(allow_null=True)
    value = serializers.FloatField(allow_null=True)
    beside = serializers.FloatField(allow_null=True)
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    observations = serializers.IntegerField()
    niches = serializers.IntegerField()
    days = serializers.IntegerField()
    weights = serializers.DictField(child=serializers.FloatField(), allow_null=True)
    sentence = serializers.CharField()


class TrackMade(serializers.Serializer[Any]):
    """How a record was made. as_of: up to which it is known what came; taken: days that were taken over as they
    were kept; outdated: why it does not stand for the present figures, empty where it does; due: whether
    another day can be replayed."""

    made_at = serializers.DateTimeField()
    as_of = serializers.DateField()
    every = serializers.IntegerField()
    days = serializers.IntegerField()
    taken = serializers.IntegerField()
    last_day = serializers.DateField()
    outdated = serializers.CharField(allow_blank=True)
    due = serializers.BooleanField()


class TrackRecordFound(serializers.Serializer[Any]):
    """The track record of a market; made is null where there is none yet."""

    market_id = serializers.CharField()
    market = serializers.CharField()
    currency = serializers.CharField(allow_blank=True)
    as_of = serializers.DateField()
    made = TrackMade(allow_null=True)
    lines = TrackLine(many=True)
    misses = TrackMiss(many=True)
    lens = FittedLensRow(allow_null=True)
    limits = serializers.ListField(child=serializers.CharField())


class ToldLine(serializers.Serializer[Any]):
    """What of the record is said where such a thing stands. part: a forecast, a season's dates, headroom or a
    rank; group: the shape that it is of, empty for all."""

    part = serializers.ChoiceField(choices=PARTS)
    group = serializers.CharField(allow_blank=True)
    weeks = serializers.IntegerField()
    sentence = serializers.CharField()


class TrackLines(serializers.Serializer[Any]):
    """Lines of the record for other pages; none where there is no record, or where it is outdated."""

    days = serializers.IntegerField()
    lines = ToldLine(many=True)


class ReplayRequest(serializers.Serializer[Any]):
    """What to replay. every: weeks between two days; anew: no day is taken over as it was kept."""

    market_id = Text(max_length=200)
    of = KindField(KINDS, required=False, default=NICHE)
    every = Whole(required=False, default=EVERY, min_value=1, max_value=MOST_WEEKS)
    anew = Flag(default=False)


class TakeLensRequest(serializers.Serializer[Any]):
    """Of which market the proposed lens is kept, and by which name."""

    market_id = Text(max_length=200)
    name = Text(required=False, allow_blank=True, default="", max_length=120)
