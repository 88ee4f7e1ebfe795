"""The list of protected words: written, seen in the ledger, taken back."""

import re

from playwright.sync_api import expect

from driftfield.api.tests.test_terms import bee_market

from .base import BrowserCase
from .market import load


class Protected(BrowserCase):
    def test_a_word_is_put_on_the_list_seen_and_removed(self) -> None:
        load(bee_market())
        page = self.open("/protected")
        expect(page.get_by_text("No word is on the list.")).to_be_visible()
        page.get_by_label("A protected word").fill("smoker")
        page.get_by_label("A note on it").fill("<b>a register</b>")
        page.keyboard.press("Enter")
        expect(page.get_by_text("“smoker” is on the list.")).to_be_visible()
        expect(page.get_by_text("ranks and headroom with the next analysis")).to_be_visible()
        expect(page.get_by_role("button", name=re.compile("^Analyse .* now"))).to_be_visible()
        row = page.get_by_role("row").filter(has_text="smoker")
        expect(row).to_contain_text("<b>a register</b>")
        expect(row).to_contain_text("13,000")
        page.get_by_role("link", name=re.compile("^Terms that hold one")).click()
        terms = page.get_by_role("grid", name="Terms").get_by_role("row")
        expect(terms).to_have_count(3)
        mark = terms.nth(1).get_by_role("img", name=re.compile("Holds “smoker”, a protected word"))
        expect(mark).to_be_visible()
        page = self.open("/protected")
        page.get_by_role("button", name="Remove smoker").click()
        expect(page.get_by_text("No word is on the list.")).to_be_visible()
        page.get_by_role("button", name="Bring “smoker” back").click()
        expect(row).to_be_visible()
        self.expect_error("409")
        page.get_by_label("A protected word").fill("…")
        page.keyboard.press("Enter")
        expect(page.get_by_text("has letters or digits")).to_be_visible()
