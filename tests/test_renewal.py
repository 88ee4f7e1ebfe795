"""A database that an earlier version made: brought over with all that was decided, or left as it was.

``data/earlier.sql`` is a dump of such a database: a small market, imported and analysed, with decisions,
a note, tags, an order by hand, a sieve, a lens, costs and an agreed layout.
"""

import os
import sqlite3
import subprocess
import tempfile
from contextlib import closing
from pathlib import Path
from unittest import TestCase

ROOT = Path(__file__).resolve().parents[1]


class Renewal(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)
        self.database = self.folder / "driftfield.sqlite3"
        with closing(sqlite3.connect(self.database)) as made:
            made.executescript((ROOT / "tests/data/earlier.sql").read_text("utf-8"))

    def run_command(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [ROOT / "bin/driftfield", *arguments],
            env={**os.environ, "DRIFTFIELD_DATA": str(self.folder)},
            capture_output=True,
            text=True,
            check=False,
        )

    def rows(self, sql: str) -> list[tuple]:
        with closing(sqlite3.connect(self.database)) as opened:
            return opened.execute(sql).fetchall()

    def test_everything_a_person_made_is_there_afterwards(self) -> None:
        before = self.rows(
            "SELECT id, niche_id, choice, reason, current, figures FROM desk_decision"
        )
        with closing(sqlite3.connect(self.database)) as opened, opened:
            for table, fields in (("Niche", '{"name": "Pots"}'), ("Term", '{"niche_id": 1}')):
                opened.execute(
                    'INSERT INTO intake_rowbefore (batch_id, "table", key, fields) '
                    "SELECT id, ?, '1', ? FROM intake_batch",
                    [table, fields],
                )
        done = self.run_command("renew")
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("3 niches analysed", done.stderr)
        # What an undone import puts back is what the files said.
        self.assertEqual(
            self.rows(
                "SELECT fields FROM intake_rowbefore WHERE key = '1' AND fields LIKE '%given%'"
            ),
            [('{"given_name":"Pots"}',), ('{"given_id":1}',)],
        )
        after = self.rows(
            "SELECT id, subject, choice, reason, current, figures FROM desk_decision WHERE kind = 'niche'"
        )
        self.assertEqual(after, before)
        self.assertEqual(
            self.rows("SELECT subject, note, tags, place FROM desk_remark ORDER BY place DESC")[0],
            ("rf", "ask the potter", '["clay", "spring"]', 1),
        )
        for table in ("desk_sieve", "desk_savedlens", "desk_costsheet", "intake_layoutmapping"):
            self.assertEqual(self.rows(f"SELECT count(*) FROM {table}"), [(1,)], table)
        # The import can still be undone, and what was made anew is there.
        self.assertEqual(self.rows("SELECT count(*) FROM intake_batch"), [(1,)])
        self.assertGreater(self.rows("SELECT count(*) FROM readings_column")[0][0], 400)
        undone = self.run_command("undo-import")
        self.assertEqual(undone.returncode, 0, undone.stderr)
        self.assertEqual(self.rows("SELECT count(*) FROM market_niche"), [(0,)])
        self.assertEqual(self.rows("SELECT count(*) FROM desk_decision"), [(3,)])

    def test_other_commands_say_what_to_do_and_change_nothing(self) -> None:
        before = self.database.read_bytes()
        for command in (
            ["export", str(self.folder / "out")],
            ["undo-import"],
            ["serve", "--port", "1"],
        ):
            answer = self.run_command(*command)
            self.assertNotEqual(answer.returncode, 0)
            if command[0] != "serve":  # Which looks at its port first.
                self.assertIn("bin/driftfield renew", answer.stderr)
        self.assertEqual(self.database.read_bytes(), before)

    def test_one_from_before_the_last_version_is_left_as_it_is(self) -> None:
        with closing(sqlite3.connect(self.database)) as opened, opened:
            opened.execute("DELETE FROM django_migrations WHERE name = '0004_costs_and_fees'")
        before = self.database.read_bytes()
        answer = self.run_command("renew")
        self.assertIn("a version before the last one", answer.stderr)
        self.assertEqual((answer.returncode != 0, self.database.read_bytes()), (True, before))

    def test_a_copy_of_an_earlier_one_can_be_put_back_and_brought_over(self) -> None:
        copy = self.folder / "copy.sqlite3"
        copy.write_bytes(self.database.read_bytes())
        self.database.unlink()
        answer = self.run_command("restore", str(copy))
        self.assertIn("is restored", answer.stderr)
        self.assertIn("bin/driftfield renew", answer.stderr)
        renewed = self.run_command("renew")
        self.assertEqual(renewed.returncode, 0, renewed.stderr)
        self.assertEqual(self.rows("SELECT count(*) FROM desk_decision"), [(3,)])
