"""Those who sell already: listings, brands and sellers close up."""

from __future__ import annotations

from dataclasses import asdict
from datetime import date
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.fields import Text
from driftfield.api.previews import preview_of
from driftfield.api.queries import (
    BrandQuery,
    ChoiceQuery,
    ListingQuery,
    MarketQuery,
    SellerQuery,
    holder_named,
    listing_named,
)
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import CoreError
from driftfield.market.models import Category
from driftfield.readings.columns import columns_of
from driftfield.readings.holder_page import OF_GOODS, ONLY, holder_page
from driftfield.readings.listing_page import BESIDE, listing_page
from driftfield.readings.reading import HolderReading

from . import serializers as s

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


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


class GoodsQuery(MarketQuery):
    """Which goods of a brand or a seller."""

    when = Text(
        required=False, default="now", max_length=10,
        help_text="Those on sale “now”, or had “ever”, or on a day, as in 2025-10-12.",
    )  # fmt: skip
    only = ChoiceQuery(
        ONLY, help_text="Those that came or went within a year, or that sleep until their season."
    )


class BrandPageQuery(GoodsQuery, BrandQuery):
    """A brand, and which of its goods."""


class SellerPageQuery(GoodsQuery, SellerQuery):
    """A seller, and which of its goods."""


def _close_up(reading: HolderReading) -> dict[str, Any]:
    key = int(columns_of(reading.run, reading.kind).category_keys[reading.place])
    category = Category.objects.filter(pk=key).select_related("parent").first()
    return preview_of(reading, reading.id, reading.name, None, category)


def day_named(text: str) -> date:
    """A day beside “now” and “ever”. Raises CoreError for what is none."""
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise CoreError(f"Write now, ever or a day as in 2025-10-12; got “{text}”.") from None


def _page(wanted: dict[str, Any]) -> dict[str, Any]:
    when = wanted["when"]
    on = None if when in ("now", "ever") else day_named(when)
    # What went is not on sale any more.
    only = wanted.get("only", "")
    ever = when == "ever" or only == "went"
    made = holder_page(holder_named(wanted), None if ever else on, ever=ever, only=only)
    goods = [
        {**asdict(one), **{figure.column: one.figures[figure.key] for figure in OF_GOODS}}
        for one in made.goods
    ]
    return {**asdict(made), "goods": goods}


class BrandView(APIView):
    """One brand close up, for the foot of the ledger of brands."""

    @extend_schema(
        operation_id="brand", parameters=[BrandQuery], responses={200: s.BrandPreview, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        return Response(s.BrandPreview(_close_up(holder_named(BrandQuery.asked(request)))).data)


class BrandPageView(APIView):
    """One brand: its goods, the categories they lie in, and who sells them."""

    @extend_schema(
        operation_id="brand_page",
        parameters=[BrandPageQuery],
        responses={200: s.HolderPage, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        return Response(s.HolderPage(_page(BrandPageQuery.asked(request))).data)


class SellerView(APIView):
    """One seller close up, for the foot of the ledger of sellers."""

    @extend_schema(
        operation_id="seller",
        parameters=[SellerQuery],
        responses={200: s.SellerPreview, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        return Response(s.SellerPreview(_close_up(holder_named(SellerQuery.asked(request)))).data)


class SellerPageView(APIView):
    """One seller: its storefront now, on another day or ever, the categories in it and the brands."""

    @extend_schema(
        operation_id="seller_page",
        parameters=[SellerPageQuery],
        responses={200: s.HolderPage, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        return Response(s.HolderPage(_page(SellerPageQuery.asked(request))).data)
