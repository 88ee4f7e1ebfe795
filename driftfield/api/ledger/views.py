"""Views of the ledger: what passes, in order, as rows, points, ids and files."""

from __future__ import annotations

from dataclasses import asdict, fields
from tempfile import TemporaryFile
from typing import IO, Any

from django.http import FileResponse, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.errors import Problem
from driftfield.api.fields import Text
from driftfield.api.files import LISTED, FormQuery, file_answers, file_name, file_response
from driftfield.api.ledger import serializers as s
from driftfield.api.ledger.files import ledger_file
from driftfield.api.ledger.points import PACKED, packed_points, plain_points, read_points
from driftfield.api.ledger.query import (
    SORTS,
    YES,
    LedgerQuery,
    PageQuery,
    RowsQuery,
    figure_of_kind,
    read_asked,
    read_ledger,
    sieve_of,
)
from driftfield.api.parameters import grammar
from driftfield.api.queries import (
    ChoiceQuery,
    KindQuery,
    MarketQuery,
    grammar_field,
    market_named,
)
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import distribution
from driftfield.core.market import LISTING, NICHE
from driftfield.core.sieve import (
    MAX_LENGTH,
    CategoryName,
    any_of,
    complete,
    figure_named,
    parse_clause,
    read_condition,
)
from driftfield.desk.field import Field
from driftfield.exchange.readings import FORMATS, write_readings
from driftfield.intake.actions import export_zip
from driftfield.intake.scope import of_market, of_niches
from driftfield.readings.columns import columns_of
from driftfield.readings.frame import stored_frame
from driftfield.readings.of_listings import Attributes

_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


class Ledger(APIView):
    """The ledger of a kind: what passes the conditions, in order."""

    @extend_schema(
        operation_id="ledger", parameters=[PageQuery], responses={200: s.Ledger, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        wanted = PageQuery.asked(request)
        # Plain values as they are stored: a serializer, or a copy, takes longer than finding them.
        made = read_ledger(wanted, market_named(wanted["market"]))
        return Response({field.name: getattr(made, field.name) for field in fields(made)})


class LedgerFileQuery(RowsQuery, FormQuery):
    """The same as a file."""


class LedgerFile(APIView):
    """The whole of what the ledger shows, as a file."""

    @extend_schema(
        operation_id="ledger_file",
        parameters=[LedgerFileQuery],
        responses={**LISTED, **_PROBLEMS},
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = LedgerFileQuery.asked(request)
        market = market_named(wanted["market"])
        return file_response(wanted["as"], f"field {market.name}", *ledger_file(wanted, market))


class LedgerIds(APIView):
    """The ids of all the ledger shows, in order: a list that stands while it is decided on."""

    @extend_schema(
        operation_id="ledger_ids", parameters=[LedgerQuery], responses={200: s.Queue, **_PROBLEMS}
    )
    def get(self, request: Request) -> Response:
        wanted = LedgerQuery.asked(request)
        asked = read_asked(wanted, market_named(wanted["market"]))
        shown = [asked.field.columns.ids[place] for place in asked.every_place.tolist()]
        among = set(shown)
        decided = {one: what for one, what in asked.field.decisions.items() if one in among}
        return Response({"ids": shown, "decisions": decided})


class PointsQuery(LedgerQuery):
    """What the ledger shows, and how its points are written."""

    vars()["as"] = ChoiceQuery(
        ("json", "packed"),
        default="json",
        help_text="Packed: the length of a JSON text in four bytes, that text with all but the numbers, then "
        "competition, demand, headroom, revenue and shape as float32, NaN for unknown; the lowest byte first.",
    )


class LedgerPoints(APIView):
    """What the ledger shows as points of the chart."""

    @extend_schema(
        operation_id="ledger_points",
        parameters=[PointsQuery],
        responses={
            (200, "application/json"): s.Points,
            (200, PACKED): OpenApiTypes.BINARY,
            **_PROBLEMS,
        },
    )
    def get(self, request: Request) -> HttpResponse:
        wanted = PointsQuery.asked(request)
        points = read_points(read_asked(wanted, market_named(wanted["market"])))
        if wanted["as"] == "packed":
            return HttpResponse(packed_points(points), content_type=PACKED)
        return Response(plain_points(points))


def _offer(text: str, currency: str) -> dict[str, str]:
    clause = parse_clause(text)
    return {"text": clause.text, "sentence": clause.sentence(currency)}


class ConditionQuery(MarketQuery):
    """A condition as it is being typed."""

    of = KindQuery()
    text = Text(required=False, default="", max_length=MAX_LENGTH, trim_whitespace=False)


class ConditionView(APIView):
    """What a text is read as, and what can be typed next."""

    @extend_schema(
        operation_id="condition",
        parameters=[ConditionQuery],
        responses={200: s.ConditionRead, 400: ProblemDetail, 404: ProblemDetail},
    )
    def get(self, request: Request) -> Response:
        wanted = ConditionQuery.asked(request)
        text, kind = wanted["text"], wanted["of"]
        market = market_named(wanted["market"])
        found = columns_of(market.run, NICHE).category_counts()
        categories = [CategoryName(name, path, niches) for path, name, _, niches in found]
        known = {text for _, name, code, _ in found for text in (name, code)}
        read: dict[str, Any] = (
            read_condition(text, market.currency, known, kind) if text.strip() else {}
        )
        figure = figure_named(text, kind)
        attributes = Attributes(columns_of(market.run, LISTING)) if kind == LISTING else {}
        completions = complete(text, categories, kind, attributes)
        blank: dict[str, Any] = {
            "condition": None,
            "sentence": None,
            "search": False,
            "problem": None,
        }
        return Response(
            blank
            | read
            | {
                "text": text,
                "offers": [_offer(one, market.currency) for one in read.get("offers", [])],
                "figure": figure and figure.key,
                "completions": [asdict(one) for one in completions],
            }
        )


grammar("FigureKey", {"pattern": f"^{any_of(SORTS)}$"})


class DistributionQuery(MarketQuery):
    """A figure of those that pass some conditions."""

    of = KindQuery()
    c = LedgerQuery().fields["c"]
    figure = grammar_field("FigureKey")()


class DistributionView(APIView):
    """How a figure is spread over those that pass."""

    @extend_schema(
        operation_id="distribution",
        parameters=[DistributionQuery],
        responses={200: s.Spread, **_PROBLEMS},
    )
    def get(self, request: Request) -> Response:
        wanted = DistributionQuery.asked(request)
        key, kind = wanted["figure"], wanted["of"]
        if key not in SORTS:
            raise Problem(400, "There is no such figure", f"Got “{key}”; figures lists the keys.")
        figure_of_kind(key, kind)
        field = Field(market_named(wanted["market"]).run, kind)
        inside = field.sift(sieve_of(wanted["c"], kind)).passes
        return Response(asdict(distribution(field.figure(key)[inside])))


TYPES = {
    "jsonl": "application/jsonl",
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "parquet": "application/vnd.apache.parquet",
}


def _sent(file: IO[bytes], name: str, media_type: str) -> FileResponse:
    file.seek(0)
    response = FileResponse(file, as_attachment=True, filename=name, content_type=media_type)
    response["Cache-Control"] = "no-store"
    return response


class ReadingsQuery(LedgerQuery):
    """What the ledger shows, and the form of the file."""

    vars()["as"] = ChoiceQuery(FORMATS, default="csv", help_text="Default csv.")


class ReadingsFile(APIView):
    """Every figure of what the ledger shows, as a file: what bin/driftfield analyse writes."""

    @extend_schema(
        operation_id="readings_file",
        parameters=[ReadingsQuery],
        responses={**file_answers(TYPES.values()), **_PROBLEMS},
    )
    def get(self, request: Request) -> FileResponse:
        wanted = ReadingsQuery.asked(request)
        market, kind, form = market_named(wanted["market"]), wanted["of"], wanted["as"]
        frame = stored_frame(market.run, kind, read_asked(wanted, market).every_place)
        file = TemporaryFile()  # noqa: SIM115 (the response closes it)
        write_readings(kind, [frame], file, form, currency=market.currency)
        return _sent(file, f"{file_name(f'readings {market.name}')}.{form}", TYPES[form])


class TablesQuery(LedgerQuery):
    """Which niches, and how their tables are written."""

    all = ChoiceQuery(YES, default="", help_text="The whole market, whatever is asked for.")
    vars()["for"] = ChoiceQuery(
        ("spreadsheets",),
        default="",
        help_text="An apostrophe before text that a spreadsheet would run as a formula; such text does not "
        "come back as it was.",
    )


class TablesFile(APIView):
    """A market, or the niches that the ledger shows, as a zip of exchange tables."""

    @extend_schema(
        operation_id="tables_file",
        parameters=[TablesQuery],
        responses={(200, "application/zip"): OpenApiTypes.BINARY, **_PROBLEMS},
    )
    def get(self, request: Request) -> FileResponse:
        wanted = TablesQuery.asked(request)
        market, whole = market_named(wanted["market"]), bool(wanted["all"])
        if wanted["of"] != NICHE:
            raise Problem(409, "Nothing to export", "Exchange tables are written of niches alone.")
        if market.run.linked:
            raise Problem(
                409,
                "Nothing to export",
                f"The tables of {market.name} lie in {market.run.data_set} already.",
            )
        asked = read_asked(wanted, market)
        if not whole and not len(asked.places):
            raise Problem(404, "Nothing to export", "No niche passes the sieve.")
        keys = asked.field.columns.keys
        scope = of_market(market) if whole else of_niches(keys[asked.places].tolist())
        file = TemporaryFile()  # noqa: SIM115 (the response closes it)
        export_zip(file, scope, for_spreadsheets=bool(wanted["for"]))
        name = file_name(f"{market.name} {'tables' if whole else 'chosen tables'}")
        return _sent(file, f"{name}.zip", "application/zip")
