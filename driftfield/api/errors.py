"""Every error as problem+json (RFC 9457): one handler, one shape, and an id for faults."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from typing import Any

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.db.utils import DatabaseError
from django.http import HttpRequest, HttpResponse
from rest_framework import exceptions
from rest_framework.response import Response
from rest_framework.views import exception_handler

from driftfield.core.base import CoreError
from driftfield.home import explain
from driftfield.logs import new_id, note_fault
from driftfield.readings.linked import NotFetchedError

PROBLEM = "application/problem+json"
FAULT = "A fault in the program"
# Each change is a transaction of its own.
REMEDY = (
    "Nothing was left half done. Try again; if it comes again, the page Faults has it under {id}, ready to be "
    "copied for a report."
)


LACKS = (
    "lacks"  # The name under which an answer has what ``read_at_one_moment`` has to fetch for it.
)


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


def _by_field(detail: Any, path: str = "") -> Iterator[dict[str, str]]:
    """What is wrong with each field of what came, by its path, as in “costs.price” or “classes.0.fee”."""
    if isinstance(detail, dict):
        for key, value in detail.items():
            own = key != "non_field_errors"
            yield from _by_field(value, f"{path}.{key}".lstrip(".") if own else path)
    elif isinstance(detail, list) and any(isinstance(one, dict | list) for one in detail):
        for place, value in enumerate(detail):
            yield from _by_field(value, f"{path}.{place}".lstrip("."))
    else:
        yield {"field": path, "message": _words(detail)}


def handle(error: Exception, context: dict[str, Any]) -> Response:
    """Turn an error into application/problem+json; a fault is noted, and its id told."""
    if isinstance(error, NotFetchedError):
        lacking = Response(status=409)
        setattr(lacking, LACKS, error)
        return lacking
    if isinstance(error, CoreError):
        error = Problem(409, "This cannot be done as asked", str(error))
    if isinstance(error, RequestDataTooBig):
        most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE >> 20
        error = Problem(413, "The body is too large", f"It must be at most {most} MB.")
    if isinstance(error, DatabaseError) and (explanation := explain(error)):
        busy = "locked" in str(error)
        if not busy:
            note_fault(error, "The database")
        title = "The database is busy" if busy else "The database cannot be used"
        error = Problem(503, title, explanation)
    response = exception_handler(error, context)
    if response is None:
        request = context["request"]
        response = Response(fault(error, f"{request.method} {request.path}"), status=500)
        response.content_type = PROBLEM
        return response
    title = error.title if isinstance(error, Problem) else response.status_text
    detail = error.detail if isinstance(error, exceptions.APIException) else str(error)
    response.data = {"title": title, "status": response.status_code, "detail": _words(detail)}
    if isinstance(error, exceptions.ValidationError):
        response.data["errors"] = list(_by_field(detail))
    response.content_type = PROBLEM
    return response


def fault(error: Exception, what: str) -> dict[str, Any]:
    """What is answered to a fault, which is noted."""
    found = note_fault(error, what)
    return {"title": FAULT, "status": 500, "detail": REMEDY.format(id=found), "fault": found}


def with_id(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware: a request has an id, which its answer names and its faults are noted under."""

    def answer(request: HttpRequest) -> HttpResponse:
        made = new_id()
        response = get_response(request)
        response.headers["X-Request-Id"] = made
        return response

    return answer


def plain_problem(
    request: HttpRequest, status: int, title: str, detail: str, **more: str
) -> HttpResponse:
    """The same shape where no view of the API answered; words alone for pages."""
    if request.path.startswith("/api/"):
        body = {"title": title, "status": status, "detail": detail, **more}
        return HttpResponse(json.dumps(body), status=status, content_type=PROBLEM)
    text = f"{title}. {detail}"
    return HttpResponse(text, status=status, content_type="text/plain; charset=utf-8")


def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Django's handler400: a host that is not this machine, or a request that is none."""
    return plain_problem(
        request, 400, "Bad Request", "This is no request that the application answers."
    )


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Django's handler404."""
    return plain_problem(
        request, 404, "There is nothing here", "No such address; see /api/schema/."
    )


def server_error(request: HttpRequest) -> HttpResponse:
    """Django's handler500, called while the error is handled."""
    import sys

    error = sys.exc_info()[1]
    assert isinstance(error, Exception), "called by Django's handler of exceptions"
    if isinstance(error, DatabaseError) and (explanation := explain(error)):
        note_fault(error, "The database")
        return plain_problem(request, 503, "The database cannot be used", explanation)
    found = fault(error, f"{request.method} {request.path}")
    return plain_problem(request, 500, found["title"], found["detail"], fault=found["fault"])
