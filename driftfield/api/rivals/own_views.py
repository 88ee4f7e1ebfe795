"""One's own sellers, and which of one's own goods to order again."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.fields import Flag, Text
from driftfield.api.files import LISTED as FILES
from driftfield.api.files import FormQuery, file_response
from driftfield.api.queries import ChoiceQuery, MarketQuery, WholeQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.exchange.lists import named_columns
from driftfield.exchange.own_goods import COLUMNS
from driftfield.readings.actions import choose_own
from driftfield.readings.chosen import own_sellers
from driftfield.readings.own_goods import OwnGoods, own_goods_of

MOST_ROWS, LONGEST, HIGHEST = 300, 6_000, 1_000
_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


class OwnRequest(serializers.Serializer[Any]):
    """A seller that is one's own, or is not."""

    market_id = Text(max_length=200)
    seller = Text(max_length=200)
    own = Flag()


class OwnSellers(serializers.Serializer[Any]):
    """Ids of one's own sellers."""

    sellers = serializers.ListField(child=serializers.CharField())


class OwnView(APIView):
    """Which sellers are one's own."""

    @extend_schema(
        operation_id="own_sellers",
        parameters=[MarketQuery],
        responses={200: OwnSellers, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        market = market_named(MarketQuery.asked(request)["market"])
        return Response(OwnSellers({"sellers": own_sellers(market.market_id)}).data)

    @extend_schema(
        operation_id="choose_own", request=OwnRequest, responses={200: OwnSellers, **_PROBLEMS}
    )
    def post(self, request: Request) -> Response:
        asked = OwnRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        sellers = choose_own(market_named(wanted["market_id"]), wanted["seller"], wanted["own"])
        return Response(OwnSellers({"sellers": sellers}).data)


class OwnGoodsQuery(MarketQuery):
    """Which goods are one's own, and from when on a price has risen."""

    listings = Text(
        required=False, default="", max_length=LONGEST,
        help_text="Listings that were one's own besides, in any form: ids, or addresses that hold them.",
    )  # fmt: skip
    rise = WholeQuery(
        HIGHEST, default=10, help_text="Percent in 13 weeks from which a price has risen."
    )
    every = ChoiceQuery(["yes"], help_text="Also those of which nothing says that it may pay.")


class OwnGood(serializers.Serializer[Any]):
    """One of one's own goods.

    own_units: what one sold of it in a year. rivals: other sellers who have it now; reasons: why to order it
    again.
    """

    listing_id = serializers.CharField()
    name = serializers.CharField()
    carried_now = serializers.BooleanField()
    since = serializers.DateField(allow_null=True)
    until = serializers.DateField(allow_null=True)
    price = serializers.FloatField(allow_null=True)
    price_change_13w = serializers.FloatField(allow_null=True)
    units_52w = serializers.FloatField(allow_null=True)
    estimated_units = serializers.FloatField(allow_null=True)
    own_units = serializers.FloatField(allow_null=True)
    sleeper = serializers.CharField(allow_null=True)
    order_by = serializers.DateField(allow_null=True)
    rivals = serializers.IntegerField()
    reasons = serializers.ListField(child=serializers.ChoiceField(["price", "season", "rivals"]))
    sentence = serializers.CharField()


class OwnSeller(serializers.Serializer[Any]):
    """One of one's own sellers."""

    id = serializers.CharField()
    name = serializers.CharField()


class EstimateCheck(serializers.Serializer[Any]):
    """How units estimated from ranks compare with own sales in a category.

    ratio: own sales over such estimates, in the middle, with its interval; own_listings: how many it rests on,
    and assumed: of how many of them it is taken that nobody else sold them. estimates: how many listings there
    have an estimate, and whether it is corrected.
    """

    category = serializers.CharField()
    ratio = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    own_listings = serializers.IntegerField()
    assumed = serializers.IntegerField()
    estimates = serializers.IntegerField()
    corrected = serializers.BooleanField()
    sentence = serializers.CharField()


class OwnGoodsAnswer(serializers.Serializer[Any]):
    """One's own goods, those with most reasons first.

    all_rows: how many there are, and again: of how many something says that it may pay. checks: how estimates
    from ranks compare with own sales, by category; sold: of how many listings own sales of a year are known.
    """

    sellers = OwnSeller(many=True)
    unknown = serializers.ListField(child=serializers.CharField())
    all_rows = serializers.IntegerField()
    again = serializers.IntegerField()
    rows = OwnGood(many=True)
    checks = EstimateCheck(many=True)
    sold = serializers.IntegerField()


def _read(wanted: dict[str, Any]) -> tuple[OwnGoods, list[dict[str, Any]]]:
    """All of one's own goods, and those that are asked for."""
    run = market_named(wanted["market"]).run
    found = own_goods_of(run, wanted["listings"], wanted["rise"] / 100)
    every = wanted.get("every") == "yes"
    return found, [one for one in found.rows if every or one["reasons"]]


class OwnGoodsView(APIView):
    """One's own goods, and which of them to order again."""

    @extend_schema(
        operation_id="own_goods",
        parameters=[OwnGoodsQuery],
        responses={200: OwnGoodsAnswer, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        found, shown = _read(OwnGoodsQuery.asked(request))
        return Response(
            OwnGoodsAnswer(
                {
                    "sellers": [{"id": one, "name": name} for one, name in found.sellers.items()],
                    "unknown": found.unknown,
                    "all_rows": len(found.rows),
                    "again": sum(bool(one["reasons"]) for one in found.rows),
                    "rows": shown[:MOST_ROWS],
                    "checks": found.checks,
                    "sold": found.sold,
                }
            ).data
        )


class OwnGoodsFileQuery(OwnGoodsQuery, FormQuery):
    """Which of one's own goods, and the form of the file."""


class OwnGoodsFile(APIView):
    """One's own goods as a file, under the names that the command writes."""

    @extend_schema(
        operation_id="own_goods_file",
        parameters=[OwnGoodsFileQuery],
        responses={**FILES, **_PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = OwnGoodsFileQuery.asked(request)
        _, shown = _read(wanted)
        columns = named_columns(COLUMNS)
        return file_response(wanted["as"], "to order again", columns, shown)
