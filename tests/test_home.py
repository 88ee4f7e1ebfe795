"""A home that cannot be used is said so in a sentence, and nothing in it is lost."""

import os
import shutil
import sqlite3
import stat
import subprocess
import sys
import tempfile
from contextlib import closing
from pathlib import Path
from unittest import TestCase

from driftfield.core.base import CoreError
from driftfield.exchange.tests.packages import small_market, write
from driftfield.home import is_taken, make_ready, turn

ROOT = Path(__file__).resolve().parents[1]
# Far enough into the file to hit rows, near enough for a small database.
DAMAGE = 40_000


class Homes(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)
        self.data = self.folder / "data"
        self.package = write(self.folder / "in", **small_market())

    def start(self, *words: str, data: Path | None = None) -> subprocess.Popen[str]:
        environment = {
            **os.environ,
            "DRIFTFIELD_DATA": str(data or self.data),
            "PYTHONPATH": str(ROOT),
        }
        return subprocess.Popen(
            [sys.executable, "-m", "driftfield", *words], env=environment, text=True,
            stdout=subprocess.PIPE, stderr=subprocess.PIPE,
        )  # fmt: skip

    def run_(self, *words: str, data: Path | None = None) -> tuple[int, str]:
        made = self.start(*words, data=data)
        _, told = made.communicate(timeout=120)
        self.assertNotIn("Traceback", told)
        return made.returncode, told

    def loaded(self) -> None:
        self.assertEqual(self.run_("import", str(self.package))[0], 0)

    def refused(self, words: str, *command: str, data: Path | None = None) -> None:
        code, told = self.run_(*command, data=data)
        self.assertEqual(code, 1, told)
        self.assertIn(words, told)
        self.assertLessEqual(len(told.strip().splitlines()), 1, told)

    def test_files_are_read_by_their_account_alone(self) -> None:
        self.loaded()
        self.assertEqual(self.run_("backup", str(self.folder / "kept.sqlite3"))[0], 0)
        modes = {
            one.name: stat.S_IMODE(one.stat().st_mode)
            for one in (*self.data.rglob("*"), self.folder / "kept.sqlite3")
            if one.is_file()
        }
        self.assertIn("driftfield.sqlite3", modes)
        self.assertEqual({name: oct(mode) for name, mode in modes.items() if mode != 0o600}, {})

    def test_a_damaged_database_is_said_and_restored(self) -> None:
        self.loaded()
        kept = self.folder / "kept.sqlite3"
        self.assertEqual(self.run_("backup", str(kept))[0], 0)
        live = self.data / "driftfield.sqlite3"
        for damage in (
            b"\0" * DAMAGE,
            b"no database at all, but a text that someone saved here " * 99,
        ):
            with live.open("r+b") as out:
                out.write(damage)
            self.refused("bin/driftfield restore FILE", "renew")
            code, told = self.run_("restore", str(kept))
            self.assertEqual((code, "is restored" in told), (0, True), told)
            self.assertTrue(list((self.data / "backups").glob("damaged-driftfield-*.sqlite3")))
            out = self.folder / f"out{len(damage)}"
            self.assertEqual(self.run_("export", str(out))[0], 0)
            self.assertTrue((out / "term_weeks.csv").exists())

    def test_another_programs_database_is_left_alone(self) -> None:
        self.data.mkdir()
        live = self.data / "driftfield.sqlite3"
        with closing(sqlite3.connect(live)) as other, other:
            other.execute("CREATE TABLE recipes (name TEXT)")
        before = live.read_bytes()
        self.refused("another program's database", "renew")
        self.assertEqual(live.read_bytes(), before)

    def test_a_damaged_work_database_is_begun_anew(self) -> None:
        self.loaded()
        (self.data / "work.sqlite3").write_bytes(b"x" * 5_000)
        code, told = self.run_("renew")
        self.assertEqual(code, 0, told)
        self.assertIn("begun anew", told)
        self.assertTrue(list((self.data / "backups").glob("damaged-work-*.sqlite3")))

    def test_a_folder_that_cannot_be_used(self) -> None:
        blocked = self.folder / "a file"
        blocked.write_text("x")
        self.refused("is a file and no folder", "renew", data=blocked)
        self.refused(
            "is a file and no folder", "import", str(self.package), data=blocked / "deeper"
        )

    def test_two_first_starts_at_once(self) -> None:
        both = [self.start("import", str(self.package)) for _ in range(2)]
        told = [one.communicate(timeout=120)[1] for one in both]
        self.assertEqual([one.returncode for one in both], [0, 0], told)
        self.assertEqual(sum("term_weeks 12 new" in text for text in told), 1, told)
        self.assertNotIn("Traceback", "".join(told))

    def test_a_turn_is_one_programs_and_ends_with_it(self) -> None:
        make_ready(self.data)
        with turn(self.data, "import"):
            self.assertTrue(is_taken(self.data, "import"))

            def give_up() -> None:
                raise CoreError("enough")

            with self.assertRaisesRegex(CoreError, "enough"), turn(self.data, "import", give_up):
                self.fail("two have it")
        self.assertFalse(is_taken(self.data, "import"))

    def test_a_fault_is_noted_and_told_where(self) -> None:
        """A command that meets a fault of the program says so in a sentence, and the log has the rest."""
        program = (
            "from unittest.mock import patch\n"
            "from driftfield.cli.main import main\n"
            "with patch('driftfield.exchange.reader.read_package', side_effect=KeyError('luck')):\n"
            "    main(['analyse', 'nowhere'])\n"
        )
        environment = {**os.environ, "DRIFTFIELD_DATA": str(self.data), "PYTHONPATH": str(ROOT)}
        found = subprocess.run(
            [sys.executable, "-c", program], env=environment, capture_output=True, text=True, check=False
        )  # fmt: skip
        self.assertEqual(found.returncode, 1)
        self.assertIn("A fault in the program (KeyError: 'luck'). It is noted as", found.stderr)
        self.assertNotIn("Traceback", found.stderr)
        self.assertIn("KeyError", (self.data / "logs/driftfield.log").read_text())
        shutil.rmtree(self.data)
