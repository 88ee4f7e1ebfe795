"""Columns of large runs kept as files: read without the database, and never older than the run."""

import tempfile
from pathlib import Path
from unittest.mock import patch

import numpy as np
from django.test import TestCase

from driftfield.core.market import NICHE
from driftfield.core.signals import SIGNALS_BY_KEY
from driftfield.exchange.tests.packages import supplied_market, write
from driftfield.intake.actions import import_folder
from driftfield.market.models import Market
from driftfield.readings import column_files
from driftfield.readings.actions import analyse_market
from driftfield.readings.columns import RunColumns
from driftfield.readings.models import Column, Run
from driftfield.readings.tests.stored import spoil


class ColumnFiles(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        with tempfile.TemporaryDirectory() as inbox:
            import_folder(write(Path(inbox) / "in", **supplied_market()))
        analyse_market(Market.objects.get())
        self.run_ = Run.objects.select_related("market").get()
        self.plain = RunColumns(self.run_, NICHE)  # Of a database in memory: nothing is kept.
        self.folder = Path(holder.name) / "columns"
        # The test's own transaction is never committed.
        for name, value in (
            ("FROM", 1),
            ("beside_database", lambda: self.folder),
            ("uncommitted", lambda: False),
        ):
            patched = patch.object(column_files, name, value)
            patched.start()
            self.addCleanup(patched.stop)

    def read(self) -> dict[str, list[object]]:
        """What a ledger asks of the columns, with unknown as “?”."""
        held = RunColumns(self.run_, NICHE)
        asked = {
            "searches_52w": held.figure("searches_52w"), "shape": held.figure("shape"),
            "keys": held.keys, "categories": held.category_keys,
            "top": held.top("reviews"), "raised": held.raised(next(iter(SIGNALS_BY_KEY))),
            "named": held.terms("contain", "forcer"),
            "order": held.order([("name", False)], np.ones(held.count, dtype=bool)),
        }  # fmt: skip
        found = {key: np.array(value).tolist() for key, value in asked.items()}
        return {key: str(value) for key, value in found.items()}  # type: ignore[misc]

    def files(self) -> set[Path]:
        return {file for file in self.folder.rglob("*") if file.is_file()}

    def test_what_was_kept_is_what_stands_in_the_database(self) -> None:
        with patch.object(column_files, "FROM", 10_000):
            plain = self.read()
        self.assertEqual(self.files(), set())
        self.assertEqual(self.read(), plain)
        Column.objects.all().delete()  # From here on there is nothing but the files.
        self.assertEqual(self.read(), plain)
        self.assertTrue(all(file.stat().st_mode & 0o077 == 0 for file in self.files()))

    def test_of_a_run_made_anew_nothing_old_is_read_or_left(self) -> None:
        self.read()
        before = self.files()
        spoil(self.run_, {"searches_52w": 7.0})
        self.assertEqual(set(RunColumns(self.run_, NICHE).figure("searches_52w")), {7.0})
        self.assertFalse(before & self.files())

    def test_files_of_markets_that_are_gone_are_removed(self) -> None:
        left = self.folder / "999-0123456789abcdef"
        left.mkdir(parents=True)
        self.read()
        self.assertFalse(left.exists())

    def test_a_damaged_file_is_made_anew(self) -> None:
        kept = self.read()
        for file in self.files():
            file.write_bytes(file.read_bytes()[:40])
        self.assertEqual(self.read(), kept)
        self.assertTrue(all(file.stat().st_size > 40 for file in self.files()))

    def test_where_nothing_can_be_written_it_is_read_all_the_same(self) -> None:
        kept = self.read()
        self.folder = self.folder.with_name("file") / "columns"
        self.folder.parent.write_bytes(b"")
        with self.assertLogs("driftfield.readings.column_files", "WARNING"):
            self.assertEqual(self.read(), kept)

    def test_what_is_not_committed_is_not_kept(self) -> None:
        with patch.object(column_files, "uncommitted", lambda: True):
            self.read()
        self.assertEqual(self.files(), set())
