"""Searches from a seed, letters and words beside it included, against a plain scan by SQL's LIKE.

    PYTHONPATH=.:benchmarks .venv/bin/python benchmarks/seed_speed.py [--terms 1000000] [--seeds 100]

The terms are those of grouping_speed.py. Seeds are words drawn as the application draws them, every third
with a second word of a term that has the first. The scan, in SQLite in memory, counts the terms and sums
their searches, and nothing else. Terms related to random ones are timed beside it. The figure that counts
is the ratio.
"""

from __future__ import annotations

import argparse
import sqlite3
import time

import numpy as np
from grouping_speed import market

from driftfield.core.market.related import alike
from driftfield.core.market.seeds import Seed, TermIndex
from driftfield.core.market.vectors import Vectors, unit_rows

CLICKED = 12  # Listings that a term leads to.


def click_rows(terms: int, rng: np.random.Generator) -> Vectors:
    """Terms that lead to a dozen listings each, of which ten in a row share most."""
    rows = np.repeat(np.arange(terms), CLICKED)
    near = (rows // 10) * CLICKED + rng.integers(0, 2 * CLICKED, len(rows))
    shares = rng.random(len(rows))
    return unit_rows(Vectors((shares, (rows, near)), shape=(terms, int(near.max()) + 1)))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--terms", type=int, default=1_000_000)
    parser.add_argument("--seeds", type=int, default=100)
    options = parser.parse_args()
    weeks, _, _ = market(options.terms)
    terms = weeks["term"].to_list()
    rng = np.random.default_rng(1)
    searches = rng.lognormal(6, 2, len(terms)).round()
    before = searches * rng.lognormal(0, 0.2, len(terms))
    table = sqlite3.connect(":memory:")
    table.execute("CREATE TABLE terms (term TEXT, searches REAL)")
    table.executemany("INSERT INTO terms VALUES (?, ?)", zip(terms, searches.tolist(), strict=True))
    started = time.perf_counter()
    index = TermIndex(terms)
    made = time.perf_counter() - started
    clicks, near = click_rows(len(terms), rng), []
    ours, theirs = [], []
    for number in range(options.seeds):
        words = index.draw(number)
        if number % 3 == 0:
            having = np.flatnonzero(index.find(Seed.read(words)))
            words = " ".join(terms[int(rng.choice(having))].split()[:2])
        started = time.perf_counter()
        found = index.onward(Seed.read(words), searches, before)
        ours.append(time.perf_counter() - started)
        like = " AND ".join("term LIKE ?" for _ in words.split())
        started = time.perf_counter()
        count, _ = table.execute(
            f"SELECT count(*), sum(searches) FROM terms WHERE {like}",
            [f"%{w}%" for w in words.split()],
        ).fetchone()
        theirs.append(time.perf_counter() - started)
        place = int(rng.integers(len(terms)))
        started = time.perf_counter()
        alike(clicks, place, among=~index.sharing(place))
        near.append(time.perf_counter() - started)
        assert found.whole.terms <= count or "y" in words, (words, found.whole, count)
    ends = [np.percentile(one, 95) * 1000 for one in (ours, theirs, near)]
    middle = [np.median(one) * 1000 for one in (ours, theirs, near)]
    print(
        f"{len(terms):,} terms, index made in {made:.1f} s; a seed {middle[0]:.0f} ms in the median, "
        f"{ends[0]:.0f} ms at the 95th percentile; LIKE {middle[1]:.0f} and {ends[1]:.0f} ms; ratio "
        f"{middle[0] / middle[1]:.2f} and {ends[0] / ends[1]:.2f}; related terms {middle[2]:.0f} and "
        f"{ends[2]:.0f} ms, ratio {middle[2] / middle[1]:.2f} and {ends[2] / ends[1]:.2f}"
    )


if __name__ == "__main__":
    main()
