"""How long the Field takes from navigation to a ledger one can use.

    bin/demo --port 8123 &
    .venv/bin/python benchmarks/field_page.py http://127.0.0.1:8123/

Each of ten runs has a fresh browser profile. Timed in the page itself, from the start of navigation:
until the first row of the ledger is there, and until the selected niche's curve is drawn. The
reference in the same run is a page of this server with nothing on it (the registry of figures as
JSON), which is what browser and network alone take.
"""

from __future__ import annotations

import statistics
import sys
import tempfile

from playwright.sync_api import Page, sync_playwright

RUNS = 10
ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking"]


# Notes in the page itself when an element is first there and the frame with it is painted.
WATCH = """
window.seen = {};
new MutationObserver(() => {
  for (const [name, selector] of Object.entries({ row: "#row-0", chart: ".foot canvas", body: "body" }))
    if (!(name in window.seen) && document.querySelector(selector)) {
      window.seen[name] = 0;
      requestAnimationFrame(() => setTimeout(() => (window.seen[name] = performance.now())));
    }
}).observe(document, { childList: true, subtree: true });
"""


def until(page: Page, name: str) -> float:
    """Milliseconds from the start of navigation until an element was there and painted."""
    # Asked frame by frame: the pages' policy lets nobody evaluate texts, which waiting for a function does.
    return float(
        page.evaluate(
            """async (name) => {
              while (!(window.seen[name] > 0)) await new Promise(requestAnimationFrame);
              return window.seen[name];
            }""",
            name,
        )
    )


def main() -> None:
    address = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8000/"
    rows, charts, bare = [], [], []
    with sync_playwright() as playwright:
        for _ in range(RUNS):
            with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
                context = playwright.chromium.launch_persistent_context(
                    profile, executable_path="/usr/bin/chromium", args=ARGUMENTS,
                    viewport={"width": 1280, "height": 800},
                )  # fmt: skip
                page = context.new_page()
                page.add_init_script(WATCH)
                page.goto(f"{address}api/figures/", wait_until="commit")
                bare.append(until(page, "body"))
                page.goto(address, wait_until="commit")
                rows.append(until(page, "row"))
                charts.append(until(page, "chart"))
                context.close()
    for name, found in (("empty page", bare), ("ledger usable", rows), ("foot drawn", charts)):
        print(f"{name:14} median {statistics.median(found):6.0f} ms, slowest {max(found):6.0f} ms")


if __name__ == "__main__":
    main()
