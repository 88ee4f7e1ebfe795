"""Views of markets and of what is declared."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.queries import MarketQuery, market_named
from driftfield.api.registry import serializers as s
from driftfield.api.shared import ProblemDetail
from driftfield.core.market import FIGURES, NICHE
from driftfield.core.ranking import PARTS, READY_LENSES
from driftfield.core.sentences import WORDS
from driftfield.core.signals import SIGNALS
from driftfield.market.models import Market
from driftfield.readings.columns import columns_of

_PROBLEMS = dict.fromkeys((400, 404), ProblemDetail)


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


class Signals(APIView):
    """The registry of signals."""

    @extend_schema(operation_id="signals", responses={200: s.SignalRow(many=True)})
    def get(self, request: Request) -> Response:
        return Response(s.SignalRow(SIGNALS, many=True).data)


class Glossary(APIView):
    """The words of the screens, explained."""

    @extend_schema(operation_id="glossary", responses={200: s.GlossaryWord(many=True)})
    def get(self, request: Request) -> Response:
        return Response(s.GlossaryWord(WORDS, many=True).data)


class Categories(APIView):
    """The categories of a market that hold niches, by their paths."""

    @extend_schema(
        operation_id="categories",
        parameters=[MarketQuery],
        responses={200: s.CategoryRow(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        market = market_named(MarketQuery.asked(request)["market"])
        found = columns_of(market.run, NICHE).category_counts()
        keys = ("path", "name", "category_id", "niches")
        return Response([dict(zip(keys, row, strict=True)) for row in found])


class Lenses(APIView):
    """The lenses to start from, the default first."""

    @extend_schema(operation_id="ready_lenses", responses={200: s.ReadyLens(many=True)})
    def get(self, request: Request) -> Response:
        return Response(s.ReadyLens(READY_LENSES, many=True).data)


class Parts(APIView):
    """The parts of headroom and their weights in the default lens."""

    @extend_schema(operation_id="parts", responses={200: s.LensPart(many=True)})
    def get(self, request: Request) -> Response:
        return Response(s.LensPart(PARTS, many=True).data)
