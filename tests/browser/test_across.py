"""From a row to the same in another market: confirmed, side by side in one currency, and undone."""

import re
from datetime import date
from urllib.parse import urlencode

from playwright.sync_api import expect

from driftfield.api.tests.two_markets import NORTH, SOUTH
from driftfield.core.market import NICHE
from driftfield.desk.actions import MatchDecision, match
from driftfield.desk.models import ExchangeRate, Match

from .base import BrowserCase
from .market import load
from .test_hostile import ATTACK, MADE, hostile


class Across(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(NORTH)
        load(SOUTH)

    def test_from_the_field_to_a_match_a_rate_and_back(self) -> None:
        page = self.open("/field?market=north&niche=lids")
        expect(page.get_by_role("heading", name="Pail lids")).to_be_visible()
        page.keyboard.press("e")
        expect(page).to_have_title("Pail lids · Across markets · Driftfield")
        expect(
            page.get_by_text("Possible match in Quay South: Pail lid (the same name and category).")
        ).to_be_visible()
        page.get_by_role("button", name="Confirm match").click()
        expect(page.get_by_text("match confirmed")).to_be_visible()
        self.expect_soon(lambda: Match.objects.filter(current=True, same=True).count(), 1)
        # Amounts of two currencies are compared at a rate only.
        price = page.get_by_role("row", name=re.compile("^Price"))
        expect(price).to_contain_text("not converted: no exchange rate")
        expect(price).to_contain_text("€20.00")
        page.get_by_role("button", name="Set a rate").click()
        page.get_by_label("Exchange rate from EUR to GBP").fill("0.8")
        page.get_by_role("button", name="Set", exact=True).click()
        expect(page.get_by_text("1 EUR = 0.8 GBP (your rate of")).to_be_visible()
        expect(price).to_contain_text("£16.00")
        expect(price).not_to_contain_text("not converted: no exchange rate")
        self.expect_soon(lambda: ExchangeRate.objects.get().day, date.today())
        # In the other market's currency, and back.
        self.choose(page, "Currency of amounts", "EUR")
        expect(page.get_by_text("1 GBP = 1.25 EUR (your rate of")).to_be_visible()
        expect(price).to_contain_text("€12.50")
        expect(page).to_have_url(re.compile("into=EUR"))
        self.choose(page, "Currency of amounts", "GBP")
        expect(price).to_contain_text("£16.00")
        expect(page.get_by_role("row", name=re.compile("^Headroom"))).to_contain_text(
            "relative to its own market"
        )
        page.get_by_role("heading", name="Pail lids").click()  # Out of the field of the currency.
        page.keyboard.press("u")
        expect(page.get_by_role("button", name="Confirm match")).to_be_visible()
        page.keyboard.press("Escape")
        expect(
            page.get_by_role("treegrid", name="Niches").or_(page.locator(".line .name").first).first
        ).to_be_visible()

    def test_pairs_are_confirmed_rejected_and_found(self) -> None:
        page = self.open("/across?market=north")
        hooks = page.get_by_role("button", name="Lock hooks", exact=True)
        expect(hooks).to_be_visible()
        page.get_by_role("button", name="Reject Pail lids").click()
        expect(page.get_by_role("heading", name="Rejected")).to_be_visible()
        page.get_by_role("button", name="Undo lids").click()
        expect(page.get_by_role("heading", name="Possible matches")).to_be_visible()
        page.get_by_label("Letters that a name must have").fill("hook")
        expect(page.get_by_role("heading", name="Possible matches")).to_have_count(0)
        hooks.click()
        expect(
            page.get_by_text("Quay North moved first: Quay South followed 6 weeks later")
        ).to_be_visible()
        expect(
            page.get_by_text(re.compile(r"comes \d\.\d weeks earlier than in Quay North"))
        ).to_be_visible()

    def test_what_has_another_name_is_picked_by_hand(self) -> None:
        page = self.open("/across?market=north&niche=n9")
        page.get_by_role("button", name="Choose a match …").click()
        page.get_by_label("Match in Quay South").fill("bell")
        page.get_by_role("option", name=re.compile("Bellows")).click()
        expect(page.get_by_role("link", name="Bellows")).to_be_visible()
        # Another window decides otherwise: this one learns of it.
        match(NICHE, [MatchDecision("north", "n9", "south", "s7")])
        expect(page.get_by_role("link", name="Pail lid")).to_be_visible()

    def test_one_market_alone(self) -> None:
        page = self.open("/across?market=north&niche=gone")
        expect(page.get_by_text("There is no such niche")).to_be_visible()
        self.expect_error("404")


class HostileAcross(BrowserCase):
    def test_names_and_ids_of_both_markets_are_text(self) -> None:
        load(hostile(NORTH))
        load(hostile(SOUTH))
        first = f"{ATTACK}north"
        match(
            NICHE,
            [MatchDecision(first, f"{ATTACK}n9", f"{ATTACK}south", f"{ATTACK}s9", same=False)],
        )
        page = self.page
        for asked in ({}, {"niche": f"{ATTACK}hooks"}, {"niche": f"{ATTACK}lids"}, {"of": "terms"}):
            page = self.go(f"/across?{urlencode({'market': first, **asked})}")
            expect(page.get_by_text(ATTACK).first).to_be_visible()
            self.settle()
            self.assertEqual(page.evaluate("typeof hurt"), "undefined")
            self.assertEqual(page.locator(MADE).count(), 0)
