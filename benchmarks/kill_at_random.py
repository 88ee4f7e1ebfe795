"""What is left of the database when an import or an analysis is killed at a random moment.

    PYTHONPATH=. .venv/bin/python benchmarks/kill_at_random.py [--times 50] [--niches 3000] [--seed 0]

A database with a market in it is copied, `bin/driftfield import` of later weeks and new niches (or
`renew`, the analysis) is started on the copy and killed with signal 9 after a time drawn evenly from its
usual length. Then the database must open, pass SQLite's integrity check and the check of its foreign
keys, and hold row for row what it held before, or what it holds after the work. Since most of the time
goes into reading, as many kills again are drawn from the time in which it writes, seen by the growth of
SQLite's write-ahead log.
"""

from __future__ import annotations

import argparse
import hashlib
import os
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
from collections import Counter
from contextlib import closing
from pathlib import Path

from benchmarks.big_market import tables

ROOT = Path(__file__).resolve().parents[1]
# Moments of the work, which differ from run to run.
MOMENTS = {"made_at", "undone_at"}
STARTING = 0.8  # Seconds in which the program does nothing but start.
LOG = 1 << 13  # Bytes of write-ahead log that are more than its head.
POLL = 0.0005  # Seconds between two looks at it.


def command(data: Path, *words: str) -> subprocess.Popen[bytes]:
    environment = {**os.environ, "DRIFTFIELD_DATA": str(data), "PYTHONPATH": str(ROOT)}
    return subprocess.Popen(
        [sys.executable, "-m", "driftfield", *words], env=environment,
        stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip


def logged(data: Path) -> int:
    """Bytes of the write-ahead log."""
    try:
        return (data / "driftfield.sqlite3-wal").stat().st_size
    except FileNotFoundError:
        return 0


def until_it_writes(data: Path, process: subprocess.Popen[bytes]) -> None:
    """Wait until the command has begun to write, or has ended."""
    while process.poll() is None and logged(data) < LOG:
        time.sleep(POLL)


def finished(data: Path, *words: str) -> tuple[float, float]:
    """Seconds a command takes when it is left alone, and those in which its log grows."""
    started = time.perf_counter()
    process = command(data, *words)
    until_it_writes(data, process)
    first = last = time.perf_counter()
    size = logged(data)
    while process.poll() is None:
        if (now := logged(data)) > size:
            size, last = now, time.perf_counter()
        time.sleep(POLL)
    assert process.returncode == 0, f"{words} failed"
    return time.perf_counter() - started, max(last - first, POLL)


def state(data: Path) -> str:
    """A sum over every row of market, batches and readings; raises AssertionError where it is damaged."""
    digest = hashlib.blake2b()
    with closing(sqlite3.connect(data / "driftfield.sqlite3")) as database:
        (verdict,) = database.execute("PRAGMA integrity_check").fetchone()
        assert verdict == "ok", verdict
        assert database.execute("PRAGMA foreign_key_check").fetchone() is None, (
            "a row refers to a row that does not exist"
        )
        names = database.execute(
            "SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name"
        )
        for (table,) in names.fetchall():
            if not table.startswith(("market_", "intake_", "readings_")):
                continue
            columns = [row[1] for row in database.execute(f"PRAGMA table_info({table})")]
            wanted = ", ".join(f'"{c}"' for c in columns if c not in MOMENTS)
            for row in database.execute(f"SELECT {wanted} FROM {table} ORDER BY rowid"):
                digest.update(repr(row).encode())
    return digest.hexdigest()


def kill_often(
    name: str, base: Path, words: tuple[str, ...], times: int, rng: random.Random
) -> None:
    """Kill the command ``times`` times on copies of ``base`` and say what was found."""
    copy = base.with_name("copy")

    def fresh() -> None:
        shutil.rmtree(copy, ignore_errors=True)
        shutil.copytree(base, copy)

    before = state(base)
    fresh()
    took, writes = finished(copy, *words)
    after = state(copy)
    assert after != before, "the work changes nothing, so there is nothing to see"
    for when in ("at any time", "while it writes"):
        found: Counter[str] = Counter()
        for _ in range(times):
            fresh()
            process = command(copy, *words)
            if when == "at any time":
                time.sleep(rng.uniform(min(STARTING, took / 2), took))
            else:
                until_it_writes(copy, process)
                time.sleep(rng.uniform(0, 1.5 * writes))  # The answer to a look comes late, too.
            process.send_signal(signal.SIGKILL)
            ended = process.wait()
            try:
                now = state(copy)
            except (AssertionError, sqlite3.Error) as error:
                found[f"damaged: {error}"] += 1
                continue
            which = {before: "as before", after: "as after"}.get(now, "between")
            found[which + (", which had ended by itself" if ended == 0 else "")] += 1
        outcome = "; ".join(f"{which} {count}" for which, count in sorted(found.items()))
        length = took if when == "at any time" else writes
        print(f"{name}, {when} ({length:.2f} s): {times} kills: {outcome}", flush=True)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--times", type=int, default=50)
    parser.add_argument("--niches", type=int, default=3_000)
    parser.add_argument("--seed", type=int, default=0)
    wanted = parser.parse_args()
    rng = random.Random(wanted.seed)
    with tempfile.TemporaryDirectory() as holder:
        base, first, second = (Path(holder) / name for name in ("base", "first", "second"))
        for folder, niches, weeks in (
            (first, wanted.niches // 2, 110),
            (second, wanted.niches, 130),
        ):
            folder.mkdir()
            for name, frame in tables(niches).items():
                if name == "term_weeks":
                    days = sorted(frame["week"].unique().to_list())[:weeks]
                    frame = frame.filter(frame["week"].is_in(days))
                if name == "term_clicks" and folder == first:
                    continue
                frame.write_csv(folder / f"{name}.csv")
        base.mkdir()
        finished(base, "import", "--no-analysis", str(first))
        kill_often("import", base, ("import", "--no-analysis", str(second)), wanted.times, rng)
        kill_often("analysis", base, ("renew",), wanted.times, rng)


if __name__ == "__main__":
    main()
