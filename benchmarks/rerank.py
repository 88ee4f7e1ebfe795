"""A new lens over a large market: ranks, and their bands from 1,000 draws.

    PYTHONPATH=. .venv/bin/python benchmarks/rerank.py [--niches 100000]

The reference is what a straightforward program does: pymcdm's weighted product model for the score,
scipy's rankdata for the ranks, and for the bands both of them once a draw (timed for a few draws and
scaled up). The figure that counts is the ratio; the seconds are what a person waits.
"""

from __future__ import annotations

import argparse
import statistics
import time
from collections.abc import Callable

import numpy as np
from pymcdm.methods import WPM
from scipy.stats import rankdata

from driftfield.core.base import DEFAULTS
from driftfield.core.ranking import DEFAULT_LENS, LASTING, PARTS, normalise, rank_bands, rank_niches

DRAWS = 5


def seconds(work: Callable[[], object], times: int = 5) -> tuple[float, float]:
    """Median and slowest of some runs."""
    found = []
    for _ in range(times):
        started = time.perf_counter()
        work()
        found.append(time.perf_counter() - started)
    return statistics.median(found), max(found)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--niches", type=int, default=100_000)
    n = parser.parse_args().niches
    rng = np.random.default_rng(0)
    figures = {part.figure: rng.lognormal(size=n) for part in PARTS}
    for part in PARTS:
        figures[part.figure][rng.random(n) < 0.05] = np.nan
    figures[PARTS[0].figure] = rng.lognormal(size=n)
    figures[LASTING] = np.ones(n)
    lens = DEFAULT_LENS.with_pairs(["reviews=0.5", "drift=0.4"])

    normalised = normalise(figures)
    ranking = rank_niches(normalised, lens)
    percentiles = np.exp(normalised.logs)
    weights = lens.scaled()

    def reference() -> np.ndarray:
        scores = WPM(lambda column, cost: column)(percentiles, weights, np.ones(len(PARTS)))
        return np.asarray(rankdata(-scores, method="min"))

    rows = {
        "normalise (once a market)": seconds(lambda: normalise(figures)),
        "ranks under a new lens": seconds(lambda: rank_niches(normalised, lens)),
        "weighted product and rankdata": seconds(reference),
        "bands of 1,000 draws": seconds(lambda: rank_bands(normalised, ranking, lens, DEFAULTS), 3),
    }
    print(f"{n:,} niches, {len(PARTS)} parts, 5% of them unknown")
    for name, (middle, slowest) in rows.items():
        print(f"{name:32} median {middle * 1000:7.0f} ms, slowest {slowest * 1000:7.0f} ms")
    draw = seconds(lambda: [reference() for _ in range(DRAWS)], 1)[0] / DRAWS
    whole = draw * DEFAULTS.rank_draws
    ratio = whole / rows["bands of 1,000 draws"][0]
    print(f"bands by the reference, draw by draw: {whole:.0f} s, {ratio:.0f} times ours")


if __name__ == "__main__":
    main()
