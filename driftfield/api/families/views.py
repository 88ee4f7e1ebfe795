"""Views of families: niches that one brand could serve together."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.errors import Problem
from driftfield.api.families import serializers as s
from driftfield.api.fields import Text
from driftfield.api.queries import MarketQuery, NicheQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.market import FIGURES_BY_KEY, NICHE
from driftfield.core.market.families import EVIDENCE
from driftfield.core.sentences import (
    chosen_sentence,
    enough_sentence,
    open_sentence,
    served_sentence,
    year_sentence_of,
)
from driftfield.desk.field import Field
from driftfield.market.models import Market
from driftfield.readings.chosen import chosen_for
from driftfield.readings.columns import RunColumns, columns_of
from driftfield.readings.families import (
    MOST_CHOSEN,
    Family,
    brands_of,
    chosen_family,
    family_of,
    read_families,
)
from driftfield.readings.plain import plain

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404), ProblemDetail)
BRANDS = 8  # Brands that are told of a family.


class Families(APIView):
    """The families of a market."""

    @extend_schema(
        operation_id="families",
        parameters=[MarketQuery],
        responses={200: s.FamilyList, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        market = market_named(MarketQuery.asked(request)["market"])
        found, columns = read_families(market.run), columns_of(market.run, NICHE)
        rows = [_row(one, columns) for one in found or []]
        return Response({"known": found is not None, "families": rows})


class FamilyView(APIView):
    """The family of one niche."""

    @extend_schema(
        operation_id="family", parameters=[NicheQuery], responses={200: s.Family, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        wanted = NicheQuery.asked(request)
        market = market_named(wanted["market"])
        found = family_of(market.run, wanted["niche"])
        if found is None:
            looked = columns_of(market.run, NICHE).families is not None
            detail = (
                f"Nothing ties “{wanted['niche']}” to other niches of {market.name} clearly enough."
                if looked
                else f"Families were not looked for in {market.name}."
            )
            raise Problem(404, "It has no family", detail)
        return Response(_close_up(market, found))


class ChosenQuery(MarketQuery):
    """Niches that are looked at together."""

    niche = serializers.ListField(
        child=Text(max_length=500), help_text=f"Ids of 2 to {MOST_CHOSEN} niches."
    )


class ChosenFamily(APIView):
    """Niches that the researcher chose, as a family."""

    @extend_schema(
        operation_id="chosen_family",
        parameters=[ChosenQuery],
        responses={200: s.Family, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = ChosenQuery.asked(request)
        market = market_named(wanted["market"])
        found = chosen_family(market.run, wanted["niche"])
        return Response(_close_up(market, found, chosen=True))


def _row(found: Family, columns: RunColumns, *, chosen: bool = False) -> dict[str, Any]:
    first = int(found.places[0])
    more = len(found.places) - 1
    return {
        "niche": columns.ids[first],
        "name": f"{columns.names[first]} and {more} more",
        "goods": len(found.places),
        "wanted": int(found.figures.wanted.sum()),
        "searches_52w": plain(found.figures.searches),
        "open_searches_52w": plain(found.figures.unowned),
        "enough": found.figures.enough,
        "ties": []
        if chosen
        else sorted(
            {tie for at in found.places.tolist() for tie in columns.ties[at]}, key=EVIDENCE.index
        ),
    }


def _close_up(market: Market, found: Family, *, chosen: bool = False) -> dict[str, Any]:
    field = Field(market.run, NICHE)
    columns, figures = field.columns, found.figures
    settings = chosen_for(market.market_id).settings
    brands = brands_of(market.run, found.places)
    cells = {
        key: columns.cells(FIGURES_BY_KEY[key], found.places)
        for key in ("headroom", "season_profile")
    }
    return {
        **_row(found, columns, chosen=chosen),
        "answer": enough_sentence(figures, settings),
        "served": chosen_sentence(brands, len(found.places))
        if chosen
        else served_sentence(found.ties, brands),
        "openness": plain(figures.openness, 1),
        "opens": open_sentence(figures, [columns.names[place] for place in found.places.tolist()]),
        "runs": year_sentence_of(figures),
        "start": None if figures.start is None else columns.ids[int(found.places[figures.start])],
        "year": [plain(share, 4) for share in figures.year.tolist()],
        "brands": [{"name": name, "niches": many} for name, many in brands if many > 1][:BRANDS],
        "members": [
            {
                "id": columns.ids[place],
                "name": columns.names[place],
                "category": columns.category_path(place),
                "searches_month": plain(float(figures.monthly[at]), 1),
                "wanted": bool(figures.wanted[at]),
                "openness": plain(float(figures.opened[at]), 1),
                **{key: values[at] for key, values in cells.items()},
                "decision": field.decisions.get(columns.ids[place]),
                "ties": [] if chosen else columns.ties[place],
            }
            for at, place in enumerate(found.places.tolist())
        ],
    }
