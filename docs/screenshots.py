"""Takes docs/screenshots/ anew from a running demo: ``python -m docs.screenshots [ADDRESS]``.

Start bin/demo first; the demo market and an untouched database are assumed.
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path
from urllib.parse import urlencode

from playwright.sync_api import Page, sync_playwright

from tests.browser.base import ARGUMENTS

OUT = Path(__file__).parent / "screenshots"


SIEVE = urlencode(
    [
        ("c", "price 12..60"), ("c", "shape = Seasonal or Leaning"), ("c", "top 3 of 10 reviews < 300"),
        ("c", "~terms lack copper"), ("near", "yes"),
    ]
)  # fmt: skip


def _foot(page: Page) -> None:
    page.wait_for_selector(".curve canvas")
    page.wait_for_timeout(700)


def main(address: str) -> None:
    views = [
        ("field-day", "/field?niche=north-rhubarb-forcers", "light", 1280, ""),
        ("field-night", "/field?niche=north-rhubarb-forcers", "dark", 1280, ""),
        ("field-narrow", "/field?niche=north-rhubarb-forcers", "light", 600, ""),
        ("sieve", f"/field?{SIEVE}", "light", 1280, ""),
        ("lens", "/field?lens=reviews=0.6,balance=0.6", "light", 1280, "l"),
        ("working", "/field?niche=north-rhubarb-forcers", "light", 1280, "w"),
    ]
    OUT.mkdir(exist_ok=True)
    with sync_playwright() as playwright:
        for name, path, scheme, width, key in views:
            with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as profile:
                context = playwright.chromium.launch_persistent_context(
                    profile,
                    executable_path="/usr/bin/chromium",
                    args=ARGUMENTS,
                    viewport={"width": width, "height": 800},
                    color_scheme=scheme,  # type: ignore[arg-type]
                )
                page = context.new_page()
                page.goto(f"{address}{path}")
                page.wait_for_selector(".line .name")
                if width > 620:
                    _foot(page)
                if name == "sieve":
                    page.locator(".clause").first.click()
                if key:
                    page.keyboard.press(key)
                page.wait_for_timeout(800)
                page.screenshot(path=OUT / f"{name}.png")
                context.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8000")
