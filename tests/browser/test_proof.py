"""The track record: replayed, read, followed to a miss, and the weights it proposes taken to the Field."""

import re

from playwright.sync_api import Page, expect

from driftfield.api.tests.files import work_off
from driftfield.exchange.tests.packages import table
from driftfield.exchange.tests.test_proof import curves
from driftfield.market.models import Market
from driftfield.readings.actions import replay_past
from driftfield.readings.models import KeptRecord

from .base import BrowserCase
from .market import load
from .test_access import UNEXPLAINED
from .test_planted import demo_tables
from .working import give_data_folder

LEFT_OUT = {"voices", "feedback", "own_sales", "interest"}  # The past is judged without them.


def north() -> dict[str, str]:
    """The demo market's first region, without what buyers wrote."""
    tables = demo_tables(lambda niche: niche.startswith("north-"))
    return {name: text for name, text in tables.items() if name not in LEFT_OUT}


def ranked(page: Page) -> list[str]:
    """The first names of the Field, in its order."""
    return page.locator(".line .name").all_inner_texts()[:8]


class TrackRecordOfTheDemo(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        give_data_folder(self)

    def test_is_read_followed_to_a_miss_and_its_weights_move_the_ranks(self) -> None:
        load(north())
        page = self.open("/field?market=north")
        self.still()
        before = ranked(page)
        self.assertEqual(len(before), 8)
        page = self.open("/track-record?market=north")
        expect(page.get_by_text("Nothing was replayed yet.")).to_be_visible()
        page.get_by_role("button", name="Replay the past").click()
        expect(page.get_by_role("status").filter(has_text="Harrow Quay North")).to_be_visible()
        self.still()
        self.expect_error("status of 503 .*api/changes")
        work_off()
        expect(page.get_by_text("13 days replayed, up to 17 May 2026")).to_be_visible()
        launches = page.get_by_role("region", name="What would have told launches")
        row = launches.get_by_role("row").filter(has_text="more headroom")
        expect(row).to_contain_text(re.compile("6[0-9]%.*%.*to.*%"))
        expect(page.get_by_text("This rests on 13 days")).to_be_visible()
        weights = page.get_by_role("region", name="Weights proposed")
        expect(weights.get_by_role("row").filter(has_text="Reviews of the top ten")).to_be_visible()
        self.assertEqual(page.evaluate(UNEXPLAINED)["bare"], [])
        self.misses(page)
        self.taken(page, before)

    def misses(self, page: Page) -> None:
        """What was far off leads to what is known of it, where the record is told beside the forecast."""
        first = page.get_by_role("region", name="Worst misses").get_by_role("link").first
        name = first.inner_text()
        first.click()
        expect(page.get_by_role("heading", name=name, level=1)).to_be_visible()
        page.go_back()
        expect(page.get_by_role("heading", name="Track record")).to_be_visible()

    def taken(self, page: Page, before: list[str]) -> None:
        page.get_by_role("button", name="Keep as a lens and rank by it").click()
        expect(page).to_have_url(re.compile("/field.*lens="))
        self.still()
        after = ranked(page)
        self.assertEqual(len(after), 8)
        self.assertNotEqual(after, before)
        page.get_by_role("button", name=re.compile("^Lens")).first.click()
        own = page.get_by_role("list", name="Your own lenses")
        expect(own).to_contain_text("From this market's launches, Harrow Quay North")
        expect(own).to_contain_text("Weights fitted to past launches ranked later launches better")


class TrackRecords(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        give_data_folder(self)

    def test_a_past_too_short_says_so_and_why(self) -> None:
        load({"term_weeks": table("term,week,searches", *curves(3, weeks=110))})
        page = self.open("/track-record")
        page.get_by_role("button", name="Replay the past").click()
        self.still()
        self.expect_error("status of 503 .*api/changes")
        work_off()
        expect(page.get_by_text("an earlier day needs 104 weeks before it")).to_be_visible()
        self.assertFalse(KeptRecord.objects.exists())

    def test_without_launches_it_tells_of_the_rest_and_beside_each_forecast(self) -> None:
        load({"term_weeks": table("term,week,searches", *curves(8))})
        replay_past(Market.objects.get())
        page = self.open("/track-record")
        told = page.get_by_role("region", name="Launches", exact=True)
        expect(told).to_contain_text("too little data")
        expect(told.get_by_role("img")).to_have_count(0)
        table_of = page.get_by_role("region", name="Forecasts by shape and category")
        expect(table_of.get_by_role("row").filter(has_text="All")).to_contain_text("96")
        self.choose(page, "How far ahead", "52 weeks ahead")
        expect(page).to_have_url(re.compile("weeks=52"))
        expect(table_of.get_by_role("row").filter(has_text="All")).to_contain_text("72")
        page = self.open("/dossier?niche=term 0")
        demand = page.get_by_role("region", name="Is the demand real?")
        expect(demand.get_by_text("In this market’s past")).to_be_visible()
        expect(demand).to_contain_text(re.compile("Eight in ten totals.*52 weeks ahead"))
        calendar = page.get_by_role("region", name="When does it come?")
        expect(calendar).to_contain_text("of seasons came within two weeks of the dates given")
