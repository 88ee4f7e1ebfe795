"""Views of markets and of what is declared."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.queries import KindQuery, MarketQuery, market_named
from driftfield.api.registry import serializers as s
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import DEFAULTS, Settings
from driftfield.core.market import CATEGORY, FIGURES, NICHE, default_lens, ready_lenses
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


class LensesQuery(MarketQuery):
    """Of what rows lenses are; of categories those of a market, whose settings weigh them."""

    of = KindQuery()


def _settings_of(wanted: dict[str, Any]) -> Settings:
    return market_named(wanted["market"]).run.made_with if wanted["of"] == CATEGORY else DEFAULTS


class Lenses(APIView):
    """The lenses to start from, the default first."""

    @extend_schema(
        operation_id="ready_lenses",
        parameters=[LensesQuery],
        responses={200: s.ReadyLens(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = LensesQuery.asked(request)
        found = ready_lenses(wanted["of"], _settings_of(wanted))
        return Response(s.ReadyLens(found, many=True).data)


class Parts(APIView):
    """The parts of headroom, or of openness and settledness, and their weights in the default lens."""

    @extend_schema(
        operation_id="parts",
        parameters=[LensesQuery],
        responses={200: s.LensPart(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = LensesQuery.asked(request)
        lens = default_lens(wanted["of"], _settings_of(wanted))
        weights = lens.by_part()
        rows = [{**asdict(part), "weight": weights[part.key]} for part in lens.parts]
        return Response(s.LensPart(rows, many=True).data)
