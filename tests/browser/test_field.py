"""The Field as a researcher uses it."""

import re
import tempfile
from pathlib import Path

from playwright.sync_api import expect

from driftfield.desk.models import Decision
from driftfield.exchange.tests.packages import small_market, write
from driftfield.intake.actions import import_folder
from driftfield.readings.actions import analyse_all

from .base import BrowserCase


class Field(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        with tempfile.TemporaryDirectory() as holder:
            import_folder(write(Path(holder) / "in", **small_market()))
        list(analyse_all())

    def tearDown(self) -> None:
        self.assertEqual(self.errors, [])

    def ledger(self):
        return self.page.get_by_role("grid", name="Ranked niches")

    def row(self, name: str):
        return self.ledger().get_by_role("row").filter(has_text=name)

    def test_ledger_and_foot(self) -> None:
        page = self.open()
        expect(self.ledger().get_by_role("row")).to_have_count(4)
        forcer = self.row("Rhubarb forcers")
        expect(forcer).to_contain_text("Seasonal")
        expect(forcer).to_contain_text("Growing › Bed covers")
        expect(forcer.get_by_label("Year strip of Rhubarb forcers")).to_be_visible()
        forcer.click()
        foot = page.get_by_role("region", name="Selected niche")
        expect(foot.get_by_role("heading", name="Rhubarb forcers")).to_be_visible()
        expect(foot).to_contain_text(re.compile(r"the usual \w+-to-\w+ (rise|fall) makes"))
        expect(foot.get_by_label("Searches of Rhubarb forcers over time")).to_be_visible()
        expect(page).to_have_url(re.compile("niche=rf"))
        page.reload()
        expect(foot.get_by_role("heading", name="Rhubarb forcers")).to_be_visible()

    def test_decide_by_key_undo_and_find_it_after_a_reload(self) -> None:
        page = self.open("/field?sort=name")
        expect(self.row("Moon filters")).to_have_attribute("aria-selected", "true")
        page.keyboard.press("k")
        page.keyboard.press("p")
        expect(page.get_by_text("Parked Rhubarb forcers. u undoes it.")).to_be_visible()
        page.reload()
        pressed = {
            "Keep Moon filters": "true",
            "Park Rhubarb forcers": "true",
            "Keep net float": "false",
        }
        for label, state in pressed.items():
            expect(page.get_by_label(label, exact=True)).to_have_attribute("aria-pressed", state)
        page.keyboard.press("u")
        park = page.get_by_label("Park Rhubarb forcers", exact=True)
        expect(park).to_have_attribute("aria-pressed", "false")
        self.assertEqual(Decision.objects.get(current=True).niche_id, "mf")
        page.get_by_label("Keep Moon filters", exact=True).click()  # again: takes it back
        expect(page.get_by_text("Decision taken back: Moon filters.")).to_be_visible()

    def test_search_filter_sort_and_no_result(self) -> None:
        page = self.open()
        expect(self.ledger().get_by_role("row")).to_have_count(4)
        page.keyboard.press("/")
        page.keyboard.type("terracotta")
        expect(page.get_by_text("1 of 3 pass")).to_be_visible()
        page.keyboard.type(" zebra")
        expect(page.get_by_role("heading", name="No niche passes")).to_be_visible()
        page.get_by_role("button", name="Clear the conditions").click()
        expect(page.get_by_text("3 of 3 pass")).to_be_visible()
        page.get_by_role("button", name="any", exact=True).click()
        page.get_by_role("menuitemcheckbox", name="Seasonal").click()
        expect(page.get_by_text("1 of 3 pass")).to_be_visible()
        page.keyboard.press("Escape")
        page.goto(f"{self.live_server_url}/field")
        page.get_by_role("button", name="searches/yr").click()
        header = self.ledger().get_by_role("columnheader", name=re.compile("searches"))
        expect(header).to_have_attribute("aria-sort", "descending")
        expect(page.locator("#row-0")).to_contain_text("Rhubarb forcers")

    def test_working_and_keys_are_shown(self) -> None:
        page = self.open("/field?niche=rf")
        page.get_by_role("button", name="Show the working").click()
        sheet = page.get_by_role("dialog")
        expect(sheet.get_by_role("row", name=re.compile("^HHI of listings"))).to_contain_text(
            "4,500"
        )
        expect(sheet).to_contain_text("(1 + change) ÷ (1 + season part) − 1")
        page.keyboard.press("Escape")
        expect(sheet).to_be_hidden()
        page.get_by_role("button", name="Show the keys").click()
        expect(page.get_by_role("dialog")).to_contain_text("Undo the latest decision")

    def test_night_is_remembered(self) -> None:
        page = self.open()
        page.get_by_role("button", name="Night").click()
        expect(page.locator("html")).to_have_attribute("data-theme", "night")
        page.reload()
        expect(page.locator("html")).to_have_attribute("data-theme", "night")

    def test_narrow_window_keeps_name_strip_and_decision(self) -> None:
        self.page.set_viewport_size({"width": 600, "height": 800})
        page = self.open()
        expect(self.row("Rhubarb forcers")).to_be_visible()
        expect(page.get_by_label("Year strip of Rhubarb forcers")).to_be_visible()
        wider = page.evaluate("document.documentElement.scrollWidth > window.innerWidth")
        self.assertFalse(wider)


class EmptyDatabase(BrowserCase):
    def test_shows_how_to_load(self) -> None:
        page = self.open()
        expect(page.get_by_role("heading", name="No figures are loaded yet")).to_be_visible()
        expect(page.get_by_text("bin/driftfield import FOLDER")).to_be_visible()

    def test_no_such_page_leads_home(self) -> None:
        page = self.open("/nowhere/at/all")
        expect(page.get_by_role("heading", name="There is no such page")).to_be_visible()
