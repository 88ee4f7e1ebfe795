"""A worker killed at random moments of a run over parts: is the result whole, and the same, each time?

    PYTHONPATH=. .venv/bin/python benchmarks/cluster_kills.py [--niches 3000] [--kills 20]

A market with categories, clicks and listings is analysed with ``local:2`` once in peace; then again and again,
and at a moment drawn within the time that took one of the two workers is killed (SIGKILL). The reference is the
same run in peace: how long it took, and every figure of every niche.
"""

from __future__ import annotations

import argparse
import os
import signal
import tempfile
import threading
import time
from contextlib import suppress
from pathlib import Path

import numpy as np
import polars as pl
from big_market import tables

from driftfield.cluster import analyse_dataset, connected
from driftfield.core.base import DEFAULTS
from driftfield.core.ranking import DEFAULT_LENS
from driftfield.exchange.dataset.partition import partition


def records(folder: Path) -> pl.DataFrame:
    """What a run wrote."""
    files = sorted((folder / "niches").glob("*/*/*.parquet"))
    return pl.concat([pl.read_parquet(f, hive_partitioning=False) for f in files]).sort("niche_id")


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--niches", type=int, default=3000)
    parser.add_argument("--kills", type=int, default=20)
    options = parser.parse_args()
    rng = np.random.default_rng(11)
    with tempfile.TemporaryDirectory() as name, connected("local:2") as client:
        folder = Path(name)
        (folder / "package").mkdir()
        for table, frame in tables(options.niches).items():
            frame.write_csv(folder / "package" / f"{table}.csv")
        partition(folder / "package", str(folder / "set"), 6)

        def run() -> float:
            began = time.monotonic()
            analyse_dataset(
                client, str(folder / "set"), str(folder / "out"), DEFAULTS, DEFAULT_LENS
            )
            return time.monotonic() - began

        run()
        peace = run()
        expected = records(folder / "out")
        took, same = [], 0
        for _ in range(options.kills):
            with suppress(TimeoutError):
                client.wait_for_workers(2, timeout=8)
            victim = int(rng.choice(list(client.run(os.getpid).values())))
            moment = float(rng.uniform(0, peace))
            timer = threading.Timer(moment, os.kill, (victim, signal.SIGKILL))
            timer.start()
            took.append(run())
            timer.join()
            found = records(folder / "out")
            same += all(found[c].equals(expected[c], null_equal=True) for c in expected.columns)
        print(f"{options.niches:,} niches in 6 parts; in peace {peace:.1f} s")
        print(f"{same} of {options.kills} runs with a worker killed are whole and the same")
        print(
            f"they took {np.median(took) / peace:.2f} times as long in the median, "
            f"{max(took) / peace:.2f} at most; compared are {expected.width} columns"
        )


if __name__ == "__main__":
    main()
