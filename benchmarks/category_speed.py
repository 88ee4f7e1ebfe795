"""What reading the categories of a large market costs, against reading its niches in the same run.

    PYTHONPATH=.:benchmarks .venv/bin/python benchmarks/category_speed.py [--niches 100000]

A tree of three levels over niches with clicks and listings: about one category for twenty niches. The bar is
15% of the niches' time.
"""

from __future__ import annotations

import argparse
import statistics
import tempfile
import time
from pathlib import Path

import polars as pl
from big_market import tables

from driftfield.core.market import run_categories, run_market
from driftfield.core.signals import SIGNALS
from driftfield.exchange.market_data import assemble
from driftfield.exchange.reader import read_package

LEAF, BRANCH = 22, 10  # Niches of a lowest category, and categories of the one above.
TIMES = 3


def with_tree(frames: dict[str, pl.DataFrame], leaf: int = LEAF) -> dict[str, pl.DataFrame]:
    """The same market with its niches in a tree of three levels, ``leaf`` of them in each lowest category."""
    n = frames["niches"].height
    leaves = [i // leaf for i in range(n)]
    many = leaves[-1] + 1
    rows = [(f"c{i}", f"b{i // BRANCH}", f"Category {i}") for i in range(many)]
    branches = (many - 1) // BRANCH + 1
    rows += [(f"b{i}", f"a{i // BRANCH}", f"Branch {i}") for i in range(branches)]
    rows += [(f"a{i}", None, f"Area {i}") for i in range((branches - 1) // BRANCH + 1)]
    schema = ["category_id", "parent_id", "name"]
    listings = frames["listings"]
    per_niche = listings.height // n
    return frames | {
        "niches": frames["niches"].with_columns(
            pl.Series("category_id", [f"c{leaf}" for leaf in leaves])
        ),
        "categories": pl.DataFrame(rows, schema=schema, orient="row"),
        "listings": listings.with_columns(
            pl.Series("category_id", [f"c{i // per_niche // leaf}" for i in range(listings.height)])
        ),
    }


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--niches", type=int, default=100_000)
    wanted = parser.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        for name, frame in with_tree(tables(wanted.niches)).items():
            frame.write_csv(Path(folder) / f"{name}.csv")
        [market], _ = assemble(read_package(Path(folder)))
    started = time.perf_counter()
    niches = run_market(market.data, rules=SIGNALS)
    first = time.perf_counter() - started
    # So short a time is doubled by whatever else the machine does meanwhile: the middle one of several counts.
    taken = []
    for _ in range(TIMES):
        started = time.perf_counter()
        found = run_categories(niches)
        taken.append(time.perf_counter() - started)
    assert found is not None
    assert found.category is not None
    second = statistics.median(taken)
    print(
        f"{len(market.data.subjects):,} niches {first:.1f} s, {len(found.category.tree):,} categories "
        f"{second:.2f} s ({', '.join(f'{one:.2f}' for one in taken)}), ratio {second / first:.3f} (bar 0.15)"
    )


if __name__ == "__main__":
    main()
