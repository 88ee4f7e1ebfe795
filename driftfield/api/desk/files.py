"""The shortlist as a file: its columns and rows."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from driftfield.core.market import Kind
from driftfield.desk.remembered import remembered_figures
from driftfield.desk.shortlist import Entry
from driftfield.exchange.lists import Column, figure_column


def shortlist_file(
    kind: Kind, entries: Sequence[Entry], currency: str
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
            figure_column(figure, currency, key=f"then.{figure.key}", prefix="Then: "),
            figure_column(figure, currency, key=f"now.{figure.key}", prefix="Now: "),
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
