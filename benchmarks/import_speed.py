"""How fast a large file of observations comes in, and how small it is kept, beside `sqlite3 .import`.

    sudo apt-get install sqlite3
    PYTHONPATH=. .venv/bin/python benchmarks/import_speed.py /tmp/bar [--terms 100000] [--weeks 260] [--runs 3]

The file is one long term_weeks.csv (term, week, searches). The reference puts the same lines into a
table of text without looking at them; Driftfield checks every cell, date, key and sign, and packs the
curves. Each in a process of its own, one after the other, the file in the page cache for both.
"""

from __future__ import annotations

import argparse
import os
import shutil
import statistics
import subprocess
import sys
import time
from datetime import date, timedelta
from pathlib import Path

import numpy as np
import polars as pl

ROOT = Path(__file__).resolve().parents[1]
FIRST = date(2021, 5, 31)
STEM = "copper ladder"


def make_file(path: Path, terms: int, weeks: int) -> None:
    """The file, written a thousand terms at a time."""
    rng = np.random.default_rng(5)
    days = pl.Series([str(FIRST + timedelta(weeks=i)) for i in range(weeks)])
    week = np.arange(weeks)
    with path.open("wb") as out:
        out.write(b"term,week,searches\n")
        for start in range(0, terms, 1000):
            count = min(1000, terms - start)
            level = rng.lognormal(5, 1.5, (count, 1))
            season = 1 + 0.6 * np.cos(2 * np.pi * (week - rng.uniform(0, 52, (count, 1))) / 52)
            names = pl.Series([f"{STEM} {start + i}" for i in range(count)])
            pl.DataFrame(
                {
                    "term": names.gather(np.repeat(np.arange(count), weeks)),
                    "week": days.gather(np.tile(week, count)),
                    "searches": rng.poisson(level * season).ravel(),
                }
            ).write_csv(out, include_header=False)


def timed(command: list[str], environment: dict[str, str]) -> tuple[float, float]:
    """Seconds of a command, and the most memory it or its children held, in MB."""
    started = time.perf_counter()
    process = subprocess.Popen(command, env=environment, stdout=subprocess.DEVNULL)
    _, status, usage = os.wait4(process.pid, 0)
    assert status == 0, f"{command[0]} failed"
    return time.perf_counter() - started, usage.ru_maxrss / 1024


def size(folder: Path) -> float:
    """MB of the databases in a folder."""
    return sum(p.stat().st_size for p in folder.iterdir() if ".sqlite3" in p.name) / 1e6


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--terms", type=int, default=100_000)
    parser.add_argument("--weeks", type=int, default=260)
    parser.add_argument("--runs", type=int, default=3)
    parser.add_argument("--analyse", action="store_true", help="Measure the analysis too.")
    wanted = parser.parse_args()
    wanted.folder.mkdir(parents=True, exist_ok=True)
    source = wanted.folder / "term_weeks.csv"
    if not source.exists():
        make_file(source, wanted.terms, wanted.weeks)
    lines = wanted.terms * wanted.weeks
    print(f"{lines / 1e6:.1f} million lines, {source.stat().st_size / 1e6:.0f} MB")
    with source.open("rb") as whole:  # Into the page cache.
        while whole.read(1 << 24):
            pass
    ratios = []
    for _ in range(wanted.runs):
        plain, ours = wanted.folder / "plain", wanted.folder / "ours"
        for folder in (plain, ours):
            shutil.rmtree(folder, ignore_errors=True)
            folder.mkdir()
        reference, _ = timed(
            ["sqlite3", str(plain / "plain.sqlite3"), "-cmd", ".mode csv",
             f".import {source} observations"], dict(os.environ),
        )  # fmt: skip
        environment = {**os.environ, "DRIFTFIELD_DATA": str(ours), "PYTHONPATH": str(ROOT)}
        # The database is made first, as on the day it is set up.
        timed([sys.executable, "-m", "driftfield", "renew"], environment)
        took, memory = timed(
            [sys.executable, "-m", "driftfield", "import", "--no-analysis", str(source)],
            environment,
        )
        ratios.append(took / reference)
        print(
            f"sqlite3 .import {reference:.1f} s, {size(plain):.0f} MB; "
            f"Driftfield {took:.1f} s ({took / reference:.2f} of it), {size(ours):.0f} MB "
            f"({size(ours) / size(plain):.3f} of it), at most {memory:,.0f} MB of memory", flush=True,
        )  # fmt: skip
        if wanted.analyse:
            took, memory = timed([sys.executable, "-m", "driftfield", "renew"], environment)
            print(
                f"analysed and stored in {took:.1f} s, at most {memory:,.0f} MB of memory",
                flush=True,
            )
    print(f"ratio of time, median: {statistics.median(ratios):.2f}")


if __name__ == "__main__":
    main()
