"""Views of the watch: the digest, its forms, what was seen, and what was known before."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlencode

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.errors import Problem
from driftfield.api.fields import Text
from driftfield.api.files import LISTED, FormQuery, file_answers, file_response
from driftfield.api.queries import KindQuery, MarketQuery, WholeQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.api.watch import serializers as s
from driftfield.core.base import CoreError
from driftfield.core.market import FIGURES_BY_KEY, Kind
from driftfield.desk.actions import mark_seen
from driftfield.desk.watch import digest, figures_kept, history_of
from driftfield.desk.watch.looks import look_row
from driftfield.desk.watch.out import ATOM_TYPE, LIST_COLUMNS, digest_feed, digest_rows
from driftfield.exchange.lists import named_columns

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)
MOST_FIGURES = 12
_PAGES = {
    "niches": ("/dossier", "niche"), "listings": ("/listing", "listing"), "brands": ("/brand", "brand"),
    "sellers": ("/seller", "seller"), "terms": ("/terms", "seed"), "categories": ("/catalogue", "category"),
}  # fmt: skip


class WatchQuery(MarketQuery):
    """A market, and since when."""

    since = WholeQuery(
        10**9 - 1, help_text="The look after an earlier import, from which all changes are told."
    )
    seen = serializers.BooleanField(
        required=False, default=False, help_text="Also what was seen already."
    )


class WatchFileQuery(WatchQuery, FormQuery):
    """The same as a list, and its form."""


class HistoryQuery(MarketQuery):
    """One subject, and which of its figures."""

    of = KindQuery()
    id = Text(max_length=500, help_text="Id of the subject.")
    figures = Text(
        required=False, default="", allow_blank=True, max_length=1_000,
        help_text="Keys of figures, separated by commas; default rank and headroom, or else drift.",
    )  # fmt: skip


def _digest(wanted: dict[str, Any]) -> dict[str, Any]:
    market = market_named(wanted["market"])
    try:
        return digest(market, wanted.get("since"), seen=wanted["seen"])
    except CoreError as error:
        raise Problem(404, "There is no such import", str(error)) from None


class WatchView(APIView):
    """What a week asks for: changes told and not seen, dates that are due, sieves with something new."""

    @extend_schema(
        operation_id="watch", parameters=[WatchQuery], responses={200: s.Watch, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        return Response(_digest(WatchQuery.asked(request)))


class WatchFile(APIView):
    """The digest as a list; as JSON whole."""

    @extend_schema(
        operation_id="watch_file", parameters=[WatchFileQuery], responses={**LISTED, **_PROBLEMS}
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = WatchFileQuery.asked(request)
        found = _digest(wanted)
        return file_response(
            wanted["as"], f"watch {found['market']} {found['as_of']}",
            named_columns(LIST_COLUMNS), digest_rows(found),
            found,
        )  # fmt: skip


class WatchFeed(APIView):
    """What was told, seen or not, as an Atom feed (RFC 4287) to subscribe to."""

    @extend_schema(
        operation_id="watch_feed",
        parameters=[MarketQuery],
        responses={**file_answers([ATOM_TYPE]), **_PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = MarketQuery.asked(request)
        found = _digest({**wanted, "seen": True})
        base = request.build_absolute_uri("/").rstrip("/")

        def link(kind: str, subject: str) -> str:
            page, name = _PAGES[kind]
            return f"{base}{page}?{urlencode({'market': found['market_id'], name: subject})}"

        response = HttpResponse(digest_feed(found, base, link), content_type=ATOM_TYPE)
        response["Content-Disposition"] = 'inline; filename="watch.atom"'
        response["Cache-Control"] = "no-store"
        return response


class SeenView(APIView):
    """Mark changes as seen, or as not seen after all."""

    @extend_schema(
        operation_id="mark_seen", request=s.SeenRequest, responses={200: s.Seen, **_PROBLEMS}
    )
    def post(self, request: Request) -> Response:
        asked = s.SeenRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        market = market_named(wanted["market_id"])
        marked = mark_seen(market.market_id, wanted["ids"], wanted["seen"])
        return Response({"marked": marked})


class HistoryView(APIView):
    """What was known of a subject after each import."""

    @extend_schema(
        operation_id="history", parameters=[HistoryQuery], responses={200: s.History, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        wanted = HistoryQuery.asked(request)
        market, kind = market_named(wanted["market"]), wanted["of"]
        keys = [key for key in dict.fromkeys(wanted["figures"].split(",")) if key]
        kept = figures_kept(kind)
        keys = keys or [key for key in ("rank", "headroom") if key in kept] or ["drift_rate_year"]
        if len(keys) > MOST_FIGURES:
            raise Problem(
                400, "Too many figures", f"At most {MOST_FIGURES} figures; got {len(keys)}."
            )
        try:
            rows = history_of(market.market_id, kind, wanted["id"], keys)
        except CoreError as error:
            raise Problem(409, "No such history", str(error)) from None
        return Response(
            {
                "subject": wanted["id"],
                "rows": [{"look": look_row(look), "figures": found} for look, found in rows],
                "kept": _kept(kind),
            }
        )


def _kept(kind: Kind) -> list[dict[str, str]]:
    return [{"key": key, "label": FIGURES_BY_KEY[key].label} for key in figures_kept(kind)]
