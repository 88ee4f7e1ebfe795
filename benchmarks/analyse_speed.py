"""The whole analyse command against a loop of statsmodels' STL alone, on the same curves.

    .venv/bin/python benchmarks/analyse_speed.py [--curves 100000] [--sample 100]

Writes a market of weekly curves of five years (a wide term_weeks.csv: seasons, growth, level shifts,
low counts, bots' weeks and gaps), runs the command as a user would, and times STL on a sample of the
curves in the same run, half of it before the command and half after, for machines that share their
cores change speed. The figure that counts is the ratio.
"""

from __future__ import annotations

import argparse
import os
import resource
import subprocess
import sys
import tempfile
import time
from datetime import date, timedelta
from pathlib import Path

import numpy as np
import polars as pl
from statsmodels.tsa.seasonal import STL

ROOT = Path(__file__).resolve().parents[1]
WEEKS = 260


def market(n: int, seed: int = 0) -> np.ndarray:
    """Curves (n, WEEKS) of mixed kinds; NaN in the gaps."""
    rng = np.random.default_rng(seed)
    weeks = np.arange(WEEKS)
    level = rng.lognormal(4.5, 1, (n, 1)) * (1 + rng.normal(0, 0.15, (n, 1))) ** (weeks / 52)
    peak = rng.uniform(0, 52, (n, 1))
    gap = np.abs(weeks % 52 - peak)
    gap = np.minimum(gap, 52 - gap)
    spread = rng.choice([1.5, 4, 7], (n, 1))
    season = 0.15 + 0.85 * np.exp(-0.5 * (gap / spread) ** 2) * 52 / (2.5 * spread)
    flat = rng.random((n, 1)) < 0.4
    expected = level * np.where(flat, 1 + 0.3 * np.cos(2 * np.pi * (weeks - peak) / 52), season)
    expected[: n // 20, 150:] *= 1.6
    values = rng.poisson(expected).astype(float)
    for row in rng.choice(n, n // 50, replace=False):
        values[row, rng.integers(WEEKS)] *= 15
    for row in rng.choice(n, n // 50, replace=False):
        at = rng.integers(10, WEEKS - 10)
        values[row, at : at + 3] = np.nan
    return values


def loop_seconds(values: np.ndarray) -> float:
    """Seconds that a loop of statsmodels' STL takes over some curves."""
    whole = np.nan_to_num(values, nan=0.0)
    started = time.perf_counter()
    for row in whole:
        STL(row, period=52).fit()
    return time.perf_counter() - started


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--curves", type=int, default=100_000)
    parser.add_argument("--sample", type=int, default=100)
    options = parser.parse_args()
    values = market(options.curves)
    with tempfile.TemporaryDirectory() as folder:
        first = date(2021, 5, 17)
        columns = {"term": [f"term {i}" for i in range(options.curves)]}
        for j in range(WEEKS):
            day = (first + timedelta(weeks=j)).isoformat()
            columns[day] = pl.Series(values[:, j]).fill_nan(None).cast(pl.Int64)
        pl.DataFrame(columns).write_csv(Path(folder) / "term_weeks.csv")
        command = [
            sys.executable,
            "-m",
            "driftfield",
            "analyse",
            folder,
            "--out",
            f"{folder}/out.jsonl",
        ]
        rows = np.linspace(0, options.curves - 1, options.sample).astype(int)
        before = loop_seconds(values[rows[::2]])
        started = time.perf_counter()
        subprocess.run(command, check=True, cwd=ROOT, stderr=subprocess.DEVNULL)
        ours = time.perf_counter() - started
        memory = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1e6
        after = loop_seconds(values[rows[1::2]])
        lines = Path(f"{folder}/out.jsonl").read_bytes().count(b"\n")
    loop = (before + after) / options.sample * options.curves
    assert lines == options.curves
    print(f"cores {os.cpu_count()}, curves {options.curves:,} of {WEEKS} weeks")
    print(f"analyse, whole command      {ours:8.1f} s, {memory:.2f} GB at most")
    print(f"statsmodels STL in a loop   {loop:8.1f} s ({options.sample} curves timed, scaled up)")
    print(f"ratio                       {loop / ours:8.0f} times faster")


if __name__ == "__main__":
    main()
