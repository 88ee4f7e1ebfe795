"""Views of all categories at once: as points and as an icicle."""

from __future__ import annotations

import numpy as np
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.catalogue import serializers as s
from driftfield.api.catalogue.views import _PROBLEMS, reading_asked
from driftfield.api.fields import Text
from driftfield.api.ledger.query import lens_field, lens_of
from driftfield.api.queries import ChoiceQuery, MarketQuery, market_named
from driftfield.core.market import CATEGORY, FIGURES_BY_KEY
from driftfield.desk.field import Field
from driftfield.readings.catalogue import ADDITIVE, read_icicle
from driftfield.readings.catalogue.found import tree_of
from driftfield.readings.columns import columns_of

POINTS = 400  # Categories of the chart.


class PointsQuery(MarketQuery):
    """By which lens categories are open and settled."""

    lens = lens_field("open_reviews=0.5,settled_age=0")


class Points(APIView):
    """Openness against settledness."""

    @extend_schema(
        operation_id="catalogue_points",
        parameters=[PointsQuery],
        responses={200: s.CategoryPoints, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = PointsQuery.asked(request)
        run = market_named(wanted["market"]).run
        field = Field(run, CATEGORY, lens_of(wanted["lens"], run, CATEGORY))
        columns = field.columns
        opened, settled = field.figure("openness"), field.figure("settledness")
        revenue = columns.figure("sales.revenue_52w")
        known = np.flatnonzero(~np.isnan(opened) & ~np.isnan(settled))
        first = known[np.argsort(-np.nan_to_num(revenue[known]), kind="stable")][:POINTS]
        shapes = columns.cells(FIGURES_BY_KEY["shape"], first)
        tree = tree_of(columns)
        return Response(
            {
                "points": [
                    {
                        "id": tree.ids[at],
                        "name": tree.names[at],
                        "above": "" if tree.parent[at] < 0 else tree.names[tree.parent[at]],
                        "openness": float(opened[at]),
                        "settledness": float(settled[at]),
                        "revenue": None if np.isnan(revenue[at]) else float(revenue[at]),
                        "shape": shapes[i],
                    }
                    for i, at in enumerate(first.tolist())
                ],
                "known": len(known),
                "total": columns.count,
            }
        )


class IcicleQuery(MarketQuery):
    """What an icicle is made of."""

    figure = ChoiceQuery(ADDITIVE, default=ADDITIVE[0], help_text="What pieces are sized by.")
    under = Text(
        required=False, default="", max_length=500, help_text="Id of the category it begins with."
    )


class IcicleView(APIView):
    """Categories as large as their share of what lies above them."""

    @extend_schema(
        operation_id="catalogue_icicle",
        parameters=[IcicleQuery],
        responses={200: s.CategoryIcicle, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = IcicleQuery.asked(request)
        run = market_named(wanted["market"]).run
        columns = columns_of(run, CATEGORY)
        under = reading_asked({**wanted, "category": wanted["under"]}) if wanted["under"] else None
        found = read_icicle(columns, wanted["figure"], None if under is None else under.place)
        places = np.array([one.place for one in found.pieces], dtype=np.int64)
        drift = {
            name: columns.cells(FIGURES_BY_KEY[key], places)
            for name, key in (
                ("drift", "drift_rate_year"), ("low", "drift_low"), ("high", "drift_high"),
            )
        }  # fmt: skip
        tree = tree_of(columns)
        return Response(
            {
                "pieces": [
                    {
                        "id": tree.ids[one.place], "name": tree.names[one.place], "depth": one.depth,
                        "start": one.start, "size": one.size, "value": one.value,
                        **{name: cells[i] for name, cells in drift.items()},
                    }
                    for i, one in enumerate(found.pieces)
                ],
                "whole": found.whole,
                "small": found.small,
                "unknown": found.unknown,
                "above": [
                    {"id": tree.ids[at], "name": tree.names[at]}
                    for at in (under.above if under is not None else [])
                ],
            }
        )  # fmt: skip
