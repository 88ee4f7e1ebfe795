"""Views of what is the researcher's own: decisions, shortlist, sieves and lenses."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.desk import serializers as s
from driftfield.api.desk.files import shortlist_file
from driftfield.api.errors import Problem
from driftfield.api.fields import Text
from driftfield.api.files import LISTED, FormQuery, file_response
from driftfield.api.queries import ChoiceQuery, KindQuery, MarketQuery, Query, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.economics import SizeClass
from driftfield.core.market import KINDS_BY_KEY, lens_kind
from driftfield.core.sieve import holds_for
from driftfield.desk.actions import (
    NoteChangedError,
    arrange,
    decide,
    decide_all,
    explain,
    latest,
    remark,
    remove_lens,
    remove_sieve,
    save_fees,
    save_lens,
    save_sieves,
    undo,
)
from driftfield.desk.models import Choice, SavedLens, Sieve
from driftfield.desk.shortlist import Entry, read_shortlist, standing
from driftfield.desk.starting import STARTING
from driftfield.market.models import Market


class NameQuery(Query):
    """A sieve or a lens by its name."""

    name = Text(max_length=120)


class LensesQuery(Query):
    """Of what rows lenses are."""

    of = KindQuery()


class LensQuery(LensesQuery):
    """A lens by its name."""

    name = Text(max_length=120)


class SievesQuery(Query):
    """Of what rows a sieve is to be put to."""

    of = KindQuery()


class Sieves(APIView):
    """The starting sieves and your own; a list of them is the exchange format too."""

    @extend_schema(
        operation_id="sieves", parameters=[SievesQuery], responses={200: s.SieveRow(many=True)}
    )
    def get(self, request: Request) -> Response:
        kind = SievesQuery.asked(request)["of"]
        rows = [{**asdict(one), "own": False} for one in STARTING]
        rows += [
            {"name": one.name, "purpose": "", "conditions": one.conditions, "own": True}
            for one in Sieve.objects.filter(removed_at=None)
        ]
        return Response([row for row in rows if holds_for(row["conditions"], kind)])

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
        parameters=[NameQuery],
        responses={204: None, 409: ProblemDetail},
    )
    def delete(self, request: Request) -> Response:
        remove_sieve(NameQuery.asked(request)["name"])
        return Response(status=204)


class Lenses(APIView):
    """Your own lenses."""

    @extend_schema(
        operation_id="lenses", parameters=[LensesQuery], responses={200: s.LensRow(many=True)}
    )
    def get(self, request: Request) -> Response:
        kind = LensesQuery.asked(request)["of"]
        found = SavedLens.objects.filter(kind=lens_kind(kind).key, removed_at=None)
        return Response([lens_row(one) for one in found])

    @extend_schema(
        operation_id="save_lens",
        request=s.LensRow,
        responses={201: s.LensRow, 400: ProblemDetail, 409: ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        asked = s.LensRow(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        made = save_lens(wanted["name"], wanted["weights"], wanted["of"], wanted["purpose"])
        return Response(lens_row(made), status=201)

    @extend_schema(
        operation_id="remove_lens",
        parameters=[LensQuery],
        responses={204: None, 409: ProblemDetail},
    )
    def delete(self, request: Request) -> Response:
        wanted = LensQuery.asked(request)
        remove_lens(wanted["name"], wanted["of"])
        return Response(status=204)


def lens_row(one: SavedLens) -> dict[str, Any]:
    """A lens as it is answered."""
    return {
        "of": KINDS_BY_KEY[one.kind].plural, "name": one.name, "weights": one.weights,
        "purpose": one.purpose,
    }  # fmt: skip


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
        Query.asked(request)
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
        responses={
            200: s.RemarkSaved,
            400: ProblemDetail,
            409: ProblemDetail,
            412: ProblemDetail,
        },
    )
    def put(self, request: Request) -> Response:
        asked = s.RemarkRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        try:
            made = remark(
                wanted["market_id"], wanted["id"], wanted.get("note"), wanted.get("tags"),
                kind=wanted["of"], was=wanted.get("was"),
            )  # fmt: skip
        except NoteChangedError as error:
            # 409 is said of what is not there; the page has to tell the two apart (RFC 9110, 15.5.13).
            raise Problem(412, "The note was changed elsewhere", str(error)) from error
        return Response(s.RemarkSaved(made).data)


class ShortlistQuery(MarketQuery):
    """Which decisions of which kind."""

    of = KindQuery()
    choice = serializers.ListField(
        child=ChoiceQuery(["keep", "park", "pass"]),
        required=False,
        default=lambda: [Choice.KEEP, Choice.PARK],
        help_text="Default keep and park.",
    )


class ShortlistFileQuery(ShortlistQuery, FormQuery):
    """The same as a file."""


def _entries(wanted: dict[str, Any]) -> tuple[Market, list[Entry]]:
    market = market_named(wanted["market"])
    return market, read_shortlist(market.market_id, wanted["choice"], wanted["of"])


class Shortlist(APIView):
    """What was kept and parked, what was known then and what has changed since."""

    @extend_schema(
        operation_id="shortlist",
        parameters=[ShortlistQuery],
        responses={200: s.ShortlistEntry(many=True), 400: ProblemDetail, 404: ProblemDetail},
    )
    def get(self, request: Request) -> Response:
        return Response(
            s.ShortlistEntry(_entries(ShortlistQuery.asked(request))[1], many=True).data
        )


class ShortlistFile(APIView):
    """The shortlist as a file."""

    @extend_schema(
        operation_id="shortlist_file",
        parameters=[ShortlistFileQuery],
        responses={
            **LISTED,
            400: ProblemDetail,
            404: ProblemDetail,
        },
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = ShortlistFileQuery.asked(request)
        market, entries = _entries(wanted)
        columns, rows = shortlist_file(wanted["of"], entries, market.currency)
        return file_response(wanted["as"], f"shortlist {market.name}", columns, rows)


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
