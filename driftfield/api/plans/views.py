"""Views of plans of orders: reckoned as they are typed, kept, and undone."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.plans import serializers as s
from driftfield.api.queries import NicheQuery, reading_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import CoreError
from driftfield.desk.actions import keep_plan, undo_plan
from driftfield.desk.models import Plan
from driftfield.desk.plans import first_document, kept_plans, make_plan

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


class Plans(APIView):
    """Plans of a niche that are kept."""

    @extend_schema(
        operation_id="plans", parameters=[NicheQuery], responses={200: s.KeptPlans, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        reading = reading_named(NicheQuery.asked(request))
        found = kept_plans(reading.market.market_id, reading.niche.niche_id)
        return Response(s.KeptPlans({"plans": found}).data)

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
        made = keep_plan(reading, wanted["document"], wanted["key"], wanted["state"])
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
