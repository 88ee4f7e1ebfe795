"""What several sellers carry together, and one storefront, among very many offers, beside a database.

    PYTHONPATH=. python benchmarks/carried_speed.py [--offers 20000000]

In an environment of requirements/bench.txt. Offers are drawn: most sellers have few, some have very many. Asked
are what at least three of 20 sellers carry, now and in the last year, and all that one seller carries; 200
times each, with others. The reference in the same run: DuckDB over the same table, ordered by seller as ours
is. Both must find the same.
"""

from __future__ import annotations

import argparse
import statistics
import time
from collections.abc import Callable

import duckdb
import numpy as np
import pyarrow as pa

from driftfield.core.supply import Offers, Shelves, carried_together

DAY = 740_000.0
TOGETHER = 20
LEAST = 3
TIMES = 200
DATABASE_TIMES = 20


def drawn(offers: int) -> Offers:
    """Offers of a market with a listing for 20 and a seller for 200 of them."""
    rng = np.random.default_rng(1)
    listings, sellers = offers // 20, offers // 200
    # A few sellers have a thousand times as many as the most.
    weight = rng.pareto(1.2, sellers) + 1
    many = rng.multinomial(offers, weight / weight.sum())
    since = DAY - rng.integers(0, 1800, offers)
    stay = rng.exponential(600, offers)
    until = np.where(since + stay >= DAY, np.inf, since + stay // 1)
    # What is popular is carried by many.
    listing = (listings * rng.random(offers) ** 2).astype(np.int64)
    return Offers(listing, np.repeat(np.arange(sellers), many), since, until)


def p95(ask: Callable[[int], object], times: int) -> tuple[float, float]:
    """Median and 95th percentile, in milliseconds."""
    taken = []
    for i in range(times):
        started = time.perf_counter()
        ask(i)
        taken.append((time.perf_counter() - started) * 1000)
    return statistics.median(taken), sorted(taken)[int(0.95 * len(taken))]


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--offers", type=int, default=20_000_000)
    wanted = parser.parse_args()
    shelves = Shelves.of(drawn(wanted.offers))
    offers = shelves.offers
    rng = np.random.default_rng(2)
    sellers = len(shelves.start) - 1
    # By their offers, so that the large ones are asked for as often as they are met.
    several = [
        np.unique(offers.seller[rng.integers(0, len(offers.seller), 60)])[:TOGETHER]
        for _ in range(TIMES)
    ]
    one = [offers.seller[rng.integers(0, len(offers.seller), 1)] for _ in range(TIMES)]

    base = duckdb.connect()
    table = pa.table(
        {
            "seller": offers.seller,
            "listing": offers.listing,
            "since": offers.since,
            "until": offers.until,
        }
    )
    base.register("drawn", table)
    base.execute("create table offers as select * from drawn")

    def by_database(chosen: np.ndarray, first: float, least: int) -> int:
        found = base.execute(
            "select listing from offers where seller in (select unnest(?)) and since <= ? and until >= ? "
            "group by listing having count(distinct seller) >= ?",
            [chosen.tolist(), DAY, first, least],
        ).fetchnumpy()
        return len(found["listing"])

    print(f"{len(offers.seller):,} offers of {sellers:,} sellers, 95th percentile (median) in ms")
    for name, chosen, first, least, bar in (
        (f"{TOGETHER} sellers now", several, DAY, LEAST, 300),
        (f"{TOGETHER} sellers in a year", several, DAY - 364, LEAST, 300),
        ("one storefront now", one, DAY, 1, 150),
        ("one storefront ever", one, 0.0, 1, 150),
    ):

        def ours(i: int, chosen=chosen, first=first, least=least) -> int:
            return len(carried_together(shelves, chosen[i], first, DAY, least).listing)

        def theirs(i: int, chosen=chosen, first=first, least=least) -> int:
            return by_database(chosen[i], first, least)

        assert [ours(i) for i in range(5)] == [theirs(i) for i in range(5)], "both find the same"
        (middle, high), (database, database_high) = p95(ours, TIMES), p95(theirs, DATABASE_TIMES)
        print(
            f"{name}: {high:.1f} ({middle:.1f}), bar {bar}; DuckDB {database_high:.1f} ({database:.1f}), "
            f"ratio {high / database_high:.2f}"
        )


if __name__ == "__main__":
    main()
