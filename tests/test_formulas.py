"""No export that a spreadsheet opens holds a formula, whatever the texts of a market begin with."""

import csv
import io
import re
import subprocess
import sys
import tempfile
import zipfile
from pathlib import Path

from django.test import TestCase
from openpyxl import load_workbook

from driftfield.desk.actions import decide, remark
from driftfield.desk.models import Choice
from driftfield.exchange.formulas import RISKY
from driftfield.exchange.problems import Problem, Problems
from driftfield.exchange.tests.packages import whole_market, write
from driftfield.intake.actions import import_folder
from driftfield.market.models import Niche
from driftfield.readings.actions import analyse_all
from driftfield.work.models import Job, Kind
from driftfield.work.tasks import _note_problems, problem_file

FORMULA = '=HYPERLINK("http://x","y")'
NUMBER = re.compile(r"[-+]?\d+(\.\d+)?(e[-+]?\d+)?", re.I)
# Texts of the market that begin like a formula from now on.
TEXTS = {
    "terracotta forcer": "@terracotta forcer",
    "Rhubarb forcers": FORMULA,
    "Forcer l2": "+1+cmd|' /C calc'!A0",
    "lid cracks": "-lid cracks",
    "Growing": "\t=Growing",
    "rf": "=rf",
}


def risky_market() -> dict[str, str]:
    made = {}
    for name, text in whole_market().items():
        rows = [[TEXTS.get(cell, cell) for cell in row] for row in csv.reader(io.StringIO(text))]
        out = io.StringIO()
        csv.writer(out, lineterminator="\n").writerows(rows)
        made[name] = out.getvalue()
    return made


class Formulas(TestCase):
    databases = {"default", "work"}  # noqa: RUF012

    def dead(self, where: str, raw: bytes) -> None:
        """No cell of a CSV begins like a formula, but for numbers below 0; none of a sheet is one."""
        if raw[:2] == b"PK":
            for row in load_workbook(io.BytesIO(raw)).active.iter_rows():
                for cell in row:
                    self.assertNotEqual(cell.data_type, "f", where)
                    if str(cell.value).startswith(RISKY) and cell.data_type == "s":
                        self.assertTrue(cell.quotePrefix, (where, cell.value))
            return
        for row in csv.reader(io.StringIO(raw.decode("utf-8-sig"), newline="")):
            for cell in row:
                alive = cell.startswith(RISKY) and not NUMBER.fullmatch(cell)
                self.assertFalse(alive, (where, cell))

    def test_every_export(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **risky_market())
            import_folder(folder)
            list(analyse_all())
            for niche in Niche.objects.all():
                decide("north", niche.niche_id, Choice.KEEP, FORMULA)
                remark("north", niche.niche_id, FORMULA, ["=tag"])
            for address in (
                "ledger/file/?", "readings/file/?", "niche/terms/file/?niche=%3Drf", "desk/shortlist/file/?",
            ):  # fmt: skip
                for form in ("csv", "xlsx"):
                    answer = self.client.get(f"/api/{address}&as={form}")
                    self.assertEqual(answer.status_code, 200, address)
                    raw = answer.getvalue()
                    self.dead(f"{address} {form}", raw)
                    text = raw if form == "csv" else _texts(raw)
                    self.assertTrue(b"HYPERLINK" in text or b"@terracotta" in text, address)
            self.dead(
                "revisions", self.client.get("/api/intake/batches/1/revisions/file/").getvalue()
            )
            self.tables()
            self.problems(Path(holder))
            self.command(folder)

    def tables(self) -> None:
        """Exchange tables come back as they went out; in the guarded form they are dead."""
        for form, alive in (("", True), ("&for=spreadsheets", False)):
            raw = self.client.get(f"/api/tables/?all=yes{form}").getvalue()
            with zipfile.ZipFile(io.BytesIO(raw)) as package:
                niches = package.read("niches.csv")
                if not alive:
                    for name in package.namelist():
                        if name.endswith(".csv"):
                            self.dead(name, package.read(name))
            self.assertEqual(b"\n=rf" in niches, alive)

    def problems(self, folder: Path) -> None:
        job = Job.objects.create(kind=Kind.CHECK, source="x", folder=str(folder))
        found = Problems()
        found.add(Problem("=a.csv", FORMULA, "+1", 2, "@term", "-x"))
        _note_problems(job, found)
        self.dead("problems", problem_file(job).read_bytes())

    def command(self, folder: Path) -> None:
        program = [sys.executable, "-m", "driftfield", "analyse", str(folder), "--verdict"]
        for ending in ("csv", "xlsx"):
            out, terms = folder / f"out.{ending}", folder / "terms.out"
            subprocess.run(
                [*program, "--out", out, "--terms", terms], check=True, capture_output=True
            )
            self.dead(f"analyse {ending}", out.read_bytes())
            self.dead("terms", terms.read_bytes())
            out.unlink()
            terms.unlink()


def _texts(raw: bytes) -> bytes:
    with zipfile.ZipFile(io.BytesIO(raw)) as book:
        return b"".join(book.read(name) for name in book.namelist() if name.endswith(".xml"))
