"""Sixteen who decide while an import is written: how long each waits, and whether anything is lost.

    PYTHONPATH=. .venv/bin/python benchmarks/writers.py [SECONDS]

A server with the demo market, and the same market imported with every figure of its searches one higher.
Told are the waits alone and beside the import, as a ratio too, and how many of the decisions that were
answered are in the database.
"""

from __future__ import annotations

import http.client
import json
import os
import sqlite3
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.request
from contextlib import closing
from pathlib import Path

import polars as pl

from driftfield.exchange.sources import open_package

ROOT = Path(__file__).resolve().parents[1]
PORT, WRITERS = 8193, 16


def command(data: Path, *words: str) -> subprocess.Popen[bytes]:
    environment = {**os.environ, "DRIFTFIELD_DATA": str(data), "PYTHONPATH": str(ROOT)}
    return subprocess.Popen(
        [sys.executable, "-m", "driftfield", *words], env=environment, stderr=-3, stdout=-3
    )


def later(folder: Path) -> Path:
    """The demo market's searches, each one higher."""
    folder.mkdir()
    weeks = next(f for f in open_package(ROOT / "demo/harrow-quay.zip") if f.table == "term_weeks")
    frame = pl.read_csv(weeks.read())
    frame.with_columns(pl.col("searches") + 1).write_csv(folder / "term_weeks.csv")
    return folder


def deciding(
    seconds: float, niches: list[str], while_: subprocess.Popen[bytes] | None = None
) -> list[float]:
    """Waits of decisions, made by all writers one after the other for so long, or as long as a program runs."""
    waits: list[float] = []
    end = time.monotonic() + seconds

    def decide(number: int) -> None:
        line = http.client.HTTPConnection("127.0.0.1", PORT, timeout=60)
        at = number
        while time.monotonic() < end or (while_ is not None and while_.poll() is None):
            body = {"market_id": "north", "id": niches[at % len(niches)], "choice": "keep"}
            started = time.perf_counter()
            line.request(
                "POST",
                "/api/desk/decisions/",
                json.dumps(body),
                {"Content-Type": "application/json"},
            )
            answer = line.getresponse()
            answer.read()
            if answer.status == 201:
                waits.append(time.perf_counter() - started)
            else:
                print(f"answered {answer.status}")
            at += WRITERS
            time.sleep(0.02)

    threads = [threading.Thread(target=decide, args=(n,)) for n in range(WRITERS)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    return waits


def told(name: str, waits: list[float]) -> float:
    ranked = sorted(waits)
    high = ranked[int(len(ranked) * 0.99)]
    print(
        f"{name}: {len(waits):,} decisions, median {statistics.median(waits) * 1000:.0f} ms, "
        f"99th {high * 1000:.0f} ms, most {ranked[-1] * 1000:.0f} ms"
    )
    return high


def main(seconds: float) -> int:
    # The server's worker may be writing its last line when the folder goes.
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as holder:
        data = Path(holder) / "data"
        assert command(data, "import", str(ROOT / "demo/harrow-quay.zip")).wait() == 0
        server = command(data, "serve", "--port", str(PORT))
        try:
            for _ in range(100):
                try:
                    with urllib.request.urlopen(
                        f"http://127.0.0.1:{PORT}/api/ledger/ids/"
                    ) as answer:
                        niches = json.load(answer)["ids"]
                    with urllib.request.urlopen(f"http://127.0.0.1:{PORT}/api/markets/") as answer:
                        assert json.load(answer)[0]["market_id"] == "north"
                    break
                except OSError:
                    time.sleep(0.2)
            alone = deciding(seconds / 2, niches)
            before = told("alone", alone)
            program = command(data, "import", str(later(Path(holder) / "later")), "--no-analysis")
            beside = deciding(seconds, niches, program)
            after = told("beside an import", beside)
            print(
                f"99th: {after / before:.1f} times that without it; the import ended with {program.wait()}"
            )
        finally:
            server.terminate()
            server.wait()
        with closing(sqlite3.connect(data / "driftfield.sqlite3")) as opened:
            (stored,) = opened.execute("SELECT count(*) FROM desk_decision").fetchone()
        lost = len(alone) + len(beside) - stored
        print(f"{stored:,} stored, {lost} lost")
        return int(lost > 0)


if __name__ == "__main__":
    sys.exit(main(float(sys.argv[1]) if len(sys.argv) > 1 else 20))
