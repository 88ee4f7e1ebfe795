"""Views: read the request, call an action or a query, answer."""

from __future__ import annotations

from dataclasses import asdict, fields
from typing import Any

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.core.errors import CoreError
from driftfield.core.figures import FIGURES
from driftfield.core.lens import DEFAULT_LENS, PARTS
from driftfield.core.sieve import parse_clause
from driftfield.core.sieve.distribution import distribution
from driftfield.core.signals import RULES
from driftfield.desk.actions import (
    decide,
    remove_lens,
    remove_sieve,
    save_lens,
    save_sieves,
    undo,
)
from driftfield.desk.field import Field
from driftfield.desk.models import Choice, Decision, SavedLens, Sieve
from driftfield.desk.starting import STARTING
from driftfield.market.models import Market
from driftfield.readings.actions import rank_market
from driftfield.readings.models import Reading
from driftfield.readings.preview import preview
from driftfield.readings.terms import term_rows

from . import serializers as s
from .errors import Problem
from .ledger import (
    MOST,
    PAGE,
    SORTS,
    check_parameters,
    market_of,
    rank_rows,
    read_ledger,
    said,
    sieve_of,
)

_MARKET = OpenApiParameter("market", str, description="Id of the market; default the first.")
_CONDITIONS = OpenApiParameter(
    "c", str, many=True,
    description="Conditions, all of which must hold, as in “price 12..45” or “top 4 of 10 reviews < 120”; "
    "one that begins with ~ is off.",
)  # fmt: skip
_PROBLEMS = {400: s.ProblemDetail, 404: s.ProblemDetail}


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


class Ledger(APIView):
    """The Field's ledger: niches that pass the conditions, in order."""

    @extend_schema(
        operation_id="ledger",
        parameters=[
            _MARKET,
            OpenApiParameter(
                "sort", str, description="Keys of figures, or name, joined by commas; - is downwards."
            ),
            OpenApiParameter("offset", int),
            OpenApiParameter("limit", int, description=f"Default {PAGE}, at most {MOST}."),
            _CONDITIONS,
            OpenApiParameter(
                "lens", str, description="Weights of parts, as in “reviews=0.5,balance=0.6”."
            ),
            OpenApiParameter("near", str, enum=["yes"], description="Near misses come among the rows."),
        ],
        responses={200: s.Ledger, **_PROBLEMS},
    )  # fmt: skip
    def get(self, request: Request) -> Response:
        # Plain values as they are stored: a serializer, or a copy, takes longer than finding them.
        made = read_ledger(request, market_of(request))
        return Response({field.name: getattr(made, field.name) for field in fields(made)})


def _reading(request: Request, market: Market) -> Reading:
    """The reading of the niche the request names."""
    niche_id = request.query_params.get("niche", "")
    found = Reading.objects.filter(market=market, niche__niche_id=niche_id)
    reading = found.select_related("niche__category__parent", "market__run").first()
    if reading is None:
        raise Problem(404, "There is no such niche", f"“{niche_id}” is not in {market.name}.")
    return reading


class ConditionView(APIView):
    """Read one condition as it was typed."""

    @extend_schema(
        operation_id="condition",
        parameters=[OpenApiParameter("text", str, required=True)],
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
        parameters=[_MARKET, _CONDITIONS, OpenApiParameter("figure", str, required=True)],
        responses={200: s.Spread, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        check_parameters(request, {"market", "c", "figure"})
        key = request.query_params.get("figure", "")
        if key not in SORTS:
            raise Problem(400, "There is no such figure", f"“{key}” came; figures lists the keys.")
        field = Field(market_of(request).run)
        inside = field.sift(sieve_of(request)).passes
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
        made = preview(reading.niche, market.run, reading)
        figures = {f.column: made.figures[f.key] for f in FIGURES}
        answer: dict[str, Any] = {
            "niche_id": niche_id,
            "name": reading.niche.name,
            "category": s.category_path(reading.niche.category),
            "decision": _choice(market.market_id, niche_id),
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


class Sieves(APIView):
    """The starting sieves and your own; a list of them is the exchange format too."""

    @extend_schema(operation_id="sieves", responses={200: s.SieveRow(many=True)})
    def get(self, request: Request) -> Response:
        rows = [{**asdict(one), "own": False} for one in STARTING]
        rows += [
            {"name": one.name, "purpose": "", "conditions": one.conditions, "own": True}
            for one in Sieve.objects.filter(removed_at=None)
        ]
        return Response(rows)

    @extend_schema(
        operation_id="save_sieves",
        request=s.SieveSaved(many=True),
        responses={201: s.SieveRow(many=True), 400: s.ProblemDetail, 409: s.ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        asked = s.SieveSaved(data=request.data, many=True)
        asked.is_valid(raise_exception=True)
        made = save_sieves([(one["name"], one["conditions"]) for one in asked.validated_data])
        rows = [
            {"name": one.name, "purpose": "", "conditions": one.conditions, "own": True}
            for one in made
        ]
        return Response(rows, status=201)

    @extend_schema(
        operation_id="remove_sieve",
        parameters=[OpenApiParameter("name", str, required=True)],
        responses={204: None, 409: s.ProblemDetail},
    )
    def delete(self, request: Request) -> Response:
        check_parameters(request, {"name"})
        remove_sieve(request.query_params.get("name", ""))
        return Response(status=204)


class Signals(APIView):
    """The registry of signals."""

    @extend_schema(operation_id="signals", responses={200: s.SignalRow(many=True)})
    def get(self, request: Request) -> Response:
        return Response(s.SignalRow(RULES, many=True).data)


class Parts(APIView):
    """The parts of headroom and their weights in the default lens."""

    @extend_schema(operation_id="parts", responses={200: s.LensPart(many=True)})
    def get(self, request: Request) -> Response:
        return Response(s.LensPart(PARTS, many=True).data)


class Lenses(APIView):
    """Your own lenses."""

    @extend_schema(operation_id="lenses", responses={200: s.LensRow(many=True)})
    def get(self, request: Request) -> Response:
        return Response(list(SavedLens.objects.filter(removed_at=None).values("name", "weights")))

    @extend_schema(
        operation_id="save_lens",
        request=s.LensRow,
        responses={201: s.LensRow, 400: s.ProblemDetail, 409: s.ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        asked = s.LensRow(data=request.data)
        asked.is_valid(raise_exception=True)
        made = save_lens(**asked.validated_data)
        return Response({"name": made.name, "weights": made.weights}, status=201)

    @extend_schema(
        operation_id="remove_lens",
        parameters=[OpenApiParameter("name", str, required=True)],
        responses={204: None, 409: s.ProblemDetail},
    )
    def delete(self, request: Request) -> Response:
        check_parameters(request, {"name"})
        remove_lens(request.query_params.get("name", ""))
        return Response(status=204)


class Rank(APIView):
    """Rank a market under another lens; conditions of the ledger choose the population."""

    @extend_schema(
        operation_id="rank",
        parameters=[_CONDITIONS],
        request=s.RankRequest,
        responses={200: s.Ranking, **_PROBLEMS, 409: s.ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        check_parameters(request, {"c"})
        asked = s.RankRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        market = market_of(request, wanted.get("market_id"))
        try:
            lens = DEFAULT_LENS.with_weights(wanted["weights"])
        except CoreError as error:
            raise Problem(400, "These weights make no lens", str(error)) from None
        within = None
        if conditions := sieve_of(request):
            field = Field(market.run)
            within = field.columns.keys[field.sift(conditions).passes].tolist()
        made = rank_market(market.run, lens, population=within, bands=wanted["bands"])
        answer = {
            "count": len(made.order),
            "offset": wanted["offset"],
            "lens": lens.as_dict(),
            "rows": rank_rows(made, wanted["offset"], wanted["limit"]),
        }
        return Response(s.Ranking(answer).data)


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


def _choice(market_id: str, niche_id: str) -> str | None:
    current = Decision.objects.filter(market_id=market_id, niche_id=niche_id, current=True)
    return current.exclude(choice=Choice.OPEN).values_list("choice", flat=True).first()


class Decisions(APIView):
    """Keep, park or pass."""

    @extend_schema(
        operation_id="decide",
        request=s.DecisionRequest,
        responses={201: s.DecisionMade, 400: s.ProblemDetail, 409: s.ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        asked = s.DecisionRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        made = decide(**{**asked.validated_data, "choice": Choice(asked.validated_data["choice"])})
        return Response(s.DecisionMade(made).data, status=201)


class Undo(APIView):
    """Undo the latest decision."""

    @extend_schema(
        operation_id="undo",
        request=None,
        responses={200: s.DecisionUndone, 409: s.ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        undone = undo()
        now = _choice(undone.market_id, undone.niche_id)
        return Response(s.DecisionUndone({**vars(undone), "now": now}).data)
