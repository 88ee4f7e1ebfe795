"""The almanac: from a niche that is kept to its dates, looked at from another day, as a list and a calendar."""

import re
from typing import Any

import vobject
from playwright.sync_api import expect

from driftfield.exchange.tests.packages import small_market
from driftfield.market.models import Market
from driftfield.readings.models import MarketSettings

from .base import BrowserCase
from .market import load


class Almanac(BrowserCase):
    """The figures end on 28 December 2025; rhubarb forcers peak in May."""

    def setUp(self) -> None:
        super().setUp()
        load(small_market())

    def test_what_is_kept_stands_on_it_and_goes_into_a_calendar(self) -> None:
        page = self.open("/field?niche=rf")
        banner = page.get_by_role("banner")
        banner.get_by_role("link", name="Almanac").click()
        expect(page.get_by_role("heading", name="No niche is kept yet")).to_be_visible()
        page.get_by_role("button", name="Show all niches").click()
        calendar = page.get_by_role("region", name="Fifteen months, a row each")
        expect(calendar.locator("li.row")).to_have_count(3)
        expect(calendar).to_contain_text("No season to order for")
        page.go_back()
        banner.get_by_role("link", name="Field", exact=True).click()
        page.get_by_role("grid", name="Ranked niches").get_by_text("Rhubarb forcers").click()
        page.keyboard.press("k")
        expect(page.get_by_text(re.compile("kept", re.I)).first).to_be_visible()
        banner.get_by_role("link", name="Almanac").click()
        row = calendar.locator("li.row").filter(has_text="Rhubarb forcers")
        expect(row).to_contain_text(re.compile(r"until \d+ \w+ 2026 \(past\) · 7\d% caught"))
        expect(page.get_by_role("region", name="What is due")).to_contain_text(
            "Still open, too late for the full season: Rhubarb forcers"
        )
        page.get_by_role("button", name="Export dates").click()
        with page.expect_download() as found:
            page.get_by_role("link", name="Calendar file (ICS)").click()
        read: Any = vobject.readOne(found.value.path().read_text("utf-8"))
        titles = [one.summary.value for one in read.vevent_list]
        self.assertIn("Last day to order Rhubarb forcers for half of the season", titles)
        self.assertTrue(all("Rhubarb forcers" in title for title in titles))
        page.keyboard.press("Escape")
        page.get_by_role("button", name="list", exact=True).click()
        weeks = page.get_by_role("region", name="What is to be done, week by week")
        expect(weeks.get_by_role("link")).to_have_count(len(titles))
        weeks.get_by_role("button", name="Only what is to be ordered").click()
        expect(weeks.get_by_role("link").first).to_have_text(re.compile("^Last day to order"))
        weeks.get_by_role("link").first.click()
        expect(page.get_by_role("heading", name="Rhubarb forcers")).to_be_visible()

    def test_looked_at_from_another_day_and_planned_from_it(self) -> None:
        page = self.open("/almanac")
        handle = page.get_by_role("slider", name="Planning date looked from")
        expect(handle).to_have_attribute("aria-valuetext", "28 Dec 2025")
        for week in range(1, 4):
            handle.press("PageUp")
            expect(handle).to_have_attribute("aria-valuetext", f"{7 * week - 3} Jan 2026")
        status = page.get_by_text("Looked at as if ordering on 18 Jan 2026")
        expect(status).to_be_visible()
        self.assertFalse(MarketSettings.objects.filter(planning_date__isnull=False).exists())
        # By mouse it goes as far as it is dragged.
        box = handle.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 2, box["y"] + 10)
        page.mouse.down()
        page.mouse.move(box["x"] + 270, box["y"] + 10, steps=5)
        page.mouse.up()
        expect(
            page.get_by_text(re.compile("Looked at as if ordering on .* May 2026"))
        ).to_be_visible()
        page.get_by_role("button", name="Back", exact=True).click()
        expect(handle).to_have_attribute("aria-valuetext", "28 Dec 2025")
        handle.press("ArrowRight")
        page.get_by_role("button", name="Plan from 29 Dec 2025").click()
        expect(page.get_by_text("Planned from 29 Dec 2025: all dates follow.")).to_be_visible()
        expect(page.get_by_role("banner")).to_contain_text("order 29 Dec 2025")
        self.expect_soon(lambda: str(Market.objects.get().run.planning_date), "2025-12-29")

    def test_a_sieve_of_the_field_is_taken_there(self) -> None:
        page = self.open("/field?c=shape+%3D+Seasonal")
        page.get_by_role("link", name="Almanac").last.click()
        calendar = page.get_by_role("region", name="Fifteen months, a row each")
        expect(calendar.locator("li.row")).to_have_count(1)
        expect(page.get_by_role("region", name="Conditions")).to_contain_text("shape is Seasonal")
