"""Several markets on the command line: from files, and of those in the database."""

import json
import tempfile
from pathlib import Path

from click.testing import CliRunner

from driftfield.api.tests.two_markets import NORTH, SOUTH, Two
from driftfield.cli.main import main
from driftfield.exchange.tests.packages import write


class ByCommand(Two):
    def run_it(self, *arguments: object, code: int = 0) -> str:
        done = CliRunner().invoke(main, [*map(str, arguments)])
        self.assertEqual(done.exit_code, code, done.output)
        return done.output

    def test_files_and_database_tell_the_same(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = Path(holder)
            north, south = (
                write(folder / name, **files)
                for name, files in (("north", NORTH), ("south", SOUTH))
            )
            table = folder / "words.csv"
            self.run_it("across", north, south, "--propose", table)
            text = table.read_text("utf-8").replace(",s7,,", ",s7,1,")
            table.write_text(text, "utf-8")
            (folder / "money.csv").write_text(
                "currency,into,rate,day\nEUR,GBP,0.8,2026-05-20\n", "utf-8"
            )
            out = folder / "out.jsonl"
            told = self.run_it(
                "across",
                north,
                south,
                "--matches",
                table,
                "--rates",
                folder / "money.csv",
                "--out",
                out,
            )
            self.assertIn("2 niches in two markets or more", told)
            records = {
                one["markets"][0]["niche_id"]: one
                for one in map(json.loads, out.read_text("utf-8").splitlines())
            }
            self.run_it("matches", "import", table)
        self.run_it("rate", "EUR", "GBP", "0.8", "--day", "2026-05-20")
        for row in ("hooks", "lids"):
            shown, record = self.across(row), records[row]
            self.assertEqual(shown["competition"], record["competition"])
            self.assertEqual(
                [one["seasons"] for one in shown["against"]],
                [one["sentences"][0] for one in record["against"]],
            )
            for line, told in zip(shown["lines"], record["figures"], strict=True):
                self.assertEqual(line["figure"], told["figure"])
                for cell, value, best in zip(
                    line["cells"], told["values"], told["best"], strict=True
                ):
                    self.assertEqual(cell["best"], best)
                    if isinstance(value, float):
                        self.assertAlmostEqual(cell["value"], value, 5, line["figure"])

    def test_matches_are_proposed_imported_listed_and_undone(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            out = Path(holder) / "words.csv"
            self.assertIn(
                "1 possible match written",
                self.run_it("matches", "propose", "north", "south", "--out", out),
            )
            out.write_text(out.read_text("utf-8").replace(",s7,,", ",s7,1,"), "utf-8")
            self.assertIn("1 match imported", self.run_it("matches", "import", out))
            wrong = Path(holder) / "wrong.csv"
            wrong.write_text(
                "of,market_id,id,other_market_id,other_id,same\nniches,north,lids,south,s9,1\n"
                "niches,north,none,south,hooks,1\n", "utf-8",
            )  # fmt: skip
            self.assertIn(
                "There is no niche “none”", self.run_it("matches", "import", wrong, code=1)
            )
            wrong.write_text(
                "of,market_id,id,other_market_id,other_id,same\nniches,north,lids,south,s9,yes\n", "utf-8"
            )  # fmt: skip
            self.assertIn(
                "wrong.csv, line 2, column same", self.run_it("matches", "import", wrong, code=1)
            )
        (line,) = map(json.loads, self.run_it("matches", "list").splitlines())
        self.assertEqual((line["id"], line["other_id"], line["same"]), ("lids", "s7", 1))
        self.assertIn("Undone", self.run_it("matches", "undo", line["match_id"]))
        self.assertEqual(self.run_it("matches", "list"), "")
        self.assertIn(
            "no analysed market “x”",
            self.run_it("matches", "propose", "north", "x", "--out", "y", code=1),
        )

    def test_rates_by_command(self) -> None:
        self.assertIn(
            "1 EUR = 0.8 GBP", self.run_it("rate", "eur", "gbp", "0.8", "--day", "2026-05-20")
        )
        self.assertEqual(json.loads(self.run_it("rate"))["rate"], 0.8)
        self.assertIn("has its day", self.run_it("rate", "EUR", "GBP", "0.9", code=1))
        self.run_it("rate", "EUR", "GBP", "--remove")
        self.assertEqual(self.run_it("rate"), "")

    def test_one_market_or_the_same_twice_is_refused(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            north = write(Path(holder) / "north", **NORTH)
            again = write(Path(holder) / "again", **NORTH)
            self.assertIn("Two are needed", self.run_it("across", north, code=1))
            self.assertIn("no currency", self.run_it("across", north, "--into", "euro", code=1))
            self.assertIn(
                "Two folders hold a market “north”", self.run_it("across", north, again, code=1)
            )
