"""Lists for other programs, and text that would run there as a formula."""

import csv
import io
import json
from datetime import date
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from driftfield.core.market import FIGURES_BY_KEY
from driftfield.exchange.lists import Column, figure_column, write_list

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

    def test_a_sheet_shows_figures_as_they_are_read(self) -> None:
        keys = (
            "sales.price_median",
            "purchase_rate",
            "drift_rate_year",
            "searches_52w",
            "order_by",
        )
        columns = [
            Column("name", "Niche"),
            *(figure_column(FIGURES_BY_KEY[key], "GBP") for key in keys),
        ]
        row = {
            "name": "Moon filters",
            **dict(zip(keys, (18.5, 0.034, -0.1, 8_000.0, "2026-03-02"), strict=True)),
        }
        sheet = load_workbook(io.BytesIO(write_list("xlsx", "List", columns, [row]))).active
        head, cells = list(sheet.iter_rows())
        self.assertEqual(
            [cell.value for cell in head],
            [
                "Niche",
                "Price",
                "Purchase rate",
                "Drift a year",
                "Searches a year, searches",
                "Order by, next full season",
            ],
        )
        self.assertEqual([cell.value for cell in cells[1:5]], [18.5, 0.034, -0.1, 8_000])
        self.assertEqual(cells[5].value.date(), date(2026, 3, 2))
        self.assertTrue(cells[5].is_date)
        formats = [cell.number_format for cell in cells[1:4]]
        self.assertEqual(formats, ["[$£]#,##0.00", "0.0%", "+0.0%;−0.0%;0.0%"])
        # What the row is of and what the columns are stay in sight, and every column can be filtered.
        self.assertEqual(sheet.freeze_panes, "B2")
        self.assertEqual(sheet.auto_filter.ref, "A1:F2")

    def test_headings_elsewhere_say_the_unit(self) -> None:
        headings = [
            figure_column(FIGURES_BY_KEY[key], currency).heading
            for key, currency in (
                ("sales.price_median", "EUR"), ("sales.price_median", ""), ("sales.revenue_52w", "CHF"),
                ("purchase_rate", ""), ("drift_rate_year", ""), ("barriers.weight_g", ""),
            )
        ]  # fmt: skip
        self.assertEqual(
            headings,
            ["Price, €", "Price, in the market's currency", "Revenue a year, CHF",
             "Purchase rate, purchases a search, 1 = 100%", "Drift a year, 1 = +100%", "Weight of the top ten, g"],
        )  # fmt: skip

    def test_json_says_what_its_columns_mean(self) -> None:
        made = json.loads(write_list("json", "List", COLUMNS, ROWS))
        self.assertEqual(made["columns"]["n"], "Searches")
        self.assertEqual(made["rows"][0]["name"], "=1+2")
        self.assertEqual(made["rows"][0]["on"], "2026-03-02")
