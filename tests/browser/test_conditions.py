"""Conditions of the sieve, typed, clicked and kept."""

import csv
import json
import re
from pathlib import Path

from playwright.sync_api import expect

from driftfield.core.sieve.asked import ROLES

from .field import FieldCase

CONDITIONS = Path(__file__).resolve().parents[2] / "driftfield/core/sieve/tests/conditions.csv"


class Conditions(FieldCase):
    def test_a_condition_is_made_with_the_mouse_alone(self) -> None:
        page = self.open()
        expect(self.ledger().get_by_role("row")).to_have_count(4)
        page.get_by_role("combobox").click()
        page.get_by_role("option", name="searches Searches a year").click()
        drawn = page.get_by_role("img", name=re.compile("^How the figure is spread"))
        box = drawn.bounding_box()
        page.mouse.move(box["x"] + box["width"] * 0.6, box["y"] + 20)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] - 2, box["y"] + 20)
        page.mouse.up()
        expect(page.get_by_text("1 of 3 pass")).to_be_visible()
        expect(page).to_have_url(re.compile(r"c=searches\+\d+\.\."))
        page.get_by_role("combobox").click()
        page.keyboard.type("category gr")
        page.get_by_role("option", name="Growing › Bed covers").click()
        expect(page.get_by_text("the category is Bed covers")).to_be_visible()

    def test_thirty_conditions_are_typed_as_a_person_would(self) -> None:
        """Every fifth row of the core's own table; each must read in the sentence as the table says."""
        with CONDITIONS.open(encoding="utf-8", newline="") as file:
            rows = [row for row in csv.DictReader(file) if row["condition"]]
        # Categories are those that the market has; who made and sells what is asked of listings alone.
        other = ("category", *ROLES.values())
        rows = [row for row in rows if not any(word in row["typed"] for word in other)][::4]
        self.assertGreaterEqual(len(rows), 30)
        page = self.open("/field")
        expect(page.get_by_text("3 of 3 pass")).to_be_visible()
        page.keyboard.press("/")
        clauses = page.locator(".sentence .clause")
        for many, row in enumerate(rows):
            with self.subTest(row["typed"]):
                page.keyboard.type(row["typed"])
                page.keyboard.press("Enter")
                expect(clauses.last).to_contain_text(row["sentence"])
                expect(page.get_by_role("alert")).to_have_count(0)
                if many % 6 == 5:  # so that the sentence does not fill the window
                    page.keyboard.press("Escape")  # what is offered lies over the button
                    page.get_by_role("button", name="Clear the conditions").click()
                    expect(clauses).to_have_count(0)
                    page.keyboard.press("/")

    def test_conditions_by_completion_alone(self) -> None:
        page = self.open("/field")
        expect(page.get_by_text("3 of 3 pass")).to_be_visible()
        page.keyboard.press("/")
        box = page.get_by_role("combobox")
        for typed, completed, rest, sentence in (
            ("pri", "price >= ", "15", "price ≥ £15"), ("sea", "searches >= ", "1k", "searches a year ≥ 1,000"),
            ("head", "headroom >= ", "1", "headroom ≥ 1"), ("drift ris", "drift = Rising", "", "drift is Rising"),
            ("peak in ja", "peak in January", "", "the peak is in January"),
            ("decided ope", "decided open", "", "it is undecided"),
            ("no signal one b", "no signal one_brand", "", "“One brand dominates” is not raised"),
            ("category bed", "category Bed covers", "", "the category is Bed covers"),
            ("not shape = fa", "not shape = Fad", "", "shape is not Fad"),
        ):  # fmt: skip
            with self.subTest(typed):
                page.keyboard.type(typed)
                page.keyboard.press("Tab")
                expect(box).to_have_value(completed)
                page.keyboard.type(rest)
                page.keyboard.press("Enter")
                expect(page.locator(".sentence .clause").last).to_contain_text(sentence)

    def test_a_condition_from_the_keyboard_alone(self) -> None:
        page = self.open()
        expect(page.get_by_text("3 of 3 pass")).to_be_visible()
        page.keyboard.press("/")
        page.keyboard.type("sha")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page.get_by_role("combobox")).to_have_value("shape = ")
        page.keyboard.type("Sea")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        clause = page.get_by_role("button", name=re.compile("^shape is Seasonal"))
        expect(clause).to_be_visible()
        expect(page.get_by_text("1 of 3 pass")).to_be_visible()
        expect(clause).to_contain_text("−2")
        page.keyboard.type("price cheap >")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("does not say how price compares")
        page.keyboard.press("Control+a")
        page.keyboard.type("drift > 5")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("5% or 500%?")
        page.get_by_role("alert").get_by_role("button", name="drift a year ≥ +5%").click()
        expect(page.get_by_role("button", name=re.compile("^drift a year ≥ \\+5%"))).to_be_visible()
        page.reload()
        expect(clause).to_be_visible()

    def test_conditions_are_switched_off_changed_and_removed(self) -> None:
        page = self.open("/field?c=shape+=+Seasonal&c=searches+10000..")
        clause = page.get_by_role("button", name=re.compile("^shape is Seasonal"))
        clause.click()
        page.get_by_role("button", name="Switch off").click()
        expect(page.get_by_text("1 of 3 pass")).to_be_visible()
        page.get_by_role("button", name="Remove").click()
        expect(clause).to_be_hidden()
        bound = page.get_by_role("button", name=re.compile("^searches a year ≥ 10,000"))
        bound.click()
        sheet = page.get_by_role("dialog")
        expect(sheet.get_by_role("img", name=re.compile("spread"))).to_be_visible()
        sheet.get_by_label("The condition").fill("searches <= 7000")
        page.keyboard.press("Enter")
        expect(
            page.get_by_role("button", name=re.compile("^searches a year ≤ 7,000"))
        ).to_be_visible()
        expect(page.locator("#row-0")).to_contain_text("net float")
        page.get_by_role("button", name=re.compile("^searches a year ≤ 7,000")).click()
        spread = page.get_by_role("img", name=re.compile("spread"))
        spread.drag_to(
            spread, source_position={"x": 180, "y": 20}, target_position={"x": 258, "y": 20}
        )
        expect(page.locator("#row-0")).to_contain_text("Rhubarb forcers")

    def test_near_misses_are_shown_with_what_they_fail(self) -> None:
        page = self.open("/field?c=searches+8000..")
        page.get_by_role("button", name=re.compile("^Show 1 near miss")).click()
        expect(
            page.locator("[data-tip='Narrowly fails: searches a year ≥ 8,000']")
        ).to_contain_text("Moon filters")

    def test_sieves_are_saved_used_removed_and_brought_back(self) -> None:
        page = self.open("/field?c=shape+=+Seasonal")
        expect(page.get_by_text("1 of 3 pass")).to_be_visible()
        page.get_by_role("button", name="Sieves").click()
        sheet = page.get_by_role("dialog", name="Sieves")
        expect(sheet.get_by_text("A season to prepare now").first).to_be_visible()
        sheet.get_by_label("Name of the sieve").fill("Only seasons")
        page.keyboard.press("Enter")
        expect(sheet.get_by_text("Saved as “Only seasons”.")).to_be_visible()
        sheet.get_by_role("button", name="Remove Only seasons").click()
        expect(sheet.get_by_role("button", name="Remove Only seasons")).to_be_hidden()
        sheet.get_by_role("button", name="Bring it back").click()
        for copy in ("A first product, copy", "A first product, copy 2"):
            sheet.get_by_role("button", name="Duplicate A first product", exact=True).click()
            expect(sheet.get_by_role("button", name=f"Remove {copy}", exact=True)).to_be_visible()
            sheet.get_by_role("button", name=f"Duplicate {copy}", exact=True).wait_for()
        for copy in ("A first product, copy 2", "A first product, copy"):
            sheet.get_by_role("button", name=f"Remove {copy}", exact=True).click()
            expect(sheet.get_by_role("button", name=f"Remove {copy}", exact=True)).to_be_hidden()
        page.goto(f"{self.live_server_url}/field")
        expect(page.get_by_text("3 of 3 pass")).to_be_visible()
        page.get_by_role("button", name="Sieves").click()
        with page.expect_download() as saved:
            sheet.get_by_role("button", name="Export as JSON").click()
        written = json.loads(Path(saved.value.path()).read_text("utf-8"))
        self.assertEqual(written, [{"name": "Only seasons", "conditions": ["shape = Seasonal"]}])
        sheet.get_by_role("button", name=re.compile("^Only seasons")).click()
        expect(page.get_by_text("1 of 3 pass")).to_be_visible()
