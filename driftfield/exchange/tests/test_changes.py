import json
import zipfile
from contextlib import redirect_stderr
from datetime import timedelta
from io import StringIO
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase

from click.testing import CliRunner

from driftfield.cli.main import main
from driftfield.core.base import DEFAULTS, CoreError
from driftfield.core.market import NICHE
from driftfield.exchange.changes import changes_between, read_look
from driftfield.exchange.cut import cut_package

from .newsy import BRAND, CHANGES, EMPTY, FALLS, FIRST, LAUNCH, NICHES, WAR, newsy
from .packages import write, zipped

EXPECTED = {
    (FALLS, "demand"), (WAR, "price_slide"), (BRAND, "brand_over_half"), (EMPTY, "leader_stock"),
    (LAUNCH, "launch"),
}  # fmt: skip


class Changes(TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = TemporaryDirectory()
        cls.addClassCleanup(cls.folder.cleanup)
        root = Path(cls.folder.name)
        cls.before, cls.after = newsy(root / "before", CHANGES), newsy(root / "after")
        cls.looks = [read_look(one, [NICHE], DEFAULTS, None) for one in (cls.before, cls.after)]
        cls.found, cls.rows = changes_between(*cls.looks, 0.05, DEFAULTS)

    def test_what_was_planted_is_told_and_hardly_anything_else(self) -> None:
        told = {(row["id"], row["change"]) for row in self.rows}
        self.assertEqual(EXPECTED - told, set())
        self.assertLessEqual(
            {one for one, _ in told - EXPECTED}, {FALLS, WAR, BRAND, EMPTY, LAUNCH}
        )

    def test_each_says_how_much_how_surely_and_since_when(self) -> None:
        fall = next(row for row in self.rows if (row["id"], row["change"]) == (FALLS, "demand"))
        self.assertAlmostEqual(fall["now"], -0.4, delta=0.04)
        self.assertLess(fall["low"], fall["now"])
        self.assertLess(fall["now"], fall["high"])
        self.assertLess(fall["chance"], 1e-6)
        # Stretches are of four weeks.
        self.assertIn(fall["since"], ("2025-12-01", "2025-12-22", "2025-12-29"))
        self.assertIn("below their course", fall["sentence"])
        brand = next(row for row in self.rows if row["change"] == "brand_over_half")
        self.assertAlmostEqual(brand["now"], 0.7, delta=0.03)
        self.assertAlmostEqual(brand["then"], 0.4, delta=0.03)
        self.assertIn("Brand b3", brand["sentence"])
        stock = next(row for row in self.rows if row["change"] == "leader_stock")
        self.assertIsNone(stock["chance"])

    def test_what_could_be_told_already_is_not_told_again(self) -> None:
        between = Path(self.folder.name) / "between"
        newsy(between, 258)
        look = read_look(between, [NICHE], DEFAULTS, None)
        _, rows = changes_between(look, self.looks[1], 0.05, DEFAULTS)
        self.assertEqual([(row["id"], row["change"]) for row in rows], [])

    def test_the_same_twice_has_changed_nothing(self) -> None:
        found, rows = changes_between(self.looks[1], self.looks[1], 0.05, DEFAULTS)
        self.assertEqual(rows, [])
        self.assertGreater(found.tested, 40)

    def test_files_of_records_say_the_same(self) -> None:
        root = Path(self.folder.name)
        for name, folder in (("b", self.before), ("a", self.after)):
            out = str(root / f"{name}.jsonl")
            self.assertEqual(
                CliRunner().invoke(main, ["analyse", str(folder), "--out", out]).exit_code, 0
            )
        ran = CliRunner().invoke(
            main,
            [
                "changes",
                str(root / "b.jsonl"),
                str(root / "a.jsonl"),
                "--out",
                str(root / "c.jsonl"),
            ],
        )
        self.assertEqual(ran.exit_code, 0, ran.output)
        rows = [json.loads(line) for line in (root / "c.jsonl").read_text("utf-8").splitlines()]
        key = [(row["id"], row["change"]) for row in self.rows]
        self.assertEqual(sorted((row["id"], row["change"]) for row in rows), sorted(key))
        self.assertTrue(
            all(set(row) >= {"since", "then", "now", "low", "high", "sentence"} for row in rows)
        )

    def test_the_wrong_way_round_is_refused(self) -> None:
        with self.assertRaisesRegex(CoreError, "Name the earlier ones first"):
            changes_between(self.looks[1], self.looks[0], 0.05, DEFAULTS)
        with self.assertRaisesRegex(CoreError, "between 0 and 1"):
            changes_between(*self.looks, 5, DEFAULTS)


class BadFiles(TestCase):
    def refused(self, content: str) -> str:
        with TemporaryDirectory() as folder:
            bad, good = Path(folder) / "bad.jsonl", Path(folder) / "good"
            bad.write_text(content, "utf-8")
            write(good, term_weeks="term,week,searches\na,2024-01-01,5\n")
            with redirect_stderr(StringIO()):
                ran = CliRunner().invoke(main, ["changes", str(bad), str(good)])
        self.assertEqual(ran.exit_code, 1)
        self.assertNotIn("fault", ran.output)
        return ran.output

    def test_each_fault_names_the_file_and_the_line(self) -> None:
        self.assertIn("bad.jsonl, line 2: this is not JSON", self.refused('\n{"a"\n'))
        self.assertIn(
            "bad.jsonl, line 1: expected a record of bin/driftfield analyse",
            self.refused('{"a": 1}'),
        )
        self.assertIn("bad.jsonl, line 1: expected a record in braces", self.refused("[1]"))
        self.assertIn("holds no records", self.refused(""))
        record = (
            '{"market_id": "m", "niche_id": "n", "name": "N", "as_of": "2024-01-07", "shape": 3}'
        )
        self.assertIn("shape of record 1: expected a text", self.refused(record))
        other = '{"market_id": "m", "niche_id": "n", "name": "N", "as_of": "2024-01-07"}'
        self.assertIn("have no market in common", self.refused(other))


class Cut(TestCase):
    def test_a_package_as_it_was_and_nothing_over_itself(self) -> None:
        with TemporaryDirectory() as holder:
            root = Path(holder)
            whole = zipped(newsy(root / "in"), root / "whole.zip")
            before = whole.read_bytes()
            kept = cut_package(whole, FIRST + timedelta(weeks=CHANGES, days=-1), root / "cut.zip")
            self.assertEqual(kept["term_weeks"], NICHES * CHANGES)
            with zipfile.ZipFile(root / "cut.zip") as archive:
                listings = archive.read("package/listings.csv").decode()
                clicks = archive.read("package/term_clicks.csv").decode()
            # Launched later: neither it nor what is said of it was known.
            self.assertNotIn("n5-5", listings)
            self.assertNotIn("n5-5", clicks)
            with self.assertRaisesRegex(CoreError, "written over itself"):
                cut_package(whole, FIRST, whole)
            self.assertEqual(whole.read_bytes(), before)

    def test_a_broken_table_is_told_and_leaves_what_is_there(self) -> None:
        with TemporaryDirectory() as holder:
            bad, out = Path(holder) / "bad.zip", Path(holder) / "out.zip"
            with zipfile.ZipFile(bad, "w") as archive:
                archive.writestr("term_weeks.csv", "a,b\n1,2,3\n")
            out.write_bytes(b"mine")
            with self.assertRaisesRegex(CoreError, "term_weeks.csv: cannot be read as CSV"):
                cut_package(bad, FIRST, out)
            self.assertEqual(out.read_bytes(), b"mine")
            self.assertEqual(len(list(Path(holder).iterdir())), 2)
