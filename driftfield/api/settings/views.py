"""Views of settings: of a market, of one niche, and the day dates are planned from."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.intake.serializers import JobRow
from driftfield.api.intake.views import describe_job
from driftfield.api.queries import MarketQuery, market_named
from driftfield.api.registry.serializers import MarketSummary
from driftfield.api.settings import serializers as s
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import GROUPS, NAMES, Settings, Threshold
from driftfield.core.market.words import LANGUAGES
from driftfield.core.signals import THRESHOLDS
from driftfield.desk.write_queue import writing
from driftfield.market.models import Market
from driftfield.readings.actions import (
    OVERRULED,
    choose_language,
    choose_planning,
    choose_settings,
    overrule,
    pending,
)
from driftfield.readings.chosen import chosen_for
from driftfield.work.actions import start
from driftfield.work.models import Kind

_PROBLEMS = dict.fromkeys((400, 404, 409), ProblemDetail)


class Planning(APIView):
    """The day a market's dates are planned from, and its lead time."""

    @extend_schema(
        operation_id="choose_planning",
        request=s.PlanningRequest,
        responses={200: MarketSummary, **_PROBLEMS},
    )
    def put(self, request: Request) -> Response:
        asked = s.PlanningRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        market = market_named(wanted["market_id"])
        with writing():
            choose_planning(market, wanted["planning_date"], wanted["lead_days"])
        return Response(MarketSummary(market).data)


def described(market: Market) -> dict[str, Any]:
    """All settings of a market in their groups; those of the signals come last."""
    wanted, used = chosen_for(market.market_id).settings.as_dict(), market.run.settings
    declared = {one.key: one for one in Settings.declared()}

    def rows(settings: Iterable[Threshold]) -> list[dict[str, Any]]:
        return [
            {
                "key": one.key, "name": NAMES.get(one.key) or one.key.replace("_", " ").capitalize(),
                "help": one.help, "default": one.default, "low": one.low, "high": one.high,
                "whole": isinstance(one.default, int), "value": wanted.get(one.key, one.default),
                "used": used.get(one.key, one.default),
            }
            for one in settings
        ]  # fmt: skip

    groups = [
        {
            "title": group.title, "touches": group.touches,
            "settings": rows(declared[key] for key in group.keys),
        }
        for group in GROUPS
    ]  # fmt: skip
    groups.append(
        {"title": "Signals", "touches": "which signals are raised", "settings": rows(THRESHOLDS)}
    )
    return {"groups": groups, "pending": pending(market.run), "languages": LANGUAGES}


class Language(APIView):
    """The language of a market's terms."""

    @extend_schema(
        operation_id="choose_language",
        request=s.LanguageRequest,
        responses={200: MarketSummary, **_PROBLEMS},
    )
    def put(self, request: Request) -> Response:
        asked = s.LanguageRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        market = market_named(asked.validated_data["market_id"])
        with writing():
            choose_language(market, asked.validated_data["language"])
        return Response(MarketSummary(market).data)


class SettingsOfMarket(APIView):
    """The settings of a market."""

    @extend_schema(
        operation_id="settings", parameters=[MarketQuery], responses={200: s.MarketSettings, **_PROBLEMS}
    )  # fmt: skip
    def get(self, request: Request) -> Response:
        market = market_named(MarketQuery.asked(request)["market"])
        return Response(s.MarketSettings(described(market)).data)

    @extend_schema(
        operation_id="choose_settings",
        request=s.SettingsRequest,
        responses={200: s.MarketSettings, **_PROBLEMS},
    )
    def put(self, request: Request) -> Response:
        asked = s.SettingsRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        market = market_named(asked.validated_data["market_id"])
        with writing():
            choose_settings(market, asked.validated_data["changed"])
        market.run.refresh_from_db()
        return Response(s.MarketSettings(described(market)).data)


class AnalyseMarket(APIView):
    """Analyses a market anew, with the settings that were chosen for it."""

    @extend_schema(
        operation_id="analyse_market",
        request=s.AnalysisRequest,
        responses={201: JobRow, **_PROBLEMS},
    )
    def post(self, request: Request) -> Response:
        asked = s.AnalysisRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        market = market_named(asked.validated_data["market_id"])
        job = start(Kind.ANALYSE, market.name, market=market.market_id)
        return Response(describe_job(job), status=201)


class SettingsOfNiche(APIView):
    """Settings that are overruled for one niche."""

    @extend_schema(
        operation_id="overrule",
        request=s.NicheSettingsRequest,
        responses={200: s.NicheSettings, **_PROBLEMS},
    )
    def put(self, request: Request) -> Response:
        asked = s.NicheSettingsRequest(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        market = market_named(wanted["market_id"])
        changed = {key: wanted[key] for key in OVERRULED if key in wanted}
        with writing():
            found = overrule(market, wanted["niche_id"], changed)
        return Response(s.NicheSettings({"overruled": found}).data)
