"""The ledger of figures that a run over parts left, of as many niches as one machine holds.

    PYTHONPATH=. .venv/bin/python benchmarks/linked_speed.py [--niches 10000000] [--parts 100]

Figures are drawn for one part and written once a part with other ids and ranks, as a run writes them;
then they are linked, and the ledger's question is asked of them by HTTP's own path within the process: a sieve,
an order and the first page, 200 times with other conditions. The reference in the same run is a sort of one
column of as many numbers, and where DuckDB is installed (requirements/bench.txt) the same questions put to it,
with the columns that are asked for in memory. What is measured is the desk, not the run: no curve is read.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import resource
import shutil
import statistics
import tempfile
import time
from pathlib import Path
from urllib.parse import urlencode

import numpy as np
import polars as pl

from benchmarks.store_speed import SORTS, WORDS, drawn

ASKED = 200
DECOY = ["rank", "headroom", "searches_52w", "drift_rate_year", "growth_13w.drift", "purchase_rate",
         "shape", "sales.price_median", "review_barrier", "competition_parts.top3_share"]  # fmt: skip


def write_figures(folder: Path, niches: int, parts: int) -> None:
    """What a run over so many parts would leave, drawn."""
    from driftfield.core.base import DEFAULTS
    from driftfield.core.market import NICHE, figures_of
    from driftfield.core.ranking import PARTS
    from driftfield.exchange.beside import numbers
    from driftfield.exchange.dataset.layout import Manifest, Store, write_manifest
    from driftfield.exchange.readings import readings_frame

    rng = np.random.default_rng(1)
    size = niches // parts
    identity = {name: [""] * size for name in NICHE.fields}
    figures = {figure.key: drawn(figure, size, rng) for figure in figures_of(NICHE)}
    like = readings_frame(NICHE, identity, figures)
    beside = pl.DataFrame({"#parts": numbers(rng.normal(0, 1, (size, len(PARTS))))})
    ranks = rng.permutation(niches) + 1
    store = Store(str(folder / "figures"))
    for part in range(parts):
        first = part * size
        ids = pl.Series("niche_id", [f"n{i}" for i in range(first, first + size)])
        names = [f"{WORDS[i % 10]} {WORDS[i // 10 % 10]} {i}" for i in range(first, first + size)]
        frame = like.with_columns(
            ids, pl.Series("name", names), pl.lit("m").alias("market_id"),
            pl.Series("rank", ranks[first : first + size], dtype=like["rank"].dtype),
        )  # fmt: skip
        place = ("market_id=m", f"part={part:04d}", "rows.parquet")
        store.write_frame(frame, "niches", *place)
        store.write_frame(beside.with_columns(ids), "beside", *place)
    told = {
        "niches": niches, "as_of": "2026-05-17", "parts": parts, "left_out": [], "notes": [], "seconds": 0,
        "data": str(folder / "set"), "settings": DEFAULTS.as_dict(), "planning_date": None,
    }  # fmt: skip
    store.write(json.dumps(told).encode(), "result.json")
    write_manifest(
        Store(str(folder / "set")), Manifest(parts, {}, {}, {"term_weeks": "week"}, ["m"])
    )


def sieve(rng: random.Random) -> list[str]:
    """One to five conditions."""
    pool = [
        f"searches >= {rng.randint(100, 2_000)}", f"drift >= {rng.uniform(0, 0.3):.2f}",
        f"price {rng.randint(50, 300)}..{rng.randint(500, 3_000)}", f"reviews <= {rng.randint(50, 4_000)}",
        f"shape = {rng.choice(['Seasonal', 'Evergreen', 'Leaning or Seasonal'])}",
        "no signal nobody_new", f"top3 <= {rng.uniform(0.4, 0.9):.2f}", "decided open",
    ]  # fmt: skip
    return rng.sample(pool, rng.randint(1, 5))


def timed(name: str, took: list[float]) -> None:
    took.sort()
    at95 = took[int(len(took) * 0.95) - 1]
    print(
        f"{name:44} median {statistics.median(took):7.1f} ms, 95th {at95:7.1f}, slowest {took[-1]:7.1f}"
    )


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--niches", type=int, default=10_000_000)
    parser.add_argument("--parts", type=int, default=100)
    chosen = parser.parse_args()
    folder = Path(tempfile.mkdtemp(prefix="linked"))
    try:
        measure(folder, chosen.niches, chosen.parts)
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def measure(folder: Path, niches: int, parts: int) -> None:
    os.environ["DRIFTFIELD_DATA"] = str(folder / "data")
    os.environ["DJANGO_SETTINGS_MODULE"] = "driftfield.settings"
    (folder / "data").mkdir()
    import django
    from django.core.management import call_command
    from django.test import Client

    django.setup()
    call_command("migrate", verbosity=0)
    from driftfield.api.ledger.query import COLUMNS
    from driftfield.core.market import NICHE
    from driftfield.readings.actions import link_figures
    from driftfield.readings.columns import columns_of
    from driftfield.readings.models import Run

    started = time.perf_counter()
    write_figures(folder, niches, parts)
    print(
        f"{niches:,} niches of {parts} parts drawn and written in {time.perf_counter() - started:.0f} s"
    )
    started = time.perf_counter()
    link_figures(str(folder / "figures"))
    columns_of(Run.objects.select_related("market").get(), NICHE).read_ahead(COLUMNS)
    took = time.perf_counter() - started
    size = sum(one.stat().st_size for one in (folder / "data" / "linked").rglob("*.arrow"))
    print(f"linked in {took:.0f} s, {size / 1e9:.1f} GB, {size / niches:,.0f} bytes a niche")

    client, rng = Client(HTTP_HOST="127.0.0.1"), random.Random(4)

    def ask(path: str) -> float:
        before = time.perf_counter()
        answer = client.get(path)
        assert answer.status_code == 200, answer.content[:300]
        return (time.perf_counter() - before) * 1000

    def ledger(conditions: list[str], sort: str) -> str:
        return f"/api/ledger/?{urlencode([('sort', sort), *(('c', c) for c in conditions)])}"

    print(f"the first page {ask('/api/ledger/'):,.0f} ms")
    for sort in SORTS:
        ask(ledger(["searches >= 100"], sort))
    for _ in range(60):
        ask(ledger(sieve(rng), rng.choice(SORTS)))
    values = np.random.default_rng(2).lognormal(6, 1.5, niches)
    before = time.perf_counter()
    np.sort(values)
    print(f"a sort of one column (reference) {(time.perf_counter() - before) * 1000:,.0f} ms")
    timed(
        "sieve, order, first page",
        [ask(ledger(sieve(rng), rng.choice(SORTS))) for _ in range(ASKED)],
    )
    beside_duckdb(rng)
    print(f"memory at most {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1e6:.1f} GB")


def beside_duckdb(rng: random.Random) -> None:
    """The same questions put to DuckDB, with what they ask for in memory."""
    try:
        import duckdb
    except ImportError:
        print("DuckDB is not installed: no reference")
        return
    from driftfield.core.market import NICHE
    from driftfield.readings.columns import columns_of
    from driftfield.readings.models import Run

    columns = columns_of(Run.objects.select_related("market").get(), NICHE)
    arrays = {key.replace(".", "_"): np.asarray(columns.figure(key)) for key in DECOY}
    opened = duckdb.connect()
    opened.execute("SET threads = 2")
    opened.register("given", arrays)
    opened.execute("CREATE TABLE ledger AS SELECT * FROM given")
    bounds = ["searches_52w >= 1000", "drift_rate_year >= 0.1", "sales_price_median BETWEEN 200 AND 900",
              "review_barrier <= 500", "competition_parts_top3_share <= 0.6", "shape = 2"]  # fmt: skip
    took = []
    for _ in range(ASKED // 4):
        where = " AND ".join(rng.sample(bounds, rng.randint(1, 5)))
        order = rng.choice(["rank", "headroom DESC", "searches_52w DESC", "drift_rate_year"])
        before = time.perf_counter()
        opened.execute(f"SELECT * FROM ledger WHERE {where} ORDER BY {order} LIMIT 100").fetchall()
        took.append((time.perf_counter() - before) * 1000)
    timed("DuckDB in process (reference)", took)


if __name__ == "__main__":
    main()
