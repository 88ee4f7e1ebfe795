"""Views of searches from below."""

from __future__ import annotations

from typing import Any

import numpy as np
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.errors import Problem
from driftfield.api.fields import Text
from driftfield.api.ledger.query import LedgerQuery, read_asked
from driftfield.api.parameters import FURTHEST
from driftfield.api.previews import preview_of
from driftfield.api.queries import (
    ChoiceQuery,
    MarketQuery,
    TermQuery,
    WholeQuery,
    market_named,
    term_named,
)
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import CoreError
from driftfield.core.market import NICHE, TERM
from driftfield.core.market.related import Relation
from driftfield.core.market.seeds import LONGEST
from driftfield.exchange.seeds import DECIMALS, onward_record
from driftfield.readings.columns import columns_of
from driftfield.readings.related import related_terms

from . import serializers as s

MOST_RELATED = 100
_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


class OnwardQuery(LedgerQuery):
    """Which terms, and the seed that they are searched from."""

    seed = Text(max_length=LONGEST, help_text="A word or phrase that terms must have.")


class OnwardView(APIView):
    """How buyers go on from a seed, of the terms that pass the conditions."""

    @extend_schema(
        operation_id="onward", parameters=[OnwardQuery], responses={200: s.Onward, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        wanted = OnwardQuery.asked(request) | {"of": TERM}
        asked = read_asked(wanted, market_named(wanted["market"]))
        assert asked.seed is not None, "the query requires it"
        columns = asked.field.columns
        found = columns.seeds.onward(
            asked.seed, columns.figure("searches_52w"), columns.searches_before, among=asked.among
        )
        return Response({"seed": asked.seed.text, **onward_record(found)})


class DrawQuery(MarketQuery):
    """Which word is drawn."""

    number = WholeQuery(FURTHEST, default=1, help_text="The same number draws the same word.")


class DrawView(APIView):
    """A word of the terms drawn at random, the likelier the more terms contain it."""

    @extend_schema(
        operation_id="draw", parameters=[DrawQuery], responses={200: s.Drawn, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        wanted = DrawQuery.asked(request)
        index = columns_of(market_named(wanted["market"]).run, TERM).seeds
        try:
            return Response({"seed": index.draw(wanted["number"])})
        except CoreError as error:
            raise Problem(409, "There is no word to draw", str(error)) from None


class TermView(APIView):
    """One term close up, for the foot of the ledger of terms."""

    @extend_schema(
        operation_id="term", parameters=[TermQuery], responses={200: s.TermPreview, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        reading = term_named(TermQuery.asked(request))
        text = reading.term.term
        return Response(s.TermPreview(preview_of(reading, text, text, reading.term.niche)).data)


class RelatedQuery(TermQuery):
    """Which term, and how many come."""

    most = WholeQuery(MOST_RELATED, default=12)
    words = ChoiceQuery(
        ["with", "without"],
        default="without",
        help_text="Whether terms with one of its words come.",
    )


class RelatedView(APIView):
    """Terms related to one: after which the same listings are clicked, and of the same season."""

    @extend_schema(
        operation_id="related", parameters=[RelatedQuery], responses={200: s.Related, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        wanted = RelatedQuery.asked(request)
        reading = term_named(wanted)
        found = related_terms(reading, most=wanted["most"], apart=wanted["words"] == "without")
        columns = columns_of(reading.run, TERM)
        niches = columns_of(reading.run, NICHE)

        def rows(relations: list[Relation]) -> list[dict[str, Any]]:
            places = np.array([one.place for one in relations], dtype=np.int64)
            cells = {f.column: columns.cells(f, places) for f in s.RELATED}
            return [
                {
                    **{key: values[at] for key, values in cells.items()},
                    "term": columns.ids[one.place],
                    "niche": columns.owners[one.place],
                    "niche_name": niches.names[niches.places[columns.owners[one.place]]],
                    "strength": round(one.strength, DECIMALS),
                    "shared": one.shared,
                }
                for at, one in enumerate(relations)
            ]

        return Response({"by": found.by, "terms": rows(found.terms), "season": rows(found.season)})
