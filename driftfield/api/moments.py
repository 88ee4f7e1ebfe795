"""What only reads is answered from one moment of the database."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from driftfield.market.moments import one_moment


def read_at_one_moment(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware: whatever is written meanwhile, an answer does not mix two states."""

    def answer(request: HttpRequest) -> HttpResponse:
        if request.method not in ("GET", "HEAD"):
            return get_response(request)
        with one_moment():
            return get_response(request)

    return answer
