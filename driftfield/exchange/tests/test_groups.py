"""Niches made of a package's terms, as tables, and the command that writes them."""

import csv
import tempfile
from pathlib import Path
from unittest import TestCase

import numpy as np
import polars as pl
from click.testing import CliRunner
from sklearn.metrics import adjusted_rand_score

from driftfield.cli.main import main
from driftfield.core.base import CoreError
from driftfield.exchange.groups import GroupedTables, group_package
from driftfield.exchange.reader import read_package
from driftfield.exchange.tests.packages import START, small_market, table, weekly, write

DEMO = Path(__file__).resolve().parents[3] / "demo" / "harrow-quay.zip"


def niche_of(found: GroupedTables) -> dict[str, str]:
    return dict(found.terms.select("term", "niche_id").iter_rows())


class DemoMarket(TestCase):
    """The demo market's niches hidden, and found again (bars: adjusted Rand index, Hubert & Arabie 1985)."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.package = read_package(DEMO)
        cls.clicks = cls.package.frames["term_clicks"]
        terms = cls.package.frames["terms"]
        cls.truth = dict(terms.drop_nulls("niche_id").select("term", "niche_id").iter_rows())
        cls.market = dict(cls.package.frames["niches"].select("niche_id", "market_id").iter_rows())
        cls.whole = niche_of(group_package(cls.package, anew=True))

    def tearDown(self) -> None:
        self.package.frames["term_clicks"] = self.clicks

    def scores(self, found: dict[str, str], truth: dict[str, str]) -> list[float]:
        """By market, for what lies in two markets is apart whatever the method."""
        made = []
        for market in ("north", "south"):
            known = [t for t in found if t in truth and t in self.truth]
            terms = [t for t in known if self.market[self.truth[t]] == market]
            made.append(
                float(adjusted_rand_score([truth[t] for t in terms], [found[t] for t in terms]))
            )
        return made

    def test_by_clicks(self) -> None:
        self.assertGreaterEqual(min(self.scores(self.whole, self.truth)), 0.95)

    def test_by_words_alone(self) -> None:
        del self.package.frames["term_clicks"]
        found = group_package(self.package, anew=True)
        self.assertGreaterEqual(min(self.scores(niche_of(found), self.truth)), 0.75)
        self.assertTrue(any("By words, with less confidence" in note for note in found.notes))

    def test_a_tenth_of_the_clicks_lost(self) -> None:
        kept = np.random.default_rng(8).random(self.clicks.height) >= 0.1
        self.package.frames["term_clicks"] = self.clicks.filter(pl.Series(kept))
        found = niche_of(group_package(self.package, anew=True))
        self.assertGreaterEqual(min(self.scores(found, self.whole)), 0.9)

    def test_niches_lie_in_the_market_and_category_of_their_terms(self) -> None:
        found = group_package(self.package, anew=True)
        market = dict(found.niches.select("niche_id", "market_id").iter_rows())
        known = {t: n for t, n in niche_of(found).items() if t in self.truth}
        for term, niche in known.items():
            self.assertEqual(market[niche], self.market[self.truth[term]])
        category = dict(found.niches.select("niche_id", "category_id").iter_rows())
        real = dict(self.package.frames["niches"].select("niche_id", "category_id").iter_rows())
        right = [category[n] == real[self.truth[t]] for t, n in known.items() if category[n]]
        self.assertGreater(np.mean(right), 0.98)

    def test_terms_without_a_niche_find_theirs_and_no_other_is_touched(self) -> None:
        found = niche_of(group_package(self.package))
        self.assertEqual({t: n for t, n in found.items() if t in self.truth}, self.truth)
        for thing in ("sweet-pea climbing ring", "swarm lure vial", "tent pole splint"):
            niches = {n for t, n in found.items() if thing in t}
            self.assertEqual(len(niches), 1, thing)
            self.assertTrue(niches.isdisjoint(self.truth.values()), thing)


class Tables(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)

    def run_it(self, *arguments: object, code: int = 0) -> str:
        result = CliRunner().invoke(main, ["group", *map(str, arguments)])
        self.assertEqual(result.exit_code, code, result.output)
        return result.stderr

    def rows(self, *path: str) -> list[dict[str, str]]:
        with self.folder.joinpath(*path).open(encoding="utf-8", newline="") as file:
            return list(csv.DictReader(file))

    def bare(self) -> Path:
        """The commonest file there is: terms by week, and nothing else."""
        terms = {"bee smoker": 90, "bee smokers": 140, "copper bee smoker": 30, "canal windlass": 50,
                 "steel canal windlass": 20, "=cmd|calc": 5}  # fmt: skip
        rows = [row for term, height in terms.items() for row in weekly(term, [height] * 110)]
        return write(self.folder / "in", term_weeks=table("term,week,searches", *rows))

    def test_bare_terms_become_niches_that_can_be_imported(self) -> None:
        told = self.run_it(
            self.bare(), "--out", self.folder / "out", "--report", self.folder / "r.csv"
        )
        self.assertIn("By words, with less confidence, 6 terms without clicks", told)
        niche = {row["term"]: row["niche_id"] for row in self.rows("out", "terms.csv")}
        self.assertEqual(niche["bee smoker"], niche["copper bee smoker"])
        self.assertEqual(niche["canal windlass"], niche["steel canal windlass"])
        names = {row["niche_id"]: row["name"] for row in self.rows("out", "niches.csv")}
        self.assertEqual(names[niche["bee smoker"]], "Bee smokers")
        (first, *_) = self.rows("r.csv")
        self.assertEqual((first["name"], first["terms"], first["new"]), ("Bee smokers", "3", "1"))
        self.assertEqual(float(first["searches_52w"]), 52 * 260)
        for name in ("terms", "niches"):
            (self.folder / "out" / f"{name}.csv").rename(self.folder / "in" / f"{name}.csv")
        package = read_package(self.folder / "in")
        self.assertEqual(package.frames["terms"].height, 6)

    def test_niches_and_terms_that_are_there_stay(self) -> None:
        files = small_market()
        folder = write(self.folder / "in", **files)
        self.run_it(folder, "--out", self.folder / "out")
        terms = {row["term"]: row for row in self.rows("out", "terms.csv")}
        self.assertEqual(terms["terracotta forcer"]["niche_id"], "rf")
        self.assertEqual(terms["moon filter"]["branded"], "1")
        self.assertEqual(terms["net float"]["niche_id"], "net-float")
        niches = {row["niche_id"]: row for row in self.rows("out", "niches.csv")}
        self.assertEqual(
            niches["rf"],
            {
                "niche_id": "rf",
                "name": "Rhubarb forcers",
                "category_id": "gb",
                "market_id": "north",
            },
        )
        self.assertEqual(niches["net-float"]["market_id"], "north")
        self.assertEqual(set(niches), {"rf", "mf", "net-float"})

    def test_a_new_niche_never_takes_an_id_that_is_there(self) -> None:
        files = small_market()
        files["niches"] += table("", ("net-float", "Another thing", "", "north")).lstrip("\n")
        self.run_it(write(self.folder / "in", **files), "--out", self.folder / "out")
        terms = {row["term"]: row["niche_id"] for row in self.rows("out", "terms.csv")}
        self.assertEqual(terms["net float"], "net-float-2")

    def test_what_cannot_be_done_is_said_and_changes_nothing(self) -> None:
        folder = self.bare()
        self.assertIn(
            "is not empty. Choose a new folder.", self.run_it(folder, "--out", folder, code=1)
        )
        told = self.run_it(folder, "--out", self.folder / "o", "--language", "klingon", code=1)
        self.assertIn("no stemmer for “klingon”", told)
        self.assertFalse((self.folder / "o").exists())
        index = table(
            "term,week,index", *[(t, w, v) for t, w, v in weekly("bee suit", [50] * 110, START)]
        )
        with self.assertRaisesRegex(CoreError, "no term_weeks table"):
            group_package(read_package(write(self.folder / "relative", interest=index)))
