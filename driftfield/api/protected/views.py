"""Views of the words one must not sell under."""

from __future__ import annotations

from typing import Any

import polars as pl
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.fields import Text
from driftfield.api.protected import serializers as s
from driftfield.api.queries import MarketQuery, Query, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.market import TERM
from driftfield.core.market.protected import protected_in
from driftfield.desk.actions import protect, release
from driftfield.exchange.formulas import guarded
from driftfield.market.models import Market, ProtectedWord
from driftfield.readings.columns import columns_of

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 409), ProblemDetail)


class WordQuery(Query):
    """A word of the list."""

    word = Text(max_length=200)


class ProtectedWords(APIView):
    """The list: in every market the same."""

    @extend_schema(
        operation_id="protected_words",
        parameters=[MarketQuery],
        responses={200: s.ProtectedRow(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = MarketQuery.asked(request)
        # Words can be put on the list before anything is loaded.
        known = wanted["market"] or Market.objects.filter(run__isnull=False).exists()
        return Response(_rows(market_named(wanted["market"]) if known else None))

    @extend_schema(
        operation_id="protect",
        request=s.ProtectRequest,
        responses={201: s.Protected, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.ProtectRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        return Response({"word": protect(**asked.validated_data).word}, status=201)

    @extend_schema(
        operation_id="release", parameters=[WordQuery], responses={204: None, **_PROBLEMS}
    )
    def delete(self, request: Request) -> Response:
        release(WordQuery.asked(request)["word"])
        return Response(status=204)


def _rows(market: Market | None) -> list[dict[str, Any]]:
    """The list with what holds each word alone, whatever other word it holds."""
    rows = []
    columns = None if market is None else columns_of(market.run, TERM)
    for one in ProtectedWord.objects.all():
        held = [] if columns is None else protected_in(columns.ids, [one.as_read])
        places = [at for at, word in enumerate(held) if word is not None]
        searches = [] if columns is None else columns.figure("searches_52w")[places].tolist()
        known = [value for value in searches if value == value]
        rows.append(
            {
                "word": one.word,
                "match": one.match or "exact",
                "note": one.note or "",
                "terms": len(places),
                "searches_52w": sum(known) if known else None,
            }
        )
    return rows


class ProtectedFile(APIView):
    """The list as its exchange table."""

    @extend_schema(
        operation_id="protected_words_file", responses={(200, "text/csv"): OpenApiTypes.BINARY}
    )
    def get(self, request: Request) -> HttpResponse:
        Query.asked(request)
        rows = list(ProtectedWord.objects.values_list("word", "match", "note"))
        frame = pl.DataFrame(
            rows, schema=dict.fromkeys(("word", "match", "note"), pl.String), orient="row"
        )
        answer = HttpResponse(guarded(frame).write_csv(), content_type="text/csv; charset=utf-8")
        answer["Content-Disposition"] = 'attachment; filename="protected_words.csv"'
        return answer
