"""What 100,000 terms cost as terms, against what the same curves cost as niches, in one run.

    PYTHONPATH=. .venv/bin/python benchmarks/term_speed.py [--terms 100000] [--rounds 3]

The market of ``analyse_speed`` with every term a niche of its own, which is how bare terms come, is read as
niches and as terms in turn, in one process. The figure that counts is the ratio of the medians.
"""

from __future__ import annotations

import argparse
import os
import statistics
import time
from datetime import date

import numpy as np
from analyse_speed import market

from driftfield.core.base import Period, Timeline
from driftfield.core.market import MarketData, run_market
from driftfield.core.signals import SIGNALS


def names(many: int, seed: int = 1) -> list[str]:
    """Terms of two or three words out of 20,000, as ``seed_speed`` has them."""
    rng = np.random.default_rng(seed)
    letters = np.array(list("abcdefghiklmnoprstu"))
    words = ["".join(rng.choice(letters, rng.integers(4, 9))) for _ in range(20_000)]
    picked = rng.integers(0, len(words), (many, 2))
    return [f"{words[a]} {words[b]} {at}" for at, (a, b) in enumerate(picked.tolist())]


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--terms", type=int, default=100_000)
    parser.add_argument("--rounds", type=int, default=3)
    options = parser.parse_args()
    values = market(options.terms)
    timeline = Timeline(Period.WEEK, date(2021, 5, 17), values.shape[1])
    terms = names(options.terms)
    data = MarketData(
        timeline=timeline,
        subjects=list(terms),
        term_subject=np.arange(options.terms),
        searches=values,
    )
    as_niches, as_terms = [], []
    for _ in range(options.rounds):
        started = time.perf_counter()
        niches = run_market(data, rules=SIGNALS)
        as_niches.append(time.perf_counter() - started)
        own = data.of_terms(terms, niches.figures["season_profile"])
        started = time.perf_counter()
        run_market(own, rules=SIGNALS)
        as_terms.append(time.perf_counter() - started)
    first, second = statistics.median(as_niches), statistics.median(as_terms)
    print(f"cores {os.cpu_count()}, {options.terms:,} curves of {values.shape[1]} weeks")
    print(f"as niches   {first:6.1f} s")
    print(f"as terms    {second:6.1f} s")
    print(f"ratio       {second / first:6.2f}")


if __name__ == "__main__":
    main()
