"""What reading the listings of a large market costs, against reading its niches in the same run.

    PYTHONPATH=.:benchmarks .venv/bin/python benchmarks/listing_speed.py [--niches 20000]

Both are told a subject; there is no bar.
"""

from __future__ import annotations

import argparse
import resource
import tempfile
import time
from pathlib import Path

from big_market import tables
from category_speed import with_tree

from driftfield.core.market import run_listings, run_market
from driftfield.exchange.market_data import assemble
from driftfield.exchange.reader import read_package


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--niches", type=int, default=20_000)
    wanted = parser.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        for name, frame in with_tree(tables(wanted.niches)).items():
            frame.write_csv(Path(folder) / f"{name}.csv")
        [market], _ = assemble(read_package(Path(folder)))
    started = time.perf_counter()
    niches = run_market(market.data)
    of_niches = time.perf_counter() - started
    started = time.perf_counter()
    listings = run_listings(niches, market.listing_ids)
    of_listings = time.perf_counter() - started
    many = 0 if listings is None else listings.count
    each = of_listings / max(many, 1) / (of_niches / niches.count)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 2**20
    print(
        f"{niches.count:,} niches {of_niches:.1f} s, {many:,} listings {of_listings:.1f} s, a listing against "
        f"a niche {each:.2f}; memory at most {peak:.1f} GB"
    )


if __name__ == "__main__":
    main()
