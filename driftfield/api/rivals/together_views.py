"""What several sellers carry together, dropped, and lean towards."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.fields import Text
from driftfield.api.files import LISTED as FILES
from driftfield.api.files import FormQuery, file_response
from driftfield.api.queries import ChoiceQuery, MarketQuery, WholeQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import CoreError
from driftfield.core.market import BRAND, SELLER
from driftfield.core.sentences import together_sentence
from driftfield.exchange.lists import named_columns
from driftfield.exchange.pasted import Pasted
from driftfield.exchange.storefronts import (
    COLUMNS,
    NOBODY,
    Storefronts,
    carried_records,
    chosen_sellers,
)
from driftfield.market.models import Market
from driftfield.readings.chosen import own_sellers
from driftfield.readings.columns import columns_of
from driftfield.readings.shops import BESIDE, beside, shops_of

from . import together_serializers as s
from .views import day_named

MOST_SELLERS, MOST_ROWS, LONGEST = 100, 300, 6_000
_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


class TogetherQuery(MarketQuery):
    """Which sellers, and what of theirs."""

    sellers = Text(
        max_length=LONGEST,
        help_text="Ids or names, in lines or with commas between them, or addresses that hold an id.",
    )
    least = WholeQuery(
        MOST_SELLERS, default=2, help_text="How many of them must carry it; all where there are fewer."
    )  # fmt: skip
    what = ChoiceQuery(
        list(COLUMNS), default="listings",
        help_text="Listings they carry; those each of them dropped; brands or categories that recur beyond "
        "chance.",
    )  # fmt: skip
    when = Text(
        required=False, default="now", max_length=10,
        help_text="Carried “now”, “ever”, or since a day, as in 2025-10-01.",
    )  # fmt: skip
    lacking = ChoiceQuery(["yes"], help_text="Only listings that my own sellers do not carry yet.")


@dataclass(frozen=True, slots=True)
class _Asked:
    """What was asked, and found: records as the command writes them."""

    market: Market
    shops: Storefronts
    chosen: Pasted
    what: str
    least: int
    since: date | None
    own: list[str]
    records: list[dict[str, Any]]


def _asked(wanted: dict[str, Any]) -> _Asked:
    market = market_named(wanted["market"])
    shops = shops_of(market.run)
    if not shops.sellers:
        raise CoreError(NOBODY)
    chosen = chosen_sellers(shops, wanted["sellers"])
    if len(chosen.ids) > MOST_SELLERS:
        raise CoreError(
            f"Up to {MOST_SELLERS} sellers can be asked about here; got {len(chosen.ids)}. "
            "bin/driftfield carried takes any number."
        )
    when, what = wanted["when"], wanted["what"]
    since = None if when == "now" else date.min if when == "ever" else day_named(when)
    own = [one for one in own_sellers(market.market_id) if one in shops.sellers]
    lacking = wanted.get("lacking") == "yes"
    if lacking and not own:
        raise CoreError("No seller is your own yet: open its page and say that it is yours.")
    least = min(max(wanted["least"], 1), len(chosen.ids))
    records = carried_records(
        shops, chosen.ids, what, least=least, since=since, mine=own,
        lacking=lacking and what in ("listings", "dropped"),
    )  # fmt: skip
    return _Asked(market, shops, chosen, what, least, since, own, records)


class TogetherView(APIView):
    """What sellers carry together."""

    @extend_schema(
        operation_id="together",
        parameters=[TogetherQuery],
        responses={200: s.Together, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        asked = _asked(TogetherQuery.asked(request))
        shops, run = asked.shops, asked.market.run
        people = columns_of(run, SELLER)
        named = {one: people.name_of(one) for one in asked.chosen.ids}
        shown = asked.records[:MOST_ROWS]
        of_listings = asked.what in ("listings", "dropped")
        return Response(
            s.Together(
                {
                    "sellers": [
                        {"id": one, "name": named[one], "listings": many, "own": one in asked.own}
                        for one, many in zip(asked.chosen.ids, _sizes(shops, asked.chosen.ids), strict=True)
                    ],
                    "unknown": asked.chosen.unknown,
                    "least": asked.least,
                    "all_rows": len(asked.records),
                    "listings": _listings(asked, shown, named) if of_listings else [],
                    "groups": [] if of_listings else _groups(asked, shown, named),
                    "sentence": together_sentence(
                        len(asked.records), asked.what, asked.least, len(asked.chosen.ids),
                        asked.since, shops.day,
                    ),
                }
            ).data
        )  # fmt: skip


def _sizes(shops: Storefronts, sellers: list[str]) -> list[int]:
    """How many listings each of some sellers has at the as-of."""
    codes = np.array([shops.sellers[one] for one in sellers], dtype=np.int64)
    rows, place = shops.shelves.rows_of(codes)
    offers = shops.shelves.offers.take(rows)
    day = shops.day.toordinal()
    stands = ~(offers.since > day) & (offers.until >= day)
    pairs = np.unique(place[stands] * (len(shops.ids) + 1) + offers.listing[stands])
    many: list[int] = np.bincount(pairs // (len(shops.ids) + 1), minlength=len(codes)).tolist()
    return many


def _listings(
    asked: _Asked, shown: list[dict[str, Any]], named: dict[str, str]
) -> list[dict[str, Any]]:
    run = asked.market.run
    more = beside(run, [one["listing_id"] for one in shown])
    brands = columns_of(run, BRAND)
    paths = brands.tree.named([one["category_id"] or "" for one in shown])
    return [
        {
            **one,
            **{figure.column: figures[figure.key] for figure in BESIDE},
            "brand": brands.name_of(one["brand"] or "") or None,
            "category": paths.get(one["category_id"] or "", ""),
            "carried_by": [named[seller] for seller in one["carried_by"]],
        }
        for one, figures in zip(shown, more, strict=True)
    ]


def _groups(
    asked: _Asked, shown: list[dict[str, Any]], named: dict[str, str]
) -> list[dict[str, Any]]:
    columns = columns_of(asked.market.run, BRAND)
    of_brands = asked.what == "brands"
    ids = [one["brand"] if of_brands else one["category_id"] for one in shown]
    paths = {} if of_brands else columns.tree.named(ids)
    return [
        {
            **one, "id": own, "name": paths.get(own) or columns.name_of(own),
            "carried_by": [named[seller] for seller in one["carried_by"]],
        }
        for own, one in zip(ids, shown, strict=True)
    ]  # fmt: skip


class TogetherFileQuery(TogetherQuery, FormQuery):
    """What sellers carry together, and the form of the file."""


class TogetherFile(APIView):
    """What sellers carry together as a file: all of it, under the names that the command writes."""

    @extend_schema(
        operation_id="together_file",
        parameters=[TogetherFileQuery],
        responses={**FILES, **_PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = TogetherFileQuery.asked(request)
        asked = _asked(wanted)
        columns = named_columns(COLUMNS[asked.what])
        title = f"{asked.what} of {len(asked.chosen.ids)} sellers"
        return file_response(wanted["as"], title, columns, asked.records)
