"""Those who sell already: listings close up."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.previews import preview_of
from driftfield.api.queries import ListingQuery, listing_named
from driftfield.api.shared import ProblemDetail
from driftfield.readings.listing_page import BESIDE, listing_page

from . import serializers as s

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404), ProblemDetail)


class ListingView(APIView):
    """One listing close up, for the foot of the ledger of listings."""

    @extend_schema(
        operation_id="listing",
        parameters=[ListingQuery],
        responses={200: s.ListingPreview, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        reading = listing_named(ListingQuery.asked(request))
        listing = reading.listing
        found = preview_of(
            reading, listing.listing_id, reading.name, reading.niche, listing.category
        )
        who = {"brand": listing.brand or "", "seller": listing.seller_id or ""}
        return Response(s.ListingPreview({**found, **who}).data)


class ListingPageView(APIView):
    """One listing: its past, its sellers, the terms that lead to it, and others of its niche."""

    @extend_schema(
        operation_id="listing_page",
        parameters=[ListingQuery],
        responses={200: s.ListingPage, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        made = listing_page(listing_named(ListingQuery.asked(request)))
        beside = [
            {"id": one["id"], "name": one["name"], **{f.column: one[f.key] for f in BESIDE}}
            for one in made.beside
        ]
        page = {
            "curves": made.history.curves, "held": made.history.held, "sellers": made.sellers,
            "terms": made.terms, "beside": beside,
        }  # fmt: skip
        return Response(s.ListingPage(page).data)
