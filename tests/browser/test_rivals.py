"""Those who sell already: from a sleeper to its niche, kept, with its order-by date."""

import re

from playwright.sync_api import expect

from driftfield.desk.models import Decision
from driftfield.exchange.tests.sleepy import sleepy_market

from .base import BrowserCase
from .market import load


class Rivals(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(sleepy_market())

    def test_from_what_sleeps_to_a_sleeper_that_is_kept(self) -> None:
        page = self.open("/rivals")
        expect(page.get_by_text("6 listings. Begin with those that are")).to_be_visible()
        rows = page.get_by_role("grid", name="Listings").get_by_role("row")
        page.get_by_role("button", name="asleep until their season").click()
        expect(page).to_have_url(re.compile("c=sleeper\\+is\\+Asleep.*sort=-sleep.strong_4w"))
        expect(page.get_by_role("status").filter(has_text="pass")).to_contain_text("4 of 6 pass")
        expect(rows.nth(1)).to_contain_text("Steel honey strainer")
        foot = page.get_by_role("region", name="Selected listing")
        expect(foot).to_contain_text("It sleeps:")
        expect(foot).to_contain_text("By its niche")
        expect(foot.get_by_text("units a month")).to_be_visible()
        page.keyboard.press("k")
        self.expect_soon(
            lambda: list(
                Decision.objects.filter(current=True).values_list("kind", "subject", "choice")
            ),
            [("listing", "l1", "keep")],
        )
        # One way at a time; Back takes both the condition and the order back.
        page.get_by_role("button", name="in season now").click()
        expect(rows.nth(1)).to_contain_text("Swarm lure vial")
        expect(page).not_to_have_url(re.compile("Asleep"))
        page.go_back()
        expect(page.get_by_role("status").filter(has_text="pass")).to_contain_text("4 of 6 pass")
        page.get_by_role("link", name="Shortlist", exact=True).click()
        page.goto(f"{self.live_server_url}/shortlist?market=north&of=listings")
        expect(page.get_by_text("Steel honey strainer").first).to_be_visible()

    def test_a_listing_has_a_page_from_which_one_goes_on(self) -> None:
        page = self.open("/rivals?listing=l4")
        foot = page.get_by_role("region", name="Selected listing")
        expect(foot).to_contain_text("Swarm lure gel")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("/listing.*listing=l4"))
        expect(page.get_by_role("heading", name="Swarm lure gel")).to_be_visible()
        expect(page.get_by_role("region", name="Verdict")).to_contain_text("in stock for 2%")
        expect(page.get_by_role("region", name="What leads to it")).to_contain_text("swarm lure")
        page.keyboard.press("p")
        self.expect_soon(
            lambda: list(Decision.objects.filter(current=True).values_list("subject", "choice")),
            [("l4", "park")],
        )
        page.get_by_role("region", name="Others in its niche").get_by_role(
            "link", name="Swarm lure vial"
        ).click()
        expect(page.get_by_role("heading", name="Swarm lure vial")).to_be_visible()
        page.get_by_role("link", name="More of its brand").click()
        expect(page.get_by_role("status").filter(has_text="pass")).to_contain_text("3 of 6 pass")
        page.go_back()
        page.get_by_role("link", name="Swarm lures", exact=True).click()
        expect(page).to_have_url(re.compile("/dossier.*niche=sl"))

    def test_a_lens_a_chart_and_other_markets_are_not_offered(self) -> None:
        page = self.open("/rivals")
        expect(page.get_by_role("button", name="Columns")).to_be_visible()
        for name in (re.compile("Lens"), "chart", "Skim them"):
            expect(page.get_by_role("button", name=name)).to_have_count(0)
        page.keyboard.press("g")
        expect(page.get_by_role("grid", name="Listings")).to_be_visible()


class NoListings(BrowserCase):
    def test_that_none_are_known_is_said(self) -> None:
        files = sleepy_market()
        for lacking in ("listings", "listing_weeks", "term_clicks"):
            del files[lacking]
        load(files)
        page = self.open("/rivals")
        expect(page.get_by_text("No listings are known here.")).to_be_visible()
