"""How long the almanac takes from navigation to its rows, and to answer for a market of many niches.

    PYTHONPATH=. .venv/bin/python benchmarks/big_market.py /tmp/big --niches 500
    DRIFTFIELD_DATA=/tmp/big bin/driftfield serve --port 8124
    PYTHONPATH=. .venv/bin/python benchmarks/almanac_page.py http://127.0.0.1:8124/ ["c=searches > 500"]

Each of ten runs has a fresh browser profile; timed in the page itself, from the start of navigation until the
first row is painted. Then the page's own question is asked ten times, from the planning date and from other
days, as when it is dragged. The reference in the same run is a page with nothing on it, and an answer of this
server that holds hardly anything (the list of markets).
"""

from __future__ import annotations

import json
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from datetime import date, timedelta
from urllib.parse import quote
from urllib.request import urlopen

from playwright.sync_api import sync_playwright

from benchmarks.field_page import ARGUMENTS, RUNS, until

WATCH = """
window.seen = {};
new MutationObserver(() => {
  for (const [name, selector] of Object.entries({ row: ".calendar .row", body: "body" }))
    if (!(name in window.seen) && document.querySelector(selector)) {
      window.seen[name] = 0;
      requestAnimationFrame(() => setTimeout(() => (window.seen[name] = performance.now())));
    }
}).observe(document, { childList: true, subtree: true });
"""


def middle(ask: Callable[[int], object]) -> float:
    """Milliseconds of the middle of some runs."""
    took = []
    for run in range(RUNS):
        began = time.perf_counter()
        ask(run)
        took.append((time.perf_counter() - began) * 1000)
    return statistics.median(took)


def read(address: str) -> dict:
    with urlopen(address) as answer:
        found: dict = json.load(answer)
        return found


def main() -> None:
    address = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8000/"
    sieve = f"?c={quote(sys.argv[2].removeprefix('c='))}" if len(sys.argv) > 2 else "?"
    rows, bare = [], []
    with sync_playwright() as playwright:
        for _ in range(RUNS):
            with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
                context = playwright.chromium.launch_persistent_context(
                    profile, executable_path="/usr/bin/chromium", args=ARGUMENTS,
                    viewport={"width": 1280, "height": 800},
                )  # fmt: skip
                context.add_init_script(WATCH)
                page = context.pages[0]
                page.goto(f"{address}api/figures/")
                bare.append(until(page, "body"))
                page.goto(f"{address}almanac{sieve}")
                rows.append(until(page, "row"))
                context.close()
    asked = f"{address}api/almanac/{sieve}"
    found = read(asked)
    today = date.fromisoformat(found["planning_date"])
    same = middle(lambda _: read(asked))
    dragged = middle(lambda run: read(f"{asked}&on={today + timedelta(days=7 * (run + 1))}"))
    few = middle(lambda _: urlopen(f"{address}api/markets/").read())
    print(f"{found['count']:,} of {found['total']:,} niches pass")
    first, empty = statistics.median(rows), statistics.median(bare)
    print(f"first row after {first:.0f} ms (slowest {max(rows):.0f})")
    print(f"an empty page {empty:.0f} ms: {first / empty:.1f} times")
    print(
        f"an answer {same:.0f} ms, from another day {dragged:.0f} ms; hardly anything {few:.0f} ms"
    )


if __name__ == "__main__":
    main()
