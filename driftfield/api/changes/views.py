"""The view of what has changed."""

from __future__ import annotations

import hashlib
import re

from django.http import HttpResponseBase
from django.utils.cache import get_conditional_response
from django.utils.dateparse import parse_datetime
from drf_spectacular.utils import OpenApiResponse, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.changes import serializers as s
from driftfield.api.errors import Problem
from driftfield.api.parameters import grammar
from driftfield.api.queries import Query, grammar_field
from driftfield.api.shared import ProblemDetail
from driftfield.core.market import KINDS_BY_KEY
from driftfield.desk.changes import decided_since, remarked_since, version

# RFC 3339, 5.6, of this century.
MOMENT = (
    r"^(20[0-9]{2}-(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])T([01][0-9]|2[0-3]):[0-5][0-9]:[0-5][0-9]"
    r"(\.[0-9]{1,6})?(Z|[+-](0[0-9]|1[0-3]):[0-5][0-9]))?$"
)
grammar("Moment", {"pattern": MOMENT})


class ChangesQuery(Query):
    """From when on."""

    since = grammar_field("Moment")(
        required=False,
        default="",
        help_text="What ``desk`` said before; without it only the marks are told.",
    )


class ChangesView(APIView):
    """What has changed since a page last asked.

    Asked again and again: while nothing changes the answer is 304 and has no body (RFC 9110, 13.1.2 and
    15.4.5), and it may be kept but not used unasked (``no-cache``, RFC 9111, 5.2.2.4).
    """

    @extend_schema(
        operation_id="changes",
        parameters=[ChangesQuery],
        responses={
            200: s.Changes,
            304: OpenApiResponse(description="Nothing changed."),
            400: ProblemDetail,
            409: ProblemDetail,
        },
    )
    def get(self, request: Request) -> HttpResponseBase:
        wanted = ChangesQuery.asked(request)["since"]
        try:
            since = parse_datetime(wanted) if wanted else None
        except ValueError:
            since = None
        if wanted and (since is None or since.tzinfo is None):
            # A day that no month has is written rightly, and is none all the same.
            status = 409 if re.fullmatch(MOMENT, wanted) else 400
            raise Problem(
                status, "There is no such moment", f"since takes what desk said; got “{wanted}”."
            )
        now = version()
        desk = now.desk.isoformat() if now.desk else ""
        mark = "|".join((wanted, desk, now.figures, now.lists))
        etag = f'"{hashlib.blake2b(mark.encode(), digest_size=16).hexdigest()}"'
        found = get_conditional_response(request._request, etag=etag)
        if found is None:
            changed = since if desk != wanted else None
            found = Response(
                s.Changes(
                    {
                        "desk": desk,
                        "figures": now.figures,
                        "lists": now.lists,
                        "decisions": [
                            {
                                "market_id": one.market_id,
                                "of": KINDS_BY_KEY[one.kind],
                                "id": one.subject,
                                "choice": one.choice,
                            }
                            for one in (decided_since(changed) if changed else [])
                        ],
                        "remarks": remarked_since(changed) if changed else [],
                    }
                ).data
            )
        found["ETag"] = etag
        found["Cache-Control"] = "private, no-cache"
        return found
