"""How fast a dossier opens complete, and how fast its questions are answered.

    PYTHONPATH=. .venv/bin/python benchmarks/big_market.py /tmp/big
    DRIFTFIELD_DATA=/tmp/big bin/driftfield serve --port 8124 &
    PYTHONPATH=. .venv/bin/python benchmarks/dossier_page.py http://127.0.0.1:8124

Opened: to the frame in which all six questions have their sentences, pictures and tables, those below
the window with their charts still to be drawn, which is measured besides; another niche each time; by
address (the application is loaded anew from the browser's cache), from the Field by Enter, and by key
from the niche before. The reference is the Field opened by address. Answers:
each question of niches drawn at random, in sequence; the reference is the preview, which shows one
niche's curve and figures.
"""

from __future__ import annotations

import json
import random
import sys
import tempfile
import time
import urllib.parse
import urllib.request

from playwright.sync_api import Page, sync_playwright

from benchmarks.desk_page import report
from tests.browser.base import ARGUMENTS

NICHES, ANSWERS = 20, 100
QUESTIONS = (
    "niche", "niche/demand", "niche/curves", "niche/holders", "niche/terms/detail", "niche/feedback",
    "niche/costs",
)  # fmt: skip

# Resolves with the moment at which the page of the named niche is complete.
COMPLETE = """async (every) => {
  const ready = () => {
    const page = document.querySelector('.dossier');
    if (!page) return false;
    if (page.querySelectorAll('section .verdict').length < 6 || page.querySelector('.wait')) return false;
    const charts = [...page.querySelectorAll('.chart')].filter(
      (chart) => every || chart.getBoundingClientRect().top < innerHeight);
    return charts.length > 0 && charts.every((chart) => chart.querySelector('canvas'));
  };
  while (!ready()) await new Promise(requestAnimationFrame);
  await new Promise(requestAnimationFrame);
  return performance.now();
}"""
FIELD = """async () => {
  while (!document.querySelector('[role=row][aria-selected=true]')) await new Promise(requestAnimationFrame);
  return performance.now();
}"""


def ask(address: str) -> object:
    with urllib.request.urlopen(address, timeout=60) as answer:
        return json.load(answer)


def by_key(page: Page, key: str, every: bool = False) -> float:
    """Milliseconds from a key to the page of another niche, complete."""
    return float(
        page.evaluate(
            f"""async () => {{
              const name = () => document.querySelector('.dossier h1')?.textContent;
              const before = name();
              const started = performance.now();
              const pressed = new KeyboardEvent('keydown', {{key: '{key}', bubbles: true}});
              (document.activeElement ?? document.body).dispatchEvent(pressed);
              while (name() === before) await new Promise(requestAnimationFrame);
              return await ({COMPLETE})({str(every).lower()}) - started;
            }}"""
        )
    )


def main(address: str) -> None:
    queue = ask(f"{address}/api/ledger/ids/")
    assert isinstance(queue, dict)
    rng = random.Random(11)
    niches = rng.sample(queue["ids"], min(NICHES + ANSWERS, len(queue["ids"])))
    for question in QUESTIONS:
        took = []
        for niche in niches[-ANSWERS:]:
            started = time.perf_counter()
            ask(f"{address}/api/{question}/?niche={urllib.parse.quote(niche)}")
            took.append((time.perf_counter() - started) * 1000)
        report(f"{question} answered", took)
    with sync_playwright() as playwright, tempfile.TemporaryDirectory() as profile:
        context = playwright.chromium.launch_persistent_context(
            profile, executable_path="/usr/bin/chromium", args=ARGUMENTS,
            viewport={"width": 1280, "height": 800},
        )  # fmt: skip
        page = context.new_page()
        page.goto(f"{address}/field")
        print(f"{'The Field, first time':46} {page.evaluate(FIELD):6.1f} ms")
        took = []
        for _ in range(10):
            page.goto("about:blank")
            page.goto(f"{address}/field")
            took.append(page.evaluate(FIELD))
        report("The Field, opened (reference)", took)
        took, whole = [], []
        for niche in niches[:NICHES]:
            page.goto("about:blank")
            page.goto(f"{address}/dossier?niche={urllib.parse.quote(niche)}", wait_until="commit")
            took.append(page.evaluate(COMPLETE, False))
            whole.append(page.evaluate(COMPLETE, True))
        print(f"{'Dossier, first time':46} {took[0]:6.1f} ms")
        report("Dossier, opened by address", took[1:])
        report("the same with every chart below drawn", whole[1:])
        took = []
        for niche in niches[:NICHES]:
            page.goto(f"{address}/field?niche={urllib.parse.quote(niche)}")
            page.evaluate(FIELD)
            time.sleep(1.5)
            took.append(by_key(page, "Enter"))
        report("Dossier, opened from the Field", took)
        took = []
        page.goto(f"{address}/dossier?niche={urllib.parse.quote(queue['ids'][0])}")
        page.evaluate(COMPLETE, True)
        for _ in range(NICHES):
            time.sleep(1.5)
            took.append(by_key(page, "ArrowRight"))
        report("Dossier, the next one by key", took)
        context.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8124")
