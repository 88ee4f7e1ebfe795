"""Lists for other programs: CSV, XLSX and JSON of the same columns and rows.

What begins like a formula is kept from being one (see ``formulas``). Numbers stay numbers, days stay
days; a sheet shows amounts, shares and changes as they are read.
"""

from __future__ import annotations

import csv
import io
import json
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Any, Literal

import xlsxwriter

from driftfield.core.base import CURRENCY_SIGNS, MINUS
from driftfield.core.market import Figure, FigureType

from .formulas import RISKY, harmless

Form = Literal["csv", "xlsx", "json"]
FORMS: dict[Form, str] = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "json": "application/json",
}
WIDEST, NARROWEST = 60, 9  # Letters a column of a sheet may be wide.
LONG_NUMBER = 10  # Letters of a number as a sheet writes it.
NAMES = ("name", "term")  # Columns that say what a row is of.
FILTER = 3  # Letters that the button of a sheet's filter takes.
DAY, MOMENT = "d mmm yyyy", "d mmm yyyy h:mm"
# How a sheet writes a number, by what it is (ISO/IEC 29500-1, 18.8.31).
NUMBER_FORMATS = {
    FigureType.COUNT: "#,##0",
    FigureType.AMOUNT: "#,##0",
    FigureType.SHARE: "0.0%",
    FigureType.CHANGE: f"+0.0%;{MINUS}0.0%;0.0%",
    FigureType.RATIO: f"0.00;{MINUS}0.00",
    FigureType.SIGNED: f"0.00;{MINUS}0.00",
    FigureType.INDEX: "0.0",
}
SMALL = 100  # Below it an amount that is no money has decimals.
SMALL_AMOUNTS = f"[<{SMALL}]0.0#;#,##0"


@dataclass(frozen=True, slots=True)
class Column:
    """A column of a list.

    key: its name in JSON. head: its heading. unit: said with the heading, but for a sheet whose
    ``number_format`` shows it already.
    """

    key: str
    head: str
    unit: str = ""
    number_format: str = ""

    @property
    def heading(self) -> str:
        return f"{self.head}, {self.unit}" if self.unit else self.head

    @property
    def shows_unit(self) -> bool:
        """Whether a sheet's cells show the unit."""
        return "%" in self.number_format or "[$" in self.number_format


def named_columns(names: Iterable[str]) -> list[Column]:
    """Columns that are headed by their keys, as commands and files of other programs know them."""
    return [Column(name, name) for name in names]


def figure_column(figure: Figure, currency: str = "", *, key: str = "", prefix: str = "") -> Column:
    """A figure as a column; ``currency``: ISO 4217 code of its market's, if known."""
    unit = figure.unit
    number_format = NUMBER_FORMATS.get(figure.type, "")
    if figure.is_money:
        sign = CURRENCY_SIGNS.get(currency, currency)
        unit = unit.replace("currency", sign or "in the market's currency")
        number_format = f"[${sign}]#,##0.00" if sign else "#,##0.00"
    elif figure.type is FigureType.AMOUNT:
        number_format = SMALL_AMOUNTS
    elif figure.type is FigureType.SHARE:
        unit = f"{unit}, 1 = 100%"
    elif figure.type is FigureType.CHANGE:
        unit = "1 = +100%"
    elif figure.type is FigureType.DATE:
        number_format, unit = DAY, ""
    return Column(key or figure.key, f"{prefix}{figure.label}", unit, number_format)


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
    writer.writerow([harmless(column.heading) for column in columns])
    for row in rows:
        cells = [plain(row.get(column.key)) for column in columns]
        writer.writerow([harmless(cell) if isinstance(cell, str) else cell for cell in cells])
    # The mark lets spreadsheets see that it is UTF-8.
    return out.getvalue().encode("utf-8-sig")


def _xlsx(title: str, columns: Sequence[Column], rows: Sequence[dict[str, Any]]) -> bytes:
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out, {"in_memory": True, "strings_to_urls": False})
    sheet = book.add_worksheet("".join(c for c in title if c not in "[]:*?/\\'")[:31] or "List")
    bold = book.add_format({"bold": True, "text_wrap": True, "valign": "top"})
    quoted = book.add_format()
    quoted.set_quote_prefix()
    known = {DAY, MOMENT, *(column.number_format for column in columns)}
    formats = {one: book.add_format({"num_format": one}) for one in sorted(known)}
    # The heading stays in sight, and so does what the rows are of.
    named = next((at for at, column in enumerate(columns) if column.key in NAMES), -1)
    sheet.freeze_panes(1, named + 1)
    sheet.autofilter(0, 0, len(rows), max(len(columns) - 1, 0))
    for at, column in enumerate(columns):
        head = column.head if column.shows_unit else column.heading
        sheet.write_string(0, at, head, bold)
        widest = max(len(word) for word in head.split(" ")) + FILTER
        for line, row in enumerate(rows, start=1):
            value = _as_day(row.get(column.key), column)
            if value is None:
                continue
            if isinstance(value, datetime):
                # A sheet knows no zones: the moment is given in UTC.
                moment = value.astimezone(UTC).replace(tzinfo=None) if value.tzinfo else value
                sheet.write_datetime(line, at, moment, formats[MOMENT])
            elif isinstance(value, date):
                day = datetime(value.year, value.month, value.day)
                sheet.write_datetime(line, at, day, formats[DAY])
            elif isinstance(value, str):
                sheet.write_string(line, at, value, quoted if value.startswith(RISKY) else None)
            else:
                number_format = column.number_format
                sheet.write_number(
                    line, at, value, formats[number_format] if number_format else None
                )
            widest = max(
                widest, min(len(str(value)), LONG_NUMBER if isinstance(value, float) else WIDEST)
            )
        sheet.set_column(at, at, min(max(widest, NARROWEST), WIDEST))
    book.close()
    return out.getvalue()


def _as_day(value: Any, column: Column) -> Any:
    """A cell of a sheet: what is a day there, or a moment, is no text."""
    if isinstance(value, datetime):
        return value
    if column.number_format == DAY and isinstance(value, str):
        return date.fromisoformat(value)
    return plain(value)


def _known(value: Any) -> Any:
    return None if isinstance(value, float) and not math.isfinite(value) else value


def _json(title: str, columns: Sequence[Column], rows: Sequence[dict[str, Any]]) -> bytes:
    listed = [{column.key: _known(row.get(column.key)) for column in columns} for row in rows]
    return json.dumps(
        {"title": title, "columns": {c.key: c.heading for c in columns}, "rows": listed},
        ensure_ascii=False, indent=1, default=date.isoformat, allow_nan=False,
    ).encode()  # fmt: skip
