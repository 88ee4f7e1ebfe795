"""Views of one niche close up, a question of the dossier each."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.core.market import FIGURES_BY_KEY
from driftfield.core.sentences import what_buyers_type, what_they_complain_of, who_holds
from driftfield.core.sieve import any_of
from driftfield.exchange.lists import Column
from driftfield.exchange.terms import TERM_COLUMNS
from driftfield.readings.curves import KEYS, niche_curves
from driftfield.readings.holders import read_holders
from driftfield.readings.listing_history import read_listing
from driftfield.readings.outlook import read_outlook
from driftfield.readings.reading import Reading
from driftfield.readings.said import read_said
from driftfield.readings.terms import GROWTH, destinations, read_typed

from . import dossier_serializers as s
from .errors import Problem
from .files import FORM, LISTED, file_response, form_of
from .ledger import check_parameters, market_of, reading_of
from .parameters import grammar
from .serializers import ProblemDetail

MOST = 20  # Listings the dossier shows.
_PROBLEMS = {400: ProblemDetail, 404: ProblemDetail}
_OF_NICHE = [
    OpenApiParameter("market", str, description="Id of the market; default the first."),
    OpenApiParameter("niche", str, required=True),
]
_LISTING = OpenApiParameter("listing", str, required=True, description="Id of the listing.")
_TERM = OpenApiParameter("term", str, required=True)
_SEASON = OpenApiParameter(
    "season", str, enum=["in", "out"], description="out: each curve without its calendar."
)
_CURVE = OpenApiParameter(
    "curve",
    {"type": "array", "items": grammar("CurveKey", {"pattern": f"^{any_of(KEYS)}$"})},
    description="Only the curves of these keys.",
)
_CHOSEN = OpenApiParameter("term", str, many=True, description="Only these terms.")


def _asked(request: Request, *more: str) -> Reading:
    """The reading of the niche the request names, once its parameters are known to be right."""
    check_parameters(request, {"market", "niche", *more})
    return reading_of(market_of(request), request.query_params.get("niche", ""))


class OutlookView(APIView):
    """What is behind a niche's demand figures, and what may come."""

    @extend_schema(
        operation_id="outlook", parameters=_OF_NICHE, responses={200: s.Outlook, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        return Response(s.Outlook(read_outlook(_asked(request))).data)


class Curves(APIView):
    """The curves of a niche, demand and supply, with or without their seasons."""

    @extend_schema(
        operation_id="curves",
        parameters=[*_OF_NICHE, _SEASON, _CURVE],
        responses={200: s.NicheCurve(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        reading = _asked(request, "season", "curve")
        season = request.query_params.get("season", "in")
        if season not in {"in", "out"}:
            raise Problem(
                400, "There is no such choice", f"season takes in or out; “{season}” came."
            )
        keys = request.query_params.getlist("curve")
        if unknown := set(keys) - set(KEYS):
            said = f"curve takes {', '.join(KEYS)}; “{min(unknown)}” came."
            raise Problem(400, "There is no such curve", said)
        made = niche_curves(reading, keys or KEYS, without_season=season == "out")
        return Response(s.NicheCurve(made, many=True).data)


class HoldersView(APIView):
    """Who holds a niche: listings, launches, how their facts are spread."""

    @extend_schema(
        operation_id="holders", parameters=_OF_NICHE, responses={200: s.Holders, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        reading = _asked(request)
        answer = asdict(read_holders(reading, MOST))
        settings = reading.settings
        verdict = who_holds(reading.figures, settings)
        return Response(s.Holders({**answer, "verdict": verdict}).data)


class ListingView(APIView):
    """One listing of a niche over time."""

    @extend_schema(
        operation_id="listing",
        parameters=[*_OF_NICHE, _LISTING],
        responses={200: s.ListingHistory, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = request.query_params.get("listing", "")
        made = read_listing(_asked(request, "listing"), wanted)
        if made is None:
            raise Problem(404, "There is no such listing", f"No listing has the id “{wanted}”.")
        return Response(s.ListingHistory(made).data)


class TypedView(APIView):
    """What buyers of a niche type: its terms close up, and the words that recur in them."""

    @extend_schema(
        operation_id="typed", parameters=_OF_NICHE, responses={200: s.Typed, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        reading = _asked(request)
        made = read_typed(reading)
        verdict = what_buyers_type(reading.figures, made.terms)
        answer = {"verdict": verdict, "terms": made.terms, "words": made.words}
        return Response(s.Typed(answer).data)


_TERM_COLUMNS = [
    Column("term", "Term"),
    *(Column(name, FIGURES_BY_KEY[key].label) for name, key in TERM_COLUMNS.items()),
    Column("rate_low", "purchases ÷ searches, low end of the interval"),
    Column("rate_high", "purchases ÷ searches, high end of the interval"),
    *(Column(f"growth_{name}", FIGURES_BY_KEY[key].label) for name, key in GROWTH.items()),
    Column("unserved", "wanted, not served"),
    Column("misspelt_of", "likely a mistyping of"),
]


class TypedList(APIView):
    """The terms of a niche, or the chosen ones, as a file."""

    @extend_schema(
        operation_id="typed_list",
        parameters=[*_OF_NICHE, _CHOSEN, FORM],
        responses={**LISTED, **_PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        reading, form = _asked(request, "term", "as"), form_of(request)
        chosen = set(request.query_params.getlist("term"))
        rows: list[dict[str, Any]] = read_typed(reading).terms
        if missing := chosen - {row["term"] for row in rows}:
            raise _no_such_term(min(missing))
        kept = [row for row in rows if not chosen or row["term"] in chosen]
        return file_response(form, f"terms {reading.niche.name}", _TERM_COLUMNS, kept)


def _no_such_term(term: str) -> Problem:
    return Problem(404, "There is no such term", f"The niche has no term “{term}”.")


class TermView(APIView):
    """Where the clicks of a term go."""

    @extend_schema(
        operation_id="term",
        parameters=[*_OF_NICHE, _TERM],
        responses={200: s.Destination(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        term = request.query_params.get("term", "")
        found = destinations(_asked(request, "term"), term)
        if found is None:
            raise _no_such_term(term)
        return Response(s.Destination(found, many=True).data)


class SaidView(APIView):
    """What buyers of a niche praise, complain of and send back."""

    @extend_schema(operation_id="said", parameters=_OF_NICHE, responses={200: s.Said, **_PROBLEMS})
    def get(self, request: Request) -> Response:
        reading = _asked(request)
        made = read_said(reading, MOST)
        verdict = what_they_complain_of(reading.figures, made.themes)
        return Response(s.Said({**asdict(made), "verdict": verdict}).data)
