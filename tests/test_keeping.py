"""Copies of the database: made while it is written to, and put back whole or not at all."""

import os
import sqlite3
import subprocess
import tempfile
import threading
from contextlib import closing
from pathlib import Path
from unittest import TestCase

from driftfield.core.base import CoreError
from driftfield.exchange.tests.packages import small_market, write
from driftfield.keeping import KEPT, back_up, keep_before, restore

ROOT = Path(__file__).resolve().parents[1]
KNOWN = {("market", "0001_initial")}


def database(at: Path, decisions: int = 3) -> Path:
    """A small database with the marks of one of Driftfield's."""
    with closing(sqlite3.connect(at)) as made, made:
        made.execute("PRAGMA journal_mode=WAL")
        made.execute("CREATE TABLE django_migrations (app TEXT, name TEXT)")
        made.executemany("INSERT INTO django_migrations VALUES (?, ?)", sorted(KNOWN))
        made.execute("CREATE TABLE decisions (number INTEGER, half INTEGER)")
        made.executemany("INSERT INTO decisions VALUES (?, ?)", [(i, 0) for i in range(decisions)])
    return at


def count(at: Path) -> int:
    with closing(sqlite3.connect(at)) as opened:
        return int(opened.execute("SELECT count(*) FROM decisions").fetchone()[0])


class Copies(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)
        self.live = database(self.folder / "live.sqlite3")

    def refused(self, words: str, work) -> None:
        before = {p: p.read_bytes() for p in self.folder.rglob("*") if p.is_file()}
        with self.assertRaises(CoreError) as caught:
            work()
        self.assertIn(words, str(caught.exception))
        after = {p: p.read_bytes() for p in self.folder.rglob("*") if p.is_file()}
        self.assertEqual(before, after)

    def test_there_and_back_keeps_the_state_before(self) -> None:
        kept = self.folder / "kept.sqlite3"
        self.assertEqual(back_up(self.live, kept), kept.stat().st_size)
        with closing(sqlite3.connect(self.live)) as opened, opened:
            opened.execute("INSERT INTO decisions VALUES (99, 0)")
        before = restore(kept, self.live, KNOWN)
        assert before is not None
        self.assertEqual((count(self.live), count(before), count(kept)), (3, 4, 3))

    def test_a_copy_made_during_writes_holds_whole_transactions_only(self) -> None:
        """A writer adds pairs; a copy with half a pair would be torn."""
        stop = threading.Event()

        def write_pairs() -> None:
            with closing(sqlite3.connect(self.live, timeout=20)) as opened:
                number = 1_000
                while not stop.is_set():
                    with opened:
                        rows = [(number, half) for half in (1, 2) for _ in range(200)]
                        opened.executemany("INSERT INTO decisions VALUES (?, ?)", rows)
                    number += 1

        writer = threading.Thread(target=write_pairs)
        writer.start()
        try:
            for i in range(12):
                copy = self.folder / f"copy{i}.sqlite3"
                back_up(self.live, copy)
                with closing(sqlite3.connect(copy)) as opened:
                    torn = opened.execute(
                        "SELECT count(*) FROM (SELECT number FROM decisions WHERE number >= 1000 "
                        "GROUP BY number HAVING count(*) != 400)"
                    ).fetchone()[0]
                self.assertEqual(torn, 0)
        finally:
            stop.set()
            writer.join()
        self.assertGreater(count(copy), 400)

    def test_a_program_that_has_it_open_reads_what_was_restored(self) -> None:
        kept = self.folder / "kept.sqlite3"
        back_up(self.live, kept)
        with closing(sqlite3.connect(self.live)) as reader:
            with reader:
                reader.execute("DELETE FROM decisions")
            restore(kept, self.live, KNOWN)
            self.assertEqual(reader.execute("SELECT count(*) FROM decisions").fetchone()[0], 3)

    def test_what_is_no_whole_copy_of_ours_changes_nothing(self) -> None:
        kept = self.folder / "kept.sqlite3"
        back_up(self.live, kept)
        whole = kept.read_bytes()
        torn, text, foreign = (self.folder / name for name in ("torn", "text", "foreign"))
        torn.write_bytes(whole[: len(whole) // 2])
        text.write_text("term,week,searches\n", "utf-8")
        with closing(sqlite3.connect(foreign)) as made, made:
            made.execute("CREATE TABLE songs (name TEXT)")
        for file, words in (
            (torn, "Nothing was changed"),
            (text, "is not a complete database"),
            (foreign, "is not a copy of a Driftfield database"),
            (self.folder / "nowhere", "There is no file"),
        ):
            with self.subTest(file=file.name):
                self.refused(words, lambda file=file: restore(file, self.live, KNOWN))
        self.refused(
            "made by a newer Driftfield (market 0001_initial)",
            lambda: restore(kept, self.live, [("market", "0000")]),
        )

    def test_a_copy_does_not_write_over_another_unasked(self) -> None:
        kept = self.folder / "kept.sqlite3"
        back_up(self.live, kept)
        self.refused("add --replace", lambda: back_up(self.live, kept))
        back_up(self.live, kept, replace=True)
        self.refused("There is no folder", lambda: back_up(self.live, self.folder / "no" / "x"))
        self.refused(
            "nothing to back up yet", lambda: back_up(self.folder / "none", kept, replace=True)
        )

    def test_the_latest_automatic_copies_stay(self) -> None:
        made = [keep_before(self.live, "update") for _ in range(KEPT + 2)]
        self.assertEqual(sorted((self.folder / "backups").iterdir()), made[2:])


class Commands(TestCase):
    def test_kept_and_restored_by_command(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **small_market())
            environment = {**os.environ, "DRIFTFIELD_DATA": str(Path(holder) / "data")}

            def run(*words: str) -> subprocess.CompletedProcess[str]:
                command = [str(ROOT / "bin/driftfield"), *words]
                return subprocess.run(command, env=environment, capture_output=True, text=True)

            kept, out = str(Path(holder) / "kept.sqlite3"), Path(holder) / "out"
            found = run("import", str(folder))
            self.assertEqual(found.returncode, 0)
            # A new database is no older one that is brought up to date.
            self.assertNotIn("as it was", found.stderr)
            self.assertFalse((Path(holder) / "data/backups").exists())
            found = run("backup", kept)
            self.assertIn("MB kept in", found.stderr)
            live = Path(holder) / "data/driftfield.sqlite3"
            with closing(sqlite3.connect(live)) as opened, opened:
                opened.execute("DELETE FROM market_termcurve")
                # As if it had been left by an older Driftfield.
                opened.execute("DELETE FROM django_migrations WHERE app='readings'")
                opened.execute("DROP TABLE readings_column")
                opened.execute("DROP TABLE readings_run")
            found = run("backup", str(Path(holder) / "other.sqlite3"))
            self.assertIn("as it was it is kept in", found.stderr)
            found = run("restore", kept)
            self.assertEqual(found.returncode, 0, found.stderr)
            self.assertIn("is restored.", found.stderr)
            self.assertEqual(run("export", str(out)).returncode, 0)
            self.assertGreater(len((out / "term_weeks.csv").read_text("utf-8").splitlines()), 600)
            refused = run("restore", str(folder / "terms.csv"))
            self.assertEqual(refused.returncode, 1)
            self.assertIn("is not a complete database", refused.stderr)
            self.assertNotIn("Traceback", refused.stderr)
