"""How fast hands can be at the desk: the next card of Skim, and the chart of a large market.

    PYTHONPATH=. .venv/bin/python benchmarks/big_market.py /tmp/big
    DRIFTFIELD_DATA=/tmp/big bin/driftfield serve --port 8124 &
    PYTHONPATH=. .venv/bin/python benchmarks/desk_page.py http://127.0.0.1:8124

Skim: from the key to the frame in which the next niche's name and curve stand, forty cards at a
reader's pace; the reference is the same card opened anew, which is fetched then. Chart: frames while
the wheel zooms in and out again; the reference is the same page's ledger under the same wheel.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time

from playwright.sync_api import Page, sync_playwright

from tests.browser.base import ARGUMENTS

CARDS, READ = 40, 0.4  # Seconds a card is read.

NEXT = """async () => {
  const name = () => document.querySelector('.card h1')?.textContent;
  const before = name();
  const started = performance.now();
  window.dispatchEvent(new KeyboardEvent('keydown', {key: 'ArrowRight'}));
  while (name() === before || !name() || !document.querySelector('.card .curve canvas'))
    await new Promise(requestAnimationFrame);
  return performance.now() - started;
}"""
FRAMES = """async () => {
  const took = [];
  let last = performance.now();
  const end = last + 2500;
  while (last < end) {
    await new Promise(requestAnimationFrame);
    const now = performance.now();
    took.push(now - last);
    last = now;
  }
  return took;
}"""


def report(what: str, took: list[float]) -> None:
    took = sorted(took)
    at95 = took[int(len(took) * 0.95) - 1]
    print(
        f"{what:46} median {statistics.median(took):6.1f} ms, 95th {at95:6.1f} ms, slowest {took[-1]:6.1f}"
    )


def opened(page: Page, address: str) -> float:
    started = time.perf_counter()
    page.goto(address)
    page.wait_for_selector(".card .curve canvas")
    return (time.perf_counter() - started) * 1000


def wheel(page: Page) -> list[float]:
    """Frames while the wheel turns over the middle of the page."""
    page.mouse.move(640, 330)
    page.evaluate(f"window.frames_ = ({FRAMES})()")
    for step in range(20):
        page.mouse.wheel(0, -120 if step < 10 else 120)
        page.wait_for_timeout(100)
    return page.evaluate("window.frames_")


def main(address: str) -> None:
    with sync_playwright() as playwright, tempfile.TemporaryDirectory() as profile:
        context = playwright.chromium.launch_persistent_context(
            profile,
            executable_path="/usr/bin/chromium",
            args=ARGUMENTS,
            viewport={"width": 1280, "height": 800},
        )
        page = context.new_page()
        opened(page, f"{address}/skim")
        took = []
        for _ in range(CARDS):
            time.sleep(READ)
            took.append(page.evaluate(NEXT))
        here = page.url
        report("Skim, the next card", took)
        report("Skim, a card opened anew (reference)", [opened(page, here) for _ in range(5)])
        page.goto(f"{address}/field?view=chart")
        started = time.perf_counter()
        page.wait_for_selector(".pane canvas")
        print(f"chart shown after {time.perf_counter() - started:.2f} s")
        page.wait_for_timeout(1500)
        report("chart, frames while zooming", wheel(page))
        page.goto(f"{address}/field")
        page.wait_for_selector(".line .name")
        page.wait_for_timeout(1500)
        report("ledger, frames while scrolling (reference)", wheel(page))
        context.close()


if __name__ == "__main__":
    main(sys.argv[1])
