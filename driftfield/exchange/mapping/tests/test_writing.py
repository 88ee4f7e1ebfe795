"""Numbers, dates and units against what others publish of them."""

import random
from datetime import date, timedelta
from unittest import TestCase

import polars as pl
from babel.dates import format_date
from babel.numbers import format_decimal
from openpyxl.utils.datetime import to_excel

from driftfield.exchange.mapping.columns import look_at, uses_of
from driftfield.exchange.mapping.dates import find_day, monday_of, parse_day
from driftfield.exchange.mapping.numerals import plain_numbers, writing_of
from driftfield.exchange.mapping.units import LENGTH, MASS
from driftfield.exchange.mapping.words import fit
from driftfield.exchange.tables import tables

# Unicode Common Locale Data Repository, by way of babel.
LANGUAGES = (
    "en_GB",
    "en_US",
    "de",
    "de_CH",
    "fr",
    "it",
    "es",
    "nl",
    "sv",
    "pl",
    "cs",
    "fi",
    "da",
    "pt_BR",
)
MONDAYS = [date(2024, 1, 1) + timedelta(weeks=n) for n in range(120)]


class Numbers(TestCase):
    def test_numbers_of_fourteen_languages_are_read_back(self) -> None:
        rng = random.Random(3)
        values = [round(rng.uniform(0, 10 ** rng.randint(1, 7)), 2) for _ in range(80)]
        for language in LANGUAGES:
            with self.subTest(language):
                cells = [format_decimal(v, "#,##0.##", locale=language) for v in values]
                decimal, grouping, _ = writing_of(cells, ";")
                made, bad = plain_numbers(pl.Series("v", cells), decimal, grouping)
                self.assertFalse(bad.any(), [c for c, b in zip(cells, bad, strict=True) if b])
                self.assertEqual(made.cast(pl.Float64).to_list(), values)

    def test_groups_of_two_are_refused_and_not_misread(self) -> None:
        cell = format_decimal(1234567, locale="en_IN")
        self.assertEqual(cell, "12,34,567")
        _, bad = plain_numbers(pl.Series("v", [cell]), ".", ",")
        self.assertTrue(bad[0])

    def test_what_would_be_another_number_is_refused(self) -> None:
        for cell, decimal, grouping in (
            ("1.5", ",", "."), ("0.125", ",", "."), ("1,5", ".", ","), ("1.234", ",", ""), ("12,34", ".", ","),
            ("5%", ".", ""), ("1 234", ".", ""), ("1-2", ".", ""), ("abc", ".", ""), ("", ".", ""),
        ):  # fmt: skip
            made, bad = plain_numbers(pl.Series("v", [cell]), decimal, grouping)
            with self.subTest(cell):
                self.assertEqual(bad[0], cell != "")
                self.assertEqual(made[0], cell or None)

    def test_money_percent_and_nothing(self) -> None:
        cells = ["£12.50", "12.50 GBP", "€ 3", "−4", "1e3", "n/a", "–", None]
        made, bad = plain_numbers(pl.Series("v", cells), ".", "")
        self.assertFalse(bad.any())
        self.assertEqual(
            made.cast(pl.Float64).to_list(), [12.5, 12.5, 3, -4, 1000, None, None, None]
        )
        made, bad = plain_numbers(pl.Series("v", ["12,5 %", "3"]), ",", "", percent=True)
        self.assertEqual(made.to_list(), ["12.5", "3"])


class Dates(TestCase):
    def test_dates_of_fourteen_languages_are_read_back(self) -> None:
        for language in LANGUAGES:
            for form in ("short", "yyyy-MM-dd", "medium", "long"):
                if form in {"medium", "long"} and not language.startswith("en"):
                    continue  # Names of months are read in English only.
                with self.subTest(language=language, form=form):
                    cells = [format_date(day, form, locale=language) for day in MONDAYS]
                    order = look_at("week", cells, ".", "").order
                    self.assertEqual([parse_day(cell, order) for cell in cells], MONDAYS)

    def test_days_of_a_spreadsheet(self) -> None:
        cells = [str(int(to_excel(day))) for day in MONDAYS]
        self.assertEqual([parse_day(cell, "days") for cell in cells], MONDAYS)
        self.assertEqual(look_at("week", cells, ".", "").order, "days")
        self.assertEqual(look_at("searches", cells, ".", "").order, "")

    def test_iso_weeks(self) -> None:
        for day in MONDAYS:
            year, week, _ = day.isocalendar()
            self.assertEqual(parse_day(f"{year}-W{week:02}", "iso week"), day)
        self.assertIsNone(parse_day("2025-W53", "iso week"))

    def test_a_week_is_the_iso_week_that_shares_most_of_its_days(self) -> None:
        for shift in range(-3, 4):
            first = date(2026, 11, 9) + timedelta(days=shift)
            span = [first + timedelta(days=n) for n in range(7)]
            shared = [sum(d.isocalendar()[:2] == m.isocalendar()[:2] for d in span) for m in (
                date(2026, 11, 2), date(2026, 11, 9), date(2026, 11, 16))]  # fmt: skip
            self.assertEqual(max(shared), shared[1])
            self.assertEqual(monday_of(first, "first day of a week"), date(2026, 11, 9))
            self.assertEqual(monday_of(span[-1], "last day of a week"), date(2026, 11, 9))

    def test_what_is_no_date(self) -> None:
        for text in (
            "4.5",
            "12.50",
            "31.02.2026",
            "2026-13-01",
            "99/99/2026",
            "version 1.2.3",
            "",
            "week",
        ):
            for order in ("ymd", "dmy", "mdy", "ym", "my", "iso week"):
                self.assertIsNone(parse_day(text, order), (text, order))

    def test_a_date_within_other_text(self) -> None:
        for text in (
            "terms_2026-11-09.csv",
            "Report of 9.11.2026 to 15.11.2026",
            "W 20261109 x",
            "2026-W46 terms",
        ):
            self.assertEqual(find_day([text], "dmy"), date(2026, 11, 9), text)
        self.assertIsNone(find_day(["item 1234567890123"], "dmy"))


class UnitsAndNames(TestCase):
    def test_pound_and_inch(self) -> None:
        # NIST Special Publication 811, appendix B.8: 1 lb = 0.453 592 37 kg, 1 oz = 28.349 52 g, 1 in = 2.54 cm.
        self.assertEqual(MASS["lb"], 453.59237)
        self.assertAlmostEqual(MASS["oz"] * 16, MASS["lb"], places=9)
        self.assertEqual(LENGTH["in"], 25.4)

    def test_every_column_is_known_by_its_own_name_first(self) -> None:
        for table in tables().values():
            for column in table.columns:
                fits = {other.name: fit(column.name, table, other.name) for other in table.columns}
                self.assertEqual(max(fits, key=lambda name: fits[name]), column.name)
                self.assertEqual(fits[column.name], 1)

    def test_units_are_told_by_names_signs_and_size(self) -> None:
        # How such columns are headed is common practice, no source.
        for table, name, cells, column, unit in (
            ("listings", "Item weight (kg)", ["1.2", "0.4"], "weight_g", "kg"),
            ("listings", "Package weight in pounds", ["1.2", "0.4"], "weight_g", "lb"),
            ("listings", "Weight g", ["120", "40"], "weight_g", ""),
            ("listings", "Item length, inches", ["4", "7.5"], "length_mm", "in"),
            ("listings", "Package weight, lbs", ["1.2", "0.4"], "weight_g", "lb"),
            ("term_weeks", "Weekly searches", ["12", "14"], "searches", ""),
            ("term_weeks", "Number of searches", ["12", "14"], "searches", ""),
            ("listings", "Price in pence", ["1299", "899"], "price", "hundredths"),
            ("listings", "Return rate", ["2.5%", "4%"], "return_rate", "percent"),
            ("term_clicks", "Click share", ["12.5", "30", "0.4"], "click_share", "percent"),
            ("term_clicks", "Click share", ["0.125", "0.3", "1"], "click_share", ""),
            ("term_weeks", "Search volume (thousands)", ["1.2", "14"], "searches", "thousands"),
        ):
            with self.subTest(name, cells=cells):
                (use,) = uses_of(tables()[table], [look_at(name, cells, ".", "")])
                self.assertEqual((use.to, use.unit), (column, unit))

    def test_a_column_of_other_content_is_not_taken_for_its_name(self) -> None:
        for table, name, cells in (
            ("term_weeks", "Week", ["first", "second"]),
            ("term_weeks", "Searches", ["many", "few"]),
            ("feedback", "Tone", ["sharp", "dull"]),
            ("listings", "Sponsored", ["12", "17"]),
            ("listings", "Title", ["2026-11-09", "2026-11-16"]),
        ):
            with self.subTest(name):
                self.assertEqual(uses_of(tables()[table], [look_at(name, cells, ".", "")]), [])
