"""What the API says of rows side by side, in one market or in several, and of what is the same."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from driftfield.api.fields import Flag, KindField, Number, Text, Whole
from driftfield.api.shared import field_for
from driftfield.core.market import BY_ID, CONFIRMED, FIGURES_BY_KEY, ITSELF, NICHE, OF_TERMS
from driftfield.desk.actions.rates import EARLIEST, HIGHEST

HOW = (ITSELF, BY_ID, CONFIRMED)


def _number(**options: Any) -> serializers.FloatField:
    return serializers.FloatField(allow_null=True, **options)


class SideCell(serializers.Serializer[Any]):
    """A figure of one row. low, high: its interval or, where banded, the band of its rank. best: none is
    better, as far as intervals tell. at: where it lies between the lowest and the highest, 0–1."""

    value = serializers.JSONField(allow_null=True)
    low = _number()
    high = _number()
    banded = serializers.BooleanField()
    best = serializers.BooleanField()
    at = _number()


class SideLine(serializers.Serializer[Any]):
    """A figure of all rows. apart: why they say nothing of one another: each within its own market, or no
    rate for a currency; empty where they do."""

    head = serializers.CharField()
    figure = serializers.CharField()
    apart = serializers.ChoiceField(choices=["within", "rate", ""], allow_blank=True)
    cells = SideCell(many=True)


class SideBySide(serializers.Serializer[Any]):
    """Rows of one market side by side. ids: those that the market has, in the order of the cells."""

    ids = serializers.ListField(child=serializers.CharField())
    lines = SideLine(many=True)


class CurveBeside(serializers.Serializer[Any]):
    """A curve as it came and without its season; one value a period from first, null where unknown."""

    period = serializers.ChoiceField(choices=["week", "month"])
    first = serializers.DateField()
    values = serializers.ListField(child=_number())
    without = serializers.ListField(
        child=_number(), allow_null=True, help_text="Null where no season is claimed."
    )


class MarketBeside(serializers.Serializer[Any]):
    """A row as one market has it. how: looked at itself, the same by its id, or because that was confirmed.
    rate, day: what a unit of its money is in the money shown, and of when; null where that was not set."""

    market_id = serializers.CharField()
    market = serializers.CharField()
    id = serializers.CharField()
    name = serializers.CharField()
    how = serializers.ChoiceField(choices=HOW)
    match_id = serializers.IntegerField(
        allow_null=True, help_text="Of its confirmed match with the first; null for none."
    )
    currency = serializers.CharField(allow_blank=True)
    rate = _number()
    day = serializers.DateField(allow_null=True)
    as_of = serializers.DateField()
    curve = CurveBeside(allow_null=True)


class MarketWithout(serializers.Serializer[Any]):
    """A market that does not have the row, as far as is known."""

    market_id = serializers.CharField()
    market = serializers.CharField()


class AgainstFirst(serializers.Serializer[Any]):
    """A market against the first. shift: weeks by which its season comes later; lead: periods by which it
    follows without the season. Each with its interval; null where that cannot be told."""

    market_id = serializers.CharField()
    seasons = serializers.CharField()
    shift = _number()
    shift_low = _number()
    shift_high = _number()
    lead_sentence = serializers.CharField(allow_blank=True)
    lead = serializers.IntegerField(allow_null=True)
    lead_low = serializers.IntegerField(allow_null=True)
    lead_high = serializers.IntegerField(allow_null=True)


class AcrossMarkets(serializers.Serializer[Any]):
    """A row in all markets that have it. currency: of amounts, wherever a rate is known."""

    currency = serializers.CharField(allow_blank=True)
    markets = MarketBeside(many=True)
    without = MarketWithout(many=True)
    lines = SideLine(many=True)
    competition = serializers.CharField()
    against = AgainstFirst(many=True)


class PairRow(serializers.Serializer[Any]):
    """Two rows of two markets, by their ids and names, and their searches a year."""

    id = serializers.CharField()
    name = serializers.CharField()
    searches_52w = _number()
    other_id = serializers.CharField()
    other_name = serializers.CharField()
    other_searches_52w = _number()


class MatchedRow(PairRow):
    """Two that match. match_id: of a confirmed match; null for the same id."""

    how = serializers.ChoiceField(choices=HOW)
    match_id = serializers.IntegerField(allow_null=True)
    vars().update(
        {
            f"{prefix}{key}": field_for(FIGURES_BY_KEY[key])
            for prefix in ("", "other_")
            for key in (
                "drift",
                "drift_rate_year",
                "drift_low",
                "drift_high",
                "shape",
                "season_profile",
            )
        }
    )


class RejectedRow(serializers.Serializer[Any]):
    """A match that was rejected."""

    match_id = serializers.IntegerField()
    id = serializers.CharField()
    other_id = serializers.CharField()


class MatchedRows(serializers.Serializer[Any]):
    """What two markets have both, most searched in the first one first. total: of how many rows."""

    rows = MatchedRow(many=True)
    total = serializers.IntegerField()
    rejected = RejectedRow(many=True)


class ProposedPair(PairRow):
    """Two that may be the same, and why."""

    why = serializers.CharField()


class ProposedPairs(serializers.Serializer[Any]):
    """What may be the same, surest first. total: of how many rows."""

    rows = ProposedPair(many=True)
    total = serializers.IntegerField()


class MatchRequest(serializers.Serializer[Any]):
    """Two rows of two markets. same: the match is confirmed, else rejected."""

    of = KindField(OF_TERMS, default=NICHE)
    market_id = Text(max_length=200)
    id = Text(max_length=500)
    other_market_id = Text(max_length=200)
    other_id = Text(max_length=500)
    same = Flag()


class MatchRequests(serializers.Serializer[Any]):
    """Matches to confirm or reject, all of them or none."""

    matches = serializers.ListField(child=MatchRequest(), min_length=1, max_length=500)


class MatchIds(serializers.Serializer[Any]):
    """Decisions on matches by their keys."""

    match_ids = serializers.ListField(child=Whole(), min_length=1, max_length=500)


class RateRow(serializers.Serializer[Any]):
    """What one unit of a currency was in another one on a day."""

    currency = serializers.CharField()
    into = serializers.CharField()
    rate = serializers.FloatField()
    day = serializers.DateField()


class RateRequest(serializers.Serializer[Any]):
    """A rate to keep; null takes away the rate between the two."""

    currency = Text(max_length=3, min_length=3)
    into = Text(max_length=3, min_length=3)
    rate = Number(allow_null=True, min_value=1 / HIGHEST, max_value=HIGHEST)
    day = serializers.DateField(
        allow_null=True, default=None, help_text=f"From {EARLIEST} to today."
    )
