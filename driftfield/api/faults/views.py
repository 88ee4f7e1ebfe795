"""Faults that were noted, for those who met them."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.conf import settings
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.queries import Query
from driftfield.api.shared import ProblemDetail
from driftfield.logs import faults, log_file, surroundings

MAX_FAULTS = 50


class FaultRow(serializers.Serializer[Any]):
    """A fault. id: what the answer that met it named; trace: where in the program it was, or empty."""

    id = serializers.CharField(allow_blank=True)
    at = serializers.DateTimeField()
    program = serializers.CharField()
    text = serializers.CharField()
    trace = serializers.CharField(allow_blank=True)


class Faults(serializers.Serializer[Any]):
    """The latest faults, the last one first. file: where they are noted; about: versions, for a report."""

    file = serializers.CharField()
    about = serializers.CharField()
    faults = FaultRow(many=True)


class FaultsView(APIView):
    """What went wrong in the server, the worker and the command line."""

    @extend_schema(operation_id="faults", responses={200: Faults, 400: ProblemDetail})
    def get(self, request: Request) -> Response:
        Query.asked(request)
        return Response(
            {
                "file": str(log_file(settings.DATA_DIR)),
                "about": surroundings(),
                "faults": [asdict(one) for one in faults(settings.DATA_DIR, MAX_FAULTS)],
            }
        )
