"""What buyers say, from a file to themes, against one reading of the same texts by scikit-learn.

    PYTHONPATH=. .venv/bin/python benchmarks/voices_speed.py [--texts 100000] [--niche 2000]

Writes texts about niches of ``--niche`` texts each, made by the recipes of the tests, and runs `bin/driftfield
voices` on them. The reference is scikit-learn's TfidfVectorizer over single words and pairs of them, in this
process: it only counts. Prints seconds, memory at most and the ratio, and how long one niche of 20,000 texts
takes once its texts are read.
"""

from __future__ import annotations

import argparse
import json
import resource
import subprocess
import sys
import tempfile
import time
from datetime import date
from pathlib import Path

import numpy as np
import polars as pl
from sklearn.feature_extraction.text import TfidfVectorizer

from driftfield.core.voices import read_voices
from driftfield.core.voices.tests.made import BELLS, STOVES, made

ROOT = Path(__file__).resolve().parents[1]
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


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--texts", type=int, default=100_000)
    parser.add_argument("--niche", type=int, default=2_000)
    asked = parser.parse_args()
    table = texts_of(asked.texts, asked.niche)
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
