"""How long it takes to store what an analysis found, and to ask it of a kind with very many rows.

    PYTHONPATH=. .venv/bin/python benchmarks/store_speed.py [--of listings] [--subjects 1000000]

Stores a column for each figure in blocks, as a run does, and asks the ledger's question of it: a sieve, an
order and the first page, 200 times with other conditions. The references in the same run: of terms, the same
figures written as one row a subject with a column a figure, as they lay before, into the same database, and
the time a sort of one column of as many numbers takes; of listings, the same questions put to DuckDB, which has
the columns that are asked for in memory (in an environment of requirements/bench.txt), and what it costs to ask
for the units of a month that nobody asked for before, which is read of the stored curves. The figures are
drawn, not read: what is measured is the store.
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


# A condition, and the same in SQL; of values drawn by ``low``, ``many`` and a word.
POOLS = {
    "terms": [
        ("searches >= {many}", ""), ("drift >= {low:.2f}", ""), ("words >= 2", ""), ("shape = {shape}", ""),
        ("rate {low:.2f}..{high:.2f}", ""), ("headroom >= {index}", ""), ("terms contain {word}", ""),
        ("no signal nobody_new", ""),
    ],
    "listings": [
        ("units a year >= {many}", '"sales.units_52w" >= {many}'),
        ("price now {index}..{more}", '"listing.price" BETWEEN {index} AND {more}'),
        ("drift >= {low:.2f}", 'drift_rate_year >= {low:.2f}'), ("shape = {shape}", "shape = '{shape}'"),
        ("sleeper is Asleep", "\"sleep.state\" = 'Asleep'"),
        ("offers now <= {many}", '"listing.offers" <= {many}'),
        ("reviews now <= {many}", '"listing.reviews" <= {many}'), ("made by b{index}", "brand = 'b{index}'"),
        ("terms contain {word}", "contains(name, '{word}')"),
    ],
}  # fmt: skip
ORDERS = {
    "terms": [(one, "") for one in SORTS],
    "listings": [
        ("-sales.units_52w", '"sales.units_52w" DESC'), ("listing.price", '"listing.price"'),
        ("drift_rate_year", "drift_rate_year"), ("-listing.reviews", '"listing.reviews" DESC'),
        ("name", "name"), ("-sleep.expected_4w", '"sleep.expected_4w" DESC'),
        ("-sales.revenue_52w", '"sales.revenue_52w" DESC'),
    ],
}  # fmt: skip
PAGE = 100


def question(draw: random.Random, kind: str) -> tuple[dict, str, str]:
    """What the ledger is asked, and the same as SQL's WHERE and ORDER BY."""
    low, index = draw.uniform(0.1, 0.4), draw.randint(20, 80)
    values = {
        "low": low, "high": low + 0.3, "many": draw.randint(200, 3000), "index": index, "more": index * 20,
        "word": draw.choice(WORDS), "shape": draw.choice(["Seasonal", "Evergreen", "Leaning"]),
    }  # fmt: skip
    chosen = draw.sample(POOLS[kind], draw.randint(1, 4))
    sort, order = draw.choice(ORDERS[kind])
    asked = {"of": kind, "sort": sort, "c": [text.format(**values) for text, _ in chosen]}
    return asked, " AND ".join(sql.format(**values) for _, sql in chosen), order


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--of", default="terms", choices=["terms", "listings"])
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
        measure(wanted.of, wanted.subjects, wanted.rows)


def measure(of: str, subjects: int, rows: int) -> None:
    import polars as pl
    from django.test import Client

    from driftfield.core.market import LISTING, TERM, figures_of
    from driftfield.exchange.columns import series_of
    from driftfield.market.models import Market
    from driftfield.readings.columns import columns_of
    from driftfield.readings.models import Run
    from driftfield.readings.store import CATEGORIES, KEYS, OWN, compact, write_columns

    kind = LISTING if of == "listings" else TERM
    rng = np.random.default_rng(3)
    market = Market.objects.create(market_id="m", name="Market", currency="GBP")
    run = Run.objects.create(market=market, as_of="2026-05-17", period="week",
                             settings={"lead_days": 77}, counts={"niche": 0, kind.key: subjects})  # fmt: skip

    def columns(n: int) -> dict[str, pl.Series]:
        names = [f"{WORDS[i % 10]} {WORDS[i // 10 % 10]} {i}" for i in range(n)]
        own = {f"{OWN}niche_id": [f"n{i // 10}" for i in range(n)]}
        if kind == LISTING:
            own |= {f"{OWN}listing_id": [f"l{i}" for i in range(n)], f"{OWN}name": names,
                    f"{OWN}brand": [f"b{i % 20_000}" for i in range(n)],
                    f"{OWN}seller_id": [f"s{i % 100_000}" for i in range(n)]}  # fmt: skip
        else:
            own |= {f"{OWN}term": names}
        return {
            KEYS: pl.Series(np.arange(1, n + 1)),
            CATEGORIES: pl.Series([None] * n, dtype=pl.Int64),
            **{name: pl.Series(values) for name, values in own.items()},
        }

    if kind == TERM:
        small = {figure.key: drawn(figure, rows, rng) for figure in figures_of(kind)}
        started = time.perf_counter()
        made = {f.key: compact(f, series_of(f, small[f.key])) for f in figures_of(kind)}
        write_columns(run, kind, columns(rows) | made)
        by_column = time.perf_counter() - started
        before = row_wise({f.key: series_of(f, small[f.key]) for f in figures_of(kind)}, rows)
        print(f"{rows:,} stored by column {by_column:.1f} s, by row (reference) {before:.1f} s, "
              f"ratio {before / by_column:.1f}", flush=True)  # fmt: skip
        del made, small

    # A column at a time, for the figures of a million subjects at once are larger than the store.
    store = columns(subjects)
    for figure in figures_of(kind):
        store[figure.key] = compact(figure, series_of(figure, drawn(figure, subjects, rng)))
    write_columns(run, kind, store)
    run.save()
    other = _duckdb(store) if kind == LISTING else None
    del store
    client, draw = Client(SERVER_NAME="127.0.0.1"), random.Random(5)

    def ask() -> tuple[float, float]:
        query, where, order = question(draw, of)
        started = time.perf_counter()
        answer = client.get("/api/ledger/", query)
        took = (time.perf_counter() - started) * 1000
        assert answer.status_code == 200, answer.content[:300]
        if other is None:
            return took, 0.0
        found = answer.json()
        started = time.perf_counter()
        (many,) = other.execute(f"SELECT count(*) FROM store WHERE {where}").fetchone()
        rows = other.execute(
            f"SELECT * FROM store WHERE {where} ORDER BY {order} NULLS LAST LIMIT {PAGE}"
        ).fetchall()
        theirs = (time.perf_counter() - started) * 1000
        # What lies at a bound may pass by what single precision adds to it.
        assert abs(found["count"] - many) <= 1 + many * 1e-4, (query, where, found["count"], many)
        assert len(found["rows"]) == len(rows)
        return took, theirs

    for _ in range(40):
        ask()
    both = [ask() for _ in range(200)]
    took, theirs = (sorted(column) for column in zip(*both, strict=True))
    numbers = rng.random(subjects)
    started = time.perf_counter()
    np.argsort(numbers)
    reference = (time.perf_counter() - started) * 1000
    held = columns_of(Run.objects.get(), kind)
    arrays = [a for a in held._found.values() if a is not None]
    each = sum(a.nbytes for a in arrays) / sum(a.size for a in arrays)
    print(f"{subjects:,} {of}: sieve, order and first page median {statistics.median(took):.0f} ms, 95th "
          f"{took[189]:.0f} ms, slowest {took[-1]:.0f} ms; one sort of a column (reference) "
          f"{reference:.0f} ms; {each:.1f} bytes a value in memory", flush=True)  # fmt: skip
    if other is not None:
        print(f"DuckDB over the same columns (reference) median {statistics.median(theirs):.0f} ms, 95th "
              f"{theirs[189]:.0f} ms; ratio of the 95th {took[189] / theirs[189]:.2f}", flush=True)  # fmt: skip
        _months(client, subjects, rng)


def _duckdb(store: dict) -> object:
    """The columns that questions name, in DuckDB."""
    import duckdb
    import polars as pl

    names = {
        "sales.units_52w", "sales.revenue_52w", "listing.price", "listing.offers", "listing.reviews",
        "sleep.state", "sleep.expected_4w", "drift_rate_year", "shape", "#name", "#brand", "#listing_id",
    }  # fmt: skip
    frame = pl.DataFrame(
        {name.removeprefix("#"): column for name, column in store.items() if name in names}
    ).with_columns(pl.selectors.categorical().cast(pl.String))
    base = duckdb.connect()
    base.register("columns", frame.to_arrow())
    base.execute("CREATE TABLE store AS SELECT * FROM columns")
    return base


def _months(client: object, subjects: int, rng: np.random.Generator) -> None:
    """What it costs to ask for the units of a month that nobody asked for before, and then again."""
    from driftfield.core.base import Period
    from driftfield.market.many_rows import insert
    from driftfield.market.models import Listing, ListingCurve

    insert(Listing, ({"listing_id": f"l{at}", "title": ""} for at in range(subjects)))
    first = Period.MONTH.number(date(2024, 5, 1))
    units = rng.poisson(40, (subjects, 24)).astype("<f4")
    insert(
        ListingCurve,
        ({"measure": "units", "period": "month", "first": first, "subject_id": at + 1,
          "values": units[at].tobytes()} for at in range(subjects)),
    )  # fmt: skip
    for name in ("asked for first", "and again"):
        started = time.perf_counter()
        answer = client.get("/api/ledger/", {"of": "listings", "c": "sold >= 40 in October 2025"})
        took = time.perf_counter() - started
        assert answer.json()["count"] == int((units[:, 17] >= 40).sum()), answer.json()["count"]
        print(f"units of a month, {name}: {took * 1000:.0f} ms", flush=True)


if __name__ == "__main__":
    main()
