"""Domain errors as problem+json (RFC 9457): one handler, one shape."""

from __future__ import annotations

from typing import Any

from django.db.utils import OperationalError
from rest_framework import exceptions
from rest_framework.response import Response
from rest_framework.views import exception_handler

from driftfield.core.errors import CoreError


class Problem(exceptions.APIException):
    """A problem with a title for people and a remedy."""

    def __init__(self, status: int, title: str, detail: str) -> None:
        super().__init__(detail)
        self.status_code = status
        self.title = title


def _words(detail: Any) -> str:
    if isinstance(detail, dict):
        return " ".join(f"{key}: {_words(value)}" for key, value in detail.items())
    if isinstance(detail, list):
        return " ".join(_words(item) for item in detail)
    return str(detail)


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """Turn an error into application/problem+json; unknown ones go on to Django."""
    if isinstance(error, CoreError):
        error = Problem(409, "This cannot be done as asked", str(error))
    if isinstance(error, OperationalError) and "locked" in str(error):
        error = Problem(
            503,
            "The database is busy",
            "An import is being written. Nothing was changed; try again in a moment.",
        )
    response = exception_handler(error, context)
    if response is None:
        return None
    title = error.title if isinstance(error, Problem) else response.status_text
    detail = error.detail if isinstance(error, exceptions.APIException) else str(error)
    response.data = {"title": title, "status": response.status_code, "detail": _words(detail)}
    response.content_type = "application/problem+json"
    return response
