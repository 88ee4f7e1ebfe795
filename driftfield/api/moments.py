"""What only reads is answered from one moment of the database."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from driftfield.core.base import CoreError
from driftfield.market.moments import one_moment
from driftfield.readings.linked import fetch_niche

from .errors import LACKS, plain_problem


def read_at_one_moment(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Middleware: whatever is written meanwhile, an answer does not mix two states.

    Where it lacks a niche that lies in a data set, that is fetched, and all is asked again.
    """

    def answer(request: HttpRequest) -> HttpResponse:
        if request.method not in ("GET", "HEAD"):
            return get_response(request)
        for _ in range(TRIES):
            with one_moment():
                response = get_response(request)
            lacks = getattr(response, LACKS, None)
            if lacks is None:
                return response
            try:
                fetch_niche(lacks.run, lacks.niche_id)
            except CoreError as error:
                return plain_problem(request, 409, "This cannot be done as asked", str(error))
        return plain_problem(
            request,
            409,
            "This cannot be done as asked",
            "It needs too many niches of a data set at once.",
        )

    return answer


TRIES = 12  # Niches that one answer may lack, each of which is fetched in its turn.
