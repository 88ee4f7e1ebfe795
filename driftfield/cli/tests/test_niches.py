"""Niches of a loaded market by the command line: proposed to files, taken over, changed, undone."""

import json
import tempfile
from pathlib import Path

import polars as pl
from click.testing import CliRunner

from driftfield.api.tests.loaded import Loaded
from driftfield.cli.main import main
from driftfield.desk.tests.test_niches import loose_market, niche_of
from driftfield.market.models import Market
from driftfield.readings.actions import stale


class NichesByCommand(Loaded):
    package = staticmethod(loose_market)
    databases = frozenset({"default", "work"})

    def run_it(self, *arguments: object, code: int = 0) -> str:
        market = Market.objects.get().market_id
        what, *rest = map(str, arguments)
        done = CliRunner().invoke(main, ["niches", what, market, *rest])
        self.assertEqual(done.exit_code, code, done.output)
        return done.output

    def test_from_a_proposal_in_files_to_niches_and_back(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            out = Path(holder) / "out"
            told = self.run_it("propose", "--out", out)
            self.assertIn("2 new niches, with 5 terms", told)
            self.assertEqual(pl.read_csv(out / "niches.csv")["terms"].to_list(), [3, 2])
            self.assertEqual(pl.read_csv(out / "terms.csv").height, 5)
            self.assertIn("Choose a new folder", self.run_it("propose", "--out", out, code=1))
        self.assertIn("Done: Took over 1 niche", self.run_it("take-over", "bee-smokers"))
        self.run_it("make", "Lock keys", "canal windlass")
        self.run_it("move", "steel canal windlass", "--into", "lock-keys")
        self.run_it("take-out", "copper bee smoker")
        self.run_it("merge", "lock-keys", "--into", "bee-smokers")
        self.assertEqual(niche_of()["steel canal windlass"], "bee-smokers")
        # A name alone is not analysed; everything else was.
        self.assertNotIn("analysed", self.run_it("rename", "bee-smokers", "Smoke"))
        self.assertFalse(stale().exists())
        # What is read by programs is on standard output alone.
        market = Market.objects.get().market_id
        told = CliRunner().invoke(main, ["niches", "changes", market]).stdout
        lines = [json.loads(line) for line in told.splitlines()]
        self.assertEqual(lines[0]["sentence"], "Renamed “Bee smokers” to “Smoke”")
        self.assertEqual([one["terms"] for one in lines], [0, 2, 1, 1, 1, 3])
        for _ in lines:
            self.assertIn("Undone: ", self.run_it("undo"))
        self.assertEqual(niche_of()["bee smokers"], "bee smokers")
        self.assertIn("is left to undo", self.run_it("undo", code=1))

    def test_what_is_not_there_is_said(self) -> None:
        self.assertIn("There is no niche “none”", self.run_it("rename", "none", "X", code=1))
        done = CliRunner().invoke(main, ["niches", "propose", "nowhere"])
        self.assertIn("There is no market “nowhere”. Known: ", done.output)
