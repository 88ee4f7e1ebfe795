"""Niches analysed part by part by other programs are what one program makes of the tables at once."""

import json
import os
import signal
import subprocess
import sys
import time
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any, ClassVar
from unittest import TestCase, mock

import numpy as np
import polars as pl
from click.testing import CliRunner

import driftfield
from driftfield.cli.main import main
from driftfield.cluster import RunResult, analyse_dataset, connected, run
from driftfield.core.base import DEFAULTS, CoreError
from driftfield.core.ranking import DEFAULT_LENS, lens_named
from driftfield.exchange.dataset.layout import Store
from driftfield.exchange.dataset.partition import partition
from driftfield.exchange.dataset.parts import Unit
from driftfield.exchange.dataset.tests.object_store import object_store
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.tests.packages import small_market, table, weekly, write

NICHES, WEEKS, PARTS = 60, 120, 4
ROOT = Path(driftfield.__file__).parents[1]


def market() -> dict[str, str]:
    """Niches of two categories, one too noisy alone; listings that several niches share; two markets."""
    rng = np.random.default_rng(8)
    week = np.arange(WEEKS)
    demand: list[tuple] = []
    clicks: list[tuple] = []
    days = [row[1] for row in weekly("", np.zeros(WEEKS))]
    for niche in range(NICHES):
        level = 3 if niche % 6 == 0 else float(rng.lognormal(5, 1))
        wave = 1 + 0.8 * np.cos(2 * np.pi * (week - 20 - 15 * (niche % 2)) / 52)
        for term in range(1 + niche % 2):
            searches = rng.poisson(level * wave)
            name = f"term {niche} {term}"
            demand += [(*row, row[2] // 2, row[2] // 25) for row in weekly(name, searches)]
            for at in (WEEKS - 53, WEEKS - 3):
                shares = rng.dirichlet(np.ones(6)) * 0.9
                pages = rng.choice(120, 6, replace=False)
                clicks += [(name, days[at], f"l{p}", round(float(s), 3)) for p, s in zip(pages, shares, strict=True)]  # fmt: skip
    listings = [
        (f"l{i}", f"Page {i}", f"b{i % 9}", round(float(rng.uniform(8, 60)), 2), int(rng.integers(0, 900)),
         days[int(rng.integers(0, WEEKS))], round(float(rng.uniform(0.01, 0.2)), 3), f"c{i % 2}")
        for i in range(120)
    ]  # fmt: skip
    history = [
        (f"l{i}", day, round(20 + 5 * np.sin(i + at / 9), 2), int(rng.poisson(8)), 10 + at)
        for i in range(120)
        for at, day in enumerate(days[-60:])
    ]
    places = [("north" if i % 5 else "south") for i in range(NICHES)]
    return {
        "markets": table("market_id,name,currency", ("north", "North", "GBP"), ("south", "South", "EUR")),
        "categories": table("category_id,parent_id,name", ("top", "", "All"), ("c0", "top", "Even"), ("c1", "top", "Odd")),
        "niches": table("niche_id,name,category_id,market_id", *((f"n{i}", f"Niche {i}", f"c{i % 2}", places[i]) for i in range(NICHES))),
        "terms": table("term,niche_id", *((f"term {i} {t}", f"n{i}") for i in range(NICHES) for t in range(1 + i % 2))),
        "term_weeks": table("term,week,searches,clicks,purchases", *demand),
        "term_clicks": table("term,week,listing_id,click_share", *clicks),
        "listings": table("listing_id,title,brand,price,reviews,launched_on,return_rate,category_id", *listings),
        "listing_weeks": table("listing_id,week,price,units,reviews", *history),
    }  # fmt: skip


def records(folder: Path) -> pl.DataFrame:
    files = sorted((folder / "niches").glob("*/*/*.parquet"))
    frames = [pl.read_parquet(file, hive_partitioning=False) for file in files]
    return pl.concat(frames).sort("market_id", "niche_id")


class Cluster(TestCase):
    """One cluster of two programs for all of them, for it takes seconds to start."""

    folder: ClassVar[Path]
    client: ClassVar[Any]
    bucket: ClassVar[str]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        temporary = TemporaryDirectory()
        cls.addClassCleanup(temporary.cleanup)
        cls.folder = Path(temporary.name)
        write(cls.folder / "package", **market())
        partition(cls.folder / "package", str(cls.folder / "set"), PARTS)
        found = cls.command(
            "analyse", cls.folder / "package", "--out", cls.folder / "whole.parquet"
        )
        assert found.exit_code == 0, found.output
        cls.whole = pl.read_parquet(cls.folder / "whole.parquet").sort("market_id", "niche_id")
        cls.bucket = cls.enterClassContext(object_store())
        cls.client = cls.enterClassContext(connected(cls.started()))

    @classmethod
    def started(cls) -> str:
        """The address of a scheduler with two workers, as one would start them on other machines.

        Programs of their own: those of the test runner may have none of theirs.
        """
        file = cls.folder / "scheduler.json"
        dask = [sys.executable, "-m", "dask"]
        quiet = {"stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL, "cwd": cls.folder}
        where = os.pathsep.join([str(ROOT), os.environ.get("PYTHONPATH", "")])
        surroundings = {**os.environ, "PYTHONPATH": where, "OMP_NUM_THREADS": "1"}
        for words in (
            ["scheduler", "--host", "127.0.0.1", "--port", "0", "--no-dashboard", "--scheduler-file", file],
            ["worker", "--nworkers", "2", "--nthreads", "1", "--no-dashboard", "--scheduler-file", file],
        ):  # fmt: skip
            started = subprocess.Popen([*dask, *map(str, words)], env=surroundings, **quiet)
            cls.addClassCleanup(started.wait)
            cls.addClassCleanup(started.terminate)
        until = time.monotonic() + 60
        while not file.exists() or not file.read_text():
            assert time.monotonic() < until, "the scheduler does not start"
            time.sleep(0.1)
        found: str = json.loads(file.read_text())["address"]
        return found

    @staticmethod
    def command(*words: object) -> Any:
        return CliRunner().invoke(main, [str(word) for word in words])

    def run_over(self, data: Path | None = None, **options: Any) -> tuple[RunResult, Path]:
        out = self.folder / self.id().rpartition(".")[2]
        result = analyse_dataset(
            self.client,
            str(data or self.folder / "set"),
            str(out),
            DEFAULTS,
            DEFAULT_LENS,
            **options,
        )
        return result, out

    def assert_same(self, found: pl.DataFrame, expected: pl.DataFrame) -> None:
        """The same figure by figure, to the digits that are told."""
        self.assertEqual(found.columns, expected.columns)
        self.assertEqual(found["niche_id"].to_list(), expected["niche_id"].to_list())
        for name in expected.columns:
            ours, theirs = found[name], expected[name]
            if theirs.dtype == pl.Float64:
                np.testing.assert_allclose(
                    ours.to_numpy(), theirs.to_numpy(), rtol=1e-5, atol=2e-6, err_msg=name
                )
            else:
                self.assertTrue(ours.equals(theirs, null_equal=True), name)

    def test_the_same_as_on_one_machine(self) -> None:
        steps: list[tuple[str, int, int]] = []
        result, out = self.run_over(progress=lambda *step: steps.append(step))
        self.assertEqual((result.niches, result.left_out), (NICHES, []))
        self.assert_same(records(out), self.whole)
        # Something was borrowed, shared and ranked, or this would show little.
        self.assertGreater((self.whole["borrowed"] > 0).sum(), 2)
        self.assertGreater(self.whole["sales.units_52w"].count(), 40)
        self.assertEqual(len({step for step, _, _ in steps}), 9)
        told = json.loads((out / "result.json").read_text())
        self.assertEqual((told["niches"], told["parts"]), (NICHES, result.parts))
        self.assertEqual(told["as_of"], "2025-04-20")
        self.assertEqual(sorted(Store(str(out)).names()), ["beside", "niches", "result.json"])

    def test_other_settings_lens_and_day(self) -> None:
        made = self.command(
            "analyse", self.folder / "package", "--out", self.folder / "other.parquet", "--as-of", "2025-03-02",
            "--lens", "Reseller", "--set", "review_limit=400", "--planning-date", "2025-04-01",
        )  # fmt: skip
        self.assertEqual(made.exit_code, 0, made.output)
        whole = pl.read_parquet(self.folder / "other.parquet").sort("market_id", "niche_id")
        out = self.folder / "other"
        analyse_dataset(
            self.client, str(self.folder / "set"), str(out), DEFAULTS.with_pairs(["review_limit=400"]),
            lens_named("Reseller"), as_of=date(2025, 3, 2), planning=date(2025, 4, 1),
        )  # fmt: skip
        self.assert_same(records(out), whole)
        self.assertNotEqual(whole["rank"].to_list(), self.whole["rank"].to_list())

    def test_demand_alone(self) -> None:
        files = market()
        package = write(self.folder / "bare", term_weeks=files["term_weeks"])
        partition(package, str(self.folder / "bare set"), 3)
        found = self.command("analyse", package, "--out", self.folder / "bare.parquet")
        self.assertEqual(found.exit_code, 0, found.output)
        _, out = self.run_over(self.folder / "bare set")
        whole = pl.read_parquet(self.folder / "bare.parquet").sort("market_id", "niche_id")
        self.assert_same(records(out), whole)

    def test_on_an_object_store(self) -> None:
        package = write(self.folder / "small", **small_market())
        partition(package, f"{self.bucket}/set", 2)
        partition(package, str(self.folder / "small set"), 2)
        out = f"{self.bucket}/out"
        result = analyse_dataset(self.client, f"{self.bucket}/set", out, DEFAULTS, DEFAULT_LENS)
        self.assertEqual(result.niches, 3)
        store = Store(out)
        self.assertEqual(store.names(), ["beside", "niches", "result.json"])
        found = pl.concat(
            store.read_frame("niches", market, part, "rows.parquet")
            for market in store.names("niches")
            for part in store.names("niches", market)
        )
        _, here = self.run_over(self.folder / "small set")
        self.assert_same(found.sort("market_id", "niche_id"), records(here))

    def damaged(self) -> tuple[Path, Unit]:
        """A data set with a part of which a table breaks off."""
        package, data = self.folder / "package", self.folder / "bad set"
        if not data.exists():
            partition(package, str(data), PARTS)
            file = data.joinpath(*Unit("north", 2).place("term_clicks"))
            file.write_bytes(file.read_bytes()[:200])
        return data, Unit("north", 2)

    def test_a_bad_part_ends_the_run_and_nothing_is_left(self) -> None:
        data, _ = self.damaged()
        with self.assertRaisesRegex(ExchangeError, "part=0002/rows.parquet: It cannot be read"):
            self.run_over(data)
        self.assertEqual(Store(str(self.folder / self.id().rpartition(".")[2])).names(), [])

    def test_a_bad_part_is_left_out_when_asked_to(self) -> None:
        data, unit = self.damaged()
        result, out = self.run_over(data, skip_bad=True)
        self.assertEqual([(one.market, one.part) for one in result.left_out], [("north", 2)])
        self.assertIn("It cannot be read", result.left_out[0].reason)
        # What is left is ranked among itself: as if the part had never been.
        lean = self.folder / "lean set"
        partition(self.folder / "package", str(lean), PARTS)
        for name in Store(str(lean)).names():
            Store(str(lean)).remove(*unit.place(name)[:3])
        _, other = self.run_over(lean)
        self.assertTrue(records(out).equals(records(other), null_equal=True))
        self.assertLess(result.niches, NICHES)

    def test_a_worker_killed_in_the_middle_changes_nothing(self) -> None:
        pids = set(self.client.run(os.getpid).values())

        def kill(step: str, done: int, _whole: int) -> None:
            if step in {"Reading the supply side", "Reading bands"} and done == 1:
                victims = set(self.client.run(os.getpid).values())
                os.kill(min(victims), signal.SIGKILL)

        result, out = self.run_over(progress=kill)
        self.assertEqual(result.niches, NICHES)
        self.assert_same(records(out), self.whole)
        self.client.wait_for_workers(2, timeout=60)
        self.assertNotEqual(set(self.client.run(os.getpid).values()), pids)

    def test_a_fault_of_a_run_is_no_missing_scheduler(self) -> None:
        with (
            self.assertRaisesRegex(ValueError, "of the run"),
            connected(self.client.scheduler.address),
        ):
            raise ValueError("of the run")

    def test_a_place_in_use_is_left_alone(self) -> None:
        out = self.folder / self.id().rpartition(".")[2]
        out.mkdir()
        (out / "diary.txt").write_text("mine")
        with self.assertRaisesRegex(ExchangeError, "Something else lies there"):
            self.run_over()
        self.assertEqual((out / "diary.txt").read_text(), "mine")
        # A result is replaced by the next.
        analyse_dataset(
            self.client,
            str(self.folder / "set"),
            str(self.folder / "again"),
            DEFAULTS,
            DEFAULT_LENS,
        )
        analyse_dataset(
            self.client,
            str(self.folder / "set"),
            str(self.folder / "again"),
            DEFAULTS,
            DEFAULT_LENS,
        )
        self.assertEqual(records(self.folder / "again").height, NICHES)


class Commands(TestCase):
    def test_programs_of_this_machine(self) -> None:
        """As a user would: a command that starts two programs, and ends them."""
        with TemporaryDirectory() as name:
            folder = Path(name)
            write(folder / "package", **small_market())
            partition(folder / "package", str(folder / "set"), 2)
            words = ["analyse", folder / "set", "--cluster", "local:2", "--out", folder / "out"]
            done = subprocess.run(
                [sys.executable, "-m", "driftfield", *map(str, words)], cwd=ROOT, capture_output=True, text=True,
                check=False,
            )  # fmt: skip
            self.assertEqual(done.returncode, 0, done.stderr)
            self.assertIn("3 niches of 2 parts written to", done.stderr)
            self.assertIn("Note: feedback is not read by a run over parts", done.stderr)
            self.assertEqual(records(folder / "out").height, 3)

    def test_what_does_not_go_together_is_said(self) -> None:
        for words, said in (
            (["--cluster", "local:2"], "Say with --out"),
            (
                ["--cluster", "local:2", "--out", "x", "--of", "terms"],
                "--of does not go with --cluster",
            ),
            (["--cluster", "local:2", "--out", "x", "--verdict"], "--verdict does not go with"),
            (["--skip-bad"], "--skip-bad goes with --cluster"),
            (["--cluster", "local:none", "--out", "x"], "names no cluster"),
        ):
            found = CliRunner().invoke(main, ["analyse", "nowhere", *words])
            self.assertNotEqual(found.exit_code, 0)
            self.assertIn(said, found.output)

    def test_no_scheduler(self) -> None:
        with (
            mock.patch.object(run, "REACHED", "1s"),
            self.assertRaisesRegex(CoreError, "No scheduler answers at tcp://127.0.0.1:9"),
            connected("tcp://127.0.0.1:9"),
        ):
            pass

    def test_nobody_who_works(self) -> None:
        with TemporaryDirectory() as name:
            folder = Path(name)
            write(folder / "package", **small_market())
            partition(folder / "package", str(folder / "set"), 1)
            client = mock.Mock()
            client.nthreads.return_value = {}
            silent = mock.Mock(count=lambda: 1, has_ready=lambda: False)
            with (
                mock.patch("distributed.as_completed", return_value=silent),
                mock.patch.object(run, "PATIENCE", 0.1),
                self.assertRaisesRegex(CoreError, "No worker is left"),
            ):
                analyse_dataset(
                    client, str(folder / "set"), str(folder / "out"), DEFAULTS, DEFAULT_LENS
                )
            self.assertEqual(Store(str(folder / "out")).names(), [])

    def test_problems_as_a_table(self) -> None:
        with TemporaryDirectory() as name:
            folder = Path(name)
            rows = [("moon filter", "2024-01-01", "many"), ("moon filter", "someday", 3)]
            write(folder / "package", term_weeks=table("term,week,searches", *rows))
            found = CliRunner().invoke(
                main, ["partition", str(folder / "package"), str(folder / "set"), "--parts", "2", "--problems", str(folder / "p.csv")]
            )  # fmt: skip
            self.assertEqual(found.exit_code, 1)
            self.assertIn("2 problems, written to", found.output)
            told = pl.read_csv(folder / "p.csv")
            self.assertEqual(told["line"].to_list(), [2, 3])
            self.assertEqual(told["column"].to_list(), ["searches", "week"])
            self.assertFalse((folder / "set").exists())
