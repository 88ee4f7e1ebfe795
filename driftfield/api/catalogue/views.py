"""Views of the catalogue: the tree of a market's categories, and one of them at a glance."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

import numpy as np
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.catalogue import serializers as s
from driftfield.api.errors import Problem
from driftfield.api.fields import ConditionText, Text
from driftfield.api.ledger.conditions import condition_rows
from driftfield.api.ledger.query import (
    figure_of_kind,
    figures_asked,
    lens_field,
    lens_of,
    order_of,
    sieve_of,
)
from driftfield.api.previews import ShownCurve
from driftfield.api.queries import ChoiceQuery, MarketQuery, grammar_field, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.core.curves import drift_line
from driftfield.core.market import CATEGORY, FIGURES_BY_KEY, NICHE, figures_of
from driftfield.core.ranking import OPENNESS, SETTLEDNESS
from driftfield.core.sentences import (
    brand_sentence,
    demand_answers,
    holders_sentence,
    launches_sentence,
    lorenz_sentence,
    newcomers_sentence,
    openness_sentence,
    prices_sentence,
    returned_sentence,
    settledness_sentence,
    shape_sentence,
    shared_sentence,
    wanted_sentence,
)
from driftfield.core.sieve import MAX_CONDITIONS, MAX_LENGTH, NUMBERS, InCategory
from driftfield.core.supply import Shared
from driftfield.desk.field import Field
from driftfield.desk.shortlist import standing
from driftfield.readings.catalogue import (
    KEYS,
    RANGES,
    CategoryReading,
    SoldOverview,
    category_curves,
    category_reading,
    niches_in,
    ranges_of,
    read_tree,
    returned,
    sold_overview,
    windows_of,
)
from driftfield.readings.plain import plain, plain_list
from driftfield.readings.preview import years_of

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)
# Figures that every row of the tree carries.
OWN = ("searches_52w", "drift", "drift_rate_year", "drift_low", "drift_high", "openness")
TOLD = 4  # Values of attributes, and reasons, that a sentence names.


class TreeQuery(MarketQuery):
    """The tree, with what is open in it."""

    sort = grammar_field("Sort")(
        required=False, default="-searches_52w", help_text="As of the ledger; within each level."
    )
    c = serializers.ListField(
        child=ConditionText(max_length=MAX_LENGTH), max_length=MAX_CONDITIONS, required=False,
        default=list, help_text="Conditions on categories, as of the ledger.",
    )  # fmt: skip
    find = Text(
        required=False, default="", max_length=200, help_text="Letters that the name must have."
    )
    open = serializers.ListField(
        child=Text(max_length=200), required=False, default=list,
        help_text="Ids of categories whose children are shown.",
    )  # fmt: skip
    figures = grammar_field("FigureKeys")(
        required=False, default="", help_text="Keys of figures that rows carry besides."
    )
    lens = lens_field("open_reviews=0.5,settled_age=0")


class Tree(APIView):
    """The tree of a market's categories."""

    @extend_schema(
        operation_id="catalogue",
        parameters=[TreeQuery],
        responses={200: s.CategoryTree, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = TreeQuery.asked(request)
        market = market_named(wanted["market"])
        order, conditions = order_of(wanted["sort"], CATEGORY), sieve_of(wanted["c"], CATEGORY)
        extra = figures_asked({**wanted, "of": CATEGORY})
        figures = dict.fromkeys([*(FIGURES_BY_KEY[key] for key in OWN), *extra])
        field = Field(market.run, CATEGORY, lens_of(wanted["lens"], market.run, CATEGORY))
        columns = field.columns
        every = np.ones(columns.count, dtype=bool)
        sifted = field.sift(conditions)
        passes = sifted.passes
        if low := wanted["find"].casefold():
            passes = passes & np.array(
                [low in name.casefold() for name in columns.names], dtype=bool
            )
        sieved = bool(low) or any(c.on for c in conditions)
        found = read_tree(
            columns, field.order(order, every), wanted["open"], passes if sieved else None
        )
        places = np.array([row.place for row in found.rows], dtype=np.int64)
        strips = columns.cells(FIGURES_BY_KEY["season_profile"], places)
        cells = {f.key: columns.cells(f, places, field.lens) for f in figures}
        return Response(
            {
                "rows": [
                    {
                        "id": columns.ids[row.place],
                        "name": columns.names[row.place],
                        "depth": row.depth,
                        "children": row.children,
                        "open": row.open,
                        "passes": row.passes,
                        "decision": field.decisions.get(columns.ids[row.place]),
                        "season_profile": strips[i],
                        "cells": {key: values[i] for key, values in cells.items()},
                    }
                    for i, row in enumerate(found.rows)
                ],
                "conditions": condition_rows(conditions, sifted.removes, market.currency),
                "shown": found.shown,
                "passing": int(passes.sum()),
                "total": columns.count,
            }
        )


class CategoryQuery(MarketQuery):
    """One category of a market."""

    category = Text(max_length=500, help_text="Id of the category.")


class GlanceQuery(CategoryQuery):
    """One category, and by which lens it is open and settled."""

    lens = lens_field("open_reviews=0.5,settled_age=0")


def reading_asked(wanted: dict[str, Any]) -> CategoryReading:
    """The reading of the category that a ``CategoryQuery`` names. Raises Problem where there is none."""
    market = market_named(wanted["market"])
    found = category_reading(market.run, wanted["category"])
    if found is None:
        raise Problem(
            404, "There is no such category", f"“{wanted['category']}” is not in {market.name}."
        )
    return found


class CategoryView(APIView):
    """A category at a glance: how big, when, and how open."""

    @extend_schema(
        operation_id="category",
        parameters=[GlanceQuery],
        responses={200: s.CategoryAtAGlance, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = GlanceQuery.asked(request)
        reading = reading_asked(wanted)
        lens = lens_of(wanted["lens"], reading.run, CATEGORY)
        figures, tree = reading.figures_under(lens), reading.tree

        def named(places: Any) -> list[dict[str, str]]:
            return [{"id": tree.ids[at], "name": tree.names[at]} for at in places]

        said: dict[str, list[str | None]] = {
            "openness": [openness_sentence(figures), settledness_sentence(figures)],
            "size": [*demand_answers(figures, CATEGORY)],
            "newness": [newcomers_sentence(figures), launches_sentence(figures)],
            "holders": [lorenz_sentence(figures), brand_sentence(figures)],
        }
        return Response(
            {
                "id": reading.id,
                "name": reading.name,
                "above": named(reading.above),
                "siblings": named(reading.siblings.tolist()),
                "children": named(reading.children.tolist()),
                **asdict(standing(reading.run.market.market_id, reading.id, CATEGORY)),
                **{key: [one for one in lines if one] for key, lines in said.items()},
                "lead_days": reading.settings.lead_days,
                "calendar": shape_sentence(figures),
                "searches": _searches(reading),
                "years": _years(reading),
                "windows": [asdict(one) for one in windows_of(reading)],
                "parts": _parts(figures),
                "condition": InCategory(_unmistaken(reading)).text,
                "figures": {f.column: figures[f.key] for f in figures_of(CATEGORY)},
            }
        )


def _parts(figures: Mapping[str, Any]) -> list[dict[str, Any]]:
    rows = []
    for index, parts in (("openness", OPENNESS), ("settledness", SETTLEDNESS)):
        for part in parts:
            log = figures[f"{index}_parts.{part.column}"]
            lifts = None if log is None else float(np.expm1(log))
            rows.append({"index": index, "figure": part.figure, "lifts": lifts})
    return rows


def _unmistaken(reading: CategoryReading) -> str:
    """Its name, or its id where another category of the market is called the same."""
    name, tree = reading.name.casefold(), reading.tree
    alike = sum(
        name in (one.casefold(), key.casefold())
        for one, key in zip(tree.names, tree.ids, strict=True)
    )
    return reading.name if alike == 1 else reading.id


def _years(reading: CategoryReading) -> list[dict[str, Any]]:
    curve = reading.curve("searches")
    if curve is None:
        return []
    found = years_of(curve[1], curve[0])
    return [{"year": year, "values": values} for year, values in found.items()]


def _searches(reading: CategoryReading) -> dict[str, Any] | None:
    curve = reading.curve("searches")
    if curve is None or np.isnan(curve[1]).all():
        return None
    timeline, values = curve
    return {
        "period": timeline.period.value,
        "first": timeline.first,
        "values": [plain(value, 2) for value in values],
        "level": plain_list(drift_line(values, timeline, reading.settings), 2),
    }


class CategoryCurvesQuery(CategoryQuery):
    """Which curves, and whether their calendar is taken out."""

    season = ChoiceQuery(["in", "out"], default="in", help_text="out: without its calendar.")
    curve = serializers.ListField(
        child=ChoiceQuery(KEYS), required=False, default=list, help_text="Only these."
    )


class Curves(APIView):
    """The curves of a category, with or without their seasons."""

    @extend_schema(
        operation_id="category_curves",
        parameters=[CategoryCurvesQuery],
        responses={200: ShownCurve(many=True), **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = CategoryCurvesQuery.asked(request)
        made = category_curves(
            reading_asked(wanted), wanted["curve"] or KEYS, without_season=wanted["season"] == "out"
        )
        return Response(ShownCurve(made, many=True).data)


class Sold(APIView):
    """What is sold in a category, by whom, at what prices, and what comes back."""

    @extend_schema(
        operation_id="category_sold",
        parameters=[CategoryQuery],
        responses={200: s.CategorySold, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        reading = reading_asked(CategoryQuery.asked(request))
        found, back = sold_overview(reading), returned(reading)
        above = reading.tree.names[reading.above[-1]] if reading.above else ""
        more, less = (
            [one.theme for one in back.reasons if one.says == way] for way in ("more", "less")
        )
        made = asdict(found)
        prices = made["prices"]
        for key in ("median", "median_then"):
            prices[key] = None if np.isnan(prices[key]) else prices[key]
        currency = reading.run.market.currency
        for what, plural in (("brand", "brands"), ("seller", "sellers")):
            own = made[plural]
            first: dict[str, Any] = own["top"][0] if own["top"] else {"name": "", "share": None}
            own["sentence"] = holders_sentence(
                what, plural, own["count"], first["name"], first["share"], own["selling"],
                own["selling_before"],
            )  # fmt: skip
        return Response(
            made
            | {
                "prices": {
                    **prices,
                    "sentence": prices_sentence(prices["median"], prices["median_then"], currency),
                },
                "wanted": _wanted(found),
                "attributes": [
                    {"attribute": name, "values": values}
                    for name, values in made["attributes"].items()
                ],
                "leaders_share": shared_sentence("the leaders", _shared(found.leaders_share)),
                "newest_share": shared_sentence("the best newcomers", _shared(found.newest_share)),
                "returned": {
                    **asdict(back),
                    "sentence": returned_sentence(
                        back.rate, back.above_rate, above, more[:TOLD], less[:TOLD], back.beside
                    ),
                },
            }
        )


def _wanted(found: SoldOverview) -> str:
    def named(says: str) -> list[str]:
        rows = [
            (abs(one.unit_share - one.listing_share), f"{name} {one.value}")
            for name, values in found.attributes.items()
            for one in values
            if one.says == says
        ]
        return [text for _, text in sorted(rows, reverse=True)[:TOLD]]

    return wanted_sentence(named("wanted"), named("oversupplied"), bool(found.attributes))


def _shared(found: list[Shared]) -> list[tuple[str, str, int, int, int, int]]:
    return [
        (one.attribute, one.value, one.held, one.chosen, one.held_by_others, one.others)
        for one in found[:TOLD]
    ]


class RangesQuery(CategoryQuery):
    """Figures over the niches of a category."""

    figures = grammar_field("FigureKeys")(
        required=False, default=",".join(RANGES), help_text="Keys of figures of numbers, of niches."
    )


class Ranges(APIView):
    """How figures are spread over the niches of a category."""

    @extend_schema(
        operation_id="category_ranges",
        parameters=[RangesQuery],
        responses={200: s.CategoryRanges, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = RangesQuery.asked(request)
        figures = [figure_of_kind(one.key, NICHE) for one in figures_asked({**wanted, "of": NICHE})]
        for one in figures:
            if one.choices or one.type not in NUMBERS:
                raise Problem(
                    400, "That is no number", f"“{one.key}” has no range; choose another figure."
                )
        reading = reading_asked(wanted)
        _, inside = niches_in(reading)
        return Response(
            {
                "niches": int(inside.sum()),
                "ranges": [asdict(one) for one in ranges_of(reading, figures)],
            }
        )
