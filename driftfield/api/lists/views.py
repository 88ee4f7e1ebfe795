"""Views of named lists of terms, listings, brands and sellers."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.errors import Problem
from driftfield.api.fields import Text
from driftfield.api.files import LISTED as FILES
from driftfield.api.files import FormQuery, file_response
from driftfield.api.lists import serializers as s
from driftfield.api.queries import ChoiceQuery, MarketQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import CoreError
from driftfield.core.market import (
    FIGURES_BY_KEY,
    KINDS_BY_KEY,
    KINDS_BY_PLURAL,
    LISTED,
    TERM,
    Kind,
)
from driftfield.desk.actions import bring_back, drop_entries, note_list, remove_list, save_list
from driftfield.desk.models import WordList
from driftfield.desk.word_lists import SOLD, as_file, rows_of, things_of, total_of
from driftfield.exchange.pasted import pasted_ids
from driftfield.market.models import Market
from driftfield.readings.columns import columns_of

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


class ListsQuery(MarketQuery):
    """Lists of a kind."""

    of = ChoiceQuery(
        [kind.plural for kind in LISTED], default=TERM.plural, help_text="What they are lists of."
    )

    def validate_of(self, plural: str) -> Kind:
        """The kind of that name."""
        return KINDS_BY_PLURAL[plural]


class ListQuery(ListsQuery):
    """A list by its name."""

    name = Text(max_length=120)


class WordLists(APIView):
    """The lists of a market."""

    @extend_schema(
        operation_id="word_lists",
        parameters=[ListsQuery],
        responses={200: s.WordListRow(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = ListsQuery.asked(request)
        market, kind = market_named(wanted["market"]), wanted["of"]
        return Response(
            [
                s.WordListRow(
                    {
                        "of": kind,
                        "name": one.name,
                        "changed_at": one.changed_at,
                        "removed": one.removed_at is not None,
                        "total": total_of(market.run, one.terms, kind),
                    }
                ).data
                for one in WordList.objects.filter(market_id=market.market_id, kind=kind.key)
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
        return _answer(market, _list(market, wanted["name"], wanted["of"]))

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
        found, unknown = _saved(market, wanted)
        return _answer(market, found, unknown)

    @extend_schema(
        operation_id="remove_list", parameters=[ListQuery], responses={204: None, **_PROBLEMS}
    )
    def delete(self, request: Request) -> Response:
        wanted = ListQuery.asked(request)
        market_id = market_named(wanted["market"]).market_id
        remove_list(market_id, wanted["name"], kind=wanted["of"])
        return Response(status=204)


def _saved(market: Market, wanted: dict[str, Any]) -> tuple[WordList, list[str]]:
    """A list as is asked: added to, put in the place of what it held, noted on, or brought back.

    And pieces of what was pasted that name nothing. Raises CoreError where they are all there is.
    """
    kind, name, market_id = wanted["of"], wanted["name"], market.market_id
    entries, unknown = [*wanted["terms"]], []
    if wanted["pasted"].strip():
        found = pasted_ids(wanted["pasted"], columns_of(market.run, kind).places)
        entries, unknown = [*entries, *found.ids], found.unknown
        if not entries:
            some = ", ".join(f"“{one}”" for one in unknown[:3])
            raise CoreError(f"None of these is a {kind.name} here: {some}.")
    if entries or wanted["replace"]:
        made = save_list(market_id, name, entries, kind=kind, replace=wanted["replace"])
    elif "note" not in wanted:
        made = bring_back(market_id, name, kind=kind)
    if "note" in wanted:
        made = note_list(market_id, name, wanted["note"], kind=kind)
    return made, unknown


def _list(market: Market, name: str, kind: Kind) -> WordList:
    found = WordList.objects.filter(
        market_id=market.market_id, kind=kind.key, name=name, removed_at=None
    ).first()
    if found is None:
        raise Problem(404, "There is no such list", f"{market.name} has no list “{name}”.")
    return found


def _answer(market: Market, found: WordList, unknown: Sequence[str] = ()) -> Response:
    kind = KINDS_BY_KEY[found.kind]
    things = [] if kind == TERM else things_of(market.run, found.terms, kind)
    return Response(
        s.WordList(
            {
                "of": kind,
                "name": found.name,
                "note": found.note,
                "unknown": unknown,
                "total": total_of(market.run, found.terms, kind),
                "rows": rows_of(market.run, found.terms) if kind == TERM else [],
                "things": [
                    {
                        **one,
                        **{FIGURES_BY_KEY[key].column: one.get(key) for key in SOLD},
                    }
                    for one in things
                ],
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
        dropped = drop_entries(market.market_id, wanted["name"], wanted["terms"], kind=wanted["of"])
        return _answer(market, dropped)


class ListFileQuery(ListQuery, FormQuery):
    """A list, and the form of the file."""


class WordListFile(APIView):
    """A list as a file."""

    @extend_schema(
        operation_id="word_list_file", parameters=[ListFileQuery], responses={**FILES, **_PROBLEMS}
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = ListFileQuery.asked(request)
        market = market_named(wanted["market"])
        kind = wanted["of"]
        found = _list(market, wanted["name"], kind)
        columns, rows = as_file(market.run, found.terms, kind)
        return file_response(wanted["as"], f"list {found.name}", columns, rows)


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
        wanted = asked.validated_data
        return Response(s.ListTotal(total_of(market.run, wanted["terms"], wanted["of"])).data)
