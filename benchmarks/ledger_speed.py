"""How fast the ledger answers on a large market: varied sieves, orders, first pages and scrolling.

    PYTHONPATH=. .venv/bin/python benchmarks/big_market.py /tmp/big
    DRIFTFIELD_DATA=/tmp/big bin/driftfield serve --port 8124 &
    .venv/bin/python benchmarks/ledger_speed.py http://127.0.0.1:8124

One client, 200 requests of each kind, each with other conditions. The reference in the same run is the
registry of signals, which the server answers without looking at a niche.
"""

from __future__ import annotations

import http.client
import json
import random
import statistics
import sys
import time
from collections.abc import Callable
from urllib.parse import urlencode, urlsplit

REQUESTS = 200
SORTS = ["rank", "-headroom", "-searches_52w", "drift_rate_year", "-sales.price_median", "name",
         "review_barrier", "-growth_13w.drift", "shape,-headroom", "-purchase_rate,rank"]  # fmt: skip


def sieve(rng: random.Random) -> list[str]:
    """One to five conditions of all kinds."""
    low = rng.uniform(5, 20)
    pool = [
        f"price {low:.2f}..{low * rng.uniform(1.5, 4):.2f}", f"searches >= {rng.randint(500, 20_000)}",
        f"drift >= {rng.uniform(-0.2, 0.3):.2f}", f"reviews <= {rng.randint(50, 400)}",
        f"shape = {rng.choice(['Seasonal', 'Evergreen', 'Leaning or Seasonal'])}",
        f"top {rng.randint(1, 5)} of {rng.randint(5, 8)} reviews < {rng.randint(50, 300)}",
        f"terms contain {rng.choice(['glass', 'jar', 'copper hook', '77', 'oak tray 1'])}",
        f"peak in {rng.choice(['May', 'June or July', 'December'])}", "no signal nobody_new",
        f"top3 <= {rng.uniform(0.4, 0.9):.2f}", "decided open", f"category Category {rng.randint(0, 1999)}",
    ]  # fmt: skip
    return rng.sample(pool, rng.randint(1, 5))


def asked(rng: random.Random) -> str:
    """A sieve of one condition, which lets most of the niches through."""
    return urlencode({"c": f"searches >= {rng.randint(100, 900)}", "sort": rng.choice(SORTS)})


class Client:
    def __init__(self, address: str) -> None:
        parts = urlsplit(address)
        self.line = http.client.HTTPConnection(parts.hostname or "127.0.0.1", parts.port)

    def ask(self, method: str, path: str, body: dict | None = None) -> tuple[float, bytes]:
        started = time.perf_counter()
        headers = {"Content-Type": "application/json"}
        self.line.request(method, path, json.dumps(body) if body is not None else None, headers)
        answer = self.line.getresponse()
        data = answer.read()
        if answer.status != 200:
            sys.exit(f"{path}: {answer.status} {data[:300]!r}")
        return (time.perf_counter() - started) * 1000, data


def timed(name: str, work: Callable[[], tuple[float, bytes]], times: int = REQUESTS) -> None:
    took = sorted(work()[0] for _ in range(times))
    at95 = took[int(len(took) * 0.95) - 1]
    print(
        f"{name:34} median {statistics.median(took):6.1f} ms, 95th {at95:6.1f} ms, slowest {took[-1]:6.1f} ms"
    )


def main() -> None:
    rng = random.Random(5)
    client = Client(sys.argv[1])
    _, first = client.ask("GET", "/api/ledger/?limit=1")
    print(f"{json.loads(first)['total']:,} niches")

    def ledger(conditions: list[str], sort: str, offset: int = 0) -> tuple[float, bytes]:
        query = [("sort", sort), ("offset", str(offset)), *(("c", c) for c in conditions)]
        return client.ask("GET", f"/api/ledger/?{urlencode(query)}")

    # Both serving processes read each column once, when it is first asked for.
    for _ in range(60):
        ledger(sieve(rng), rng.choice(SORTS))
    timed("registry of signals (reference)", lambda: client.ask("GET", "/api/signals/"))
    timed("sieve, sort and first page", lambda: ledger(sieve(rng), rng.choice(SORTS)))
    timed("scrolling, no conditions", lambda: ledger([], "rank", rng.randint(0, 990) * 100))
    timed(
        "the whole list for Skim", lambda: client.ask("GET", f"/api/ledger/ids/?{asked(rng)}"), 40
    )
    timed(
        "the points of the chart",
        lambda: client.ask("GET", f"/api/ledger/points/?as=packed&{asked(rng)}"),
        40,
    )
    ids = [row["id"] for row in json.loads(ledger([], "name", 40_000)[1])["rows"]]
    preview = lambda: client.ask("GET", f"/api/niche/?niche={rng.choice(ids)}")  # noqa: E731
    timed("preview of one niche", preview, 100)
    lens = lambda: urlencode({"lens": f"reviews={rng.random():.4f},drift={rng.random():.4f}"})  # noqa: E731
    timed("a new lens", lambda: client.ask("GET", f"/api/ledger/?{lens()}"), 40)


if __name__ == "__main__":
    main()
