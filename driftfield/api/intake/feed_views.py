"""Views of the market feed: what is asked of it, when, and doing it now."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.intake.serializers import JobRow
from driftfield.api.intake.views import describe_job
from driftfield.api.shared import ProblemDetail
from driftfield.intake.actions import feed_client, next_at, schedule, set_schedule
from driftfield.intake.actions.feed_schedule import HOURS
from driftfield.intake.models import FeedState
from driftfield.work.actions import start
from driftfield.work.models import Kind
from driftfield.work.timed import FEED


class FeedMarket(serializers.Serializer[Any]):
    """A market that was pulled."""

    market_id = serializers.CharField()
    asked_at = serializers.DateTimeField(allow_null=True)


class FeedRow(serializers.Serializer[Any]):
    """The feed of the settings; address is empty where none is set. every_hours is 0 for never."""

    address = serializers.CharField()
    every_hours = serializers.ChoiceField(choices=list(HOURS))
    next_at = serializers.DateTimeField(allow_null=True)
    markets = FeedMarket(many=True)


class FeedWanted(serializers.Serializer[Any]):
    """How often the feed is asked by itself."""

    every_hours = serializers.ChoiceField(choices=list(HOURS))


class FeedView(APIView):
    """The market feed, and how often it is asked."""

    @extend_schema(operation_id="feed", responses={200: FeedRow})
    def get(self, request: Request) -> Response:
        address = settings.FEED_URL.rstrip("/")
        row = {
            "address": address,
            "every_hours": schedule().every_hours,
            "next_at": next_at(),
            "markets": FeedState.objects.filter(address=address, asked_at__isnull=False),
        }
        return Response(FeedRow(row).data)

    @extend_schema(
        operation_id="set_feed", request=FeedWanted, responses={200: FeedRow, 400: ProblemDetail}
    )
    def put(self, request: Request) -> Response:
        asked = FeedWanted(data=request.data)
        asked.is_valid(raise_exception=True)
        set_schedule(asked.validated_data["every_hours"])
        return self.get(request)


class PullFeed(APIView):
    """Pulls what is new, as long work."""

    @extend_schema(
        operation_id="pull_feed", request=None, responses={201: JobRow, 409: ProblemDetail}
    )
    def post(self, request: Request) -> Response:
        feed_client()  # Where it cannot be asked, that is said at once.
        return Response(describe_job(start(Kind.PULL, FEED)), status=201)
