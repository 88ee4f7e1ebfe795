"""The seed command, files in and JSON out."""

import csv
import json
import tempfile
from pathlib import Path
from unittest import TestCase

from click.testing import CliRunner

from driftfield.cli.main import main
from driftfield.exchange.tests.packages import small_market, table, weekly, write


class SeedCommand(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)

    def run_it(self, folder: Path, *arguments: object, code: int = 0) -> tuple[dict, str]:
        result = CliRunner().invoke(main, ["seed", str(folder), *map(str, arguments)])
        self.assertEqual(result.exit_code, code, result.output)
        return json.loads(result.stdout or "{}"), result.stderr

    def test_what_is_found_and_how_it_goes_on(self) -> None:
        folder = write(self.folder / "in", **small_market())
        found, _ = self.run_it(folder, "forcers", "--out", self.folder / "found.csv")
        self.assertEqual((found["seed"], found["how"], found["terms"]), ("forcers", "all", 2))
        self.assertEqual([one["name"] for one in found["before"]], ["r", "t"])
        self.assertEqual({one["name"] for one in found["beside"]}, {"rhubarb", "terracotta"})
        with (self.folder / "found.csv").open(encoding="utf-8", newline="") as file:
            rows = list(csv.DictReader(file))
        self.assertEqual([(r["term"], r["niche_id"]) for r in rows],
                         [("rhubarb forcer", "rf"), ("terracotta forcer", "rf")])  # fmt: skip
        self.assertAlmostEqual(sum(float(r["searches_52w"]) for r in rows), found["searches_52w"])
        less, _ = self.run_it(folder, "forcers", "--without", "terracotta")
        self.assertEqual(less["terms"], 1)
        none, _ = self.run_it(folder, "parsnip")
        self.assertEqual((none["terms"], none["searches_52w"], none["after"]), (0, None, []))

    def test_growth_is_that_of_a_year_so_that_the_season_cancels(self) -> None:
        """Monthly figures that rise by a tenth in the second year, with a season of twelve to one."""
        months = [f"{year}-{month:02}-01" for year in (2024, 2025) for month in range(1, 13)]
        height = [120 if int(day[5:7]) in (5, 6) else 10 for day in months]
        rows = [
            ("bee suit", day, round(h * (1.1 if day > "2025" else 1) * 10))
            for day, h in zip(months, height, strict=True)
        ]
        folder = write(self.folder / "in", term_weeks=table("term,week,searches", *rows))
        found, _ = self.run_it(folder, "bee")
        self.assertAlmostEqual(found["growth_52w"], 0.1, places=3)

    def test_a_word_is_drawn_and_can_be_drawn_again(self) -> None:
        folder = write(self.folder / "in", **small_market())
        one, _ = self.run_it(folder, "--draw", 5)
        again, _ = self.run_it(folder, "--draw", 5)
        self.assertEqual(one, again)
        self.assertGreaterEqual(one["terms"], 1)

    def test_what_cannot_be_done_is_said(self) -> None:
        folder = write(self.folder / "in", **small_market())
        for arguments, words in (
            ((), "Give the words to search for, or --draw NUMBER"),
            (("bee", "--draw", 3), "Give the words to search for, or --draw NUMBER"),
            (("bee", "--how", "like"), "“like” is not a way to search. Choose one of all, any, phrase"),
            (("…",), "A seed is a word or a phrase. Write one."),
            (("bee", "--market", "west"), "There is no market “west”. Known: north."),
            (("bee", "--language", "klingon"), "no stemmer for “klingon”"),
        ):  # fmt: skip
            with self.subTest(arguments=arguments):
                self.assertIn(words, self.run_it(folder, *arguments, code=1)[1])
        files = small_market()
        files["markets"] += "south,Harrow Quay South,EUR\n"
        files["niches"] = files["niches"].replace("Moon filters,,north", "Moon filters,,south")
        two = write(self.folder / "two", **files)
        told = self.run_it(two, "moon", code=1)[1]
        self.assertIn("There are several markets: north, south. Name one with --market.", told)
        self.assertEqual(self.run_it(two, "moon", "--market", "south")[0]["terms"], 1)
        index = table("term,week,index", *weekly("bee suit", [50] * 110))
        told = self.run_it(write(self.folder / "relative", interest=index), "bee", code=1)[1]
        self.assertIn("no counts of searches", told)
