"""Own part on files: what a seller of three niches is told, and what is told where tables are lacking."""

import csv
import io
import json
import tempfile
from pathlib import Path
from unittest import TestCase

from click.testing import CliRunner, Result

from driftfield.cli.main import main
from driftfield.core.sentences import own_part_sentences

from .packages import write
from .selling import GAINS, HOLDS, LOSES, selling

VERDICTS = {
    GAINS: "Gained share as the market grew",
    LOSES: "Lost share as the market grew",
    HOLDS: "Grew with the market",
}


class Command(TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        holder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(holder.cleanup)
        cls.holder = Path(holder.name)
        cls.folder = write(cls.holder / "in", **selling())

    def run_on(self, folder: Path, *arguments: str) -> Result:
        return CliRunner().invoke(main, ["ownpart", str(folder), *arguments])

    def rows(self, *arguments: str, **changed: str) -> dict[str, dict]:
        folder = self.folder
        if changed:
            folder = write(self.holder / "changed", **{**selling(), **changed})
        result = self.run_on(folder, *arguments)
        self.assertEqual(result.exit_code, 0, result.output)
        found = (json.loads(line) for line in result.stdout.splitlines() if line.startswith("{"))
        return {row["niche_id"]: row for row in found}

    def test_it_is_told_whether_one_gained_or_the_market_did(self) -> None:
        rows = self.rows()
        self.assertEqual({niche: row["verdict"] for niche, row in rows.items()}, VERDICTS)
        for niche, row in rows.items():
            self.assertEqual(
                (row["against"], row["by"], row["periods"]), ("a year before", "units", 13)
            )
            parts = (1 + row["season"]) * (1 + row["market"]) * (1 + row["share"])
            self.assertAlmostEqual(parts, 1 + row["own"], 12)
            # A third more, give or take what units that are counted one by one scatter.
            self.assertTrue(row["market_low"] < 0.36 and row["market_high"] > 0.3, row)
            self.assertIn(VERDICTS[niche], row["sentence"])
        self.assertTrue(rows[GAINS]["share_low"] < 1.5 < rows[GAINS]["share_high"])
        self.assertTrue(rows[LOSES]["share_low"] < -0.6 < rows[LOSES]["share_high"])

    def test_together_and_as_a_list(self) -> None:
        out = self.holder / "part.csv"
        result = self.run_on(self.folder, "--out", str(out))
        self.assertIn("In 3 niches together you sold", result.stderr)
        self.assertIn("a year before", result.stderr)
        table = list(csv.DictReader(io.StringIO(out.read_text("utf-8-sig"))))
        self.assertEqual({row["niche_id"] for row in table}, {GAINS, LOSES, HOLDS})
        self.assertTrue(all(float(row["own_now"]) > 0 for row in table))

    def test_all_of_one_niche(self) -> None:
        row = self.rows("--niche", GAINS)[GAINS]
        spans = [(one["weeks"], one["against"]) for one in row["comparisons"]]
        year, before = "a year before", "before"
        self.assertEqual(
            spans,
            [
                (4, before),
                (13, before),
                (26, before),
                (4, year),
                (13, year),
                (26, year),
                (52, year),
            ],
        )
        self.assertAlmostEqual(row["reported"]["ratio"], 1 / 1.1, 1)
        self.assertEqual(row["reported"]["listings"], 1)
        lost = row["lost"]
        self.assertEqual((lost["terms"][0]["term"], lost["counted"]), (f"term {GAINS}", True))
        self.assertAlmostEqual(lost["share_now"] - lost["share_then"], 0.15, 3)
        self.assertGreater(lost["terms"][0]["ratio_low"], 0)
        own, *others = lost["listings"]
        self.assertTrue(own["mine"])
        self.assertTrue(all(one["gained"] < 0 and not one["mine"] for one in others))
        text = " ".join(row["sentences"])
        self.assertIn("which is assumed", text)
        self.assertIn("most was lost by", text)
        # Own sales by the niche say nothing of which listings are one's own.
        self.assertIsNone(self.rows("--niche", LOSES)[LOSES]["lost"])

    def test_without_units_the_market_is_told_by_searches_and_so_is_said(self) -> None:
        rows = self.rows(listing_weeks="listing_id,week,price\ngains-0,2025-12-01,20\n")
        self.assertEqual({row["by"] for row in rows.values()}, {"searches"})
        self.assertEqual({row["share_now"] for row in rows.values()}, {None})
        self.assertEqual({niche: row["verdict"] for niche, row in rows.items()}, VERDICTS)
        detail = self.rows(
            "--niche", GAINS, listing_weeks="listing_id,week,price\ngains-0,2025-12-01,20\n"
        )
        self.assertIn("told by its searches", " ".join(detail[GAINS]["sentences"]))

    def test_own_sales_of_nothing_that_is_clicked_are_told_as_such(self) -> None:
        sales = "listing_id,week,units\nelsewhere,2025-12-01,4\n"
        listings = f"{selling()['listings']}elsewhere,Nobody clicks it\n"
        folder = write(
            self.holder / "none", **{**selling(), "own_sales": sales, "listings": listings}
        )
        result = self.run_on(folder)
        self.assertNotEqual(result.exit_code, 0)
        self.assertIn("No own sales are known that belong to a niche", result.output)
        result = self.run_on(self.folder, "--niche", "nobody")
        self.assertIn("No own sales are known of the niche “nobody”", result.output)
        result = self.run_on(self.folder, "--all", "--out", str(self.holder / "x.csv"))
        self.assertIn("a table cannot hold all that is told", result.output)
        self.assertFalse((self.holder / "x.csv").exists())

    def test_a_day_before_the_turn_knows_nothing_of_it(self) -> None:
        rows = self.rows("--as-of", "2025-09-21")
        self.assertEqual({row["verdict"] for row in rows.values()}, {"Grew with the market"})


class Sentences(TestCase):
    def test_what_was_not_sold_before_or_any_more_has_no_percentage(self) -> None:
        one = {
            "length": "13 weeks", "against": "a year before", "to": "2026-05-17", "own_now": 40.0, "own_then": 0.0,
            "verdict": "Up from nothing", "share_now": 1.4, "share_then": 0.0,
        }  # fmt: skip
        record = {
            "headline": 0, "comparisons": [one], "by": "units", "added": True, "silent": 1, "period": "week",
            "lost": None, "reported": {"listings": 1, "own": 40.0, "told": 41.0, "ratio": 40 / 41},
        }  # fmt: skip
        told = " ".join(own_part_sentences(record))
        self.assertIn(
            "you sold 40 units in the 13 weeks to 17 May 2026 and none a year before", told
        )
        self.assertIn("You sold more than is told of the whole niche", told)
        self.assertIn("yours are added to it", told)
        self.assertIn("1 week between others have no line", told)
        self.assertNotIn("%", told)
        ended = {**one, "own_now": 0.0, "own_then": 7.0, "verdict": "Down to nothing"}
        told = own_part_sentences({**record, "comparisons": [ended], "added": False, "silent": 0})
        self.assertIn("you sold none in the 13 weeks to 17 May 2026 and 7 a year before", told[0])
        unknown = own_part_sentences({**record, "headline": None})
        self.assertIn("is not known", unknown[0])
