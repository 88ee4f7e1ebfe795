"""Views of own part: of one niche, and of all in which one sells."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.files import LISTED, FormQuery, file_response
from driftfield.api.own_part import serializers as s
from driftfield.api.queries import MarketQuery, NicheQuery, market_named, reading_named
from driftfield.api.shared import ProblemDetail
from driftfield.exchange.lists import named_columns
from driftfield.exchange.own_part import COLUMNS
from driftfield.readings.own_part import own_overview, own_part_of

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)
NONE_HERE = (
    "No own sales of this niche are known. Import own_sales with its niche_id, or with the listing_id of goods "
    "that its buyers click."
)
NONE = (
    "No own sales are known that belong to a niche. Import own_sales with a niche_id, or with a listing_id and "
    "clicks on these listings."
)


class OwnFileQuery(MarketQuery, FormQuery):
    """A market, and the form of the list."""


class OwnPartView(APIView):
    """Every niche in which one sells: with the market, or against it."""

    @extend_schema(
        operation_id="own_part", parameters=[MarketQuery], responses={200: s.OwnOverview, **_PROBLEMS}
    )  # fmt: skip
    def get(self, request: Request) -> Response:
        found = own_overview(market_named(MarketQuery.asked(request)["market"]).run)
        sentence = (
            NONE if not found.rows else "" if found.total is None else found.total["sentence"]
        )
        return Response(
            s.OwnOverview({"rows": found.rows, "total": found.total, "sentence": sentence}).data
        )


class OwnPartFile(APIView):
    """The same as a list."""

    @extend_schema(
        operation_id="own_part_file", parameters=[OwnFileQuery], responses={**LISTED, **_PROBLEMS}
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = OwnFileQuery.asked(request)
        market = market_named(wanted["market"])
        found = own_overview(market.run)
        return file_response(
            wanted["as"], f"own part {market.name}", named_columns(COLUMNS), found.rows,
            whole={"market_id": market.market_id, "total": found.total, "rows": found.rows},
        )  # fmt: skip


class NicheOwnView(APIView):
    """Own part of one niche."""

    @extend_schema(
        operation_id="niche_own", parameters=[NicheQuery], responses={200: s.NicheOwn, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        part = own_part_of(reading_named(NicheQuery.asked(request)))
        sentences = [NONE_HERE] if part is None else part["sentences"]
        return Response(s.NicheOwn({"sentences": sentences, "part": part}).data)
