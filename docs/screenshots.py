"""Takes docs/screenshots/ anew from a running demo: ``python -m docs.screenshots [ADDRESS [NAME …]]``.

Start bin/demo with an untouched database first, and bring in the demo market's next week (bin/demo
--next-week).
"""

from __future__ import annotations

import json
import sys
import tempfile
import time
from pathlib import Path
from urllib.request import Request, urlopen

from playwright.sync_api import sync_playwright

from tests.browser.base import ARGUMENTS

OUT = Path(__file__).parent / "screenshots"
MARKET = Path(__file__).parents[1] / "demo" / "harrow-quay.zip"


SIDE_BY_SIDE = "&".join(
    f"niche=north-{name}" for name in ("hammock-underquilts", "smoker-hooks", "varroa-boards")
)
# Name, address, light, width, keys that are pressed, what must be there before the picture is taken.
VIEWS = (
    ("field-day", "/field?niche=north-rhubarb-forcers", "light", 1280, (), ".foot canvas"),
    ("terms", "/terms?word=rhubarb", "light", 1280, ("b",), ".foot canvas"),
    (
        "catalogue",
        "/catalogue?open=north-bees&category=north-bees-hive-ware",
        "light",
        1280,
        (),
        ".lists table",
    ),
    (
        "rivals",
        "/rivals?c=sleeper+is+Asleep&sort=-sleep.strong_4w",
        "light",
        1280,
        (),
        ".foot canvas",
    ),
    ("almanac", "/almanac?market=north", "light", 1280, (), ".row .drawn"),
    ("watch", "/watch?market=north", "light", 1280, (), ".step table"),
    ("track-record", "/track-record?market=north", "light", 1280, (), ".facts"),
    ("orders", "/orders?market=north", "light", 1280, (), ".wide-table .lane"),
    ("plan", "/plan?niche=north-smoker-hooks", "light", 1280, (), ".main canvas"),
    ("families", "/families?niche=north-hive-straps", "light", 1280, (), ".family .year"),
    ("skim", "/skim?niche=north-swarm-traps", "light", 1280, (), ".years canvas"),
    ("side-by-side", f"/compare?{SIDE_BY_SIDE}", "light", 1280, (), ".compare canvas"),
    ("across", "/across?niche=north-hive-straps", "light", 1280, (), ".beside .figure"),
    ("shortlist", "/shortlist?niche=north-smoker-hooks", "light", 1280, (), ".foot h2"),
    ("dossier", "/dossier?niche=north-rhubarb-forcers", "light", 1280, (), ".pages canvas"),
    (
        "voices",
        "/dossier?niche=north-kimchi-crocks#complaints",
        "dark",
        1280,
        (),
        "#complaints .themes",
    ),
    ("intake", "/intake", "light", 1280, (), ".batches button"),
    ("brief", "/brief?niche=north-rhubarb-forcers", "light", 1280, (), ".brief canvas"),
)
KEPT = (
    ("north-smoker-hooks", "keep", "steady, light, no brand ahead", "two makers asked", ["bees", "spring"]),
    ("north-varroa-boards", "keep", "low review barrier", "", ["bees"]),
    ("north-rhubarb-forcers", "park", "heavy; wait for a quote on freight", "clay only", ["clay"]),
    ("north-moon-filters", "park", "the field is closing", "", []),
)  # fmt: skip


def decide(address: str) -> None:
    """The decisions that the pictures of the desk show."""
    for niche, choice, reason, note, tags in KEPT:
        mine = {"market_id": "north", "id": niche}
        _send(
            f"{address}/api/desk/decisions/", "POST", {**mine, "choice": choice, "reason": reason}
        )
        _send(f"{address}/api/desk/remarks/", "PUT", {**mine, "note": note, "tags": tags})


def match(address: str) -> None:
    """What the picture of two markets shows: a niche that is the same in both, and a rate."""
    both = {"market_id": "north", "id": "north-hive-straps", "other_market_id": "south"}
    body = {**both, "other_id": "south-hive-straps", "same": True}
    _send(f"{address}/api/across/matches/", "POST", {"matches": [body]})
    rate = {"currency": "EUR", "into": "GBP", "rate": 0.85, "day": "2026-05-20"}
    _send(f"{address}/api/across/rates/", "POST", rate)


def replay(address: str) -> None:
    """What the picture of the track record shows."""
    body = {"market_id": "north", "of": "niches", "every": 13, "anew": False}
    for turn in range(300):
        with urlopen(f"{address}/api/track-record/?market=north") as found:
            made = json.load(found)["made"]
        if made and not made["outdated"]:
            return
        if not turn:
            _send(f"{address}/api/track-record/replay/", "POST", body)
        time.sleep(1)


def _send(address: str, method: str, body: dict[str, object]) -> None:
    headers = {"Content-Type": "application/json"}
    asked = Request(address, json.dumps(body).encode(), headers, method=method)
    urlopen(asked).close()


def main(address: str, *wanted: str) -> None:
    """Take the pictures named, or all."""
    OUT.mkdir(exist_ok=True)
    with sync_playwright() as playwright:
        for name, path, scheme, width, keys, there in VIEWS:
            if name == "skim":
                decide(address)
            if name == "across":
                match(address)
            if name == "track-record":
                replay(address)
            if wanted and name not in wanted:
                continue
            with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
                context = playwright.chromium.launch_persistent_context(
                    profile,
                    executable_path="/usr/bin/chromium",
                    args=ARGUMENTS,
                    viewport={"width": width, "height": 800},
                    color_scheme=scheme,  # type: ignore[arg-type]
                )
                # One who has seen the introduction is not shown it again.
                context.add_init_script("localStorage.setItem('driftfield.introduced', 'true')")
                page = context.new_page()
                page.goto(f"{address}{path}")
                page.wait_for_selector(there)
                page.wait_for_timeout(900)
                if name == "grouping":
                    page.get_by_role("button", name="Propose niches for terms without").click()
                    page.locator(".proposed").wait_for(timeout=120_000)
                if name == "intake":
                    page.get_by_label("Files to import").set_input_files(MARKET)
                    page.get_by_role("heading", name="Checked: ").wait_for(timeout=120_000)
                for key in keys:
                    page.keyboard.press(key)
                page.wait_for_selector(there)
                page.wait_for_timeout(900)
                page.screenshot(path=OUT / f"{name}.png")
                context.close()


if __name__ == "__main__":
    main(*sys.argv[1:] or ["http://127.0.0.1:8000"])
