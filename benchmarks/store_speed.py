"""How long it takes to store what an analysis found, and to ask it of a kind with very many rows.

    PYTHONPATH=. .venv/bin/python benchmarks/store_speed.py [--subjects 1000000]

Stores a column for each figure in blocks, as a run does, and asks the ledger's question of it: a sieve, an
order and the first page, 200 times with other conditions. The references in the same run: the same figures
written as one row a subject with a column a figure, as they lay before, into the same database; and the time
a sort of one column of as many numbers takes. The figures are drawn, not read: what is measured is the store.
"""

from __future__ import annotations

import argparse
import os
import random
import statistics
import tempfile
import time
from datetime import date

import numpy as np

WORDS = ["glass", "copper", "oak", "linen", "tin", "slate", "wool", "brass", "clay", "ash"]
SORTS = ["rank", "-headroom", "-searches_52w", "drift_rate_year", "name", "-growth_13w.drift",
         "-purchase_rate,rank"]  # fmt: skip


def drawn(figure, n: int, rng: np.random.Generator) -> np.ndarray:
    """Figures as the runner gives them, of about the spread that markets have."""
    from driftfield.core.market import FigureType
    from driftfield.core.signals import SIGNALS

    kind = figure.type
    if figure.key == "rank":
        return rng.permutation(n).astype(float) + 1
    if figure.choices:
        return np.array(figure.choices, dtype=object)[rng.integers(0, len(figure.choices), n)]
    if kind is FigureType.PROFILE:
        return rng.lognormal(0, 0.4, (n, 52))
    if kind is FigureType.SIGNALS:
        return np.where(rng.random((n, len(SIGNALS))) < 0.1, rng.random((n, len(SIGNALS))), np.nan)
    if kind is FigureType.DATE:
        return np.full(n, "2026-05-17", dtype=object)
    if kind is FigureType.FLAG:
        return rng.random(n) < 0.1
    if kind in {FigureType.SENTENCE, FigureType.WEEKS}:
        return np.full(n, None, dtype=object)
    if kind in {FigureType.SHIFTS, FigureType.SEASONS}:
        out = np.empty(n, dtype=object)
        out[:] = [()] * n
        return out
    if kind in {FigureType.SHARE, FigureType.CHANGE, FigureType.RATIO}:
        return rng.beta(2, 5, n)
    if kind is FigureType.INDEX:
        return rng.uniform(1, 99, n)
    values = rng.lognormal(6, 1.5, n)
    return np.floor(values) if kind is FigureType.COUNT else values


def row_wise(columns: dict, n: int) -> float:
    """Seconds to write the figures as rows, nested ones as JSON text."""
    import orjson
    from django.db import connection

    started = time.perf_counter()
    ready = []
    for column in columns.values():
        values = column.to_list()
        nested = next((v for v in values if v is not None), None)
        ready.append([None if v is None else orjson.dumps(v) for v in values] if isinstance(nested, list)
                     else [str(v) if isinstance(v, date) else v for v in values])  # fmt: skip
    names = [f'"c{i}"' for i in range(len(columns))]
    with connection.cursor() as cursor:
        cursor.execute(f"CREATE TABLE rows_before (id INTEGER PRIMARY KEY, {', '.join(names)})")
        cursor.executemany(
            f"INSERT INTO rows_before ({', '.join(names)}) VALUES ({', '.join(['%s'] * len(names))})",
            zip(*ready, strict=True),
        )
    took = time.perf_counter() - started
    with connection.cursor() as cursor:
        cursor.execute("DROP TABLE rows_before")
    assert n
    return took


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--subjects", type=int, default=1_000_000)
    parser.add_argument("--rows", type=int, default=100_000, help="Subjects stored both ways.")
    wanted = parser.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        os.environ["DRIFTFIELD_DATA"] = folder
        os.environ.setdefault("DJANGO_SETTINGS_MODULE", "driftfield.settings")
        import django
        from django.core.management import call_command

        django.setup()
        call_command("migrate", verbosity=0)
        measure(wanted.subjects, wanted.rows)


def measure(subjects: int, rows: int) -> None:
    import polars as pl
    from django.test import Client

    from driftfield.core.market import TERM, figures_of
    from driftfield.exchange.columns import series_of
    from driftfield.market.models import Market
    from driftfield.readings.columns import columns_of
    from driftfield.readings.models import Run
    from driftfield.readings.store import CATEGORIES, KEYS, OWN, compact, write_columns

    rng = np.random.default_rng(3)
    market = Market.objects.create(market_id="m", name="Market", currency="GBP")
    run = Run.objects.create(market=market, as_of="2026-05-17", period="week",
                             settings={"lead_days": 77}, counts={"niche": 0, "term": subjects})  # fmt: skip

    def columns(n: int) -> dict[str, pl.Series]:
        names = [f"{WORDS[i % 10]} {WORDS[i // 10 % 10]} {i}" for i in range(n)]
        own = {f"{OWN}term": names, f"{OWN}niche_id": [f"n{i // 10}" for i in range(n)]}
        return {
            KEYS: pl.Series(np.arange(n)),
            CATEGORIES: pl.Series([None] * n, dtype=pl.Int64),
            **{name: pl.Series(values) for name, values in own.items()},
        }

    def figures(n: int) -> dict[str, np.ndarray]:
        return {figure.key: drawn(figure, n, rng) for figure in figures_of(TERM)}

    small = figures(rows)
    started = time.perf_counter()
    made = {f.key: compact(f, series_of(f, small[f.key])) for f in figures_of(TERM)}
    write_columns(run, TERM, columns(rows) | made)
    by_column = time.perf_counter() - started
    before = row_wise({f.key: series_of(f, small[f.key]) for f in figures_of(TERM)}, rows)
    print(f"{rows:,} stored by column {by_column:.1f} s, by row (reference) {before:.1f} s, "
          f"ratio {before / by_column:.1f}", flush=True)  # fmt: skip

    # A column at a time, for the figures of a million subjects at once are larger than the store.
    store = columns(subjects)
    for figure in figures_of(TERM):
        store[figure.key] = compact(figure, series_of(figure, drawn(figure, subjects, rng)))
    write_columns(run, TERM, store)
    run.save()
    del store, made, small
    client, draw = Client(SERVER_NAME="127.0.0.1"), random.Random(5)

    def ask() -> float:
        low = draw.uniform(0.1, 0.4)
        pool = [f"searches >= {draw.randint(200, 3000)}", f"drift >= {low:.2f}", "words >= 2",
                f"shape = {draw.choice(['Seasonal', 'Evergreen', 'Leaning'])}",
                f"rate {low:.2f}..{low + 0.3:.2f}", f"headroom >= {draw.randint(20, 80)}",
                f"terms contain {draw.choice(WORDS)}", "no signal nobody_new"]  # fmt: skip
        query = {
            "of": "terms",
            "sort": draw.choice(SORTS),
            "c": draw.sample(pool, draw.randint(1, 4)),
        }
        started = time.perf_counter()
        answer = client.get("/api/ledger/", query)
        took = (time.perf_counter() - started) * 1000
        assert answer.status_code == 200, answer.content[:300]
        return took

    for _ in range(40):
        ask()
    took = sorted(ask() for _ in range(200))
    numbers = rng.random(subjects)
    started = time.perf_counter()
    np.argsort(numbers)
    reference = (time.perf_counter() - started) * 1000
    held = columns_of(Run.objects.get(), TERM)
    arrays = [a for a in held._found.values() if a is not None]
    each = sum(a.nbytes for a in arrays) / sum(a.size for a in arrays)
    print(f"{subjects:,} terms: sieve, order and first page median {statistics.median(took):.0f} ms, 95th "
          f"{took[189]:.0f} ms, slowest {took[-1]:.0f} ms; one sort of a column (reference) "
          f"{reference:.0f} ms; {each:.1f} bytes a value in memory", flush=True)  # fmt: skip


if __name__ == "__main__":
    main()
