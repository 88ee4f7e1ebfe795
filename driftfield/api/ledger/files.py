"""The ledger as a file: its columns and rows."""

from __future__ import annotations

from typing import Any

from driftfield.core.market import FigureType
from driftfield.desk.models import Remark
from driftfield.exchange.lists import Column, figure_column
from driftfield.market.models import Market

from .query import columns_of_ledger, figures_asked, read_asked, rows_of

CHUNK = 5_000  # Rows read from the store in one go.


def ledger_file(
    wanted: dict[str, Any], market: Market
) -> tuple[list[Column], list[dict[str, Any]]]:
    """Columns and rows of all the ledger shows: its own figures, those asked for, the remarks."""
    asked = read_asked(wanted, market)
    kind = asked.field.columns.kind
    own = [f for f in columns_of_ledger(kind) if f.type is not FigureType.PROFILE]
    extra = [f for f in figures_asked(wanted) if f not in own]
    name = kind.name.capitalize()
    columns = [
        Column("id", f"{name} id"), Column("name", name), Column("category", "Category"),
        Column("decision", "Decision"), Column("note", "Note"), Column("tags", "Tags"),
        *(figure_column(figure, market.currency) for figure in [*own, *extra]),
    ]  # fmt: skip
    found = Remark.objects.filter(market_id=market.market_id, kind=kind.key)
    remarks = {one.subject: one for one in found}
    rows = []
    places = asked.every_place
    for start in range(0, len(places), CHUNK):
        for row in rows_of(asked, places[start : start + CHUNK], extra):
            remark = remarks.get(row["id"])
            row |= {figure.key: row[figure.column] for figure in own} | row["extra"]
            row |= {"note": remark and remark.note, "tags": remark and remark.tags}
            rows.append(row)
    return columns, rows
