"""A data set analysed by two programs, against one program with two threads and with one, on the same curves.

    .venv/bin/python benchmarks/cluster_speed.py [--curves 100000] [--parts 6] [--scale 50000 200000]

Writes a market of weekly curves of five years (as analyse_speed.py does), puts it in parts, and analyses it as
a user would, one way after the other. The figures that count are the ratios of the same run, and the slope of
time over curves with ``--scale``, which analyses data sets of these sizes with ``local:2``. Records are
compared.
"""

from __future__ import annotations

import argparse
import json
import math
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
from analyse_speed import WEEKS, market

ROOT = Path(__file__).resolve().parents[1]
FIRST = date(2021, 5, 17)
BLOCK = 20_000  # Curves made at once.
ALONE = ("POLARS_MAX_THREADS", "OMP_NUM_THREADS", "OPENBLAS_NUM_THREADS")


def write_market(folder: Path, n: int) -> None:
    """A wide term_weeks.csv of ``n`` curves, made block by block."""
    folder.mkdir()
    days = [(FIRST + timedelta(weeks=i)).isoformat() for i in range(WEEKS)]
    with (folder / "term_weeks.csv").open("wb") as out:
        for start in range(0, n, BLOCK):
            many = min(BLOCK, n - start)
            values = pl.from_numpy(market(many, seed=start), schema=days)
            frame = values.with_columns(pl.all().fill_nan(None).cast(pl.Int32))
            terms = pl.Series("term", [f"term {start + i}" for i in range(many)])
            frame.insert_column(0, terms).write_csv(out, include_header=start == 0)


def run(*words: object, threads: int = 2) -> tuple[float, float]:
    """Seconds that a command takes, and the most memory of one of its programs, in GB."""
    surroundings = {**os.environ, "PYTHONPATH": str(ROOT)}
    if threads == 1:
        surroundings |= dict.fromkeys(ALONE, "1")
    pin = ["taskset", "-c", "0"] if threads == 1 else []
    began = time.perf_counter()
    started = subprocess.Popen(
        [*pin, sys.executable, "-m", "driftfield", *map(str, words)], env=surroundings,
        stderr=subprocess.PIPE, stdout=subprocess.DEVNULL,
    )  # fmt: skip
    most = 0
    while started.poll() is None:
        most = max(most, _largest(started.pid))
        time.sleep(0.2)
    if started.returncode:
        raise SystemExit(started.stderr.read().decode() if started.stderr else "failed")
    return time.perf_counter() - began, most / 1e9


def _largest(pid: int) -> int:
    """Bytes of the largest of a program and those it started."""
    import psutil

    try:
        programs = [psutil.Process(pid), *psutil.Process(pid).children(recursive=True)]
        return max(one.memory_info().rss for one in programs)
    except psutil.Error:
        return 0


def same(whole: Path, parts: Path) -> int:
    """How many of the figures differ."""
    one = pl.read_parquet(whole).sort("niche_id")
    files = sorted((parts / "niches").glob("*/*/*.parquet"))
    other = pl.concat([pl.read_parquet(f, hive_partitioning=False) for f in files]).sort("niche_id")
    return sum(not one[name].equals(other[name], null_equal=True) for name in one.columns)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--curves", type=int, default=100_000)
    parser.add_argument("--parts", type=int, default=6)
    parser.add_argument("--scale", type=int, nargs="*", default=())
    parser.add_argument("--beside", type=Path, help="folder for the data; default is temporary")
    options = parser.parse_args()
    with tempfile.TemporaryDirectory(dir=options.beside) as name:
        folder = Path(name)
        os.environ["DRIFTFIELD_SCRATCH"] = name
        package, data = folder / "package", folder / "set"
        write_market(package, options.curves)
        size = (package / "term_weeks.csv").stat().st_size
        took, most = run("partition", package, data, "--parts", options.parts)
        stored = sum(file.stat().st_size for file in data.rglob("*.parquet"))
        print(
            f"{options.curves:,} curves, {os.cpu_count()} cores; CSV {size / 1e9:.2f} GB, "
            f"data set {stored / 1e9:.2f} GB"
        )
        print(f"put in {options.parts} parts      {took:7.1f} s, {most:.2f} GB at most")
        threads, most = run("analyse", package, "--out", folder / "whole.parquet")
        print(f"one program, two threads {threads:5.1f} s, {most:.2f} GB")
        parts, most = run("analyse", data, "--cluster", "local:2", "--out", folder / "out")
        told = json.loads((folder / "out" / "result.json").read_text())
        print(
            f"local:2              {parts:7.1f} s ({told['seconds']:.1f} without the start), "
            f"{most:.2f} GB a program"
        )
        one, most = run("analyse", package, "--out", folder / "one.parquet", threads=1)
        print(f"one program, one thread  {one:5.1f} s, {most:.2f} GB")
        print(
            f"local:2 over two threads {parts / threads:5.2f}; one thread over local:2 {one / parts:5.2f}"
        )
        print(f"figures that differ      {same(folder / 'whole.parquet', folder / 'out'):3d}")
        points = []
        for many in options.scale:
            other, data = folder / f"package {many}", folder / f"set {many}"
            write_market(other, many)
            put, most_put = run("partition", other, data, "--parts", max(many // 20_000, 1))
            (other / "term_weeks.csv").unlink()
            took, most = run(
                "analyse", data, "--cluster", "local:2", "--out", folder / f"out {many}"
            )
            points.append((many, took))
            print(
                f"{many:9,} curves: parts {put:7.1f} s, {most_put:.2f} GB; local:2 {took:7.1f} s, "
                f"{most:.2f} GB a program"
            )
        if len(points) > 1:
            slope = np.polyfit(
                [math.log(n) for n, _ in points], [math.log(t) for _, t in points], 1
            )[0]
            print(f"slope of log time over log curves {slope:.3f}")
        largest = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e6
        print(f"(the benchmark itself {largest:.2f} GB)")


if __name__ == "__main__":
    main()
