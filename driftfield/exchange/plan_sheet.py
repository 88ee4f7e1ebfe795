"""A plan for other programs: a workbook whose sums are formulas, its weeks as a list, and all of it as JSON."""

from __future__ import annotations

import io
import json
from collections.abc import Sequence
from datetime import date, datetime
from typing import Any

import xlsxwriter
from xlsxwriter.format import Format
from xlsxwriter.worksheet import Worksheet

from driftfield.core.base import CURRENCY_SIGNS

from .formulas import RISKY
from .lists import DAY, named_columns, write_list

WEEKS = ("week", "niche", "own", "paid", "low", "middle", "high")
FORMS = ("xlsx", "csv", "json")


def write_plan(form: str, niche: str, plan: dict[str, Any], document: dict[str, Any]) -> bytes:
    """A plan (``plan_record``) of a niche, with the inputs it was made from, in one of FORMS."""
    if form == "json":
        made = {"niche": niche, "inputs": document, "plan": plan}
        return json.dumps(made, ensure_ascii=False, indent=1, allow_nan=False).encode()
    if form == "csv":
        return write_list("csv", plan["name"], named_columns(WEEKS), weeks_of(plan))
    return _workbook(niche, plan, document)


def weeks_of(plan: dict[str, Any]) -> list[dict[str, Any]]:
    """A row a week: units expected, what is paid, and the balance."""
    expected = {one["week"]: one for one in plan["expected"]}
    paid: dict[str, float] = {}
    for one in plan["payments"]:
        paid[one["week"]] = round(paid.get(one["week"], 0) + one["amount"], 2)
    return [
        {
            **one, "niche": expected.get(one["week"], {}).get("niche"),
            "own": expected.get(one["week"], {}).get("own"), "paid": paid.get(one["week"]),
        }
        for one in plan["cash"]["weeks"]
    ]  # fmt: skip


class _Book:
    """A workbook with the formats that a plan takes; text that a spreadsheet would run stays text."""

    def __init__(self, currency: str) -> None:
        self.out = io.BytesIO()
        self.book = xlsxwriter.Workbook(self.out, {"in_memory": True, "strings_to_urls": False})
        sign = CURRENCY_SIGNS.get(currency, "")
        money = f"[${sign}]#,##0.00;[Red]-[${sign}]#,##0.00" if sign else "#,##0.00"
        self.bold = self.book.add_format({"bold": True, "text_wrap": True, "valign": "top"})
        self.money = self.book.add_format({"num_format": money})
        self.sum = self.book.add_format({"num_format": money, "bold": True, "top": 1})
        self.number = self.book.add_format({"num_format": "#,##0.0#"})
        self.whole = self.book.add_format({"num_format": "#,##0"})
        self.day = self.book.add_format({"num_format": DAY, "align": "left"})
        self.quoted = self.book.add_format()
        self.quoted.set_quote_prefix()

    def sheet(self, name: str, widths: Sequence[int]) -> Worksheet:
        made = self.book.add_worksheet(name)
        for at, width in enumerate(widths):
            made.set_column(at, at, width)
        return made

    def text(
        self, sheet: Worksheet, row: int, column: int, text: str, form: Format | None = None
    ) -> None:
        sheet.write_string(row, column, text, self.quoted if text.startswith(RISKY) else form)

    def dated(self, sheet: Worksheet, row: int, column: int, day: str | None) -> None:
        if day:
            found = date.fromisoformat(day)
            sheet.write_datetime(
                row, column, datetime(found.year, found.month, found.day), self.day
            )

    def done(self) -> bytes:
        self.book.close()
        return self.out.getvalue()


def _workbook(niche: str, plan: dict[str, Any], document: dict[str, Any]) -> bytes:
    book = _Book(plan["currency"])
    _order(book, niche, plan, document)
    _unit(book, plan)
    _payments(book, plan)
    _weeks(book, plan)
    return book.done()


def _order(book: _Book, niche: str, plan: dict[str, Any], document: dict[str, Any]) -> None:
    """The order sheet: what is ordered of whom, when, and what it costs."""
    sheet = book.sheet("Order", (30, 22))
    quote, bill, dates = document.get("quote") or {}, plan["bill"], plan["dates"]
    lines = [("plan", plan["name"]), ("niche", niche), ("supplier", str(quote.get("name") or ""))]
    for row, (head, text) in enumerate(lines):
        book.text(sheet, row, 0, head, book.bold)
        book.text(sheet, row, 1, text)
    days = [("ordered", dates["ordered"]), ("on sale", dates["on_sale"][0]), ("sold for until", dates["until"]),
            ("order by, for all of the season", dates["order_by"])]  # fmt: skip
    for row, (head, day) in enumerate(days, start=3):
        book.text(sheet, row, 0, head, book.bold)
        book.dated(sheet, row, 1, day)
    book.text(sheet, 8, 0, "units", book.bold)
    sheet.write_number(8, 1, bill["units"], book.whole)
    book.text(sheet, 9, 0, "unit cost, ex works", book.bold)
    sheet.write_number(9, 1, bill["unit_cost"], book.money)
    book.text(sheet, 10, 0, "goods", book.bold)
    sheet.write_formula(10, 1, "=ROUND(B9*B10,2)", book.money, bill["goods"])
    for row, name in enumerate(("freight", "duty"), start=11):
        book.text(sheet, row, 0, name, book.bold)
        sheet.write_number(row, 1, bill[name], book.money)
    book.text(sheet, 13, 0, "landed", book.bold)
    borne = "" if bill["reclaimed"] else "+B16"
    sheet.write_formula(13, 1, f"=SUM(B11:B13){borne}", book.sum, bill["landed"])
    book.text(sheet, 14, 0, "landed a unit", book.bold)
    sheet.write_formula(14, 1, "=B14/B9", book.money, bill["landed"] / bill["units"])
    tax = "tax on imports, reclaimed" if bill["reclaimed"] else "tax on imports"
    book.text(sheet, 15, 0, tax, book.bold)
    sheet.write_number(15, 1, bill["import_tax"], book.money)
    told = [f"{what}: {text}" for what, text in _sources(document)]
    for row, text in enumerate([plan["sentence"], *plan["warnings"], *told], start=17):
        book.text(sheet, row, 0, text)


def _sources(document: dict[str, Any]) -> list[tuple[str, str]]:
    """Where the inputs come from, as far as that is said."""
    parts = [("quote", document.get("quote")), ("selling", document.get("selling")),
             ("product", document.get("product"))]  # fmt: skip
    parts += [(f"way {way.get('name') or ''}", way) for way in document.get("transport") or []]
    found = []
    for what, part in parts:
        said = [str(part[key]) for key in ("source", "day") if part and part.get(key)]
        said += ["assumed"] if part and part.get("assumed") else []
        if said:
            found.append((what, ", ".join(said)))
    return found


def _unit(book: _Book, plan: dict[str, Any]) -> None:
    sheet = book.sheet("Unit", (26, 14))
    lines = [(name, amount) for name, amount in plan["unit"].items() if name != "left"]
    for row, (name, amount) in enumerate(lines):
        book.text(sheet, row, 0, name, book.bold)
        sheet.write_number(row, 1, amount, book.money)
    book.text(sheet, len(lines), 0, "left a unit", book.bold)
    sheet.write_formula(len(lines), 1, f"=SUM(B1:B{len(lines)})", book.sum, plan["unit"]["left"])


def _payments(book: _Book, plan: dict[str, Any]) -> None:
    sheet = book.sheet("Payments", (22, 16, 14))
    for column, head in enumerate(("what", "week of", "amount")):
        book.text(sheet, 0, column, head, book.bold)
    paid = plan["payments"]
    for row, one in enumerate(paid, start=1):
        book.text(sheet, row, 0, one["what"])
        book.dated(sheet, row, 1, one["week"])
        sheet.write_number(row, 2, one["amount"], book.money)
    total = round(sum(one["amount"] for one in paid), 2)
    end = len(paid) + 1
    book.text(sheet, end, 0, "in all", book.bold)
    sheet.write_formula(end, 2, f"=SUM(C2:C{end})" if paid else "=0", book.sum, total)


def _weeks(book: _Book, plan: dict[str, Any]) -> None:
    heads = ("week of", "units of the niche", "own units, expected", "paid", "balance, one in ten below",
             "balance, middle", "balance, one in ten above")  # fmt: skip
    sheet = book.sheet("Weeks", (14, 14, 14, 14, 16, 14, 16))
    sheet.freeze_panes(1, 1)
    for column, head in enumerate(heads):
        book.text(sheet, 0, column, head, book.bold)
    rows = weeks_of(plan)
    forms = (None, book.number, book.number, book.money, book.money, book.money, book.money)
    for row, one in enumerate(rows, start=1):
        book.dated(sheet, row, 0, one["week"])
        for column, name in enumerate(WEEKS[1:], start=1):
            if one[name] is not None:
                sheet.write_number(row, column, one[name], forms[column])
    end = len(rows) + 1
    book.text(sheet, end, 0, "in all, lowest", book.bold)
    own = sum(one["own"] or 0 for one in rows)
    sheet.write_formula(end, 2, f"=SUM(C2:C{end})", book.number, own)
    sheet.write_formula(end, 3, f"=SUM(D2:D{end})", book.sum, sum(one["paid"] or 0 for one in rows))
    sheet.write_formula(end, 5, f"=MIN(F2:F{end})", book.sum, min(one["middle"] for one in rows))
