"""View of words for a listing of one niche."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.fields import Text
from driftfield.api.niche import serializers as s
from driftfield.api.queries import NicheQuery, WholeQuery, reading_named
from driftfield.api.shared import ProblemDetail
from driftfield.readings.listing_words import LENGTH, words_for_listing

MOST_LETTERS = 1_000  # Letters that the picked words may take.
REACHED = 50  # Terms that are listed.
_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404), ProblemDetail)


class WordsQuery(NicheQuery):
    """A niche, how long the text may be, and what comes first in it."""

    length = WholeQuery(MOST_LETTERS, default=LENGTH, help_text="Letters that the words may take.")
    first = Text(
        required=False, default="", max_length=200, help_text="Words that come first, as a brand's."
    )


class WordsForListingView(APIView):
    """Words for a listing: what buyers type that a newcomer could reach, fitted into a length."""

    @extend_schema(
        operation_id="listing_words",
        parameters=[WordsQuery],
        responses={200: s.WordsForListing, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = WordsQuery.asked(request)
        made = words_for_listing(reading_named(wanted), wanted["length"], wanted["first"])
        record = made.as_record()
        return Response(record | {"terms": record["terms"][:REACHED]})
