"""Chart, columns, marks, working, shortlist and briefs, as they are used."""

import io
import json
import math
import re
from threading import Event
from unittest.mock import patch

import polars as pl
from openpyxl import load_workbook
from playwright.sync_api import Route, expect

from driftfield.desk.actions import decide, remark
from driftfield.desk.models import Choice, Decision, Remark
from driftfield.exchange.reader import read_package
from driftfield.readings.tests.stored import stored

from .base import BrowserCase
from .market import load, wide_market


class Desk(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        files = wide_market()
        load(files)
        self.files = files

    def ledger(self):
        return self.page.get_by_role("grid", name="Ranked niches")

    def heads(self) -> list[str]:
        return self.ledger().get_by_role("columnheader").all_inner_texts()

    def on_the_chart(self, box: dict, niche: str) -> tuple[float, float]:
        """Where a niche is drawn: the axes show all of them with a little room, demand by its logarithm."""
        points = self.client.get("/api/ledger/points/").json()
        at = points["ids"].index(niche)
        across, up = points["competition"], points["demand"]
        left, right = max(0, math.floor(min(across) - 4)), min(100, math.ceil(max(across) + 4))
        low, high = math.log(max(0.1, min(50, min(up) * 0.85))), math.log(118)
        x = (across[at] - left) / (right - left)
        y = (high - math.log(up[at])) / (high - low)
        return box["x"] + 54 + x * (box["width"] - 146), box["y"] + 14 + y * (box["height"] - 54)

    def test_an_area_drawn_on_the_chart_is_a_condition(self) -> None:
        page = self.open("/field?view=chart")
        pane = page.get_by_role("region", name="Chart")
        canvas = pane.locator("canvas").first
        expect(canvas).to_be_visible()
        self.still()
        page.wait_for_timeout(500)
        page.keyboard.press("d")
        expect(page.get_by_role("button", name="Draw round some niches")).to_be_visible()
        box = canvas.bounding_box()
        middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 3)
        for step in range(31):
            turn = 2 * math.pi * step / 30
            page.mouse.move(middle[0] + 220 * math.cos(turn), middle[1] + 90 * math.sin(turn))
            if step == 0:
                page.mouse.down()
        page.mouse.up()
        expect(page.get_by_role("region", name="Conditions")).to_contain_text(
            "it lies in the area drawn between"
        )
        expect(page).to_have_url(re.compile("c=drawn"))
        inside = int(
            re.search(r"(\d+) of 27 pass", page.get_by_role("status").first.inner_text())[1]
        )
        self.assertTrue(0 < inside < 27)
        # The ledger has the same niches, and going back takes the area away.
        page.keyboard.press("g")
        expect(self.ledger().get_by_role("row")).to_have_count(min(inside, 20) + 1)
        page.go_back()
        page.go_back()
        expect(page.get_by_text("27 of 27 pass")).to_be_visible()
        expect(pane).to_be_visible()

    def test_the_chart_is_walked_and_decided_on_by_key(self) -> None:
        page = self.open("/field?view=chart")
        foot = page.get_by_role("region", name="Selected niche")
        first = foot.get_by_role("heading").inner_text()
        canvas = page.get_by_role("region", name="Chart").locator("canvas").first
        expect(canvas).to_be_visible()
        # Pointing at a niche brings up a card with its year strip; a click selects it.
        tip = page.get_by_role("tooltip")
        self.still()
        page.wait_for_timeout(500)
        x, y = self.on_the_chart(canvas.bounding_box(), "rf")
        page.mouse.move(x - 2, y)
        page.mouse.move(x, y)
        expect(tip.get_by_label(re.compile("^Year strip of"))).to_be_visible()
        expect(tip).to_contain_text("Rhubarb forcers")
        page.mouse.click(x, y)
        expect(foot.get_by_role("heading")).to_have_text(re.compile("^Rhubarb forcers"))
        first = foot.get_by_role("heading").inner_text()
        page.keyboard.press("k")
        expect(page.get_by_text(re.compile("^Kept "))).to_be_visible()
        expect(foot.get_by_role("heading")).not_to_have_text(first)
        self.expect_soon(lambda: Decision.objects.get().choice, "keep")

    def test_columns_are_chosen_moved_resized_and_remembered(self) -> None:
        page = self.open()
        expect(self.ledger().get_by_role("row").nth(1)).to_be_visible()
        page.get_by_role("button", name="Columns").click()
        page.get_by_label("Find a figure to add").fill("order by")
        page.get_by_role("button", name="Add Order by, next full season").click()
        page.get_by_role("button", name="Leave out breadth").click()
        page.get_by_role("button", name="Move price to the left").click()
        page.keyboard.press("Escape")
        heads = self.heads()
        self.assertEqual(heads[-1], "order by, next full season")
        self.assertNotIn("breadth", heads)
        self.assertLess(heads.index("price"), heads.index("searches/yr"))
        forcer = self.ledger().get_by_role("row").filter(has_text="Rhubarb forcers")
        expect(forcer).to_contain_text(re.compile(r"\d+ Dec 2026"))
        edge = page.get_by_role("separator", name="Width of shape")
        before = edge.bounding_box()["x"]
        edge.focus()
        for _ in range(3):
            page.keyboard.press("ArrowLeft")
        self.assertLess(edge.bounding_box()["x"], before)
        width = edge.get_attribute("aria-valuenow")
        page.reload()
        expect(self.ledger().get_by_role("row").nth(1)).to_be_visible()
        self.assertEqual(self.heads(), heads)
        expect(edge).to_have_attribute("aria-valuenow", width)
        page.get_by_role("button", name="Columns").click()
        page.get_by_role("button", name="As at first").click()
        expect(self.ledger().get_by_role("columnheader", name="breadth")).to_be_visible()

    def test_the_shortlist_is_sorted_by_a_heading_and_by_hand_again(self) -> None:
        for niche in ("mf", "rf", "net float"):
            decide("north", niche, Choice.KEEP)
        page = self.open("/shortlist")
        names = page.locator("tbody th .name.serif")
        expect(names).to_have_count(3)
        by_hand = names.all_inner_texts()
        heading = page.get_by_role("columnheader", name="niche")
        heading.get_by_role("button").click()
        expect(heading).to_have_attribute("aria-sort", "ascending")
        self.assertEqual(names.all_inner_texts(), sorted(by_hand, key=str.lower))
        heading.get_by_role("button").click()
        expect(heading).to_have_attribute("aria-sort", "descending")
        page.reload()
        expect(names.first).to_have_text(max(by_hand, key=str.lower))
        page.keyboard.press("Shift+ArrowDown")
        expect(page.get_by_text("have no order by hand")).to_be_visible()
        heading.get_by_role("button").click()
        expect(names.first).to_have_text(by_hand[0])

    def test_an_answer_under_way_does_not_put_a_moved_row_back(self) -> None:
        for niche in ("mf", "rf", "net float"):
            decide("north", niche, Choice.KEEP)
        shortlist = self.intercept("**/api/desk/shortlist/?**")
        page = self.open("/shortlist")
        names = page.locator("tbody th .name.serif")
        expect(names).to_have_count(3)
        first, *others = names.all_inner_texts()
        held = []

        def hold(route: Route) -> None:
            # Answered before the row moves, on its way until after.
            held.append((route, route.fetch()))

        shortlist.once(hold)
        page.keyboard.press("p")
        while not held:
            page.wait_for_timeout(25)
        page.keyboard.press("Shift+ArrowDown")
        expect(names.nth(1)).to_have_text(first)
        route, answer = held[0]
        route.fulfill(response=answer)
        page.keyboard.press("Shift+ArrowDown")
        expect(names).to_have_text([*others, first])
        self.still()
        expect(names).to_have_text([*others, first])
        page.reload()
        expect(names).to_have_text([*others, first])

    def test_marked_rows_are_decided_exported_and_undone_together(self) -> None:
        page = self.open("/field?sort=name")
        expect(self.ledger().get_by_role("row", selected=True)).to_contain_text("Moon filters")
        page.keyboard.press(" ")
        for _ in range(3):
            page.keyboard.press("ArrowDown")
        page.keyboard.press("Shift+Space")
        marked = page.get_by_role("region", name="Marked niches")
        expect(marked).to_contain_text("4 marked")
        page.get_by_role("button", name="Export 4 marked rows").click()
        with page.expect_download() as download:
            page.get_by_role("link", name="Export 4 marked rows as XLSX").click()
        sheet = load_workbook(io.BytesIO(download.value.path().read_bytes())).active
        self.assertEqual(sheet.max_row, 5)
        self.assertEqual(sheet["B2"].value, "Moon filters")
        with page.expect_download() as download:
            page.get_by_role("link", name="Export readings of 4 marked rows as Parquet").click()
        self.assertEqual(pl.read_parquet(download.value.path()).height, 4)
        with page.expect_download() as download:
            page.get_by_role("link", name="Tables of 4 marked rows as a zip").click()
        self.assertEqual(len(read_package(download.value.path()).frames["terms"]), 5)
        page.keyboard.press("Escape")
        marked.get_by_role("button", name="Park").click()
        expect(page.get_by_text("Parked 4 niches. u undoes it.")).to_be_visible()
        expect(marked).to_have_count(0)
        parked = Decision.objects.filter(current=True, choice="park")
        self.expect_soon(parked.count, 4)
        page.keyboard.press("u")
        expect(page.get_by_text("Undone: park of 4 niches.")).to_be_visible()
        expect(page.get_by_label("Park Moon filters", exact=True)).to_have_attribute(
            "aria-pressed", "false"
        )

    def test_an_undo_does_not_overtake_the_decision_it_undoes(self) -> None:
        page = self.open("/field?sort=name")
        expect(page.get_by_role("row", selected=True)).to_be_visible()
        # The server takes its time over the decision; the undo is asked for meanwhile.
        asked, answer = Event(), Event()

        def slowly(*arguments: object, **more: object) -> Decision:
            asked.set()
            answer.wait(60)
            return decide(*arguments, **more)

        with patch("driftfield.api.desk.views.decide", slowly):
            page.keyboard.press("k")
            page.keyboard.press("u")
            self.assertTrue(asked.wait(60))
            page.wait_for_timeout(300)
            self.assertEqual(Decision.objects.count(), 0)
            answer.set()
            expect(page.get_by_text("Undone: keep of")).to_be_visible()
        self.expect_soon(Decision.objects.filter(current=True).count, 0)

    def test_every_figure_opens_its_working(self) -> None:
        page = self.open()
        row = self.ledger().get_by_role("row").filter(has_text="Rhubarb forcers")
        row.get_by_role("gridcell").last.dblclick()
        sheet = page.get_by_role("dialog")
        expect(sheet.get_by_role("heading", name="The working of Rhubarb forcers")).to_be_visible()
        expect(sheet.get_by_role("textbox", name="Find a figure")).to_have_value("Headroom")
        expect(sheet.get_by_role("rowheader", name="Headroom 0–100")).to_be_visible()
        # The formula with this niche's own numbers in it.
        figures = stored("rf")
        headroom = sheet.get_by_role("row").filter(has_text="√(demand")
        expect(headroom).to_contain_text(f"competition {figures['competition']:.0f}")
        expect(headroom).to_contain_text(f"demand {figures['demand']:.0f}")
        sheet.get_by_role("textbox", name="Find a figure").fill("wilson")
        expect(sheet.get_by_role("rowheader", name="Success rate, low end")).to_be_visible()
        sheet.get_by_role("textbox", name="Find a figure").fill("no such")
        expect(sheet).to_contain_text("No figure is called that.")

    def test_the_shortlist_says_what_changed_and_takes_reasons_and_tags(self) -> None:
        decide("north", "rf", Choice.KEEP)
        decide("north", "canal hook 20", Choice.PARK, "too heavy")
        remark("north", "canal hook 20", tags=["canal"])
        self.files["niches"] = self.files["niches"].replace("Rhubarb forcers", "Forcing pots")
        # Prices have come down by the time the list is opened again.
        self.files["listings"] = (
            self.files["listings"].replace(",20,", ",14,").replace(",25,", ",15,")
        )
        del self.files["listing_weeks"]
        load(self.files)
        page = self.open("/shortlist")
        rows = page.get_by_role("row")
        expect(rows.filter(has_text="Forcing pots")).to_be_visible()
        rows.filter(has_text="Forcing pots").click()
        foot = page.get_by_role("region", name="Selected niche")
        expect(foot).to_contain_text("then called “Rhubarb forcers”")
        expect(foot.get_by_role("row").filter(has_text="Price")).to_be_visible()
        foot.get_by_label("Why Forcing pots").fill("clay only, made nearby")
        foot.get_by_label("Tags of Forcing pots").fill("clay, spring")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="clay 1")).to_be_visible()
        page.reload()
        page.get_by_role("button", name="spring 1").click()
        expect(page.get_by_role("rowheader").filter(has_text="Forcing pots")).to_be_visible()
        expect(page.get_by_role("rowheader").filter(has_text="canal hook")).to_have_count(0)
        expect(foot.get_by_label("Why Forcing pots")).to_have_value("clay only, made nearby")
        with page.expect_download() as download:
            page.get_by_role("link", name="Export 2 rows as JSON").click()
        rows_out = json.loads(download.value.path().read_text())["rows"]
        self.assertEqual(
            {row["reason"] for row in rows_out}, {"too heavy", "clay only, made nearby"}
        )
        page.get_by_role("link", name="Briefs to print").click()
        brief = page.get_by_role("article", name="Brief of Forcing pots")
        expect(brief).to_contain_text("Kept. clay only, made nearby")
        expect(brief.get_by_label("Searches of Forcing pots over time")).to_be_visible()

    def test_what_is_typed_stands_whatever_comes_from_the_server_meanwhile(self) -> None:
        decide("north", "rf", Choice.KEEP)
        remarks = self.intercept("**/api/desk/remarks/")
        page = self.open("/shortlist")
        page.get_by_role("row").filter(has_text="Rhubarb forcers").click()
        foot = page.get_by_role("region", name="Selected niche")
        tags = foot.get_by_label("Tags of Rhubarb forcers")
        foot.get_by_label("Why Rhubarb forcers").fill("clay only")
        with page.expect_response(re.compile("/api/desk/shortlist/")):
            tags.fill("clay,  spring ")
        self.still()
        expect(page.get_by_role("row").filter(has_text="clay only")).to_be_visible()
        expect(tags).to_have_value("clay,  spring ")
        # What the server refuses stands to be mended; another row that comes up leaves nothing untold.
        self.expect_error("500")
        remarks.once(lambda one: one.fulfill(status=500))
        page.keyboard.press("Enter")
        expect(page.get_by_text("Not kept:")).to_be_visible()
        expect(tags).to_have_value("clay,  spring ")
        tags.focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="spring 1")).to_be_visible()
        expect(tags).to_have_value("clay, spring")
        self.assertEqual(Remark.objects.get().tags, ["clay", "spring"])

    def test_anything_is_gone_to_by_name(self) -> None:
        page = self.open()
        expect(self.ledger().get_by_role("row").nth(1)).to_be_visible()
        page.keyboard.press("Control+k")
        page.keyboard.type("hook 07")
        option = page.get_by_role("option", name="canal hook 07")
        expect(option).to_be_visible()
        page.keyboard.press("Enter")
        foot = page.get_by_role("region", name="Selected niche")
        expect(foot.get_by_role("heading", name="canal hook 07")).to_be_visible()
        page.keyboard.press("Control+k")
        page.keyboard.type("a season to prep")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("order\\+within"))
        page.keyboard.press("Control+k")
        page.keyboard.type("zzzz")
        expect(page.get_by_role("dialog")).to_contain_text("No matches")

    def test_a_notice_stands_its_full_time_whatever_stood_before_it(self) -> None:
        page = self.page
        page.clock.install()
        self.open("/skim")
        note = page.get_by_role("textbox")
        note.fill("first")
        note.press("Enter")
        said = page.get_by_role("status").filter(has_text="kept.")
        expect(said).to_be_visible()
        page.clock.fast_forward(4000)
        note.fill("second")
        with page.expect_response("**/api/desk/remarks/"):
            note.press("Enter")
        # The first one would be gone by now.
        page.clock.run_for(3000)
        expect(said).to_be_visible()
        page.clock.run_for(4000)
        expect(said).to_have_count(0)
