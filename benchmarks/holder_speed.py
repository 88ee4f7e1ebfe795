"""What the goods and the sales of very many sellers cost, beside a database over the same tables.

    PYTHONPATH=. python benchmarks/holder_speed.py [--listings 1000000]

In an environment of requirements/bench.txt. Two years of monthly units with who held the lead offer, twenty
offers a listing, a seller for ten listings, a brand for fifty. Made are the units of each seller and each
brand by month, and what each seller has on sale, with its part of a year's units. The reference in the same
run: DuckDB over the same rows, in memory. Both must find the same; there is no bar.
"""

from __future__ import annotations

import argparse
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import date
from typing import TypeVar

import duckdb
import numpy as np
import pyarrow as pa

from driftfield.core.base import Period, Timeline
from driftfield.core.supply import (
    History,
    Listings,
    Offers,
    People,
    curves_of_brands,
    curves_of_sellers,
    goods_of_sellers,
)

MONTHS = Timeline(Period.MONTH, date(2024, 6, 1), 24)
DAY = MONTHS.end.toordinal()
T = TypeVar("T")


def drawn(many: int) -> Listings:
    rng = np.random.default_rng(3)
    sellers, brands, offers = max(many // 10, 1), max(many // 50, 1), many * 20
    units = rng.poisson(4, (many, 24)).astype(np.float32)
    lead = rng.integers(0, sellers, (many, 24)).astype(np.float32)
    since = DAY - rng.integers(0, 1800, offers).astype(np.float64)
    stay = rng.exponential(600, offers) // 1
    people = [
        People([str(i) for i in range(n)], [], np.empty(0), np.empty(0)) for n in (brands, sellers)
    ]
    return replace(
        Listings.unknown(many), brand=rng.integers(0, brands, many), brands=people[0], sellers=people[1],
        history=History(MONTHS, {"units": units, "lead_seller": lead}),
        offers=Offers(
            rng.integers(0, many, offers), rng.integers(0, sellers, offers), since,
            np.where(since + stay >= DAY, np.inf, since + stay),
        ),
    )  # fmt: skip


def timed(work: Callable[[], T]) -> tuple[T, float]:
    started = time.perf_counter()
    found = work()
    return found, time.perf_counter() - started


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--listings", type=int, default=1_000_000)
    many = parser.parse_args().listings
    listings = drawn(many)
    history, offers = listings.history, listings.offers
    assert history is not None
    assert offers is not None
    units = history.measures["units"]
    base = duckdb.connect()
    row, month = np.divmod(np.arange(many * 24), 24)
    months = pa.table(
        {"listing": row, "month": month, "units": units.ravel(), "brand": listings.brand[row],
         "lead": history.measures["lead_seller"].ravel().astype(np.int64)}
    )  # fmt: skip
    base.register("months_", months)
    base.execute("create table months as select * from months_")
    base.register(
        "offers_",
        pa.table({"listing": offers.listing, "seller": offers.seller, "until": offers.until}),
    )
    base.execute("create table offers as select * from offers_")

    def asked(query: str) -> Callable[[], list[tuple[float, ...]]]:
        return lambda: base.execute(query).fetchall()

    def told(what: str, ours: float, theirs: float) -> None:
        print(f"{what}: {ours:.2f} s, the database {theirs:.2f} s, ratio {ours / theirs:.2f}")

    for what, make, column in (
        ("units of sellers by month", curves_of_sellers, "lead"),
        ("units of brands by month", curves_of_brands, "brand"),
    ):
        curves, ours = timed(lambda make=make: make(listings, units, 2))  # type: ignore[misc]
        rows, theirs = timed(
            asked(f"select {column}, month, sum(units) from months group by {column}, month")
        )
        for code, at, sum_ in rows[:: max(len(rows) // 2_000, 1)]:
            assert abs(np.nan_to_num(curves[int(code), int(at)]) - sum_) < 1e-3
        told(what, ours, theirs)
    goods, ours = timed(lambda: goods_of_sellers(listings, DAY))
    rows, theirs = timed(
        asked(
            f"with s as (select distinct listing, seller from offers where until >= {DAY}), "
            "u as (select listing, lead as seller, sum(units) as units from months where month >= 12 "
            "group by listing, lead) "
            "select coalesce(s.seller, u.seller), count(s.listing), sum(u.units) from s "
            "full join u on s.listing = u.listing and s.seller = u.seller group by 1"
        )
    )
    on_sale = goods.groups.of(goods.now).size()
    place = {int(code): at for at, code in enumerate(goods.codes.tolist())}
    for code, count, _ in rows[:: max(len(rows) // 2_000, 1)]:
        assert on_sale[place[int(code)]] == count
    told(f"goods of {len(goods.codes):,} sellers, {len(goods.listing):,} of them", ours, theirs)


if __name__ == "__main__":
    main()
