"""Lists as files: which columns they have, and the answer that carries them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request

from driftfield.core.market import Figure, FigureType, Kind
from driftfield.desk.models import Remark
from driftfield.desk.remembered import remembered_figures
from driftfield.desk.shortlist import Entry
from driftfield.exchange.lists import FORMS, Column, Form, write_list
from driftfield.market.models import Market

from .errors import Problem
from .ledger import columns_of_ledger, figures_asked, read_asked, rows_of


def file_answers(types: Iterable[str]) -> dict[Any, Any]:
    """How files of some media types are described; JSON is no file to those who read it."""
    bare = [kind.partition(";")[0] for kind in types]
    return {
        (200, kind): OpenApiTypes.OBJECT if kind.endswith("json") else OpenApiTypes.BINARY
        for kind in bare
    }


LISTED = file_answers(FORMS.values())
FORM = OpenApiParameter("as", str, enum=list(FORMS), description="Default csv.")
AT_ONCE = 5_000  # Rows read from the store in one go.


def form_of(request: Request) -> Form:
    """The form of file a request asks for."""
    form = request.query_params.get("as", "csv")
    if form not in FORMS:
        raise Problem(400, "There is no such form", f"as takes {', '.join(FORMS)}; “{form}” came.")
    return form


def file_response(
    form: Form, title: str, columns: Sequence[Column], rows: Sequence[dict[str, Any]]
) -> HttpResponse:
    """A list as a file to keep, named after its title."""
    response = HttpResponse(write_list(form, title, columns, rows), content_type=FORMS[form])
    response["Content-Disposition"] = f'attachment; filename="{file_name(title)}.{form}"'
    response["Cache-Control"] = "no-store"
    return response


def file_name(title: str) -> str:
    """A title as the name of a file, without its ending."""
    return "-".join("".join(c if c.isalnum() else " " for c in title.lower()).split())


def headed(figure: Figure, key: str = "", prefix: str = "") -> Column:
    """A figure as a column, its unit in the heading."""
    unit = f", {figure.unit}" if figure.unit else ""
    return Column(key or figure.key, f"{prefix}{figure.label}{unit}")


def ledger_list(request: Request, market: Market) -> tuple[list[Column], list[dict[str, Any]]]:
    """Columns and rows of all the ledger shows: its own figures, those asked for, the remarks."""
    asked = read_asked(request, market, {"figures", "as"})
    kind = asked.field.columns.kind
    own = [f for f in columns_of_ledger(kind) if f.type is not FigureType.PROFILE]
    extra = [f for f in figures_asked(request) if f not in own]
    name = kind.name.capitalize()
    columns = [
        Column("id", f"{name} id"), Column("name", name), Column("category", "Category"),
        Column("decision", "Decision"), Column("note", "Note"), Column("tags", "Tags"),
        *(headed(figure) for figure in [*own, *extra]),
    ]  # fmt: skip
    found = Remark.objects.filter(market_id=market.market_id, kind=kind.key)
    remarks = {one.subject: one for one in found}
    rows = []
    for start in range(0, len(asked.places), AT_ONCE):
        for row in rows_of(asked, asked.places[start : start + AT_ONCE], extra):
            remark = remarks.get(row["id"])
            row |= {figure.key: row[figure.column] for figure in own} | row["extra"]
            row |= {"note": remark and remark.note, "tags": remark and remark.tags}
            rows.append(row)
    return columns, rows


def shortlist_list(
    kind: Kind, entries: Sequence[Entry]
) -> tuple[list[Column], list[dict[str, Any]]]:
    """Columns and rows of a shortlist: the decision, then each figure as it was and as it is."""
    name = kind.name.capitalize()
    columns = [
        Column("place", "Place"), Column("id", f"{name} id"), Column("name", name),
        Column("category", "Category"), Column("decision", "Decision"), Column("reason", "Reason"),
        Column("decided_at", "Decided at"), Column("decided_as_of", "Figures then as of"),
        Column("as_of", "Figures now as of"), Column("note", "Note"), Column("tags", "Tags"),
    ]  # fmt: skip
    for figure in remembered_figures(kind):
        columns += [
            headed(figure, f"then.{figure.key}", "Then: "),
            headed(figure, f"now.{figure.key}", "Now: "),
        ]
    rows = []
    for place, entry in enumerate(entries, start=1):
        row: dict[str, Any] = {
            "place": place, "id": entry.id, "name": entry.name, "category": entry.category,
            "decision": entry.choice, "reason": entry.reason, "decided_at": entry.decided_at,
            "decided_as_of": entry.decided_as_of, "as_of": entry.as_of, "note": entry.note,
            "tags": entry.tags,
        }  # fmt: skip
        row |= {f"then.{key}": value for key, value in entry.then.items()}
        row |= {f"now.{key}": value for key, value in entry.now.items()}
        rows.append(row)
    return columns, rows
