"""Views of all plans of a market on one cash path."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.fields import Text
from driftfield.api.files import LISTED, FormQuery, file_response
from driftfield.api.orders import serializers as s
from driftfield.api.queries import MarketQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.desk.actions import keep_purse
from driftfield.desk.orders import market_orders
from driftfield.exchange.lists import named_columns
from driftfield.exchange.plans_record import LIST_COLUMNS, plan_rows

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)
NONE = "none"


class OrdersQuery(MarketQuery):
    """A market, and which of its plans are added up."""

    vars()["with"] = Text(
        required=False, default="", allow_blank=True, max_length=4_000,
        help_text="Keys of plans, separated by commas, or none; what is placed counts in any case. Default "
        "what is proposed.",
    )  # fmt: skip


class OrdersFileQuery(OrdersQuery, FormQuery):
    """The same as a list, and its form."""


def _orders(wanted: dict[str, Any]) -> tuple[str, dict[str, Any]]:
    market = market_named(wanted["market"])
    asked = wanted["with"]
    taken = None if not asked else [] if asked == NONE else asked.split(",")
    return market.name, market_orders(market, taken)


class OrdersView(APIView):
    """All plans of a market on one cash path; what is proposed for the cash at hand, and why not the rest."""

    @extend_schema(
        operation_id="orders", parameters=[OrdersQuery], responses={200: s.Orders, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        return Response(_orders(OrdersQuery.asked(request))[1])


class OrdersFile(APIView):
    """The plans of a market as a list; as JSON with the cash path."""

    @extend_schema(
        operation_id="orders_file",
        parameters=[OrdersFileQuery],
        responses={**LISTED, **_PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = OrdersFileQuery.asked(request)
        name, made = _orders(wanted)
        return file_response(
            wanted["as"],
            f"orders {name}",
            named_columns(LIST_COLUMNS),
            plan_rows(made),
            made,
        )


class OrdersCash(APIView):
    """Keep the cash at hand."""

    @extend_schema(
        operation_id="keep_cash", request=s.PurseRequest, responses={200: s.Purse, **_PROBLEMS}
    )
    def post(self, request: Request) -> Response:
        asked = s.PurseRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        market = market_named(wanted["market_id"])
        kept = keep_purse(market.market_id, wanted["cash"], wanted["most_loss"])
        return Response({"cash": kept.cash, "most_loss": kept.most_loss})
