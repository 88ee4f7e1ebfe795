"""Views of plans of orders: reckoned as they are typed, kept, and undone."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.errors import Problem
from driftfield.api.files import LISTED, file_name
from driftfield.api.plans import serializers as s
from driftfield.api.queries import ChoiceQuery, NicheQuery, Query, reading_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import CoreError
from driftfield.desk.actions import keep_plan, undo_plan
from driftfield.desk.models import Plan
from driftfield.desk.plans import first_document, kept_plan, kept_plans, make_plan, told_of
from driftfield.exchange.lists import FORMS as TYPES
from driftfield.exchange.plan_sheet import FORMS, write_plan

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


class PlanNiche(APIView):
    """What comes of a plan's inputs; nothing is kept."""

    @extend_schema(
        operation_id="plan_niche",
        request=s.PlanRequest,
        responses={200: s.PlannedNiche, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.PlanRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        reading = reading_named({"market": wanted["market_id"], "niche": wanted["niche_id"]})
        document = wanted["document"]
        if document is None:
            document = first_document(reading)
        try:
            made, problem = make_plan(reading, document), ""
        except CoreError as error:
            made, problem = None, str(error)
        return Response({"document": document, "made": made, "problem": problem})


class PlansQuery(NicheQuery):
    """A niche, and whether it is told what its plans say now."""

    told = ChoiceQuery(("yes",), default="", help_text="What each says now, which takes a moment.")


class Plans(APIView):
    """Plans of a niche that are kept."""

    @extend_schema(
        operation_id="plans", parameters=[PlansQuery], responses={200: s.KeptPlans, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        wanted = PlansQuery.asked(request)
        reading = reading_named(wanted)
        found = kept_plans(reading.market.market_id, reading.niche.niche_id)
        rows = []
        for plan in found:
            told = told_of(reading, plan) if wanted["told"] else ("", [])
            rows.append({**s.KeptPlan(plan).data, "sentence": told[0], "warnings": told[1]})
        return Response({"plans": rows})

    @extend_schema(
        operation_id="keep_plan",
        request=s.KeepPlanRequest,
        responses={201: s.KeptPlan, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.KeepPlanRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        reading = reading_named({"market": wanted["market_id"], "niche": wanted["niche_id"]})
        made = keep_plan(
            reading, wanted["document"], wanted["key"], wanted["state"], wanted["version"]
        )
        return Response(s.KeptPlan(made).data, status=201)


class UndoPlan(APIView):
    """Undo the latest change of a plan."""

    @extend_schema(
        operation_id="undo_plan",
        request=s.PlanKeyRequest,
        responses={200: s.UndonePlan, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.PlanKeyRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        before: Plan | None = undo_plan(asked.validated_data["key"])
        return Response(s.UndonePlan({"plan": before}).data)


class PlanFileQuery(Query):
    """A plan that is kept, and the form of the file."""

    key = serializers.UUIDField()
    vars()["as"] = ChoiceQuery(FORMS, default="xlsx", help_text="Default xlsx.")


class PlanFile(APIView):
    """A plan that is kept, as it comes out now: a workbook, its weeks, or all of it."""

    @extend_schema(
        operation_id="plan_file", parameters=[PlanFileQuery], responses={**LISTED, **_PROBLEMS}
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = PlanFileQuery.asked(request)
        plan = kept_plan(wanted["key"])
        if plan is None:
            raise Problem(
                404, "There is no such plan", "It was dropped or undone. Reload the page."
            )
        reading = reading_named({"market": plan.market_id, "niche": plan.niche_id})
        form = wanted["as"]
        made = write_plan(
            form, reading.niche.name, make_plan(reading, plan.document), plan.document
        )
        response = HttpResponse(made, content_type=TYPES[form])
        name = f"{file_name(f'plan {plan.name}') or 'plan'}.{form}"
        response["Content-Disposition"] = f'attachment; filename="{name}"'
        response["Cache-Control"] = "no-store"
        return response
