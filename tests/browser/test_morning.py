"""A researcher's morning, by keyboard alone."""

import csv
import io
import re

from playwright.sync_api import expect

from driftfield.desk.models import Decision, Remark

from .base import BrowserCase
from .market import load, wide_market


class Morning(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(wide_market())

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def tab_to(self, name: str, most: int = 40) -> None:
        """Walks with Tab until a link or button is reached."""
        for _ in range(most):
            self.press("Tab")
            if self.page.evaluate("document.activeElement.textContent.trim()") == name:
                return
        self.fail(f"Tab does not reach {name}")

    def test_sieve_skim_keep_compare_export_and_find_it_all_again(self) -> None:
        page = self.open()
        expect(page.get_by_text("27 of 27 pass")).to_be_visible()
        # Sieve: a condition typed with what is offered, and words.
        self.press("/")
        page.keyboard.type("searches >= 3000")
        self.press("Enter")
        page.keyboard.type("term words >= 3")
        self.press("Enter")
        expect(page.get_by_text("24 of 27 pass")).to_be_visible()
        self.press("Escape")
        # Skim twenty: keep three with notes, park two, pass the rest; one slip is undone.
        self.press("s")
        progress = page.get_by_role("region", name="Progress")
        expect(progress).to_contain_text("1 of 24")
        kept = []
        for i in range(20):
            card = page.get_by_role("article")
            expect(progress).to_contain_text(f"{i + 1} of 24")
            name = card.get_by_role("heading").inner_text()
            if i in (2, 7, 11):
                kept.append(name)
                self.press("t")
                page.keyboard.type(f"ask about {name}")
                # What is said of it gives way to what is said of a decision before it that comes later.
                with page.expect_response(lambda one: "remarks" in one.url and one.ok):
                    self.press("Enter")
                self.press("k")
            elif i == 13:
                self.press("k")
                expect(progress).to_contain_text("15 of 24")
                self.press("u")
                expect(progress).to_contain_text("14 of 24")
                self.press("x")
            else:
                self.press("p" if i in (4, 9) else "x")
        expect(progress).to_contain_text("3 kept · 2 parked · 15 passed · 4 open")
        expect(progress).to_contain_text("a minute")
        # Left and taken up again where it was.
        here = page.get_by_role("article").get_by_role("heading").inner_text()
        self.press("Escape")
        expect(page.get_by_role("grid", name="Ranked niches")).to_be_visible()
        self.press("s")
        expect(page.get_by_role("article").get_by_role("heading")).to_have_text(here)
        # To the shortlist by name.
        self.press("Control+k")
        page.keyboard.type("shortl")
        self.press("Enter")
        expect(page.get_by_role("heading", name="Shortlist")).to_be_visible()
        expect(page.get_by_role("row")).to_have_count(6)
        self.assertEqual(
            set(kept),
            set(
                Decision.objects.filter(current=True, choice="keep").values_list(
                    "subject", flat=True
                )
            ),
        )
        # The latest first: moved to the end by hand, and two set side by side.
        first = page.get_by_role("row").nth(1).get_by_role("rowheader").inner_text()
        self.press("Shift+ArrowDown", "Shift+ArrowDown")
        expect(page.get_by_role("row").nth(3).get_by_role("rowheader")).to_have_text(first)
        self.press("ArrowUp", " ", "ArrowUp", " ", "c")
        expect(page.get_by_role("heading", name="Side by side")).to_be_visible()
        expect(page.get_by_role("columnheader")).to_have_count(2)
        expect(page.get_by_text("best").first).to_be_visible()
        page.go_back()
        # Exported, by a link that Tab reaches.
        expect(page.get_by_role("row")).to_have_count(6)
        self.tab_to("CSV")
        with page.expect_download() as download:
            self.press("Enter")
        rows = list(csv.DictReader(io.StringIO(download.value.path().read_text("utf-8-sig"))))
        self.assertEqual([row["Place"] for row in rows], ["1", "2", "3", "4", "5"])
        self.assertEqual(rows[2]["Niche"], first.split("\n")[0])
        self.assertEqual(
            {row["Note"] for row in rows if row["Decision"] == "keep"},
            {f"ask about {name}" for name in kept},
        )
        # Reloaded, everything is still there.
        page.reload()
        expect(page.get_by_role("row").nth(3).get_by_role("rowheader")).to_have_text(first)
        self.press("ArrowDown")
        expect(page.get_by_label(re.compile("^Why "))).to_be_visible()
        self.expect_soon(Decision.objects.filter(current=True).count, 20)
        self.expect_soon(Remark.objects.exclude(note="").count, 3)
