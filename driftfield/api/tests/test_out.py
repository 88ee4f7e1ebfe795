"""What goes out: the same readings as the command line writes, and tables that change nothing on the way back."""

import io
import json
import math
import tempfile
import zipfile
from pathlib import Path
from typing import Any

import polars as pl
from click.testing import CliRunner
from django.http import FileResponse
from django.test import TestCase
from frictionless import Package as StandardPackage
from openpyxl import load_workbook

from driftfield.cli.main import main
from driftfield.exchange.reader import read_package
from driftfield.exchange.tests.packages import supplied_market, write
from driftfield.intake.actions import import_folder, undo_batch
from driftfield.market.models import Market, Niche
from driftfield.readings.actions import analyse_all


class Out(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        holder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(holder.cleanup)
        cls.folder = Path(holder.name)
        cls.package = write(cls.folder / "in", **supplied_market())
        import_folder(cls.package)
        list(analyse_all())

    def file(self, path: str) -> bytes:
        found = self.client.get(f"/api/{path}")
        self.assertEqual(found.status_code, 200)
        assert isinstance(found, FileResponse)
        return b"".join(found)  # type: ignore[arg-type]

    def tables(self, path: str, name: str) -> Path:
        folder = self.folder / name
        with zipfile.ZipFile(io.BytesIO(self.file(path))) as archive:
            archive.extractall(folder)
        return folder

    def assert_alike(self, found: Any, wanted: Any, where: str = "") -> None:
        if isinstance(wanted, dict):
            self.assertEqual(list(found), list(wanted), where)
            for key, value in wanted.items():
                self.assert_alike(found[key], value, f"{where}.{key}")
        elif isinstance(wanted, list):
            self.assertEqual(len(found), len(wanted), where)
            for i, value in enumerate(wanted):
                self.assert_alike(found[i], value, f"{where}[{i}]")
        elif isinstance(wanted, float):
            self.assertTrue(
                math.isclose(found, wanted, rel_tol=1e-6, abs_tol=2e-6), (where, found, wanted)
            )
        else:
            self.assertEqual(found, wanted, where)

    def test_readings_are_those_of_the_command_line_in_every_form(self) -> None:
        told = CliRunner().invoke(main, ["analyse", str(self.package)])
        self.assertEqual(told.exit_code, 0, told.stderr)
        wanted = [json.loads(line) for line in told.stdout.splitlines()]
        lines = self.file("readings/file/?as=jsonl").decode().splitlines()
        # What is loaded is kept in single precision, which has seven digits.
        self.assert_alike([json.loads(line) for line in lines], wanted)

        frame = pl.read_parquet(io.BytesIO(self.file("readings/file/?as=parquet")))
        self.assertEqual(frame["niche_id"].to_list(), [one["niche_id"] for one in wanted])
        self.assertEqual(frame["growth_13w.raw"][0], wanted[0]["growth_13w"]["raw"])
        self.assertEqual(frame["signals"][0].to_list(), wanted[0]["signals"])
        table = pl.read_csv(io.BytesIO(self.file("readings/file/")))
        self.assertEqual(table.columns[:3], ["market_id", "niche_id", "name"])
        sheet = load_workbook(io.BytesIO(self.file("readings/file/?as=xlsx"))).active
        assert sheet is not None
        rows = [[cell.value for cell in row] for row in sheet.iter_rows(max_col=3)]
        self.assertEqual(rows[0], ["Market id", "Niche id", "Name"])
        self.assertEqual(rows[1:], list(map(list, table.select(table.columns[:3]).rows())))
        some = self.file("readings/file/?as=jsonl&niche=rf").decode().splitlines()
        self.assertEqual([json.loads(line)["niche_id"] for line in some], ["rf"])
        self.assertEqual(self.client.get("/api/readings/file/?as=pdf").status_code, 400)

    def test_terms_are_those_of_the_command_line(self) -> None:
        told = CliRunner().invoke(main, ["analyse", "--of", "terms", str(self.package)])
        self.assertEqual(told.exit_code, 0, told.stderr)
        wanted = [json.loads(line) for line in told.stdout.splitlines()]
        lines = self.file("readings/file/?of=terms&as=jsonl").decode().splitlines()
        self.assert_alike([json.loads(line) for line in lines], wanted)
        self.assertEqual(list(wanted[0])[:3], ["market_id", "term", "niche_id"])

    def test_tables_are_valid_and_change_nothing_on_the_way_back(self) -> None:
        for path, niches in (
            ("tables/?all=yes", 3),
            ("tables/?niche=rf", 1),
            ("tables/?c=rank+<=+1", 1),
        ):
            with self.subTest(path):
                folder = self.tables(path, f"out {niches} {path[-4:]}")
                # frictionless is the reference validator of the Table Schema standard.
                report = StandardPackage(str(folder / "datapackage.json")).validate()
                self.assertTrue(report.valid, report.flatten(["type", "note"]))
                again = import_folder(folder)
                self.assertFalse(again.changed, again.counts)

    def test_the_tables_of_a_niche_are_a_market_of_their_own(self) -> None:
        folder = self.tables("tables/?niche=rf", "one")
        package = read_package(folder)
        self.assertEqual(package.frames["niches"]["niche_id"].to_list(), ["rf"])
        self.assertEqual(
            set(package.frames["terms"]["term"]), {"rhubarb forcer", "terracotta forcer"}
        )
        self.assertEqual(
            set(package.frames["listing_weeks"]["listing_id"]), {"l1", "l2", "l3", "l4", "l5"}
        )
        wanted = json.loads(self.file("readings/file/?as=jsonl&niche=rf").decode())
        undo_batch(lambda: None)
        self.assertFalse(Market.objects.exists())
        import_folder(folder)
        list(analyse_all())
        self.assertEqual(Niche.objects.get().name, "Rhubarb forcers")
        found = json.loads(self.file("readings/file/?as=jsonl").decode())
        # What is read of the niche alone is the same; its place among others is not.
        for key in (
            "shape",
            "drift_rate_year",
            "growth_13w",
            "searches_52w",
            "order_by",
        ):
            self.assertEqual(found[key], wanted[key], key)

    def test_a_sieve_that_nothing_passes_has_no_tables(self) -> None:
        found = self.client.get("/api/tables/?c=searches+>+99m")
        self.assertEqual(found.status_code, 404)
        self.assertEqual(found.json()["detail"], "No niche passes the sieve.")
