"""Views of what goes out: readings with every figure, and exchange tables."""

from __future__ import annotations

from tempfile import TemporaryFile
from typing import IO, Any

from django.http import FileResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from driftfield.exchange.readings import FORMATS, write_readings
from driftfield.intake.actions import export_zip
from driftfield.intake.scope import of_market, of_niches
from driftfield.readings.stored import stored_frame

from .errors import Problem
from .files import file_answers, file_name
from .ledger import YES, market_of, read_asked
from .parameters import chosen
from .serializers import ProblemDetail
from .views import ASKED

TYPES = {
    "jsonl": "application/jsonl",
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "parquet": "application/vnd.apache.parquet",
}
_PROBLEMS: dict[Any, Any] = dict.fromkeys((400, 404, 409), ProblemDetail)


def _sent(file: IO[bytes], name: str, kind: str) -> FileResponse:
    file.seek(0)
    response = FileResponse(file, as_attachment=True, filename=name, content_type=kind)
    response["Cache-Control"] = "no-store"
    return response


class ReadingsOut(APIView):
    """Every figure of the niches that the ledger shows, as a file: what bin/driftfield analyse writes."""

    @extend_schema(
        operation_id="readings_list",
        parameters=[
            *ASKED,
            OpenApiParameter("as", str, enum=list(FORMATS), description="Default csv."),
        ],
        responses={**file_answers(TYPES.values()), **_PROBLEMS},
    )
    def get(self, request: Request) -> FileResponse:
        form = request.query_params.get("as", "csv")
        if form not in FORMATS:
            raise Problem(
                400, "There is no such form", f"as takes {', '.join(FORMATS)}; “{form}” came."
            )
        market = market_of(request)
        asked = read_asked(request, market, {"as"})
        kind = asked.field.columns.kind
        frame = stored_frame(market.run, kind, asked.places)
        file = TemporaryFile()  # noqa: SIM115 (the response closes it)
        write_readings(kind, [frame], file, form)
        return _sent(file, f"{file_name(f'readings {market.name}')}.{form}", TYPES[form])


class TablesOut(APIView):
    """A market, or the niches that the ledger shows, as a zip of exchange tables."""

    @extend_schema(
        operation_id="tables_out",
        parameters=[
            *ASKED,
            OpenApiParameter(
                "all", str, enum=["yes"], description="The whole market, whatever is asked for."
            ),
            OpenApiParameter(
                "for",
                str,
                enum=["spreadsheets"],
                description="An apostrophe before text that a spreadsheet would run as a formula; such text "
                "does not come back as it was.",
            ),
        ],
        responses={(200, "application/zip"): OpenApiTypes.BINARY, **_PROBLEMS},
    )
    def get(self, request: Request) -> FileResponse:
        market = market_of(request)
        asked = read_asked(request, market, {"all", "for"})
        whole = bool(chosen(request, "all", YES))
        if not whole and not len(asked.places):
            raise Problem(404, "Nothing to export", "No niche passes the sieve.")
        keys = asked.field.columns.keys
        scope = of_market(market) if whole else of_niches(keys[asked.places].tolist())
        file = TemporaryFile()  # noqa: SIM115 (the response closes it)
        shown = bool(chosen(request, "for", ("spreadsheets",)))
        export_zip(file, scope, for_spreadsheets=shown)
        name = file_name(f"{market.name} {'tables' if whole else 'chosen tables'}")
        return _sent(file, f"{name}.zip", "application/zip")
