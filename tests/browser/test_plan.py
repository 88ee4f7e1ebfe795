"""A plan of an order: from the almanac to its quotes, ways, quantity and cash path, kept, copied and undone."""

import re

from playwright.sync_api import Locator, expect

from driftfield.desk.models import Plan
from driftfield.exchange.tests.packages import supplied_market

from .base import BrowserCase
from .market import load


class PlanAnOrder(BrowserCase):
    """Rhubarb forcers sell; what newcomers reach is not known, for too few were launched."""

    def setUp(self) -> None:
        super().setUp()
        load(supplied_market())

    def field(self, label: str) -> Locator:
        return self.page.get_by_label(label, exact=True)

    def test_from_the_almanac_to_a_plan_that_is_kept(self) -> None:
        page = self.open("/almanac")
        page.get_by_role("link", name="Plan an order of Rhubarb forcers").click()
        expect(page.get_by_role("heading", name="No plan can be made of this")).to_be_visible()
        expect(page.get_by_text("too few launches")).to_be_visible()
        # The share is given instead.
        self.choose(page, "What tells the units", "a share of the niche")
        result = page.get_by_role("region", name="What comes of it")
        told = result.get_by_role("status")
        expect(told).to_contain_text(re.compile(r"^Order [\d,]+ units on"))
        self.field("price a buyer pays, selling").fill("31.5")
        self.field("cost a unit, price break 1").fill("6.2")
        self.field("supplier, the quote").fill("Weir Foundry")
        page.get_by_role("button", name="Add a price break").click()
        self.field("from units, price break 2").fill("150")
        self.field("cost a unit, price break 2").fill("5.4")
        self.field("units a carton, the quote").fill("12")
        # With a comma between thousands, and as a decimal one.
        self.field("minimum order, the quote").fill("1,200")
        self.field("cost a unit, price break 1").fill("6,25")
        expect(told).to_contain_text("Order 1,200 units")
        self.field("minimum order, the quote").fill("")
        self.field("cost a unit, price break 1").fill("6.2")
        page.get_by_label("Assumed: nobody has asked this price yet").uncheck()
        expect(told).not_to_contain_text("quote “")
        # Sea against air: a way is added, and its share taken from the first.
        page.get_by_role("button", name="Add a way").click()
        self.field("of the units, %, way 1").fill("70")
        expect(page.get_by_text("add up to 1; got 0.7 + 0")).to_be_visible()
        self.field("of the units, %, way 2").fill("30")
        self.field("a unit, way 2").fill("3")
        facts = result.locator(".facts")
        expect(facts).to_contain_text(re.compile(r"on sale\s*\d+ \w+ 20\d\d, \d+ \w+ 20\d\d"))
        expect(result.get_by_label("Cash since the order, week by week").first).to_be_visible()
        expect(result.get_by_label("What quantities earn on average").first).to_be_visible()
        expect(result.get_by_role("table", name="What is left of a unit")).to_contain_text("£31.50")
        expect(result.get_by_role("table", name="What moves the result most")).to_contain_text("arrival slips 8 weeks")  # fmt: skip
        # What is no number is told where it stands, and the plan stays as it was.
        self.field("commission, %, selling").fill("a lot")
        expect(page.get_by_role("alert").filter(has_text="expected a number")).to_be_visible()
        self.field("commission, %, selling").fill("12")
        expect(told).not_to_contain_text("commission")
        page.get_by_role("button", name="Keep this plan").click()
        expect(page.get_by_text("Kept: Plan A.")).to_be_visible()
        plan = Plan.objects.get()
        self.assertEqual(plan.document["quote"]["breaks"], [{"units": 1, "cost": 6.2}, {"units": 150, "cost": 5.4}])  # fmt: skip
        self.assertEqual([one["share"] for one in plan.document["transport"]], [0.7, 0.3])
        self.assertEqual(plan.document["selling"]["commission"], 0.12)
        # Copied, changed, and what was changed is undone.
        page.get_by_role("button", name="Copy").click()
        expect(page.get_by_text("Kept: Plan A, copy.")).to_be_visible()
        self.field("name of the plan, the order").fill("By air alone")
        page.get_by_role("button", name="Keep the changes").click()
        kept = page.get_by_role("navigation", name="Plans that are kept")
        expect(kept.get_by_role("link", name="By air alone")).to_be_visible()
        page.get_by_role("button", name="Undo the last change").click()
        expect(kept.get_by_role("link", name="Plan A, copy")).to_be_visible()
        expect(self.field("name of the plan, the order")).to_have_value("Plan A, copy")
        with page.expect_download() as found:
            page.get_by_role("link", name="Export this plan as XLSX").click()
        self.assertEqual(found.value.suggested_filename, "plan-plan-a-copy.xlsx")
        page.reload()
        expect(self.field("supplier, the quote")).to_have_value("Weir Foundry")
        expect(self.field("name of the plan, the order")).to_have_value("Plan A, copy")
        # What was kept stands under the question whether it pays, and in the brief, with what it says now.
        page = self.open("/brief?niche=rf")
        plans = page.get_by_role("list", name="Plans of orders")
        expect(plans.get_by_role("listitem")).to_have_count(2)
        expect(plans).to_contain_text(re.compile(r"Plan A, copy: Order [\d,]+ units on"))

    def test_the_dossier_leads_to_it(self) -> None:
        page = self.open("/dossier?niche=rf")
        page.get_by_role("link", name="Plan an order").click()
        expect(page.get_by_role("heading", name="Rhubarb forcers")).to_be_visible()

    def test_without_a_niche_and_with_one_that_is_none(self) -> None:
        page = self.open("/plan?market=north")
        expect(page.get_by_role("heading", name="No niche is chosen")).to_be_visible()
        self.expect_error("404")
        page = self.open("/plan?niche=nowhere")
        expect(page.get_by_text("is not in")).to_be_visible()
