"""Several orders: two quotes of a niche kept and put side by side, on one cash path, on the almanac and the shortlist."""

import re

from playwright.sync_api import expect

from driftfield.api.tests.test_orders import plan
from driftfield.desk.actions import decide, keep_plan
from driftfield.desk.models import Choice, Plan, Purse
from driftfield.exchange.tests.packages import supplied_market
from driftfield.market.models import Market, Niche
from driftfield.readings.reading import reading_of

from .base import BrowserCase
from .market import load

SEA = {"name": "By sea, Weir Foundry", "quantity": 60}
AIR = {
    "name": "By air, Sluice Hill Tin", "quantity": 60,
    "quote": {"name": "Sluice Hill Tin", "breaks": [{"units": 1, "cost": 5.0}], "making_days": 20},
    "transport": [{"name": "air", "days": 9, "per_kg": 4.0}],
}  # fmt: skip


class SeveralOrders(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(supplied_market())
        market = Market.objects.get()
        reading = reading_of(market.run, Niche.objects.get(niche_id="rf"))
        assert reading is not None, "it was analysed"
        self.keys = [str(keep_plan(reading, plan(**one)).key) for one in (SEA, AIR)]

    def test_two_quotes_on_one_cash_path(self) -> None:
        page = self.open("/orders")
        told = page.get_by_role("status").filter(has_text="cash")
        expect(told).to_contain_text("How much cash is at hand is not known")
        page.get_by_label("Cash at hand", exact=True).fill("2,500")
        page.get_by_role("button", name="Propose").click()
        expect(told).to_contain_text("with £2,500 at hand")
        self.assertEqual(Purse.objects.get().cash, 2500)
        # In either way of writing.
        page.get_by_label("Cash at hand", exact=True).fill("2.500,00")
        expect(page.get_by_role("button", name="Propose")).to_be_disabled()
        table = page.get_by_role("region", name="Plans, and the cash they bind")
        rows = table.get_by_role("row").filter(has_text="Rhubarb forcers")
        expect(rows).to_have_count(2)
        # One of the two is proposed, and why not the other is said.
        expect(rows.nth(0)).to_contain_text("proposed")
        expect(rows.nth(1)).to_contain_text("for the same niche and time, fits the others better")
        rows.nth(1).get_by_role("checkbox").check()
        expect(told).to_contain_text("2 orders together")
        expect(page).to_have_url(re.compile("with="))
        # The view can be sent.
        page.reload()
        expect(told).to_contain_text("2 orders together")
        page.get_by_role("button", name="Back to what is proposed").click()
        expect(told).to_contain_text("One order")
        # What is no amount is told, and nothing is kept of it.
        page.get_by_label("Cash at hand", exact=True).fill("a lot")
        expect(page.get_by_role("alert")).to_contain_text("expected numbers")
        self.assertEqual(Purse.objects.get().cash, 2500)
        with page.expect_download() as found:
            page.get_by_role("link", name="Export plans as CSV").click()
        text = found.value.path().read_text("utf-8-sig")
        self.assertIn("Sluice Hill Tin", text)

    def test_side_by_side_on_the_plan_and_what_is_ordered_stays_ordered(self) -> None:
        page = self.open(f"/plan?niche=rf&plan={self.keys[0]}")
        beside = page.get_by_role("region", name="Plans of this niche side by side")
        expect(beside.get_by_role("row")).to_have_count(3)
        expect(beside).to_contain_text("Sluice Hill Tin, air")
        page.get_by_role("button", name="It is ordered").click()
        expect(beside).to_contain_text("ordered")
        # A change of what is ordered leaves it ordered.
        page.get_by_label("units, if not the best, the order", exact=True).fill("50")
        expect(beside).to_contain_text("on screen, not kept")
        page.get_by_role("button", name="Keep the changes").click()
        expect(beside).not_to_contain_text("on screen, not kept")
        kept = page.get_by_role("navigation", name="Plans that are kept")
        expect(kept).to_contain_text("ordered")
        page.get_by_role("link", name="All orders on one cash path").click()
        expect(page.get_by_role("heading", name="Orders")).to_be_visible()
        row = page.get_by_role("row", name="Add up By sea")
        expect(row).to_contain_text("ordered")
        expect(row.get_by_role("checkbox")).to_be_disabled()
        row.get_by_role("link", name="Rhubarb forcers").click()
        expect(page).to_have_url(re.compile(f"plan={self.keys[0]}"))

    def test_on_the_almanac_and_on_the_shortlist(self) -> None:
        decide("north", "rf", Choice.KEEP)
        page = self.open("/almanac")
        band = page.get_by_role("region", name="Planned orders and the cash they bind")
        expect(band).to_contain_text("proposed · Rhubarb forcers")
        expect(band).to_contain_text("change of the cash")
        band.get_by_role("link", name="2 plans").click()
        expect(page.get_by_role("heading", name="Orders")).to_be_visible()
        page = self.open("/shortlist")
        row = page.get_by_role("row").filter(has_text="Rhubarb forcers")
        expect(row).to_contain_text(re.compile(r"order 2 Feb · 2 plans\s*binds £[\d,]+ · loss"))

    def test_nothing_is_planned_yet(self) -> None:
        Plan.objects.all().delete()
        page = self.open("/orders")
        expect(page.get_by_role("heading", name="No plan is kept yet")).to_be_visible()
