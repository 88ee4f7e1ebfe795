"""Views of named lists of terms."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.errors import Problem
from driftfield.api.fields import Text
from driftfield.api.files import LISTED, FormQuery, file_response
from driftfield.api.lists import serializers as s
from driftfield.api.queries import MarketQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.desk.actions import bring_back, drop_terms, remove_list, save_list
from driftfield.desk.models import WordList
from driftfield.desk.word_lists import list_columns, rows_of, total_of
from driftfield.market.models import Market

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


class ListQuery(MarketQuery):
    """A list by its name."""

    name = Text(max_length=120)


class WordLists(APIView):
    """The lists of a market."""

    @extend_schema(
        operation_id="word_lists",
        parameters=[MarketQuery],
        responses={200: s.WordListRow(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        market = market_named(MarketQuery.asked(request)["market"])
        return Response(
            [
                s.WordListRow(
                    {
                        "name": one.name,
                        "changed_at": one.changed_at,
                        "removed": one.removed_at is not None,
                        "total": total_of(market.run, one.terms),
                    }
                ).data
                for one in WordList.objects.filter(market_id=market.market_id)
            ]
        )


class WordListView(APIView):
    """One list: its terms, added and taken out."""

    @extend_schema(
        operation_id="word_list", parameters=[ListQuery], responses={200: s.WordList, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        wanted = ListQuery.asked(request)
        market = market_named(wanted["market"])
        return _answer(market, _list(market, wanted["name"]))

    @extend_schema(
        operation_id="save_list",
        request=s.ListRequest,
        responses={200: s.WordList, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.ListRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        market = market_named(wanted["market_id"])
        if not wanted["terms"] and not wanted["replace"]:
            return _answer(market, bring_back(market.market_id, wanted["name"]))
        return _answer(
            market,
            save_list(market.market_id, wanted["name"], wanted["terms"], replace=wanted["replace"]),
        )

    @extend_schema(
        operation_id="remove_list", parameters=[ListQuery], responses={204: None, **_PROBLEMS}
    )
    def delete(self, request: Request) -> Response:
        wanted = ListQuery.asked(request)
        remove_list(market_named(wanted["market"]).market_id, wanted["name"])
        return Response(status=204)


def _list(market: Market, name: str) -> WordList:
    found = WordList.objects.filter(market_id=market.market_id, name=name, removed_at=None).first()
    if found is None:
        raise Problem(404, "There is no such list", f"{market.name} has no list “{name}”.")
    return found


def _answer(market: Market, found: WordList) -> Response:
    return Response(
        s.WordList(
            {
                "name": found.name,
                "total": total_of(market.run, found.terms),
                "rows": rows_of(market.run, found.terms),
            }
        ).data
    )


class Drop(APIView):
    """Takes terms out of a list."""

    @extend_schema(
        operation_id="drop_terms", request=s.DropRequest, responses={200: s.WordList, **_PROBLEMS}
    )
    def post(self, request: Request) -> Response:
        asked = s.DropRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        market = market_named(wanted["market_id"])
        return _answer(market, drop_terms(market.market_id, wanted["name"], wanted["terms"]))


class ListFileQuery(ListQuery, FormQuery):
    """A list, and the form of the file."""


class WordListFile(APIView):
    """A list as a file."""

    @extend_schema(
        operation_id="word_list_file", parameters=[ListFileQuery], responses={**LISTED, **_PROBLEMS}
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = ListFileQuery.asked(request)
        market = market_named(wanted["market"])
        found = _list(market, wanted["name"])
        rows = rows_of(market.run, found.terms)
        return file_response(wanted["as"], f"list {found.name}", list_columns(), rows)


class Total(APIView):
    """What terms come to together, a mistyping and its right form counted once."""

    @extend_schema(
        operation_id="total_of_terms",
        request=s.TermsRequest,
        responses={200: s.ListTotal, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.TermsRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        market = market_named(asked.validated_data["market_id"])
        return Response(s.ListTotal(total_of(market.run, asked.validated_data["terms"])).data)
