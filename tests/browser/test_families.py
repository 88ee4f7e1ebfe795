"""Families: from a niche's dossier to whether its family is enough for a brand."""

from playwright.sync_api import expect

from driftfield.api.tests.test_families import family_market

from .base import BrowserCase
from .market import load


class Families(BrowserCase):
    def test_from_a_dossier_to_its_family_and_back_by_keyboard(self) -> None:
        load(family_market())
        page = self.open("/dossier?niche=wedges")
        link = page.get_by_role("link", name="Its family")
        link.focus()
        page.keyboard.press("Enter")
        family = page.get_by_role("article", name="All straps and 2 more")
        expect(family).to_contain_text("Not by the usual measure: 1 of its 3 goods has")
        expect(family).to_contain_text("Brands serve 3 of its goods together")
        expect(family.get_by_role("row")).to_have_count(4)
        expect(family.get_by_role("img", name="January: ")).to_be_visible()
        expect(page).to_have_title("All straps and 2 more · Families · Driftfield")
        first = page.get_by_role("navigation", name="Families").get_by_role("button").first
        expect(first).to_have_attribute("aria-current", "true")
        family.get_by_role("link", name="All boards").first.click()
        expect(page.get_by_role("heading", name="All boards")).to_be_visible()

    def test_a_niche_without_one(self) -> None:
        load(family_market())
        self.expect_error("404")
        page = self.open("/families?niche=hoes")
        expect(page.get_by_role("heading", name="It has no family")).to_be_visible()
        page.keyboard.press("ArrowDown")
        expect(page.get_by_role("article", name="All straps and 2 more")).to_be_visible()

    def test_marked_niches_are_looked_at_together(self) -> None:
        load(family_market())
        page = self.open("/field")
        rows = page.get_by_role("grid", name="Ranked niches")
        expect(rows.get_by_role("row")).to_have_count(9)
        for name in ("All hoes", "All straps"):
            rows.get_by_role("checkbox", name=f"Mark {name}").check()
        page.get_by_role("button", name="As a family").click()
        family = page.get_by_role("article", name="All straps and 1 more")
        expect(family).to_contain_text("No brand is clicked in both goods.")
        expect(family).to_contain_text("of its 2 goods")
        # A family of the list can be opened from there.
        page.get_by_role("navigation", name="Families").get_by_role("button").first.click()
        expect(page.get_by_role("article", name="All straps and 2 more")).to_be_visible()
