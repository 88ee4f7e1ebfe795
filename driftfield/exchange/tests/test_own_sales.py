"""Own sales of niches and of listings as files: how they are read, and what they tell of estimates from ranks."""

import json
import tempfile
from pathlib import Path
from unittest import TestCase

import numpy as np
from click.testing import CliRunner, Result

from driftfield.cli.main import main
from driftfield.core.base import CoreError
from driftfield.exchange.estimates import EVERY, own_checks, own_listings
from driftfield.exchange.mapping.agreed import Agreed, table_as_it_stands
from driftfield.exchange.mapping.layout import look
from driftfield.exchange.mapping.model import Mapping, Use
from driftfield.exchange.mapping.propose import propose
from driftfield.exchange.mapping.tests.test_mapping import file_of
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.reader import read_package

from .packages import small_market, table, write
from .test_own_goods import Figures

DEMO = Path(__file__).resolve().parents[3] / "demo" / "harrow-quay.zip"
NONE = float("nan")
SOLD = "listing_id,week,units\nl1,2025-01-06,4\nl1,2025-01-13,6\nl2,2025-01-13,1\n"


class Read(TestCase):
    def read(self, **files: str) -> list[tuple]:
        with tempfile.TemporaryDirectory() as holder:
            package = read_package(write(Path(holder) / "in", **{**small_market(), **files}))
            frame = package.frames["own_sales"]
            names = [name for name in ("niche_id", "listing_id", "units") if name in frame.columns]
            return sorted(frame.select(names).rows(), key=str)

    def test_of_niches_of_listings_and_of_both(self) -> None:
        niches = table("niche_id,week,units", ("rf", "2025-01-06", 7))
        self.assertEqual(self.read(own_sales=niches), [("rf", 7.0)])
        self.assertEqual(self.read(own_sales=SOLD), [("l1", 4.0), ("l1", 6.0), ("l2", 1.0)])
        both = table(
            "niche_id,listing_id,week,units",
            ("rf", "", "2025-01-06", 7),
            ("", "l1", "2025-01-06", 4),
        )
        self.assertEqual(self.read(own_sales=both), [("rf", None, 7.0), (None, "l1", 4.0)])

    def test_several_files_of_which_each_has_one_of_them(self) -> None:
        """Files of other layouts, some by niche and some by listing, are one table."""
        files = {
            "by niche.csv": "Need,Week,Sold\nrf,2025-01-06,7\n",
            "a.csv": "Page,Week,Sold\nl1,2025-01-06,4\nl1,2025-01-13,6\n",
            "b.csv": "Page,Week,Sold\nl1,2025-01-06,4\nl2,2025-01-06,2\n",
        }
        when = Use("Week", "week"), Use("Sold", "units")
        agreed = {}
        for name, subject in (
            ("by niche.csv", Use("Need", "niche_id")),
            ("a.csv", Use("Page", "listing_id")),
        ):
            layout = look(file_of(name, files[name]))
            assert layout is not None
            agreed[layout.key] = Mapping("own_sales", (subject, *when))
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **small_market())
            for name, text in files.items():
                (folder / name).write_text(text)
            frame = read_package(folder, agreed=Agreed(agreed)).frames["own_sales"]
            # What stands in two files is one sale; what differs is a problem.
            self.assertEqual((frame.height, frame["units"].sum()), (4, 19))
            (folder / "b.csv").write_text(files["b.csv"].replace(",4", ",5"))
            with self.assertRaisesRegex(ExchangeError, "b.csv, line 2.*something else of the same"):
                read_package(folder, agreed=Agreed(agreed))
        with self.assertRaisesRegex(CoreError, "No column is niche_id or listing_id, one of which"):
            Mapping("own_sales", when).check()

    def test_sales_of_listings_are_ones_own_only_by_the_name_of_the_file(self) -> None:
        for name, text, expected in (
            ("sales.csv", SOLD, "listing_weeks"),
            ("own_sales.csv", SOLD, "own_sales"),
            ("sales.csv", SOLD.replace("listing_id", "niche_id"), "own_sales"),
        ):
            layout = look(file_of(name, text))
            assert layout is not None
            self.assertEqual(propose(layout, name).mapping.table, expected, name)
        layout = look(file_of("sales.csv", SOLD))
        assert layout is not None
        self.assertEqual(table_as_it_stands(file_of("sales.csv", SOLD), layout), "listing_weeks")


def told(*rows: tuple[float, ...]) -> Figures:
    """Listings by correction, low, high, from, assumed, estimated units and whether these are corrected."""
    keys = (
        "correction", "correction_low", "correction_high", "correction_from", "correction_assumed",
        "estimated_units", "corrected",
    )  # fmt: skip
    return Figures(
        {
            f"listing.{key}": list(one)
            for key, one in zip(keys, zip(*rows, strict=True), strict=True)
        }
    )


class Checks(TestCase):
    def records(self, figures: Figures, category: list[int]) -> list[dict]:
        lines = [("Growing",), ("Growing", "Bells"), ("Growing", "Pots"), ("Brewing",)]
        return own_checks(figures, np.array(category), lambda code: lines[code])

    def test_a_category_is_the_lowest_that_all_of_a_group_lie_in(self) -> None:
        low = (1.4, 1.1, 1.8, 6, 0, 90.0, 0)
        high = (0.7, 0.5, 0.9, 5, 5, NONE, NONE)
        vague = (1.1, 0.8, 1.5, 9, 2, 12.0, 1)
        unknown = (NONE,) * 7
        found = self.records(
            told(low, low, low, high, unknown, vague, vague), [1, 2, 1, 3, 3, 3, 1]
        )
        self.assertEqual([one["category"] for one in found], ["Growing", EVERY, "Brewing"])
        self.assertEqual([one["estimates"] for one in found], [3, 2, 0])
        self.assertEqual([one["corrected"] for one in found], [False, True, False])
        sentences = {one["category"]: one["sentence"] for one in found}
        self.assertTrue(sentences["Growing"].endswith("such estimates come out too low."))
        self.assertIn("taking it that nobody else sold them,", sentences["Brewing"])
        self.assertTrue(sentences["Brewing"].endswith("such estimates come out too high."))
        # An interval that holds 1 shows neither.
        self.assertIn("does not show them to be too high or too low", sentences[EVERY])
        self.assertIn("sold 2 of them", sentences[EVERY])

    def test_nothing_is_told_of_nobody(self) -> None:
        self.assertEqual(self.records(told((NONE,) * 7), [0]), [])

    def test_each_listing_with_its_own_sales(self) -> None:
        figures = Figures(
            {"listing.own_units": [NONE, 3, 90], "listing.own_ratio": [NONE, NONE, 1.5]}
        )
        names = {"id": ["a", "b", "c"], "name": ["A", "B", "C"]}
        rows = own_listings(figures, names)
        self.assertEqual([one["listing_id"] for one in rows], ["c", "b"])
        self.assertIn("its sales rank would say about 60", rows[0]["sentence"])
        self.assertEqual(rows[1]["sentence"], "You sold 3 units of it in the last year.")


class Command(TestCase):
    def run_it(self, source: Path, *words: str) -> Result:
        return CliRunner().invoke(main, ["estimates", str(source), *words])

    def test_the_goods_of_the_demo_market_that_sell_more_than_their_rank_says(self) -> None:
        done = self.run_it(DEMO)
        self.assertEqual(done.exit_code, 0, done.output)
        (bees,) = map(json.loads, done.stdout.splitlines())
        self.assertEqual((bees["category"], bees["own_listings"], bees["assumed"]), ("Bees", 7, 0))
        self.assertTrue(1 < bees["low"] < 1.4 < bees["high"], bees)
        self.assertFalse(bees["corrected"])
        corrected = self.run_it(DEMO, "--set", "correct_estimates=1")
        self.assertTrue(json.loads(corrected.stdout)["corrected"])
        self.assertEqual(len(self.run_it(DEMO, "--of", "listings").stdout.splitlines()), 9)

    def test_a_market_without_own_sales_of_listings_is_told_so(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            done = self.run_it(write(Path(holder) / "in", **small_market()))
        self.assertNotEqual(done.exit_code, 0)
        self.assertIn("No own sales of listings are known. Give an own_sales table", done.stderr)
