"""What buyers say, from a file to themes, against one reading of the same texts by scikit-learn.

    PYTHONPATH=. .venv/bin/python benchmarks/voices_speed.py [--texts 100000] [--niche 2000] [--imported]

Writes texts about niches of ``--niche`` texts each, made by the recipes of the tests, and runs `bin/driftfield
voices` on them. The reference is scikit-learn's TfidfVectorizer over single words and pairs of them, in this
process: it only counts. Prints seconds, memory at most and the ratio, and how long one niche of 20,000 texts
takes once its texts are read. With ``--imported`` the same texts, with a term for each niche, are imported and
analysed into a database of their own, which is served: seconds and memory of the import with its analysis, and
how long the themes of one niche take to be answered.
"""

from __future__ import annotations

import argparse
import json
import os
import resource
import subprocess
import sys
import tempfile
import time
import urllib.request
from datetime import date, timedelta
from pathlib import Path

import numpy as np
import polars as pl
from sklearn.feature_extraction.text import TfidfVectorizer

from driftfield.core.voices import read_voices
from driftfield.core.voices.tests.made import BELLS, STOVES, made

ROOT = Path(__file__).resolve().parents[1]
PORT = 8297
ONE = 20_000  # Texts of the niche that is timed alone.


def texts_of(many: int, niche: int) -> pl.DataFrame:
    """A table of voices: niches in turn by the one recipe and the other, each drawn anew."""
    frames = []
    for at, start in enumerate(range(0, many, niche)):
        drawn = made((BELLS, STOVES)[at % 2], min(niche, many - start), at)
        frames.append(
            pl.DataFrame(
                {
                    "text": drawn.texts,
                    "rating": np.asarray(drawn.rating, dtype=np.int64),
                    "day": [date.fromordinal(int(day)) for day in drawn.day],
                    "niche_id": [f"n{at}"] * len(drawn.texts),
                }
            )
        )
    table = pl.concat(frames)
    ids = pl.Series("voice_id", [f"v{at}" for at in range(table.height)])
    return table.with_columns(ids, pl.lit("review").alias("kind"))


def import_and_ask(table: pl.DataFrame) -> None:
    """Import and analyse the texts, serve them, and ask for the themes of some niches."""
    niches = table["niche_id"].unique(maintain_order=True).to_list()
    weeks = [date(2023, 1, 2) + timedelta(weeks=week) for week in range(110)]
    # The server's worker may still write when its folder goes.
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as holder:
        folder, data = Path(holder) / "in", Path(holder) / "data"
        folder.mkdir()
        table.write_csv(folder / "voices.csv")
        pl.DataFrame({"term": niches, "niche_id": niches}).write_csv(folder / "terms.csv")
        pl.DataFrame(
            {
                "term": [niche for niche in niches for _ in weeks],
                "week": weeks * len(niches),
                "searches": [500 + at % 7 for at in range(len(niches) * len(weeks))],
            }
        ).write_csv(folder / "term_weeks.csv")
        environment = {**os.environ, "DRIFTFIELD_DATA": str(data)}
        program = [sys.executable, "-m", "driftfield"]
        began = time.perf_counter()
        made = subprocess.Popen([*program, "import", str(folder)], cwd=ROOT, env=environment)
        _, status, used = os.wait4(made.pid, 0)
        whole = time.perf_counter() - began
        if status:
            raise SystemExit("The import failed.")
        size = sum(file.stat().st_size for file in data.iterdir() if file.is_file()) / 1e9
        print(
            f"imported and analysed in {whole:.0f} s, {used.ru_maxrss / 1e6:.2f} GB at most; "
            f"{size:.2f} GB on disk"
        )
        server = subprocess.Popen(
            [*program, "serve", "--port", str(PORT)],
            cwd=ROOT,
            env=environment,
            stdout=-3,
            stderr=-3,
        )
        try:
            took = sorted(asked_for(niche) for niche in niches[:20] for _ in range(3))
        finally:
            server.terminate()
            server.wait()
        print(
            f"themes of a niche of {table.height // len(niches):,} texts: "
            f"{1e3 * took[len(took) // 2]:.0f} ms in the middle, "
            f"{1e3 * took[-max(len(took) // 20, 1)]:.0f} ms at the 95th percentile"
        )


def asked_for(niche: str) -> float:
    """Seconds until the themes of a niche are answered; waits for the server first."""
    address = f"http://127.0.0.1:{PORT}/api"
    for _ in range(300):
        try:
            urllib.request.urlopen(f"{address}/markets/", timeout=5).close()
            break
        except OSError:
            time.sleep(0.2)
    began = time.perf_counter()
    with urllib.request.urlopen(f"{address}/niche/voices/?niche={niche}", timeout=60) as answer:
        answer.read()
    return time.perf_counter() - began


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--texts", type=int, default=100_000)
    parser.add_argument("--niche", type=int, default=2_000)
    parser.add_argument("--imported", action="store_true")
    asked = parser.parse_args()
    table = texts_of(asked.texts, asked.niche)
    if asked.imported:
        import_and_ask(table)
        return
    with tempfile.TemporaryDirectory() as holder:
        table.write_csv(Path(holder) / "voices.csv")
        out = Path(holder) / "themes.jsonl"
        began = time.perf_counter()
        command = [sys.executable, "-m", "driftfield", "voices", holder, "--out", str(out)]
        subprocess.run(command, check=True, cwd=ROOT)
        whole = time.perf_counter() - began
        themes = [json.loads(line) for line in out.read_text().splitlines()]
    memory = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss / 1e6
    began = time.perf_counter()
    TfidfVectorizer(ngram_range=(1, 2)).fit_transform(table["text"].to_list())
    counted = time.perf_counter() - began
    print(
        f"{asked.texts:,} texts: {len(themes):,} themes in {whole:.1f} s, {memory:.2f} GB at most; "
        f"scikit-learn counts them in {counted:.1f} s; ratio {whole / counted:.1f}"
    )
    one = made(BELLS, ONE, 1)
    began = time.perf_counter()
    read_voices(
        one.texts,
        rating=np.asarray(one.rating, dtype=np.float64),
        lean=np.zeros(ONE),
        day=np.asarray(one.day, dtype=np.float64),
        language="english",
    )
    print(f"one niche of {ONE:,} texts: {time.perf_counter() - began:.1f} s")


if __name__ == "__main__":
    main()
