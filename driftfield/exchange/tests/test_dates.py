"""Dates and figures that no market has: named with file and line, and never a timeline of thousands."""

import tempfile
from datetime import date, timedelta
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

from driftfield.exchange import blocks
from driftfield.exchange.checks import main_span
from driftfield.exchange.market_data import term_curves
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.reader import Package, read_package

from .packages import START, small_market, table, weekly, whole_market, write

WEEKS = weekly("copper rose", [30.0] * 160)


class Odd(TestCase):
    def read(self, **files: str) -> Package:
        with tempfile.TemporaryDirectory() as folder:
            return read_package(write(Path(folder) / "in", **files))

    def refused(self, **files: str) -> str:
        with self.assertRaises(ExchangeError) as caught:
            self.read(**files)
        return str(caught.exception)

    def test_a_mistyped_year_is_named_with_its_line(self) -> None:
        for year, day in (("1025", "1025-01-03"), ("9999", "9999-12-27"), ("1957", "1957-01-07"),
                          ("2062", "2062-01-02")):  # fmt: skip
            rows = [*WEEKS, ("copper rose", day, 4)]
            answer = self.refused(term_weeks=table("term,week,searches", *rows))
            self.assertIn("term_weeks.csv, line 162, column week", answer)
            self.assertIn(year, answer)
            self.assertIn("1 problem (", answer)

    def test_so_it_is_in_other_tables_in_wide_form_and_in_blocks(self) -> None:
        files = whole_market()
        files["listing_weeks"] = files["listing_weeks"].replace("2024-05-01", "1924-05-01", 1)
        self.assertIn("listing_weeks.csv, line 6, column week", self.refused(**files))
        files = small_market()
        files["listings"] = "listing_id,title,launched_on\nl1,Tall,0204-03-01\nl2,Small,\n"
        self.assertIn("listings.csv, line 2, column launched_on", self.refused(**files))
        days = [(START + timedelta(weeks=i)).isoformat() for i in range(60)]
        wide = table(f"term,{','.join(days)},2064-01-07", ("copper rose", *range(61)))
        self.assertIn("column 2064-01-07", self.refused(term_weeks=wide))
        rows = [*WEEKS * 40, ("copper rose", "1957-01-07", 4), *WEEKS]
        rows = [(f"{term} {i // 160}", *more) for i, (term, *more) in enumerate(rows)]
        with patch.object(blocks, "BLOCK", 4_000):
            answer = self.refused(term_weeks=table("term,week,searches", *rows))
        self.assertIn("line 6402, column week", answer)

    def test_old_series_are_read(self) -> None:
        months = [(f"{1949 + m // 12}-{m % 12 + 1:02}-01") for m in range(12 * 59)]
        rows = [("copper rose", month, 40) for month in months]
        package = self.read(term_weeks=table("term,week,searches", *rows))
        self.assertEqual(term_curves(package).timeline.length, 708)

    def test_a_record_longer_than_the_setting_is_a_problem(self) -> None:
        months = [f"{1940 + m // 12}-{m % 12 + 1:02}-01" for m in range(12 * 62)]
        rows = [("copper rose", month, 40) for month in months]
        answer = self.refused(term_weeks=table("term,week,searches", *rows))
        self.assertIn("more than 60 years before", answer)
        with tempfile.TemporaryDirectory() as folder:
            files = write(Path(folder) / "in", term_weeks=table("term,week,searches", *rows))
            self.assertEqual(
                len(term_curves(read_package(files, record_years=70)).timeline.slots), 744
            )

    def test_the_longest_run_of_dates_is_what_others_stand_apart_from(self) -> None:
        days = [date(2020, 1, 6) + timedelta(weeks=i) for i in range(4)]
        span = main_span([date(1990, 1, 1), *days, date(2031, 1, 6)])
        assert span is not None
        self.assertEqual((span.first, span.last), (days[0], days[-1]))
        self.assertEqual(span.apart(days[2] + timedelta(days=365)), 0)
        self.assertIsNone(main_span([]))

    def test_figures_above_their_range_are_named(self) -> None:
        for value in ("1e39", "1e308", "20000000000"):
            rows = [*WEEKS, ("rill gauge", WEEKS[0][1], value)]
            answer = self.refused(term_weeks=table("term,week,searches", *rows))
            self.assertIn("line 162, column searches", answer)
            self.assertIn("is above 10,000,000,000", answer)
        long = "x" * 501
        answer = self.refused(term_weeks=table("term,week,searches", *weekly(long, [3.0] * 4)))
        self.assertIn("more than 500 characters", answer)
