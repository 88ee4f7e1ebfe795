"""Refusals as problem+json (RFC 9457)."""

from __future__ import annotations

from typing import Any

from rest_framework.response import Response
from rest_framework.views import exception_handler


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    response = exception_handler(error, context)
    if response is not None:
        detail = response.data.get("detail") if isinstance(response.data, dict) else None
        response.data = {
            "title": response.status_text,
            "status": response.status_code,
            "detail": str(detail or response.data),
        }
        response.content_type = "application/problem+json"
    return response
