"""Screens at their edges: ends of lists, lost servers, nothing loaded, narrow windows, long names."""

import re
from urllib.parse import quote

from playwright.sync_api import Route, expect

from driftfield.desk.actions import decide
from driftfield.desk.models import Choice, Decision, Remark
from driftfield.exchange.tests.packages import small_market, supplied_market
from driftfield.market.models import Market
from driftfield.readings.models import Run
from driftfield.readings.tests.stored import column, stored

from .base import BrowserCase
from .market import load

LONG = "Extraordinarily long-handled terracotta rhubarb forcers with ventilated lids and copper rims, in pairs"


class Skim(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(supplied_market())

    def heading(self):
        return self.page.get_by_role("article").get_by_role("heading")

    def test_the_list_stands_while_it_is_decided_on_and_comes_to_an_end(self) -> None:
        page = self.open(f"/skim?c={quote('decided open')}&sort=name")
        progress = page.get_by_role("region", name="Progress")
        for name in ("Moon filters", "Rhubarb forcers", "net float"):
            expect(self.heading()).to_have_text(name)
            expect(progress).to_contain_text("of 3")
            page.keyboard.press("k")
        expect(page.get_by_role("heading", name="That was the last one")).to_be_visible()
        expect(page.get_by_text("3 kept, 0 parked, 0 passed and 0 left open of 3.")).to_be_visible()
        # What is undone comes up again.
        page.keyboard.press("u")
        expect(self.heading()).to_have_text("net float")
        self.expect_soon(Decision.objects.filter(current=True).count, 2)
        page.keyboard.press("ArrowLeft")
        page.keyboard.press("ArrowLeft")
        page.keyboard.press("ArrowLeft")  # there is nothing before the first
        expect(self.heading()).to_have_text("Moon filters")
        expect(page.get_by_label("Keep Moon filters", exact=True)).to_have_attribute(
            "aria-pressed", "true"
        )

    def test_facts_terms_and_listings_are_those_of_the_readings(self) -> None:
        page = self.open("/skim?niche=rf")
        card = page.get_by_role("article", name="Rhubarb forcers")
        figures = stored("rf")
        expect(card).to_contain_text(f"{figures['searches_52w']:,.0f}")
        expect(card).to_contain_text(f"{figures['sales.price_median']:.2f}")
        expect(card.get_by_role("row").filter(has_text="terracotta forcer")).to_be_visible()
        first = card.get_by_role("table").nth(-1).get_by_role("row").nth(1)
        expect(first).to_contain_text("Forcer l1")
        expect(first).to_contain_text("40%")
        # Without clicks the card says what to import.
        page.keyboard.press("ArrowRight")
        page.goto(f"{self.live_server_url}/skim?niche=mf")
        expect(page.get_by_text("import term_clicks to see the listings")).to_be_visible()

    def test_a_note_stays_with_its_niche_when_hands_are_quick(self) -> None:
        page = self.open("/skim?sort=name")
        expect(self.heading()).to_have_text("Moon filters")
        page.keyboard.press("t")
        page.keyboard.type("about the moon")
        page.keyboard.press("Enter")
        page.keyboard.press("ArrowRight")
        expect(self.heading()).to_have_text("Rhubarb forcers")
        expect(page.get_by_label("Note on Rhubarb forcers")).to_have_value("")
        page.keyboard.press("t")
        page.keyboard.type("k, p and x are letters here")
        page.keyboard.press("Escape")
        expect(page.get_by_text("Note on Rhubarb forcers kept.")).to_be_visible()
        self.expect_soon(
            lambda: dict(Remark.objects.values_list("subject", "note")),
            {"mf": "about the moon", "rf": "k, p and x are letters here"},
        )
        self.assertEqual(Decision.objects.count(), 0)

    def test_a_lost_server_is_said_and_nothing_passes_for_recorded(self) -> None:
        self.expect_error("ERR_FAILED")
        decisions = self.intercept("**/api/desk/decisions/")
        decisions.every(Route.abort)
        page = self.open("/skim?sort=name")
        expect(self.heading()).to_have_text("Moon filters")
        page.keyboard.press("k")
        expect(
            page.get_by_text("Not recorded, and not shown any more: Kept Moon filters.")
        ).to_be_visible()
        decisions.every(None)
        page.keyboard.press("ArrowLeft")
        keep = page.get_by_label("Keep Moon filters", exact=True)
        expect(keep).to_have_attribute("aria-pressed", "false")
        self.assertEqual(Decision.objects.count(), 0)


class Replaced(BrowserCase):
    def test_a_page_of_an_older_version_is_loaded_anew_where_one_wanted_to_go(self) -> None:
        load(small_market())
        self.expect_error("404", "dynamically imported module", "resolve component", "MIME type")
        lacking = self.intercept(re.compile(r"/assets/(Shortlist|Settings)Screen-.*\.js$"))
        page = self.open("/field")
        expect(page.get_by_role("row").nth(1)).to_be_visible()
        lacking.once(lambda route: route.fulfill(status=404))
        page.get_by_role("link", name="Shortlist", exact=True).click()
        expect(page.get_by_role("heading", name="Shortlist")).to_be_visible()
        # What is lacking again has another reason: the page is not loaded for ever.
        # How often a part that fails is asked for, by the page and ahead of it, is the browser's business.
        loaded: list[str] = []
        self.listen(
            "request", lambda one: loaded.append(one.url) if one.is_navigation_request() else None
        )
        lacking.every(lambda route: route.fulfill(status=404))
        page.get_by_role("link", name="Settings", exact=True).click()
        self.expect_soon(lambda: len(loaded), 1)
        expect(page.get_by_text("This screen could not be loaded.")).to_be_visible()
        page.wait_for_timeout(500)
        self.assertEqual(len(loaded), 1)
        lacking.every(None)

    def test_a_page_that_is_left_while_a_part_is_on_its_way_is_left(self) -> None:
        load(small_market())
        page = self.open("/field")
        expect(page.get_by_role("row").nth(1)).to_be_visible()
        asked: list[str] = []
        page.route(
            re.compile(r"/assets/SettingsScreen-.*\.js$"), lambda one: asked.append(one.request.url)
        )
        page.get_by_role("link", name="Settings", exact=True).click()
        self.expect_soon(lambda: len(asked), 1)
        page.goto("about:blank")
        page.wait_for_timeout(500)
        self.assertEqual(page.url, "about:blank")


class SideBySide(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(supplied_market())

    def test_best_range_and_curves_as_they_are(self) -> None:
        page = self.open("/compare?niche=rf&niche=mf&niche=net%20float")
        row = page.get_by_role("row").filter(
            has=page.get_by_role("rowheader", name=re.compile("^Searches a year"))
        )
        figures = column(Run.objects.get(), "searches_52w")
        best = max(figures, key=figures.get)
        cells = row.get_by_role("cell")
        for place, niche in enumerate(("rf", "mf", "net float")):
            expect(cells.nth(place)).to_contain_text(f"{figures[niche]:,.0f}")
            answer = expect(cells.nth(place))
            (answer.to_contain_text if niche == best else answer.not_to_contain_text)("best")
        expect(page.get_by_text("own mean = 100")).to_be_visible()
        page.keyboard.press("i")
        expect(page.get_by_text("searches a week", exact=True)).to_be_visible()
        expect(page).to_have_url(re.compile("curves=counts"))
        page.get_by_role("button", name="Leave out Moon filters").click()
        expect(page.get_by_role("columnheader")).to_have_count(2)
        page.get_by_label("Keep Rhubarb forcers").click()
        expect(page.get_by_text("Kept Rhubarb forcers.")).to_be_visible()

    def test_a_niche_that_is_not_there_is_named(self) -> None:
        self.expect_error("status of 404 .*niche=gone")
        page = self.open("/compare?niche=rf&niche=gone")
        expect(page.get_by_text("“gone” is not in Harrow Quay North.")).to_be_visible()

    def test_too_few_or_too_many_marks_are_said(self) -> None:
        page = self.open("/field?sort=name")
        expect(page.get_by_role("row", selected=True)).to_contain_text("Moon filters")
        page.keyboard.press(" ")
        page.keyboard.press("c")
        expect(page.get_by_text("Two to 6 niches stand side by side; 1 is marked.")).to_be_visible()

    def test_on_paper_only_what_is_read_remains(self) -> None:
        page = self.open("/compare?niche=rf&niche=mf")
        expect(page.get_by_role("columnheader")).to_have_count(2)
        page.emulate_media(media="print")
        expect(page.get_by_role("button", name="Print")).to_be_hidden()
        expect(page.get_by_role("navigation", name="Screens")).to_be_hidden()
        expect(page.get_by_role("rowheader", name="Verdict")).to_be_visible()


class Shortlist(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(small_market())
        for niche in ("rf", "mf", "net float"):
            decide("north", niche, Choice.KEEP)

    def names(self) -> list[str]:
        rows = self.page.get_by_role("row").get_by_role("rowheader")
        return [text.split("\n")[0] for text in rows.all_inner_texts()]

    def test_rows_are_dragged_and_the_order_is_kept(self) -> None:
        page = self.open("/shortlist")
        rows = page.locator("tbody tr")
        expect(rows).to_have_count(3)
        self.assertEqual(self.names(), ["net float", "Moon filters", "Rhubarb forcers"])
        rows.nth(2).locator(".place").drag_to(rows.nth(0).locator(".place"))
        expect(rows.nth(0)).to_contain_text("Rhubarb forcers")
        page.reload()
        expect(rows).to_have_count(3)
        self.assertEqual(self.names(), ["Rhubarb forcers", "net float", "Moon filters"])

    def test_a_pass_leaves_the_list_and_comes_back_by_undo(self) -> None:
        page = self.open("/shortlist")
        expect(page.locator("tbody tr")).to_have_count(3)
        page.keyboard.press("x")
        expect(page.locator("tbody tr")).to_have_count(2)
        page.get_by_label("passed").check()
        expect(page.locator("tbody tr")).to_have_count(3)
        expect(page).to_have_url(re.compile("show=keep"))
        page.keyboard.press("u")
        page.get_by_label("passed").uncheck()
        expect(page.locator("tbody tr")).to_have_count(3)

    def test_a_selected_niche_is_an_address_and_a_tag_may_be_wrong(self) -> None:
        self.expect_error("status of 400 .*/desk/remarks/")
        page = self.open("/shortlist?niche=mf")
        foot = page.get_by_role("region", name="Selected niche")
        expect(foot.get_by_role("heading", name="Moon filters")).to_be_visible()
        expect(foot).to_contain_text("No newer figures have come in since the decision.")
        foot.get_by_label("Tags of Moon filters").fill(", ".join(str(i) for i in range(13)))
        page.keyboard.press("Enter")
        expect(page.get_by_text("At most 12 tags.")).to_be_visible()
        page.keyboard.press("ArrowDown")
        expect(page).to_have_url(re.compile("niche=rf"))


class Edges(BrowserCase):
    def test_nothing_is_loaded(self) -> None:
        self.expect_error("status of 404")
        for address in (
            "/field",
            "/skim",
            "/shortlist",
            "/compare?niche=a&niche=b",
            "/brief?niche=a",
        ):
            with self.subTest(address):
                page = self.open(address)
                expect(
                    page.get_by_role("heading", name="No figures are loaded yet")
                ).to_be_visible()
                expect(page.get_by_text("bin/driftfield import FOLDER")).to_be_visible()

    def test_a_link_is_followed_although_a_row_is_chosen_on_the_way(self) -> None:
        load(small_market())
        held: list[Route] = []
        # Before the page is there, which may fetch the other screen ahead.
        self.page.route(re.compile(r"/ShortlistScreen[^/]*\.js"), lambda route: held.append(route))
        page = self.open("/field?sort=name")
        expect(page.get_by_role("row", selected=True)).to_contain_text("Moon filters")
        # At once, as a hand on the mouse and one on the keys may: the way has begun and nothing is asked for yet.
        page.get_by_role("link", name="Shortlist").evaluate(
            """link => {
              link.click();
              document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowDown", bubbles: true }));
            }"""
        )
        expect(page.get_by_role("row", selected=True)).to_contain_text("Rhubarb forcers")
        self.expect_soon(lambda: bool(held), True)
        page.keyboard.press("ArrowUp")
        expect(page.get_by_role("row", selected=True)).to_contain_text("Moon filters")
        for route in held:
            route.continue_()
        expect(page.get_by_text("Nothing is kept or parked yet")).to_be_visible()

    def test_the_market_goes_along_from_screen_to_screen(self) -> None:
        load(small_market())
        files = small_market()
        files["markets"] = files["markets"].replace("north,", "south,").replace("North", "South")
        files["niches"] = files["niches"].replace("north", "south")
        load(files)
        self.assertEqual(Market.objects.count(), 2)
        decide("south", "rf", Choice.KEEP)
        page = self.open("/field?market=south&sort=name")
        expect(page.get_by_role("row", selected=True)).to_contain_text("Moon filters")
        page.get_by_role("link", name="Shortlist").click()
        expect(page).to_have_url(re.compile("market=south"))
        expect(page.get_by_role("rowheader", name=re.compile("Rhubarb forcers"))).to_be_visible()
        # The Field is come back to as it was left.
        page.get_by_role("link", name="Field", exact=True).click()
        expect(page).to_have_url(re.compile("sort=name"))
        page.get_by_role("button", name="Choose the market").click()
        page.get_by_text("Harrow Quay North").click()
        page.get_by_role("link", name="Shortlist").click()
        expect(page.get_by_text("Nothing is kept or parked yet")).to_be_visible()


class Narrow(BrowserCase):
    width, height = 420, 780

    def test_long_names_and_narrow_windows_hide_nothing_that_decides(self) -> None:
        files = supplied_market()
        files["niches"] = files["niches"].replace("Rhubarb forcers", f'"{LONG}"')
        load(files)
        decide("north", "rf", Choice.KEEP)
        for address, there in (
            ("/field?niche=rf", "grid"), ("/skim?niche=rf", "article"), ("/shortlist", "table"),
            ("/compare?niche=rf&niche=mf", "table"), ("/brief?niche=rf", "article"),
        ):  # fmt: skip
            with self.subTest(address):
                page = self.open(address)
                expect(page.get_by_role(there).first).to_be_visible()
                expect(page.get_by_text(LONG).first).to_be_visible()
                wide = page.evaluate("document.documentElement.scrollWidth")
                self.assertLessEqual(wide, self.width)
        page = self.open("/skim?niche=rf")
        expect(page.get_by_role("article").get_by_role("heading")).to_have_text(LONG)
        page.keyboard.press("x")
        expect(page.get_by_text(re.compile("^Passed Extra"))).to_be_visible()
