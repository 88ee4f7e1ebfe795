"""Views of what is the researcher's own: decisions, shortlist, sieves and lenses."""

from __future__ import annotations

from dataclasses import asdict

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.core.economics import SizeClass, money_workings
from driftfield.core.sentences import does_it_pay
from driftfield.desk.actions import (
    arrange,
    decide,
    decide_all,
    explain,
    latest,
    remark,
    remove_lens,
    remove_sieve,
    save_costs,
    save_fees,
    save_lens,
    save_sieves,
    undo,
)
from driftfield.desk.models import Choice, SavedLens, Sieve
from driftfield.desk.reckoning import read_paying
from driftfield.desk.shortlist import Entry, read_shortlist, standing
from driftfield.desk.starting import STARTING
from driftfield.readings.reading import Reading

from . import desk_serializers as s
from .errors import Problem
from .files import FORM, LISTED, file_response, form_of, shortlist_list
from .ledger import check_parameters, market_of, reading_of
from .parameters import OF, kind_of
from .serializers import ProblemDetail


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
        responses={201: s.SieveRow(many=True), 400: ProblemDetail, 409: ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        asked = s.SievesSaved(data=request.data)
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
        responses={204: None, 409: ProblemDetail},
    )
    def delete(self, request: Request) -> Response:
        check_parameters(request, {"name"})
        remove_sieve(request.query_params.get("name", ""))
        return Response(status=204)


class Lenses(APIView):
    """Your own lenses."""

    @extend_schema(operation_id="lenses", responses={200: s.LensRow(many=True)})
    def get(self, request: Request) -> Response:
        return Response(list(SavedLens.objects.filter(removed_at=None).values("name", "weights")))

    @extend_schema(
        operation_id="save_lens",
        request=s.LensRow,
        responses={201: s.LensRow, 400: ProblemDetail, 409: ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        asked = s.LensRow(data=request.data)
        asked.is_valid(raise_exception=True)
        made = save_lens(**asked.validated_data)
        return Response({"name": made.name, "weights": made.weights}, status=201)

    @extend_schema(
        operation_id="remove_lens",
        parameters=[OpenApiParameter("name", str, required=True)],
        responses={204: None, 409: ProblemDetail},
    )
    def delete(self, request: Request) -> Response:
        check_parameters(request, {"name"})
        remove_lens(request.query_params.get("name", ""))
        return Response(status=204)


class Decisions(APIView):
    """Keep, park or pass."""

    @extend_schema(
        operation_id="decide",
        request=s.DecisionRequest,
        responses={201: s.DecisionMade, 400: ProblemDetail, 409: ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        asked = s.DecisionRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        made = decide(
            wanted["market_id"], wanted["id"], Choice(wanted["choice"]), wanted["reason"],
            kind=wanted["of"],
        )  # fmt: skip
        return Response(s.DecisionMade(made).data, status=201)


class Reasons(APIView):
    """Say why, after the decision."""

    @extend_schema(
        operation_id="explain",
        request=s.ReasonRequest,
        responses={200: s.DecisionMade, 400: ProblemDetail, 409: ProblemDetail},
    )
    def put(self, request: Request) -> Response:
        asked = s.ReasonRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        made = explain(wanted["market_id"], wanted["id"], wanted["reason"], kind=wanted["of"])
        return Response(s.DecisionMade(made).data)


class DecisionsForSeveral(APIView):
    """Keep, park or pass several at once; one undo takes all of them back."""

    @extend_schema(
        operation_id="decide_several",
        request=s.DecisionsRequest,
        responses={201: s.DecisionMade(many=True), 400: ProblemDetail, 409: ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        asked = s.DecisionsRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        made = decide_all(
            wanted["market_id"], wanted["ids"], Choice(wanted["choice"]), wanted["reason"],
            kind=wanted["of"],
        )  # fmt: skip
        return Response(s.DecisionMade(made, many=True).data, status=201)


class Undo(APIView):
    """Undo a decision, with those made in one go with it."""

    @extend_schema(operation_id="latest_decision", responses={200: s.LatestDecision})
    def get(self, request: Request) -> Response:
        check_parameters(request, set())
        found = latest()
        return Response({"decision": found[-1].pk if found else None})

    @extend_schema(
        operation_id="undo",
        request=s.UndoRequest,
        responses={200: s.DecisionsUndone, 400: ProblemDetail, 409: ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        asked = s.UndoRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        undone = undo(asked.validated_data["decision"])
        subjects = [
            {
                "id": one.subject,
                "name": one.name or one.subject,
                "now": standing(one.market_id, one.subject, one.kind_of).decision,
            }
            for one in undone
        ]
        answer = {"choice": undone[0].choice, "of": undone[0].kind_of, "subjects": subjects}
        return Response(s.DecisionsUndone(answer).data)


class Remarks(APIView):
    """Notes and tags."""

    @extend_schema(
        operation_id="remark",
        request=s.RemarkRequest,
        responses={200: s.RemarkSaved, 400: ProblemDetail, 409: ProblemDetail},
    )
    def put(self, request: Request) -> Response:
        asked = s.RemarkRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        made = remark(
            wanted["market_id"], wanted["id"], wanted.get("note"), wanted.get("tags"),
            kind=wanted["of"],
        )  # fmt: skip
        return Response(s.RemarkSaved(made).data)


_LIST = [
    OF,
    OpenApiParameter("market", str, description="Id of the market; default the first."),
    OpenApiParameter(
        "choice",
        str,
        many=True,
        enum=["keep", "park", "pass"],
        description="Default keep and park.",
    ),
]


def _entries(request: Request, further: set[str] | None = None) -> tuple[str, list[Entry]]:
    check_parameters(request, {"market", "of", "choice"} | (further or set()))
    market = market_of(request)
    choices = request.query_params.getlist("choice") or [Choice.KEEP, Choice.PARK]
    if wrong := [c for c in choices if c not in {"keep", "park", "pass"}]:
        raise Problem(400, "There is no such decision", f"“{wrong[0]}” came: keep, park or pass.")
    return market.name, read_shortlist(market.market_id, choices, kind_of(request))


class Shortlist(APIView):
    """What was kept and parked, what was known then and what has changed since."""

    @extend_schema(
        operation_id="shortlist",
        parameters=_LIST,
        responses={200: s.ShortlistEntry(many=True), 400: ProblemDetail, 404: ProblemDetail},
    )
    def get(self, request: Request) -> Response:
        return Response(s.ShortlistEntry(_entries(request)[1], many=True).data)


class ShortlistFile(APIView):
    """The shortlist as a file."""

    @extend_schema(
        operation_id="shortlist_list",
        parameters=[*_LIST, FORM],
        responses={
            **LISTED,
            400: ProblemDetail,
            404: ProblemDetail,
        },
    )
    def get(self, request: Request) -> HttpResponse:
        form = form_of(request)
        name, entries = _entries(request, {"as"})
        return file_response(form, f"shortlist {name}", *shortlist_list(kind_of(request), entries))


class ShortlistOrder(APIView):
    """The shortlist's order by hand."""

    @extend_schema(
        operation_id="arrange",
        request=s.OrderRequest,
        responses={204: None, 400: ProblemDetail},
    )
    def put(self, request: Request) -> Response:
        asked = s.OrderRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        arrange(wanted["market_id"], wanted["ids"], kind=wanted["of"])
        return Response(status=204)


class Reckonings(APIView):
    """Does a niche pay? A first reckoning with costs that are kept."""

    @extend_schema(
        operation_id="reckoning",
        parameters=[
            OpenApiParameter("market", str),
            OpenApiParameter("niche", str, required=True),
        ],
        responses={200: s.Paying, 400: ProblemDetail, 404: ProblemDetail, 409: ProblemDetail},
    )
    def get(self, request: Request) -> Response:
        check_parameters(request, {"market", "niche"})
        market = market_of(request)
        return self._answer(reading_of(market, request.query_params.get("niche", "")))

    @extend_schema(
        operation_id="save_costs",
        request=s.ReckoningRequest,
        responses={200: s.Paying, 400: ProblemDetail, 404: ProblemDetail, 409: ProblemDetail},
    )
    def put(self, request: Request) -> Response:
        asked = s.ReckoningRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        save_costs(wanted["market_id"], wanted["niche_id"], dict(wanted["costs"]))
        return self._answer(reading_of(market_of(request, wanted["market_id"]), wanted["niche_id"]))

    def _answer(self, reading: Reading) -> Response:
        made = read_paying(reading)
        if made is None:
            return Response(
                {
                    "paying": None,
                    "missing": "No price is known: listings would bring one, or set it.",
                }
            )
        lowest = made.lowest_price
        said = does_it_pay(
            made.costs,
            made.result,
            None if lowest is None or made.lowest is None else (lowest, made.lowest),
            (made.target_income, made.target_units),
            made.typical_units,
        )
        workings = money_workings(made.costs, made.result, made.classes)
        answer = {**asdict(made), "says": said, "workings": workings}
        return Response(s.Paying({"paying": answer, "missing": ""}).data)


class Fees(APIView):
    """A market's handling fees."""

    @extend_schema(
        operation_id="save_fees",
        request=s.FeesRequest,
        responses={200: s.SizeClassRow(many=True), 400: ProblemDetail, 409: ProblemDetail},
    )
    def put(self, request: Request) -> Response:
        asked = s.FeesRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        made = save_fees(wanted["market_id"], [SizeClass(**one) for one in wanted["classes"]])
        return Response(made.classes)
