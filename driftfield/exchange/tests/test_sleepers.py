"""Sleepers on the command line: from the demo market, and from tables that lack what is needed."""

import csv
import tempfile
from datetime import date
from pathlib import Path
from unittest import TestCase

import numpy as np
import polars as pl
from click.testing import CliRunner, Result

from driftfield.cli.main import main
from driftfield.core.base import DEFAULTS, CoreError
from driftfield.exchange.market_data import assemble
from driftfield.exchange.reader import read_package
from driftfield.exchange.sleepers import COLUMNS, Asked, Time, find_sleepers

from .packages import small_market, write

DEMO = Path(__file__).resolve().parents[3] / "demo" / "harrow-quay.zip"


class Times(TestCase):
    def test_a_month_is_the_latest_of_its_name(self) -> None:
        wanted = Time.of_month("2026-10")
        self.assertEqual((wanted.first, wanted.last), (date(2026, 10, 1), date(2026, 10, 31)))
        before = wanted.latest_upto(date(2026, 4, 30))
        self.assertEqual(
            (before.first, before.last, before.name),
            (date(2025, 10, 1), date(2025, 10, 31), "October 2025"),
        )
        self.assertEqual(
            Time.of_month("2028-02").latest_upto(date(2026, 4, 30)).last, date(2026, 2, 28)
        )
        for wrong in ("2026-13", "October", "26-10", "2026-10-99", ""):
            with self.assertRaisesRegex(CoreError, "write it as 2026-10"):
                Time.of_month(wrong)

    def test_a_feast_is_the_weeks_up_to_it(self) -> None:
        # Easter Sunday 2026 was 5 April, in 2025 20 April: tables of the Gregorian calendar.
        found = Time.of_feast("easter", date(2026, 4, 30))
        self.assertEqual((found.first, found.last), (date(2026, 3, 8), date(2026, 4, 5)))
        self.assertEqual(Time.of_feast("Easter", date(2026, 4, 4)).last, date(2025, 4, 20))
        with self.assertRaisesRegex(CoreError, "none of the feasts that move: Easter"):
            Time.of_feast("Harvest", date(2026, 4, 30))


class Command(TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.package = read_package(DEMO)
        cls.markets, _ = assemble(cls.package)
        cls.rows, _ = find_sleepers(cls.markets, Asked(), DEFAULTS)

    def run_on(self, folder: Path | str, *arguments: str, code: int = 0) -> Result:
        made = CliRunner().invoke(main, ["sleepers", str(folder), *arguments])
        self.assertEqual(made.exit_code, code, made.output)
        return made

    def test_the_demo_market_in_october(self) -> None:
        rows, when = find_sleepers(self.markets, Asked(month=Time.of_month("2026-10")), DEFAULTS)
        self.assertEqual((when, tuple(rows[0])), ("in October 2025", COLUMNS))
        for market in ("north", "south"):
            strong = [row["strong_4w"] for row in rows if row["market_id"] == market]
            self.assertEqual(strong, sorted(strong, reverse=True))
        for row in rows:
            self.assertEqual(row["best_on"], "2025-10-01")
            reasons = [row[name] for name in ("by_season", "out_of_stock", "unranked", "dearer")]
            self.assertIn("yes", reasons)
            if row["rise"] is not None:
                self.assertGreaterEqual(row["caught"], 0.5)
                days = (date.fromisoformat(row["rise"]) - date.fromisoformat(row["order_by"])).days
                self.assertEqual(days, 77)
            if row["expected_low"] is not None:
                self.assertTrue(row["expected_low"] <= row["expected_4w"] <= row["expected_high"])

    def test_what_it_says_is_what_the_tables_say(self) -> None:
        weeks = self.package.frames["listing_weeks"].sort("week")
        for row in self.rows[::40]:
            own = weeks.filter(pl.col("listing_id") == row["listing_id"])
            units = own["units"].to_list()
            # What was given up is told of up to then.
            if None in units or own["week"][-1] != weeks["week"][-1]:
                continue
            late = units[-15:]
            best = max(sum(late[at : at + 3]) for at in range(13)) / 3
            np.testing.assert_allclose(row["strong_4w"], best, rtol=1e-5)
            self.assertEqual(row["now_4w"], units[-1])

    def test_those_planted_are_told_with_their_reasons(self) -> None:
        for niche in ("north-bean-row-netting", "north-tomato-supports"):
            found = [row["why"] for row in self.rows if row["niche_id"] == niche]
            self.assertEqual(sorted(found), ["no rank", "no stock", "price"])

    def test_a_table_of_those_that_are_named(self) -> None:
        first = next(row for row in self.rows if row["category_id"] == "north-growing-bed-covers")
        with tempfile.TemporaryDirectory() as folder:
            ids, out = Path(folder) / "supplier.txt", Path(folder) / "found.csv"
            ids.write_text(f"https://quay.example/goods/{first['listing_id']}\nnobody\n", "utf-8")
            made = self.run_on(
                DEMO, "--ids-from", str(ids), "--lead-days", "30", "--category", "Growing", "--out", str(out)
            )  # fmt: skip
            (found,) = csv.DictReader(out.read_text("utf-8-sig").splitlines())
        self.assertIn("“nobody” is no listing here", made.output)
        self.assertIn("1 listing strong in their last season", made.output)
        self.assertEqual(found["listing_id"], first["listing_id"])
        days = date.fromisoformat(found["rise"]) - date.fromisoformat(found["order_by"])
        self.assertEqual(days.days, 30)

    def test_each_mistake_says_what_to_do(self) -> None:
        for arguments, say in (
            (("--in", "2026-10", "--at", "Easter"), "not both"),
            (("--in", "soon"), "write it as 2026-10"),
            (("--brand", "nobody at all"), "No listing is of a brand “nobody at all”"),
            (("--set", "sleeper_quiet=7"), "sleeper_quiet"),
            (("--planning-date", "2099-01-01"), "The planning date may lie"),
        ):
            with self.subTest(say), tempfile.TemporaryDirectory() as folder:
                small = write(Path(folder), **small_market())
                self.assertIn(say, self.run_on(small, *arguments, code=1).output)

    def test_tables_that_lack_what_is_needed(self) -> None:
        whole = small_market()
        for lacking in (
            "listings",
            "listing_weeks",
            "term_clicks",
            "categories",
            "offers",
            "sellers",
        ):
            files = {name: text for name, text in whole.items() if name != lacking}
            with self.subTest(lacking=lacking), tempfile.TemporaryDirectory() as folder:
                self.run_on(write(Path(folder), **files))
        bare = {"term_weeks": whole["term_weeks"]}
        with tempfile.TemporaryDirectory() as folder:
            made = self.run_on(write(Path(folder), **bare), code=1)
            self.assertIn("No listings are known", made.output)
