"""Views of what was read: read the request, call a query, answer."""

from __future__ import annotations

from dataclasses import asdict, fields
from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.core.base import CoreError, distribution
from driftfield.core.market import FIGURES, NICHE, figures_of
from driftfield.core.ranking import PARTS
from driftfield.core.sieve import MAX_CONDITIONS, any_of, parse_clause
from driftfield.core.signals import SIGNALS
from driftfield.desk.field import Field
from driftfield.desk.shortlist import standing
from driftfield.market.models import Market
from driftfield.readings.columns import columns_of
from driftfield.readings.holders import clicked_listings
from driftfield.readings.preview import preview
from driftfield.readings.reading import Reading
from driftfield.readings.terms import term_rows

from . import serializers as s
from .errors import Problem
from .files import FORM, LISTED, file_response, form_of, ledger_list
from .ledger import (
    EXTRA,
    MOST,
    MOST_KEYS,
    PAGE,
    SORTS,
    YES,
    check_parameters,
    figure_of_kind,
    market_of,
    read_asked,
    read_ledger,
    reading_of,
    said,
    sieve_of,
)
from .parameters import (
    FURTHEST,
    OF,
    choice,
    grammar,
    keys_pattern,
    kind_of,
    sort_pattern,
    whole_number,
)
from .points import read_points

_MARKET = OpenApiParameter("market", str, description="Id of the market; default the first.")
_CONDITIONS = OpenApiParameter(
    "c", {"type": "array", "items": grammar("Condition"), "maxItems": MAX_CONDITIONS},
    description="Conditions, all of which must hold, as in “price 12..45” or “top 4 of 10 reviews < 120”; "
    "one that begins with ~ is off.",
)  # fmt: skip
CLICKED = 10  # Listings of a niche that are listed.
_PROBLEMS = {400: s.ProblemDetail, 404: s.ProblemDetail, 409: s.ProblemDetail}


class Markets(APIView):
    """The markets that were analysed."""

    @extend_schema(operation_id="markets", responses={200: s.MarketSummary(many=True)})
    def get(self, request: Request) -> Response:
        found = Market.objects.filter(run__isnull=False).select_related("run").order_by("pk")
        return Response(s.MarketSummary(found, many=True).data)


class Figures(APIView):
    """The registry of figures."""

    @extend_schema(operation_id="figures", responses={200: s.FigureRow(many=True)})
    def get(self, request: Request) -> Response:
        return Response(s.FigureRow(FIGURES, many=True).data)


_LENS = OpenApiParameter(
    "lens", grammar("LensText"), description="Weights of parts, as in “reviews=0.5,balance=0.6”."
)
# What every list of niches can be asked with.
ASKED = [
    _MARKET,
    OF,
    OpenApiParameter(
        "sort",
        grammar("Sort", {"pattern": sort_pattern(("name", *SORTS), MOST_KEYS)}),
        description="Keys of figures, or name, joined by commas; - is downwards.",
    ),
    _CONDITIONS,
    _LENS,
    choice("near", YES, "Near misses come among the rows."),
    OpenApiParameter("niche", str, many=True, description="Only these niches, by id."),
]
_FIGURES = OpenApiParameter(
    "figures",
    grammar("FigureKeys", {"pattern": keys_pattern(EXTRA)}),
    description="Keys of figures that rows carry besides, joined by commas.",
)


class Ledger(APIView):
    """The Field's ledger: niches that pass the conditions, in order."""

    @extend_schema(
        operation_id="ledger",
        parameters=[
            *ASKED,
            _FIGURES,
            OpenApiParameter("offset", whole_number(FURTHEST)),
            OpenApiParameter("limit", whole_number(MOST), description=f"Default {PAGE}."),
        ],
        responses={200: s.Ledger, **_PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request) -> Response:
        # Plain values as they are stored: a serializer, or a copy, takes longer than finding them.
        made = read_ledger(request, market_of(request))
        return Response({field.name: getattr(made, field.name) for field in fields(made)})


class LedgerList(APIView):
    """The whole of what the ledger shows, as a file."""

    @extend_schema(
        operation_id="ledger_list",
        parameters=[*ASKED, _FIGURES, FORM],
        responses={**LISTED, **_PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        form, market = form_of(request), market_of(request)
        return file_response(form, f"field {market.name}", *ledger_list(request, market))


class Queue(APIView):
    """The ids of all niches the ledger shows, in order: a list that stands while it is decided on."""

    @extend_schema(operation_id="queue", parameters=ASKED, responses={200: s.Queue, **_PROBLEMS})
    def get(self, request: Request) -> Response:
        market = market_of(request)
        asked = read_asked(request, market)
        ids = asked.field.columns.ids
        decided = asked.field.decisions
        return Response(
            {
                "ids": [ids[place] for place in asked.places.tolist()],
                "decisions": {
                    ids[place]: decided[ids[place]]
                    for place in asked.places.tolist()
                    if ids[place] in decided
                },
            }
        )


class Points(APIView):
    """The niches the ledger shows as points of the chart."""

    @extend_schema(operation_id="points", parameters=ASKED, responses={200: s.Points, **_PROBLEMS})
    def get(self, request: Request) -> Response:
        return Response(read_points(read_asked(request, market_of(request))))


def _reading(request: Request, market: Market) -> Reading:
    """The reading of the niche the request names."""
    return reading_of(market, request.query_params.get("niche", ""))


class ConditionView(APIView):
    """Read one condition as it was typed."""

    @extend_schema(
        operation_id="condition",
        parameters=[OpenApiParameter("text", grammar("Clause"), required=True)],
        responses={200: s.ConditionRead, 400: s.ProblemDetail},
    )
    def get(self, request: Request) -> Response:
        check_parameters(request, {"text"})
        try:
            clause = parse_clause(request.query_params.get("text", ""))
        except CoreError as error:
            raise Problem(400, "The condition is not right", str(error)) from None
        return Response(said(clause))


class SpreadView(APIView):
    """How a figure is spread over the niches that pass."""

    @extend_schema(
        operation_id="spread",
        parameters=[
            _MARKET,
            OF,
            _CONDITIONS,
            OpenApiParameter(
                "figure", grammar("FigureKey", {"pattern": f"^{any_of(SORTS)}$"}), required=True
            ),
        ],
        responses={200: s.Spread, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        check_parameters(request, {"market", "of", "c", "figure"})
        key = request.query_params.get("figure", "")
        if key not in SORTS:
            raise Problem(400, "There is no such figure", f"Got “{key}”; figures lists the keys.")
        kind = kind_of(request)
        figure_of_kind(key, kind)
        field = Field(market_of(request).run, kind)
        inside = field.sift(sieve_of(request, kind)).passes
        return Response(asdict(distribution(field.figure(key)[inside])))


class Preview(APIView):
    """One niche close up, for the foot of the Field."""

    @extend_schema(
        operation_id="preview",
        parameters=[_MARKET, OpenApiParameter("niche", str, required=True)],
        responses={200: s.NichePreview, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        check_parameters(request, {"market", "niche"})
        market = market_of(request)
        reading = _reading(request, market)
        niche_id = reading.niche.niche_id
        made = preview(reading)
        figures = {f.column: made.figures[f.key] for f in figures_of(NICHE)}
        answer: dict[str, Any] = {
            "id": niche_id,
            "name": reading.niche.name,
            "category": reading.niche.category.path if reading.niche.category else "",
            **asdict(standing(market.market_id, niche_id)),
            "period": made.timeline.period.value,
            "first": made.timeline.first,
            "values": made.values,
            "level": made.level,
            "years": [{"year": y, "values": v} for y, v in made.years.items()],
            "verdict": made.verdict,
            "call": made.call,
            "signals": made.signals,
            "figures": figures,
        }
        return Response(s.NichePreview(answer).data)


class Signals(APIView):
    """The registry of signals."""

    @extend_schema(operation_id="signals", responses={200: s.SignalRow(many=True)})
    def get(self, request: Request) -> Response:
        return Response(s.SignalRow(SIGNALS, many=True).data)


class Categories(APIView):
    """The categories of a market that hold niches, by their paths."""

    @extend_schema(
        operation_id="categories",
        parameters=[_MARKET],
        responses={200: s.CategoryRow(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        check_parameters(request, {"market"})
        found = columns_of(market_of(request).run, NICHE).category_counts()
        keys = ("path", "name", "category_id", "niches")
        return Response([dict(zip(keys, row, strict=True)) for row in found])


class Parts(APIView):
    """The parts of headroom and their weights in the default lens."""

    @extend_schema(operation_id="parts", responses={200: s.LensPart(many=True)})
    def get(self, request: Request) -> Response:
        return Response(s.LensPart(PARTS, many=True).data)


class Terms(APIView):
    """The terms of one niche, most searched first."""

    @extend_schema(
        operation_id="terms",
        parameters=[_MARKET, OpenApiParameter("niche", str, required=True)],
        responses={200: s.TermRow(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        check_parameters(request, {"market", "niche"})
        reading = _reading(request, market_of(request))
        return Response(s.TermRow(term_rows(reading), many=True).data)


class Listings(APIView):
    """The most clicked listings of one niche."""

    @extend_schema(
        operation_id="listings",
        parameters=[_MARKET, OpenApiParameter("niche", str, required=True)],
        responses={200: s.ListingRow(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        check_parameters(request, {"market", "niche"})
        reading = _reading(request, market_of(request))
        return Response(s.ListingRow(clicked_listings(reading, CLICKED), many=True).data)
