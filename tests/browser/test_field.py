"""The Field as a researcher uses it."""

import re
import tempfile
from datetime import timedelta
from pathlib import Path

import numpy as np
from dateutil.easter import easter
from playwright.sync_api import Locator, expect

from driftfield.desk.models import Decision
from driftfield.exchange.tests.packages import START, table, weekly, write
from driftfield.intake.actions import import_folder
from driftfield.readings.actions import analyse_all

from .base import BrowserCase
from .field import FieldCase

CONDITIONS = Path(__file__).resolve().parents[2] / "driftfield/core/sieve/tests/conditions.csv"


class Field(FieldCase):
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
        self.expect_soon(
            lambda: [one.subject for one in Decision.objects.filter(current=True)], ["mf"]
        )
        page.get_by_label("Keep Moon filters", exact=True).click()  # again: takes it back
        expect(page.get_by_text("Decision undone: Moon filters.")).to_be_visible()

    def test_search_filter_sort_and_no_result(self) -> None:
        page = self.open()
        expect(self.ledger().get_by_role("row")).to_have_count(4)
        page.keyboard.press("/")
        page.keyboard.type("terracotta")
        page.keyboard.press("Enter")
        expect(page.get_by_text("1 of 3 pass")).to_be_visible()
        page.keyboard.type("zebra")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="No niche passes")).to_be_visible()
        searched = "name or search term contains"
        # Both words are somewhere, and never together: that is told, with the steps that help.
        expect(page.get_by_text(f"No niche meets “{searched} “zebra””.")).to_be_visible()
        ways = page.get_by_role("list", name="Ways to let some pass")
        expect(ways).to_contain_text(f"Without “{searched} “zebra””1 niche then passes o")
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        page.keyboard.press("o")
        expect(page.get_by_text("1 of 3 pass")).to_be_visible()
        page.get_by_role("button", name="Clear the conditions").click()
        expect(page.get_by_text("3 of 3 pass")).to_be_visible()

    def test_the_introduction_is_shown_once_and_can_be_called_again(self) -> None:
        page = self.open("/field")
        page.evaluate("localStorage.setItem('driftfield.introduced', 'false')")
        page.reload()
        card = page.get_by_role("region", name="Introduction")
        for head in ("Narrow the field", "Read a row", "Decide, and act in time"):
            expect(card.get_by_role("heading")).to_have_text(head)
            expect(page.locator(".introduced")).to_have_count(1)
            card.get_by_role("button", name=re.compile("Next|Done")).click()
        expect(card).to_be_hidden()
        expect(page.locator(".introduced")).to_have_count(0)
        page.reload()
        expect(page.get_by_text("3 of 3 pass")).to_be_visible()
        expect(card).to_be_hidden()
        page.keyboard.press("Control+k")
        page.keyboard.type("introduction")
        page.keyboard.press("Enter")
        expect(card).to_be_visible()
        card.get_by_role("button", name="Skip").click()
        expect(card).to_be_hidden()

    def test_words_are_explained_where_they_stand_and_in_the_glossary(self) -> None:
        page = self.open("/field")
        heading = page.get_by_role("columnheader", name="headroom")
        expect(heading).to_be_visible()
        self.still()  # a list that still finds its place scrolls, and a tip goes when something scrolls
        tip = page.get_by_role("tooltip")

        def explained(what: Locator, text: str) -> None:
            """Rest on it until its tip comes: one that comes while the list finds its place goes again."""
            for _ in range(8):
                page.mouse.move(2, 2)
                what.hover()
                page.wait_for_timeout(900)
                if tip.filter(has_text=text).count():
                    return
            self.fail(f"Nothing says “{text}”.")

        explained(heading, "Headroom: ")
        explained(page.get_by_text("3 of 3 pass"), "How many niches meet all conditions")
        tip.get_by_role("link", name="Glossary").click()
        expect(page).to_have_url(re.compile("/glossary#passes$"))
        expect(page.get_by_label("Search the glossary")).to_be_visible()
        self.still()
        page.keyboard.press("Control+k")
        page.keyboard.type("season caught")
        expect(
            page.get_by_role("option", name=re.compile("Season caught glossary"))
        ).to_be_visible()
        page.keyboard.press("Control+a")
        page.keyboard.type("lead time")
        page.get_by_role("option", name=re.compile("setting")).first.click()
        expect(page).to_have_url(re.compile("/settings"))

    def test_the_ranking_follows_a_lens_that_can_be_kept(self) -> None:
        page = self.open("/field")
        expect(page.locator("#row-0")).to_be_visible()
        usual = page.locator(".line .name.serif").all_inner_texts()
        page.keyboard.press("l")
        sheet = page.get_by_role("complementary", name="Lens")
        for part in ("Purchases a year", "Revenue a year", "Drift a year"):
            sheet.get_by_role("slider", name=f"Weight of {part}").press("Home")
        sheet.get_by_role("slider", name="Demand's share of headroom").press("End")
        expect(page).to_have_url(re.compile("lens=purchases=0,revenue=0,drift=0,balance=0.95"))
        expect(page.locator("#row-0")).to_contain_text("Rhubarb forcers")
        expect(page.locator("#row-0")).to_contain_text(re.compile("was [123]"))
        expect(page.get_by_role("button", name="Lens: your weights")).to_be_visible()
        sheet.get_by_label("Name of the lens").fill("Searches only")
        page.keyboard.press("Enter")
        expect(sheet.get_by_text("Saved as “Searches only”.")).to_be_visible()
        sheet.get_by_role("button", name="Back to the default").click()
        expect(page).not_to_have_url(re.compile("lens="))
        expect(page.locator("#row-0")).not_to_contain_text("was")
        self.assertEqual(page.locator(".line .name.serif").all_inner_texts(), usual)
        sheet.get_by_role("button", name="Searches only", exact=True).click()
        expect(page.locator("#row-0")).to_contain_text(re.compile("was [123]"))
        expect(page.get_by_role("button", name="Lens: Searches only")).to_be_visible()
        sheet.get_by_role("button", name="First product", exact=True).click()
        expect(page.get_by_role("button", name="Lens: First product")).to_be_visible()
        # It sells through the year, which the other does not.
        expect(page.locator("#row-0")).not_to_contain_text("Rhubarb forcers")

    def test_sort_by_a_heading(self) -> None:
        page = self.open()
        page.get_by_role("button", name="searches/yr").click()
        header = self.ledger().get_by_role("columnheader", name=re.compile("searches"))
        expect(header).to_have_attribute("aria-sort", "descending")
        expect(page.locator("#row-0")).to_contain_text("Rhubarb forcers")
        page.get_by_role("button", name=re.compile("^shape")).click()
        page.get_by_role("button", name=re.compile("^niche")).click(modifiers=["Shift"])
        expect(page).to_have_url(re.compile("sort=shape,name"))
        # Evergreen before Seasonal, and by name within it.
        for i, name in enumerate(("Moon filters", "net float", "Rhubarb forcers")):
            expect(page.locator(f"#row-{i}")).to_contain_text(name)

    def test_working_and_keys_are_shown(self) -> None:
        page = self.open("/field?niche=rf")
        foot = page.get_by_role("region", name="Selected niche")
        expect(foot.get_by_text("Low review barrier")).to_be_visible()
        page.get_by_role("button", name="Working", exact=True).click()
        sheet = page.get_by_role("dialog")
        expect(sheet.get_by_role("listitem").filter(has_text="Low review")).to_contain_text(
            "108 reviews in the median"
        )
        expect(
            sheet.get_by_role("row", name=re.compile("^HHI of listings points"))
        ).to_contain_text("4,500")
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


class HardCases(BrowserCase):
    """A level shift, a feast and a relative curve, as a reader of the foot sees them."""

    def setUp(self) -> None:
        super().setUp()
        rng = np.random.default_rng(3)
        ahead = np.arange(208)
        days = [START + timedelta(weeks=int(i), days=3) for i in ahead]
        weeks = [min(((d - easter(y)).days / 7 for y in range(2022, 2028)), key=abs) for d in days]
        curves = {
            "water tap": np.where(ahead < 120, 200, 330),
            "cake ring": 20 + 2500 * np.exp(-0.5 * ((np.array(weeks) + 1) / 1.3) ** 2),
        }
        rows = [row for term, e in curves.items() for row in weekly(term, rng.poisson(e))]
        index = weekly("star chart", 50 + 40 * np.cos((ahead - 45) * 2 * np.pi / 52))
        with tempfile.TemporaryDirectory() as holder:
            files = {
                "term_weeks": table("term,week,searches", *rows),
                "interest": table("term,week,index", *index),
            }
            import_folder(write(Path(holder) / "in", **files))
        list(analyse_all())

    def foot(self, niche: str):
        page = self.open(f"/field?niche={niche}&sort=name")
        foot = page.get_by_role("region", name="Selected niche")
        expect(foot.get_by_role("heading", name=niche)).to_be_visible()
        return foot

    def test_each_says_what_it_is(self) -> None:
        tap = self.foot("water tap")
        expect(tap).to_contain_text(re.compile(r"apart from a level shift of \+6\d% in April 2025"))
        expect(tap.locator(".curve canvas")).to_be_visible()
        ring = self.foot("cake ring")
        expect(ring).to_contain_text("Every year with Easter")
        expect(self.page.locator("[data-tip*='keeps time with Easter']")).to_be_visible()
        chart = self.foot("star chart")
        expect(chart).to_contain_text("cannot be summed, ranked or turned into counts")
        expect(chart).to_contain_text("relative, highest 100 a week")

    def test_the_working_tells_the_shifts_and_what_is_unknown(self) -> None:
        self.foot("water tap")
        self.page.keyboard.press("w")
        sheet = self.page.get_by_role("dialog")
        shifts = sheet.get_by_role("row", name=re.compile("^Level shifts"))
        expect(shifts).to_contain_text(re.compile(r"\+6\d% from \d+ Apr(il)? 2025"))
        expect(
            sheet.get_by_role("row", name=re.compile("^HHI of listings points"))
        ).to_contain_text("needs term_clicks")
        self.page.keyboard.press("Escape")
        expect(sheet).to_be_hidden()

    def test_what_has_no_rank_comes_last(self) -> None:
        page = self.open("/field")
        rows = page.get_by_role("grid", name="Ranked niches").get_by_role("row")
        expect(rows).to_have_count(4)
        expect(rows.last).to_contain_text("star chart")
        expect(rows.last).to_contain_text("–")


class EmptyDatabase(BrowserCase):
    def test_shows_how_to_load(self) -> None:
        self.expect_error("status of 404 .*/api/ledger/")
        page = self.open()
        expect(page.get_by_role("heading", name="No figures are loaded yet")).to_be_visible()
        expect(page.get_by_text("bin/driftfield import FOLDER")).to_be_visible()

    def test_no_such_page_leads_home(self) -> None:
        page = self.open("/nowhere/at/all")
        expect(page.get_by_role("heading", name="There is no such page")).to_be_visible()
