"""Views of how files are read: what they look like, what they may be, and a mapping tried on them."""

from __future__ import annotations

from dataclasses import asdict, replace
from functools import lru_cache
from pathlib import Path
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.errors import Problem
from driftfield.api.intake import mapping_serializers as s
from driftfield.api.shared import ProblemDetail
from driftfield.core.base import CoreError
from driftfield.exchange.mapping import (
    Alike,
    Mapping,
    fitting,
    look,
    look_through,
    propose,
    try_mapping,
)
from driftfield.exchange.mapping.dates import parse_day
from driftfield.exchange.mapping.model import SUBJECT_TABLES
from driftfield.exchange.mapping.units import units_of
from driftfield.exchange.problems import Problem as ProblemFound
from driftfield.exchange.tables import tables
from driftfield.intake.models import LayoutMapping
from driftfield.work import incoming

ROWS = 8  # First rows that are shown.
CELL = 200  # Characters of a cell that are shown.


@lru_cache(maxsize=4)
def _looked(path: Path, _stamp: tuple[tuple[str, int], ...]) -> tuple[list[Alike], list[str]]:
    """Packed files take a while to look into, and are asked for with every change of a mapping."""
    return look_through(path)


def _layouts(folder: str) -> tuple[list[Alike], list[str]]:
    place = incoming.folder_of(folder)
    stamp = tuple(
        (p.name, p.stat().st_mtime_ns)
        for p in sorted(place.iterdir())
        if not p.name.startswith(".")
    )
    return _looked(incoming.path_of(place), stamp)


def _row(
    alike: Alike, layout: Any, mapping: Mapping, doubts: list[str], kept_at: Any = None
) -> dict[str, Any]:
    return {
        "key": alike.layout.key,
        "files": [file.name for file in alike.files],
        "encoding": layout.encoding,
        "separator": layout.separator,
        "names": layout.names,
        "dated": [n for n in layout.names if mapping.spread and parse_day(n, mapping.dates)],
        "above": [line[:CELL] for line in layout.above],
        "rows": [[cell[:CELL] for cell in row] for row in layout.rows[:ROWS]],
        "table": alike.table,
        "mapping": mapping.as_dict(),
        "doubts": doubts,
        "kept_at": kept_at,
    }


class LayoutsOfUpload(APIView):
    """Uploaded files, by layout."""

    @extend_schema(
        operation_id="upload_layouts",
        responses={200: s.LookedThrough, 400: ProblemDetail, 409: ProblemDetail},
    )
    def get(self, request: Request, folder: str) -> Response:
        found, unread = _layouts(folder)
        kept = {one.layout: one for one in LayoutMapping.objects.all()}
        rows = []
        for alike in found:
            file, layout = alike.files[0], alike.layout
            before = kept.get(layout.key)
            if before is not None and not alike.table:
                mapping = Mapping.from_dict(before.mapping)
                layout = fitting(file, layout, mapping)
                rows.append(_row(alike, layout, mapping, [], before.saved_at))
            else:
                offered = propose(layout, file.name, alike.table)
                rows.append(_row(alike, layout, offered.mapping, offered.doubts))
        return Response(s.LookedThrough({"layouts": rows, "unread": unread}).data)


class TryMapping(APIView):
    """A mapping on the first rows; nothing is kept of it."""

    @extend_schema(
        operation_id="try_mapping",
        request=s.Try,
        responses={200: s.Tried, 400: ProblemDetail, 404: ProblemDetail, 409: ProblemDetail},
    )
    def post(self, request: Request, folder: str) -> Response:
        asked = s.Try(data=request.data)
        asked.is_valid(raise_exception=True)
        found, _ = _layouts(folder)
        alike = next((a for a in found if a.layout.key == asked.validated_data["layout"]), None)
        if alike is None:
            raise Problem(
                404, "No such files", "There are no files of this layout. Load the page again."
            )
        mapping = Mapping.from_dict(asked.validated_data["mapping"])
        file, doubts, lacks = alike.files[0], list[str](), ""
        layout = alike.layout
        if mapping.head != layout.head:
            layout = look(file, mapping.head) or layout
        if asked.validated_data["afresh"] and mapping.table:
            offered = propose(layout, file.name, mapping.table)
            mapping, doubts = replace(offered.mapping, head=mapping.head), offered.doubts
        frame, problems = None, list[ProblemFound]()
        try:
            frame, problems = try_mapping(file, layout, mapping)
        except CoreError as error:
            lacks = str(error)
        made = [] if frame is None else [list(row) for row in frame.head(ROWS).iter_rows()]
        return Response(
            s.Tried(
                {
                    "layout": _row(alike, layout, mapping, doubts),
                    "columns": [] if frame is None else frame.columns,
                    "made": [[c if c is None else str(c)[:CELL] for c in row] for row in made],
                    "problems": [asdict(problem) for problem in problems[:ROWS]],
                    "lacks": lacks,
                }
            ).data
        )


class ExchangeTables(APIView):
    """The tables that files can be read as."""

    @extend_schema(operation_id="exchange_tables", responses={200: s.TableRow(many=True)})
    def get(self, request: Request) -> Response:
        rows = [
            {
                "name": table.name,
                "description": table.description,
                "columns": [
                    {
                        "name": column.name, "type": column.type, "needed": column.required,
                        "description": column.description, "units": list(units_of(column)),
                    }
                    for column in table.columns
                ],
                "spreads": table.measures if table.name in SUBJECT_TABLES else [],
            }
            for table in tables().values()
        ]  # fmt: skip
        return Response(s.TableRow(rows, many=True).data)
