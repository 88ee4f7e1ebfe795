"""The catalogue: from a market down its tree to a category, beside it, and with a range of prices to the Field."""

import re

import numpy as np
from playwright.sync_api import expect

from driftfield.desk.models import Decision, Remark, SavedLens
from driftfield.exchange.tests.packages import supplied_market, table

from .base import BrowserCase
from .market import load, wide_market


def catalogue_market() -> dict[str, str]:
    """The wide market in a tree of three levels: hooks of two kinds, and what grows."""
    files = wide_market()
    hooks = [
        (f"h{i:02}", f"Canal hook {i:02}", "long" if i % 3 else "short", "north") for i in range(24)
    ]
    files["niches"] += table("niche_id,name,category_id,market_id", *hooks).split("\n", 1)[1]
    files["terms"] += "".join(f"canal hook {i:02},h{i:02},\n" for i in range(24))
    files["categories"] += table(
        "category_id,parent_id,name", ("w", "", "Water"), ("hk", "w", "Hooks"), ("long", "hk", "Long hooks"),
        ("short", "hk", "Short hooks"), ("rope", "w", "Ropes"),
    ).split("\n", 1)[1]  # fmt: skip
    return files


class Catalogue(BrowserCase):
    def test_down_the_tree_to_the_sibling_and_with_a_range_to_the_field(self) -> None:
        load(catalogue_market())
        page = self.open("/catalogue")
        tree = page.get_by_role("treegrid", name="Categories")
        expect(tree.get_by_role("row")).to_have_count(3)
        glance = page.get_by_role("region", name="The category at a glance")
        # Two levels down by keyboard: Water, Hooks, Long hooks.
        row = tree.get_by_role("row", selected=True)
        expect(row).to_contain_text("Water")
        for name in ("Water", "Hooks", "Long hooks"):
            expect(glance.get_by_role("heading", level=2)).to_have_text(name)
            page.keyboard.press("ArrowRight")
            if name != "Long hooks":
                expect(row).to_have_attribute("aria-expanded", "true")
                page.keyboard.press("ArrowRight")
        expect(glance).to_contain_text(re.compile("Openness|How open it is cannot be told"))
        expect(page).to_have_title("Long hooks · Catalogue · Driftfield")
        page.keyboard.press("]")
        expect(glance.get_by_role("heading", level=2)).to_have_text("Short hooks")
        expect(row).to_contain_text("Short hooks")
        # A range of searches dragged over the bars becomes a condition, with the category.
        bars = glance.get_by_role("img", name=re.compile("^Searches a year: from"))
        bars.scroll_into_view_if_needed()
        box = bars.bounding_box()
        page.mouse.move(box["x"] + box["width"] * 0.55, box["y"] + 12)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] - 2, box["y"] + 12)
        page.mouse.up()
        expect(page.get_by_text(re.compile(r"\d+ of 27 pass"))).to_be_visible()
        expect(page.get_by_text("the category is Short hooks")).to_be_visible()
        expect(page.get_by_text(re.compile("searches a year ≥"))).to_be_visible()
        page.go_back()
        expect(glance.get_by_role("heading", level=2)).to_have_text("Short hooks")
        page.keyboard.press("ArrowLeft")
        expect(glance.get_by_role("heading", level=2)).to_have_text("Hooks")

    def test_a_lens_weighs_openness_otherwise_and_the_working_shows_it(self) -> None:
        load(supplied_market())
        page = self.open("/catalogue?category=g")
        glance = page.get_by_role("region", name="The category at a glance")
        expect(glance).to_contain_text(re.compile(r"Openness \d+ of 100"))
        page.keyboard.press("l")
        sheet = page.get_by_role("complementary", name="Lens")
        expect(sheet).to_contain_text("Openness: how easily newcomers get in")
        sheet.get_by_role("button", name="First steps").click()
        expect(page.get_by_role("button", name="Lens: First steps")).to_be_visible()
        expect(page).to_have_url(re.compile("lens=open_success"))
        expect(glance).to_contain_text("Both by the lens “First steps”")
        sheet.get_by_label("Name of the lens").fill("Mine")
        sheet.get_by_role("button", name="Save", exact=True).click()
        expect(sheet.get_by_text("Saved as “Mine”.")).to_be_visible()
        self.assertEqual(SavedLens.objects.get().kind, "category")
        sheet.get_by_role("button", name="Close").click()
        page.keyboard.press("w")
        working = page.get_by_role("dialog")
        expect(working.get_by_role("heading", name=re.compile("^The working of"))).to_be_visible()
        working.get_by_label("Find a figure").fill("part of openness")
        rows = working.get_by_role("rowheader", name=re.compile("^Part of openness"))
        expect(rows).to_have_count(4)

    def test_an_idea_is_kept_with_a_note_and_found_on_the_shortlist(self) -> None:
        load(catalogue_market())
        page = self.open("/catalogue?open=w&open=hk")
        page.get_by_role("treegrid", name="Categories").get_by_text("Ropes").click()
        glance = page.get_by_role("region", name="The category at a glance")
        expect(glance.get_by_role("heading", level=2)).to_have_text("Ropes")
        # Nothing lies in it, and it says so.
        expect(glance).to_contain_text("No niche lies in it.")
        expect(glance).to_contain_text("No listing is known to lie in it.")
        page.keyboard.press("k")
        expect(page.get_by_text("Kept Ropes.")).to_be_visible()
        expect(page.get_by_role("row", selected=True)).to_contain_text("kept")
        page.keyboard.press("t")
        page.keyboard.type("what of them?")
        with page.expect_response(lambda one: "remarks" in one.url and one.ok):
            page.keyboard.press("Enter")
        self.assertEqual(Remark.objects.get().note, "what of them?")
        self.assertEqual(Decision.objects.get().kind, "category")
        page = self.go("/shortlist?of=categories")
        entry = page.get_by_role("row").nth(1)
        expect(entry).to_contain_text("Ropes")

    def test_a_name_is_found_with_what_leads_to_it(self) -> None:
        load(catalogue_market())
        page = self.open("/catalogue")
        tree = page.get_by_role("treegrid", name="Categories")
        expect(tree.get_by_role("row").nth(1)).to_be_visible()
        page.keyboard.press("/")
        page.keyboard.type("short")
        expect(page.get_by_text("1 of 7 categories pass")).to_be_visible()
        expect(tree.get_by_role("row")).to_have_count(4)
        page.keyboard.press("Escape")
        expect(tree.get_by_role("row")).to_have_count(3)

    def test_conditions_on_the_tree_leave_what_leads_to_what_passes(self) -> None:
        load(catalogue_market())
        page = self.open("/catalogue")
        tree = page.get_by_role("treegrid", name="Categories")
        expect(tree.get_by_role("row").nth(1)).to_be_visible()
        page.keyboard.press("f")
        page.keyboard.type("niches in it 6 to 12")
        page.keyboard.press("Enter")
        expect(page.get_by_text("1 of 7 categories pass")).to_be_visible()
        expect(tree.get_by_role("row")).to_have_count(4)
        expect(tree.get_by_role("row").nth(3)).to_contain_text("Short hooks")
        # As a sentence that can be changed, and with what each condition removes.
        page.get_by_role("button", name=re.compile("^niches in it 6 to 12")).click()
        box = page.get_by_label("The condition", exact=True)
        box.fill("niches in it >= 16")
        box.press("Enter")
        expect(page.get_by_text("3 of 7 categories pass")).to_be_visible()
        page.go_back()
        expect(page.get_by_text("1 of 7 categories pass")).to_be_visible()
        page.mouse.move(1200, 20)  # The pointer was left where a tip opens over the button.
        page.get_by_role("button", name="Clear the conditions").click()
        expect(tree.get_by_role("row")).to_have_count(3)

    def test_marked_ones_stand_side_by_side_and_kept_ones_are_printed(self) -> None:
        load(catalogue_market())
        page = self.open("/catalogue?open=w&open=hk&category=long")
        tree = page.get_by_role("treegrid", name="Categories")
        expect(tree.get_by_role("row", selected=True)).to_contain_text("Long hooks")
        page.keyboard.press("c")
        expect(page.get_by_text("0 are marked")).to_be_visible()
        page.keyboard.press("Space")
        expect(tree.get_by_label("Mark Long hooks")).to_be_checked()
        tree.get_by_label("Mark Short hooks").check()
        page.keyboard.press("c")
        expect(page.get_by_role("heading", name="Side by side")).to_be_visible()
        heads = page.get_by_role("columnheader")
        expect(heads).to_have_text([re.compile("Long hooks"), re.compile("Short hooks")])
        expect(page.get_by_role("row", name=re.compile("^Niches in it"))).to_contain_text("16")
        page.get_by_label("Keep Long hooks", exact=True).click()
        page.get_by_role("link", name="Shortlist", exact=True).click()
        page.get_by_role("link", name="categories", exact=True).click()
        page.get_by_role("link", name="Briefs to print").click()
        brief = page.get_by_role("article", name="Brief of Long hooks")
        expect(brief).to_contain_text("Water › Hooks")
        expect(brief).to_contain_text("Kept.")
        expect(brief.get_by_role("region", name="Its niches, most headroom first")).to_be_visible()

    def test_no_label_of_the_chart_lies_on_another_or_on_a_mark(self) -> None:
        load(catalogue_market())
        rng = np.random.default_rng(4)
        points = [
            {"id": f"p{i}", "name": f"Category number {i}", "above": "", "depth": 0, "shape": "Seasonal",
             "openness": float(rng.uniform(20, 70)), "settledness": float(rng.uniform(20, 80)),
             "revenue": float(rng.lognormal(3, 1))}
            for i in range(50)
        ]  # fmt: skip
        points.sort(key=lambda one: -one["revenue"])
        answer = {"points": points, "known": 50, "total": 55}
        page = self.open("/catalogue?category=g")
        expect(page.get_by_role("heading", level=2, name="Growing")).to_be_visible()
        page.route("**/api/catalogue/points/**", lambda route: route.fulfill(json=answer))
        page.keyboard.press("v")
        expect(page.get_by_role("region", name="The tree as an icicle")).to_be_visible()
        page.keyboard.press("v")
        chart = page.get_by_role("region", name="Openness against settledness")
        expect(chart).to_contain_text("unknown of 5")
        expect(chart.get_by_role("button")).to_have_count(50)
        found = page.evaluate(BOXES)
        self.assertGreater(len(found["labels"]), 15)
        for i, label in enumerate(found["labels"]):
            for other in [*found["marks"], *found["labels"][i + 1 :]]:
                apart = (
                    label["right"] <= other["left"] or other["right"] <= label["left"]
                    or label["bottom"] <= other["top"] or other["bottom"] <= label["top"]
                )  # fmt: skip
                self.assertTrue(apart, (label, other))
        page.unroute("**/api/catalogue/points/**")
        page.keyboard.press("v")
        expect(page.get_by_role("heading", level=2, name="Growing")).to_be_visible()


# Boxes of the labels, and of the marks of others: the square within each circle.
BOXES = """() => {
  const box = (one) => { const { left, right, top, bottom } = one.getBoundingClientRect(); return { left, right, top, bottom, name: one.textContent.trim() } };
  const labels = [...document.querySelectorAll(".point text")].map(box);
  const marks = [...document.querySelectorAll(".point circle")].map((one) => {
    const { left, right, top, bottom } = box(one);
    const less = (right - left) * 0.15;
    return { left: left + less, right: right - less, top: top + less, bottom: bottom - less };
  });
  return { labels, marks };
}"""


class Icicle(BrowserCase):
    def test_pieces_are_as_large_as_their_shares_and_lead_on(self) -> None:
        load(catalogue_market())
        page = self.open("/catalogue?view=icicle")
        icicle = page.get_by_role("region", name="The tree as an icicle")
        water = icicle.get_by_role("button", name=re.compile("^Water:"))
        expect(water).to_be_visible()
        whole = icicle.get_by_role("group", name="Categories").bounding_box()
        share = float(
            re.search(r"(\d+(\.\d)?)% of what is shown", water.get_attribute("aria-label"))[1]
        )
        self.assertAlmostEqual(
            water.bounding_box()["height"] / whole["height"] * 100, share, delta=1
        )
        # What lies in it stands right of it, within its height.
        hooks = icicle.get_by_role("button", name=re.compile("^Hooks:"))
        self.assertGreater(hooks.bounding_box()["x"], water.bounding_box()["x"])
        self.assertLessEqual(hooks.bounding_box()["height"], water.bounding_box()["height"])
        hooks.focus()
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("under=hk"))
        expect(icicle.get_by_role("navigation")).to_contain_text("All › Water › Hooks")
        expect(icicle.get_by_role("button", name=re.compile("^Water:"))).to_have_count(0)
        icicle.get_by_role("button", name="At a glance").click()
        expect(page.get_by_role("heading", level=2, name="Hooks")).to_be_visible()
        page.go_back()
        expect(icicle).to_be_visible()
        # Without sales there is nothing to be as large as.
        self.choose(page, "Sized by", "purchases a year")
        expect(icicle).to_be_visible()
