"""The page of one niche: its questions, its numbers, and the way on."""

import json
import re
import tempfile
from pathlib import Path
from xml.etree import ElementTree

from click.testing import CliRunner
from playwright.sync_api import expect

from driftfield.cli.main import main
from driftfield.core.base import format_change, format_share
from driftfield.desk.models import Decision, Remark
from driftfield.exchange.tests.packages import supplied_market, write
from driftfield.market.models import Market

from .base import BrowserCase
from .market import load

SVG = "{http://www.w3.org/2000/svg}"
OCHRE = "#b7791f"  # As the design has it, by day.


def height_of(text: ElementTree.Element) -> float:
    """How far below the top a text of a drawing stands."""
    moved = re.fullmatch(r"translate\([\d.]+ ([\d.]+)\)", text.get("transform", ""))
    assert moved, "texts are put in place by moving them"
    return float(moved[1])


class Dossier(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(supplied_market())

    def opened(self, question: str):
        """A question of the page once all of it is there."""
        self.open("/dossier?niche=rf")
        expect(self.section("Does it pay?")).to_contain_text("would be left of each unit")
        expect(self.page.get_by_text("Looking it up")).to_have_count(0)
        return self.section(question)

    def section(self, question: str):
        return self.page.get_by_role("region", name=question)

    def test_opened_by_key_walked_in_the_order_of_the_list_and_left(self) -> None:
        page = self.open("/field?sort=name")
        expect(page.get_by_role("row", selected=True)).to_contain_text("Moon filters")
        page.keyboard.press("ArrowDown")
        expect(page).to_have_url(re.compile("niche=rf"))
        page.keyboard.press("Enter")
        heading = page.get_by_role("heading", level=1)
        expect(heading).to_have_text("Rhubarb forcers")
        expect(page.get_by_text("2 of 3")).to_be_visible()
        page.keyboard.press("ArrowRight")
        expect(heading).to_have_text("net float")
        page.keyboard.press("ArrowRight")  # the last one stays
        page.keyboard.press("ArrowLeft")
        expect(heading).to_have_text("Rhubarb forcers")
        page.keyboard.press("k")
        expect(page.get_by_text("Kept Rhubarb forcers.")).to_be_visible()
        page.keyboard.press("t")
        page.keyboard.type("two makers")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Note on Rhubarb forcers kept.")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_role("row", selected=True)).to_contain_text("Rhubarb forcers")
        self.expect_soon(lambda: Decision.objects.get().choice, "keep")
        self.expect_soon(lambda: Remark.objects.get().note, "two makers")

    def test_each_question_opens_with_its_verdict_and_is_reached_by_key(self) -> None:
        page = self.open("/dossier?niche=rf")
        for key, question, expected in (
            ("6", "Does it pay?", "£30,000 revenue a year needs"),
            ("5", "What do they complain of?", "of what is bought is returned"),
            ("4", "What do buyers type?", "Mostly “rhubarb forcer”: "),
            (
                "3",
                "Who holds it?",
                "A few listings dominate: the three most clicked take 75% of the clicks",
            ),
            ("2", "When does it come?", "Every year from"),
            ("1", "Is the demand real?", "Yes, "),
        ):
            section = self.section(question)
            expect(section).to_contain_text(expected)
            page.keyboard.press(key)
            expect(section).to_be_focused()
            expect(section.get_by_role("heading", name=question)).to_be_in_viewport()

    def test_any_two_curves_lie_over_one_another(self) -> None:
        self.open("/dossier?niche=rf")
        calendar = self.section("When does it come?")
        expect(calendar.get_by_role("img", name="Searches and Purchases over time")).to_be_visible()
        self.choose(calendar, "The first curve", "price")
        self.choose(calendar, "The second curve", "units")
        expect(calendar.get_by_role("img", name="Price and Units over time")).to_be_visible()
        table = calendar.get_by_role("table", name=re.compile("^Units"))
        expect(table.get_by_role("row").first).to_contain_text("2024-01-01")
        expect(table.get_by_role("row").first).to_contain_text("90")
        calendar.get_by_label("season taken out").check()
        expect(calendar).to_contain_text("no season found in price and units")
        self.choose(calendar, "The first curve", "searches")
        expect(calendar).to_contain_text("no season found in units")
        calendar.get_by_label("each against its own mean").check()
        self.choose(calendar, "The second curve", "searches")
        expect(calendar.get_by_role("img", name="Searches over time")).to_be_visible()

    def test_a_chart_is_kept_as_a_picture_as_a_drawing_and_as_numbers(self) -> None:
        demand = self.opened("Is the demand real?")
        chart = "Searches of Rhubarb forcers with what may come"
        kept = {}
        for form in ("PNG", "SVG", "CSV"):
            with self.page.expect_download() as file:
                demand.get_by_label(f"{form} of {chart}").click()
            name = f"searches-of-rhubarb-forcers-with-what-may-come.{form.lower()}"
            self.assertEqual(file.value.suggested_filename, name)
            kept[form] = file.value.path().read_bytes()
        self.assertEqual(kept["PNG"][:4], b"\x89PNG")
        drawing = ElementTree.fromstring(kept["SVG"])
        self.assertIn("searches a week", [text.text for text in drawing.iter(f"{SVG}text")])
        lines = kept["CSV"].decode("utf-8-sig").splitlines()
        self.assertEqual(lines[:2], ["searches by week", "from,searches,level,low,high,remark"])
        # Three years that were, and one that may come.
        self.assertEqual(len(lines), 2 + 156 + 52)
        self.assertTrue(lines[2].startswith("2023-01-02,"))
        self.assertTrue(lines[-1].endswith(",may come"))

    def drawn(self, chart: str) -> ElementTree.Element:
        """A chart as the drawing that is kept of it."""
        with self.page.expect_download() as file:
            self.page.get_by_label(f"SVG of {chart}").click()
        return ElementTree.fromstring(file.value.path().read_bytes())

    def test_lines_to_compare_with_lie_where_the_axis_says(self) -> None:
        self.opened("Does it pay?")
        for chart, says in (
            ("Searches of the terms against their purchase rate", r"the niche ([\d.]+)%"),
            ("Launches of two years", r"bar ([\d.]+)"),
        ):
            with self.subTest(chart):
                drawing = self.drawn(chart)
                texts = {one.text or "": one for one in drawing.iter(f"{SVG}text")}
                wanted = next(float(m[1]) for text in texts if (m := re.fullmatch(says, text)))
                places = {
                    float(text.rstrip("%")): height_of(one)
                    for text, one in texts.items()
                    if re.fullmatch(r"[\d.]+%?", text) and one.get("text-anchor") == "end"
                }
                low, high = min(places), max(places)
                expected = places[low] + (wanted - low) / (high - low) * (
                    places[high] - places[low]
                )
                lines = [
                    float(level[1])
                    for one in drawing.iter(f"{SVG}path")
                    if one.get("stroke") == OCHRE
                    and (level := re.fullmatch(r"M[\d.]+ ([\d.]+)L[\d.]+ \1", one.get("d", "")))
                ]
                self.assertEqual(len(lines), 1)
                self.assertAlmostEqual(lines[0], expected, delta=1.0)

    def test_every_chart_has_its_files_and_a_table_behind_it(self) -> None:
        self.opened("Does it pay?")
        figures = self.page.locator(".pages figure")
        self.assertGreaterEqual(figures.count(), 9)
        for figure in figures.all():
            with self.subTest(chart=figure.locator(".holder").get_attribute("aria-label")):
                expect(figure.locator(".keep button")).to_have_text(["PNG", "SVG", "CSV"])
                # The table is drawn once the page has nothing more urgent to do.
                expect(figure.locator("table tr").nth(1)).to_be_attached()

    def test_the_address_of_a_question_leads_to_it(self) -> None:
        page = self.open("/dossier?niche=rf")
        expect(self.section("Does it pay?")).to_contain_text("would be left of each unit")
        page.keyboard.press("4")
        expect(page).to_have_url(re.compile("niche=rf#terms$"))
        sent = page.url
        page.goto("about:blank")
        page.goto(sent)
        expect(self.section("What do buyers type?")).to_be_focused()
        expect(page.get_by_role("heading", name="What do buyers type?")).to_be_in_viewport()

    def test_a_listing_opens_its_own_history(self) -> None:
        holders = self.opened("Who holds it?")
        listings = holders.get_by_role("table", name="The 5 most clicked listings")
        listings.get_by_role("button", name="Forcer l5", exact=True).click()
        expect(holders.get_by_role("img", name="Forcer l5 over time")).to_be_visible()
        expect(holders).to_contain_text("Lead offer: Lane 5 from 1 Jun 2025, 6 periods")
        table = (
            holders.get_by_role("img", name="Forcer l5 over time")
            .locator("xpath=..")
            .get_by_role("table")
        )
        expect(table.get_by_role("row").nth(1)).to_contain_text("2025-06-01")
        listings.get_by_role("button", name="Forcer l5", exact=True).click()
        expect(holders.get_by_role("img", name="Forcer l5 over time")).to_have_count(0)

    def test_launches_spreads_and_attributes(self) -> None:
        holders = self.opened("Who holds it?")
        launches = holders.get_by_role("img", name="Launches of two years").locator("xpath=..")
        row = launches.get_by_role("row").filter(has_text="Forcer l4")
        expect(row).to_contain_text("reached the bar")
        expect(launches.get_by_role("row").filter(has_text="Forcer l5")).to_contain_text(
            "fell short"
        )
        colours = holders.get_by_role("table", name="Which colour takes the clicks")
        expect(colours.get_by_role("row").nth(1)).to_contain_text("grey")
        expect(colours.get_by_role("row").nth(1)).to_contain_text("80%")
        expect(holders.get_by_role("img", name="Price of the listings")).to_be_visible()
        expect(holders).to_contain_text("Fewer than two launches worked")

    def test_where_the_clicks_of_a_term_go(self) -> None:
        terms = self.opened("What do buyers type?")
        terms.get_by_role("button", name="terracotta forcer").click()
        table = terms.get_by_role("table", name="Where the clicks of “terracotta forcer” go")
        expect(table.get_by_role("row").nth(1)).to_contain_text("Forcer l1")
        expect(table.get_by_role("row").nth(1)).to_contain_text("40%")
        words = terms.get_by_role("table", name="Words beyond the thing itself")
        expect(words.get_by_role("row").nth(1)).to_contain_text("terracotta")

    def test_a_figure_of_unit_economics_opens_its_formula(self) -> None:
        money = self.opened("Does it pay?")
        row = money.get_by_role("row").filter(has_text="break-even price")
        row.get_by_role("button").click()
        expect(money).to_contain_text(
            "break-even price = (handling × (1 + return rate) + storage + landed × (1 − return rate × share resold)) ÷"
        )
        # The numbers put in come to the figure that was clicked.
        figure = row.get_by_role("button").inner_text().lstrip("£")
        self.assertIn(f"= {figure}", money.inner_text())

    def test_nothing_loaded_says_how_to_begin(self) -> None:
        self.expect_error("status of 404")
        Market.objects.all().delete()
        page = self.open("/dossier?niche=rf")
        expect(page.get_by_role("heading", name="No figures are loaded yet")).to_be_visible()

    def test_listings_are_sorted_and_the_ladder_marks_the_breadth(self) -> None:
        page = self.open("/dossier?niche=rf")
        holders = self.section("Who holds it?")
        ladder = holders.get_by_role("table", name="Listings", exact=True)
        # 40, 20, 15 and 10%: the fourth listing reaches four fifths.
        expect(ladder.get_by_role("row").filter(has_text="breadth")).to_contain_text("Forcer l4")
        brands = holders.get_by_role("table", name="Brands of these listings")
        expect(brands.get_by_role("row").nth(2)).to_contain_text(
            "30%"
        )  # b2 holds the second and fourth
        listings = holders.get_by_role("table", name="The 5 most clicked listings")
        prices = lambda: [  # noqa: E731
            float(text.lstrip("£"))
            for text in listings.locator("tbody tr td:nth-of-type(3)").all_inner_texts()
        ]
        self.assertEqual(prices(), [20, 25, 18, 22, 30])
        listings.get_by_role("button", name="price").click()
        self.assertEqual(prices(), [30, 25, 22, 20, 18])
        listings.get_by_role("button", name="price").click()
        self.assertEqual(prices(), [18, 20, 22, 25, 30])
        expect(listings.get_by_role("columnheader", name="price")).to_have_attribute(
            "aria-sort", "ascending"
        )
        page.get_by_role("button", name=re.compile(r"^75%")).first.click()
        expect(page.get_by_role("dialog")).to_contain_text(
            "click shares of the three most clicked listings"
        )

    def test_terms_are_chosen_and_copied(self) -> None:
        page = self.open("/dossier?niche=rf")
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        terms = self.section("What do buyers type?")
        terms.get_by_label("Choose terracotta forcer").check()
        terms.get_by_role("button", name="Copy the 1 chosen").click()
        expect(page.get_by_text("1 term copied, a line each.")).to_be_visible()
        self.assertEqual(page.evaluate("navigator.clipboard.readText()"), "terracotta forcer")
        terms.get_by_label("Choose terracotta forcer").uncheck()
        terms.get_by_role("button", name="Copy all").click()
        expect(page.get_by_text("2 terms copied, a line each.")).to_be_visible()

    def test_costs_are_typed_and_kept(self) -> None:
        self.expect_error("status of 400 .*/niche/costs/")
        page = self.open("/dossier?niche=rf")
        money = self.section("Does it pay?")
        expect(money).to_contain_text("would be left of each unit, a margin of")
        for label, entry in (
            ("price a buyer pays", "20"),
            ("handling fee", "3"),
            ("returns", "0"),
            ("unit cost, ex works", "6,00"),
        ):
            money.get_by_label(label, exact=True).fill(entry)
            page.keyboard.press("Tab")
        expect(money).to_contain_text(
            "at £20.00 about £6.00 is left of each unit, a margin of 30% and 100% on the landed cost"
        )
        expect(money.get_by_role("row").filter(has_text="break-even price")).to_contain_text(
            "12.00"
        )
        money.get_by_label("duty on goods").fill("a lot")
        page.keyboard.press("Tab")
        expect(
            page.get_by_text("“a lot” is no number for duty on goods; write it like 12.50.")
        ).to_be_visible()
        money.get_by_label("duty on goods").fill("150")
        page.keyboard.press("Tab")
        expect(page.get_by_text("must be a share from 0% to 100%.")).to_be_visible()
        page.reload()
        expect(money.get_by_label("unit cost, ex works")).to_have_value("6")
        expect(money.get_by_label("duty on goods")).to_have_value("")
        # Fees of the market, by size class.
        money.get_by_text("Handling fees of this market").click()
        money.get_by_label("Fee of class 2").fill("4.5")
        money.get_by_role("button", name="Keep the fees").click()
        expect(page.get_by_text("Fees kept for this market.")).to_be_visible()
        money.get_by_label("handling fee").fill("")
        page.keyboard.press("Tab")
        expect(
            money.get_by_role("row").filter(has_text="handling, class standard")
        ).to_contain_text("−£4.50")

    def test_what_buyers_say_stands_beside_its_category(self) -> None:
        self.open("/dossier?niche=rf")
        complaints = self.section("What do they complain of?")
        table = complaints.get_by_role("table", name="Complaints in reviews")
        expect(table.get_by_role("row").filter(has_text="lid cracks, in frost")).to_contain_text(
            "14"
        )
        expect(complaints).to_contain_text("Mostly “lid cracks, in frost”: 100% of 14 complaints")
        # The page itself never moves, however far its answers are scrolled.
        self.page.keyboard.press("6")
        self.assertEqual(
            self.page.evaluate("document.scrollingElement.scrollTop + document.body.scrollTop"), 0
        )

    def test_what_is_missing_says_which_table_would_bring_it(self) -> None:
        self.expect_error("status of 404 .*niche=gone")
        page = self.open("/dossier?niche=net%20float")
        holders = self.section("Who holds it?")
        expect(holders).to_contain_text("term_clicks and listings would tell who takes the clicks")
        row = holders.get_by_role("row").filter(has_text="Reviews of the top ten")
        expect(row).to_contain_text("import listings to see it")
        for address, expected in (
            ("/dossier", "No niche is named"),
            ("/dossier?niche=gone", "“gone” is not in"),
        ):
            page.goto(f"{self.live_server_url}{address}")
            expect(page.get_by_text(expected)).to_be_visible()

    def test_figures_are_those_of_the_command_line(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **supplied_market())
            out = Path(holder) / "out.jsonl"
            made = CliRunner().invoke(main, ["analyse", str(folder), "--out", str(out)])
            self.assertEqual(made.exit_code, 0, made.output)
            records = [json.loads(line) for line in out.read_text().splitlines()]
        record = next(one for one in records if one["niche_id"] == "rf")
        page = self.open("/dossier?niche=rf")
        sales, parts = record["sales"], record["competition_parts"]
        for label, expected in (
            ("Searches a year", f"{record['searches_52w']:,.0f}"),
            ("Purchase rate", format_share(record["purchase_rate"])),
            ("Drift a year", format_change(record["drift_rate_year"])),
            ("Units a year", f"{sales['units_52w']:,.0f}"),
            ("Revenue a year", f"£{sales['revenue_52w']:,.0f}"),
            ("Share of the top 3", format_share(parts["top3_share"])),
            ("HHI of listings", f"{parts['hhi_listings']:,.0f}"),
            ("Forecast, 52 weeks", f"{record['forecast_52w']['value']:,.0f}"),
        ):
            row = page.get_by_role("row").filter(
                has=page.get_by_role("rowheader", name=re.compile(f"^{label}"))
            )
            expect(row.get_by_role("button").first).to_have_text(expected)
