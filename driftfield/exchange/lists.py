"""Lists for other programs: CSV, XLSX and JSON of the same columns and rows.

What begins like a formula is kept from being one (see ``formulas``). Numbers stay numbers.
"""

from __future__ import annotations

import csv
import io
import json
import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any, Literal

import xlsxwriter

from .formulas import RISKY, harmless

Form = Literal["csv", "xlsx", "json"]
FORMS: dict[Form, str] = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "json": "application/json",
}
WIDEST, NARROWEST = 60, 9  # Letters a column of a sheet may be wide.


@dataclass(frozen=True, slots=True)
class Column:
    """A column of a list. key: its name in JSON. head: its heading, with the unit, elsewhere."""

    key: str
    head: str


def write_list(
    form: Form, title: str, columns: Sequence[Column], rows: Sequence[dict[str, Any]]
) -> bytes:
    """A list in one of FORMS. Rows hold values by column key; None and what is missing are empty."""
    if form == "json":
        return _json(title, columns, rows)
    return _csv(columns, rows) if form == "csv" else _xlsx(title, columns, rows)


def plain(value: Any) -> Any:
    """A cell: text, a number, a date or nothing, which is what no number is; lists are joined by semicolons."""
    if isinstance(value, list | tuple):
        return "; ".join(str(one) for one in value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, datetime):
        return value.isoformat(timespec="seconds")
    return _known(value)


def _csv(columns: Sequence[Column], rows: Sequence[dict[str, Any]]) -> bytes:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([harmless(column.head) for column in columns])
    for row in rows:
        cells = [plain(row.get(column.key)) for column in columns]
        writer.writerow([harmless(cell) if isinstance(cell, str) else cell for cell in cells])
    # The mark lets spreadsheets see that it is UTF-8.
    return out.getvalue().encode("utf-8-sig")


def _xlsx(title: str, columns: Sequence[Column], rows: Sequence[dict[str, Any]]) -> bytes:
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out, {"in_memory": True, "strings_to_urls": False})
    sheet = book.add_worksheet("".join(c for c in title if c not in "[]:*?/\\'")[:31] or "List")
    bold, day = book.add_format({"bold": True}), book.add_format({"num_format": "yyyy-mm-dd"})
    quoted = book.add_format()
    quoted.set_quote_prefix()
    sheet.freeze_panes(1, 0)
    for at, column in enumerate(columns):
        sheet.write_string(0, at, column.head, bold)
        widest = len(column.head)
        for line, row in enumerate(rows, start=1):
            value = plain(row.get(column.key))
            if value is None:
                continue
            if isinstance(value, date):
                sheet.write_datetime(line, at, datetime(value.year, value.month, value.day), day)
            elif isinstance(value, str):
                sheet.write_string(line, at, value, quoted if value.startswith(RISKY) else None)
            else:
                sheet.write_number(line, at, value)
            widest = max(widest, len(str(value)))
        sheet.set_column(at, at, min(max(widest, NARROWEST), WIDEST))
    book.close()
    return out.getvalue()


def _known(value: Any) -> Any:
    return None if isinstance(value, float) and not math.isfinite(value) else value


def _json(title: str, columns: Sequence[Column], rows: Sequence[dict[str, Any]]) -> bytes:
    listed = [{column.key: _known(row.get(column.key)) for column in columns} for row in rows]
    return json.dumps(
        {"title": title, "columns": {c.key: c.head for c in columns}, "rows": listed},
        ensure_ascii=False, indent=1, default=date.isoformat, allow_nan=False,
    ).encode()  # fmt: skip
