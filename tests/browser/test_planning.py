"""The planning date and the lead time, changed in the bar and read where dates stand."""

import re

from playwright.sync_api import expect

from driftfield.exchange.tests.packages import small_market, supplied_market
from driftfield.market.models import Market
from driftfield.readings.actions import analyse_market, overrule
from driftfield.readings.models import MarketSettings

from .base import BrowserCase
from .market import load


class Planning(BrowserCase):
    """The figures end on 28 December 2025; rhubarb forcers peak in May."""

    def setUp(self) -> None:
        super().setUp()
        load(small_market())

    def plan(self, day: str, lead: str) -> None:
        self.page.get_by_role("button", name=re.compile("^Change when to order")).click()
        date = self.page.get_by_label("Planning date")
        # It takes the focus when it is drawn, from whatever is typed into until then.
        expect(date).to_be_focused()
        date.fill(day)
        self.page.get_by_label("Lead time in days").fill(lead)
        self.page.get_by_role("button", name="Save", exact=True).click()

    def test_dates_follow_in_ledger_verdict_skim_and_calendar(self) -> None:
        page = self.open("/field?niche=rf")
        row = page.get_by_role("grid", name="Ranked niches").get_by_role("row")
        forcer = row.filter(has_text="Rhubarb forcers")
        foot = page.get_by_role("region", name="Selected niche")
        expect(forcer).to_contain_text(re.compile(r"7\d% caught"))
        expect(foot).to_contain_text("goods ordered on 28 Dec 2025 arrive on 15 Mar")
        expect(page.get_by_role("banner")).to_contain_text(re.compile(r"figures \d+ weeks old"))
        self.plan("2026-03-02", "60")
        expect(page.get_by_text("Planned from 2 Mar 2026, on sale 1 May 2026.")).to_be_visible()
        expect(page.get_by_role("banner")).to_contain_text(
            "order 2 Mar 2026 arrival 1 May 2026 60 d"
        )
        expect(forcer).to_contain_text(re.compile(r"5\d% caught"))
        expect(foot).to_contain_text(
            "The season is still open: goods ordered on 2 Mar 2026 arrive on 1 May"
        )
        self.plan("2026-07-01", "30")
        expect(forcer).to_contain_text(re.compile(r"Jan 2027\s*order by"))
        expect(foot).to_contain_text(
            re.compile(r"Order by \d+ Jan 2027 to be on sale when it starts to rise")
        )
        self.plan("2026-03-02", "60")
        expect(forcer).to_contain_text(re.compile(r"5\d% caught"))
        page = self.open("/skim?niche=rf")
        fact = page.locator(".facts div").filter(has_text="Season caught")
        expect(fact).to_contain_text(
            re.compile(r"5\d%half of it until \d+ Mar \(past\) · next full one")
        )
        page = self.open("/dossier?niche=rf#calendar")
        calendar = page.get_by_role("region", name="When does it come?")
        table = calendar.get_by_role("table").filter(has_text="Seasons to come")
        expect(table).to_contain_text("ordering on 2 Mar 2026, on sale 1 May 2026 (60 days)")
        # What lies before today on the machine's own calendar is marked.
        expect(table.locator(".acted")).to_contain_text("past")

    def test_what_makes_no_sense_is_said_and_changes_nothing(self) -> None:
        page = self.open("/field")
        self.plan("2026-03-02", "soon")
        alert = page.get_by_role("alert")
        expect(alert).to_contain_text("expected whole days from 0 to 730; got “soon”")
        page.get_by_label("Lead time in days").fill("77")
        page.get_by_label("Planning date").fill("2039-03-02")
        self.expect_error("409")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(alert).to_contain_text("two years after; got 2039-03-02")
        self.assertFalse(MarketSettings.objects.exists())


class Settings(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(supplied_market())

    def test_a_setting_is_found_changed_saved_and_waits_for_an_analysis(self) -> None:
        page = self.open("/settings")
        page.get_by_label("Find a setting").fill("reviews newcomer compete")
        group = page.get_by_role("region", name="Reviews and launches")
        field = group.get_by_label("Review limit", exact=True)
        expect(page.get_by_label("Lead time, days")).to_have_count(0)
        field.fill("0")
        expect(group.get_by_role("alert")).to_contain_text("expected 1 to 100000; got 0")
        expect(page.get_by_role("button", name="Save 1 change")).to_be_disabled()
        field.fill("90")
        page.get_by_role("button", name="Save 1 change").click()
        expect(page.get_by_text("Saved. Some need a new analysis.")).to_be_visible()
        expect(page.get_by_text("holds only after a new analysis")).to_be_visible()
        expect(group).to_contain_text("The present figures were made with 150.")
        analyse_market(Market.objects.get())
        page = self.open("/settings")
        expect(page.get_by_label("Review limit", exact=True)).to_have_value("90")
        expect(page.get_by_text("holds only after a new analysis")).to_have_count(0)
        page.get_by_role("button", name="Review limit back to 150").click()
        expect(page.get_by_label("Review limit", exact=True)).to_have_value("150")
        page.get_by_role("button", name="Discard").click()
        expect(page.get_by_label("Review limit", exact=True)).to_have_value("90")

    def test_the_income_target_is_overruled_for_one_niche(self) -> None:
        page = self.open("/dossier?niche=rf")
        money = page.get_by_role("region", name="Does it pay?")
        expect(money).to_contain_text("£30,000 revenue a year needs")
        target = money.get_by_label("Revenue wanted a year for this niche")
        target.fill("12000")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Revenue wanted a year kept for this niche.")).to_be_visible()
        expect(money).to_contain_text("£12,000 revenue a year needs")
        page = self.open("/dossier?niche=mf")
        expect(target).to_have_value("30000")
        page = self.open("/dossier?niche=rf")
        expect(money).to_contain_text("£12,000 revenue a year needs")
        money.get_by_role("button", name="the market’s again").click()
        expect(money).to_contain_text("£30,000 revenue a year needs")
        target.fill("plenty")
        page.keyboard.press("Enter")
        expect(page.get_by_text("expected a number; got “plenty”")).to_be_visible()
        expect(target).to_have_value("30000")

    def test_a_lead_time_of_its_own_moves_a_niches_arrival_in_its_row(self) -> None:
        page = self.open("/field")
        row = page.get_by_role("grid", name="Ranked niches").get_by_role("row")
        line = row.filter(has_text="Rhubarb forcers").locator("line.arrival")
        others = row.filter(has_text="Moon filters").locator("line.arrival")
        before = line.get_attribute("x1")
        self.assertEqual(others.get_attribute("x1"), before)
        overrule(Market.objects.get(), "rf", {"lead_days": 20})
        page = self.open("/field")
        expect(line).not_to_have_attribute("x1", before or "")
        expect(others).to_have_attribute("x1", before or "")
