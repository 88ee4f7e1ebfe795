"""Lists for other programs, and text that would run there as a formula."""

import csv
import io
import json
from datetime import date
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from driftfield.exchange.lists import Column, write_list

COLUMNS = [
    Column("name", "Niche"),
    Column("n", "Searches"),
    Column("on", "Order by"),
    Column("tags", "Tags"),
]
ROWS = [
    {"name": "=1+2", "n": -4.5, "on": date(2026, 3, 2), "tags": ["clay", "spring"]},
    {"name": "Moon filters", "n": None, "on": None, "tags": []},
]
# Characters a cell must not begin with: OWASP, CSV Injection.
RISKY = "=+-@\t\r"


def from_csv(rows: list[dict]) -> list[list[str]]:
    text = write_list("csv", "List", COLUMNS, rows).decode("utf-8-sig")
    return list(csv.reader(io.StringIO(text, newline="")))


class Lists(TestCase):
    def test_csv_keeps_numbers_and_disarms_text(self) -> None:
        head, first, second = from_csv(ROWS)
        self.assertEqual(head, ["Niche", "Searches", "Order by", "Tags"])
        self.assertEqual(first, ["'=1+2", "-4.5", "2026-03-02", "clay; spring"])
        self.assertEqual(second, ["Moon filters", "", "", ""])

    @given(st.text(max_size=30).map(lambda t: t.replace("\0", "")))
    def test_no_text_begins_like_a_formula(self, text: str) -> None:
        cell = from_csv([{"name": text}])[1][0]
        self.assertNotIn(cell[:1] or "x", RISKY)
        self.assertTrue(cell.endswith(text))

    def test_a_sheet_holds_text_numbers_and_days_and_no_formula(self) -> None:
        data = write_list("xlsx", "Shortlist: Harrow/Quay", COLUMNS, ROWS)
        sheet = load_workbook(io.BytesIO(data)).active
        self.assertEqual(sheet.title, "Shortlist HarrowQuay")
        cells = list(sheet.iter_rows(min_row=2))
        self.assertEqual([cell.value for cell in cells[0][:2]], ["=1+2", -4.5])
        self.assertEqual(cells[0][0].data_type, "s")
        self.assertTrue(cells[0][0].quotePrefix)  # editing the cell makes no formula of it either
        self.assertEqual(cells[0][2].value.date(), date(2026, 3, 2))
        self.assertIsNone(cells[1][1].value)

    def test_json_says_what_its_columns_mean(self) -> None:
        made = json.loads(write_list("json", "List", COLUMNS, ROWS))
        self.assertEqual(made["columns"]["n"], "Searches")
        self.assertEqual(made["rows"][0]["name"], "=1+2")
        self.assertEqual(made["rows"][0]["on"], "2026-03-02")
