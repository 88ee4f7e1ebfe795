"""Coming from below: from a word, over letters and words, to a term and its niche."""

import re

from playwright.sync_api import Locator, expect

from driftfield.api.tests.test_terms import bee_market
from driftfield.desk.models import Decision

from .base import BrowserCase
from .market import load


class Terms(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(bee_market())

    def rows(self) -> Locator:
        return self.page.get_by_role("grid", name="Terms").get_by_role("row")

    def press(self, button: Locator) -> None:
        """By the keyboard: it takes the focus and is pressed."""
        button.focus()
        expect(button).to_be_focused()
        self.page.keyboard.press("Enter")

    def test_from_a_word_to_a_niche_by_keyboard_alone(self) -> None:
        page = self.open("/terms")
        expect(page.get_by_text("7 terms, most searched first.")).to_be_visible()
        page.keyboard.press("/")
        page.keyboard.type("bee")
        page.keyboard.press("Enter")
        told = page.get_by_role("status").filter(has_text="on the year before")
        expect(told).to_contain_text(
            "6 terms · 55,120 searches a year · unchanged on the year before"
        )
        expect(page).to_have_title("bee · Terms · Driftfield")
        next_word = page.get_by_role("list", name="Letters of the next word")
        s = next_word.get_by_role("button", name="s: 5 terms, 54,080 searches a year")
        self.press(s)
        self.press(next_word.get_by_role("button", name="su: 3 terms"))
        expect(page).to_have_url(re.compile("after=su"))
        expect(told).to_contain_text("3 terms")
        beside = page.get_by_role("list", name="Words beside the seed")
        self.press(beside.get_by_role("button", name="ventilated: 1 term"))
        expect(self.rows()).to_have_count(2)
        expect(page.get_by_role("heading", name="Terms with bee ventilated")).to_be_visible()
        # Back, and back over the path.
        page.go_back()
        expect(told).to_contain_text("3 terms")
        self.press(page.get_by_role("button", name="bee", exact=True))
        expect(told).to_contain_text("6 terms")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("ArrowUp")
        foot = page.get_by_role("region", name="Selected term")
        expect(foot.get_by_role("heading", name="bee suits")).to_be_visible()
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("/dossier.*niche=bs#terms"))
        expect(page.get_by_role("heading", name="Bee suits")).to_be_visible()

    def test_how_it_is_searched(self) -> None:
        page = self.open("/terms?word=suits")
        expect(self.rows()).to_have_count(4)
        page.get_by_label("exact spelling").check()
        expect(self.rows()).to_have_count(2)
        page.get_by_label("exact spelling").uncheck()
        page.get_by_label("Words that terms may not have").fill("ventilated")
        page.keyboard.press("Enter")
        expect(self.rows()).to_have_count(3)
        expect(page).to_have_url(re.compile("without=ventilated"))
        self.choose(page, "How terms have the words", "begins with")
        expect(page.get_by_text("No term has “suits” without “ventilated”.")).to_be_visible()
        page.reload()
        expect(page.get_by_text("No term has “suits” without “ventilated”.")).to_be_visible()

    def test_what_comes_before_and_what_stands_alone(self) -> None:
        page = self.open("/terms?word=smoker")
        page.get_by_role("button", name="what comes before").click()
        before = page.get_by_role("list", name="Letters of the word before")
        expect(before.get_by_role("button", name="b: 2 terms")).to_be_visible()
        expect(before.get_by_role("button", name="c: nothing")).to_be_disabled()
        page.get_by_role("button", name="what comes next").click()
        expect(page.get_by_text("Nothing comes after it.")).to_be_visible()

    def test_a_word_is_drawn_and_its_number_draws_it_again(self) -> None:
        page = self.open("/terms")
        expect(page.get_by_text("7 terms, most searched first.")).to_be_visible()
        page.keyboard.press("r")
        expect(page.get_by_text(re.compile(r"drawn by \d+"))).to_be_visible()
        heading = page.get_by_role("heading", name=re.compile("^Terms with "))
        expect(heading).to_be_visible()
        drawn = heading.inner_text()
        number = re.search(r"drawn=(\d+)", page.url)
        assert number
        self.open(f"/terms?drawn={number[1]}")
        expect(heading).to_have_text(re.compile(drawn.split()[-1]))

    def test_a_word_that_is_added_narrows_whatever_way_is_searched(self) -> None:
        page = self.open("/terms?word=bee+queen&how=any")
        expect(self.rows()).to_have_count(8)
        page.get_by_role("button", name="smoker: 2 terms").click()
        expect(self.rows()).to_have_count(3)
        expect(page.get_by_role("heading", name="Terms with bee queen smoker")).to_be_visible()

    def test_the_list_is_exported_as_it_is_shown(self) -> None:
        page = self.open("/terms?word=suit&without=ventilated")
        with page.expect_download() as download:
            page.get_by_role("button", name="Export 2 rows").click()
            page.get_by_role("link", name="Export 2 rows as CSV").click()
        lines = download.value.path().read_text("utf-8-sig").splitlines()
        self.assertEqual([line.split(",")[0] for line in lines[1:]], ["bee suit", "bee suits"])

    def test_terms_are_sieved_kept_skimmed_and_listed_like_niches(self) -> None:
        page = self.open("/terms?word=bee")
        expect(self.rows()).to_have_count(7)
        page.keyboard.press("f")
        page.keyboard.type("searches >= 10000")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Terms where")).to_be_visible()
        told = page.get_by_role("status").filter(has_text="searches a year")
        expect(told).to_contain_text("3 terms · 46,800 searches a year")
        expect(self.rows()).to_have_count(4)
        page.keyboard.press("Escape")
        page.keyboard.press("k")
        expect(page.get_by_text("Kept bee suit.")).to_be_visible()
        foot = page.get_by_role("region", name="Selected term")
        expect(foot.get_by_role("heading", name="bee suits")).to_be_visible()
        page.keyboard.press("s")
        expect(page).to_have_url(re.compile("/skim.*of=terms"))
        expect(page.get_by_role("status").filter(has_text="of 3")).to_be_visible()
        expect(page.get_by_role("article")).to_contain_text("bee suits")
        page.keyboard.press("p")
        expect(page.get_by_role("article")).to_contain_text("bee smoker")
        page.keyboard.press("Escape")
        expect(page.get_by_role("heading", name="Terms with bee")).to_be_visible()
        held = Decision.objects.filter(kind="term").values_list("subject", "choice")
        self.expect_soon(lambda: set(held.all()), {("bee suit", "keep"), ("bee suits", "park")})
        # The shortlist keeps them apart from niches.
        page.get_by_role("link", name="Shortlist").click()
        expect(page.get_by_text("Nothing is kept or parked yet")).to_be_visible()
        page.get_by_role("link", name="terms", exact=True).click()
        rows = page.get_by_role("table").get_by_role("row")
        expect(rows).to_have_count(3)
        expect(rows.nth(1)).to_contain_text("bee suits")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("/terms.*term=bee\\+suits"))
        expect(foot.get_by_role("heading", name="bee suits")).to_be_visible()

    def test_terms_stand_side_by_side(self) -> None:
        page = self.open("/terms")
        expect(self.rows()).to_have_count(8)
        page.get_by_role("grid", name="Terms").focus()
        page.keyboard.press("Space")
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Space")
        expect(page.get_by_role("region", name="Marked terms")).to_contain_text("2 marked")
        page.keyboard.press("c")
        expect(page.get_by_role("heading", name="Side by side")).to_be_visible()
        expect(page.get_by_role("columnheader", name="bee suits")).to_be_visible()

    def test_undo_reaches_what_was_decided_on_another_screen(self) -> None:
        """A niche is called as a term is; undoing the niche leaves the term."""
        page = self.open("/terms?word=queen")
        expect(self.rows()).to_have_count(2)
        page.keyboard.press("k")
        expect(page.get_by_text("Kept queen cage.")).to_be_visible()
        page.get_by_role("link", name="Field", exact=True).click()
        niches = page.get_by_role("grid", name="Ranked niches").get_by_role("row")
        queen = niches.filter(has_text="queen cage")
        expect(queen.get_by_role("button", name="Keep queen cage")).to_have_attribute(
            "aria-pressed", "false"
        )
        page.keyboard.press("u")
        expect(page.get_by_text("Undone: keep of queen cage.")).to_be_visible()
        page.go_back()
        kept = (
            self.rows().filter(has_text="queen cage").get_by_role("button", name="Keep queen cage")
        )
        expect(kept).to_have_attribute("aria-pressed", "false")

    def test_what_is_related_stands_beside_the_list_and_leads_on(self) -> None:
        page = self.open("/terms?word=smoker&without=copper")
        expect(self.rows()).to_have_count(2)
        page.keyboard.press("b")
        beside = page.get_by_role("complementary", name="Related terms")
        expect(beside.get_by_role("heading", name="Beside “bee smoker”")).to_be_visible()
        expect(beside).to_contain_text("Its clicks are not known")
        expect(beside).to_contain_text("2 words in common")
        expect(beside).to_contain_text("None of another niche, or it has no season.")
        self.press(beside.get_by_role("button", name="copper bee smoker"))
        expect(page.get_by_role("heading", name="Terms with copper bee smoker")).to_be_visible()
        expect(self.rows()).to_have_count(2)
        page.keyboard.press("b")
        expect(beside).to_have_count(0)
