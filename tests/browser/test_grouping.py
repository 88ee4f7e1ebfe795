"""Niches from terms: from a word drawn at random to a brand, and from a proposal to the Field."""

import re

from playwright.sync_api import Locator, expect

from driftfield.api.tests.files import work_off
from driftfield.api.tests.test_families import family_market
from driftfield.core.market import TERM
from driftfield.desk.models import Decision, WordList
from driftfield.exchange.tests.packages import START, small_market, table, weekly
from driftfield.market.models import NicheChange, Placement, Term
from driftfield.readings.columns import columns_of
from driftfield.readings.models import Run

from .base import BrowserCase
from .market import load
from .working import give_data_folder

SMOKERS = {"hive smoker": 900, "hive smokers": 300, "brass hive smoker": 200, "hive smoker fuel": 100,
           "tall hive smoker": 60}  # fmt: skip


def smoker_market() -> dict[str, str]:
    """The market of a family, and five terms without a niche after which its brands are clicked."""
    files = family_market()
    pages = [(f"sm-{i}", f"skep{i} smoker", f"skep{i}", "bees") for i in range(4)]
    shares = [
        (term, f"2025-12-{day}", page[0], 0.2)
        for term in SMOKERS for page in pages for day in ("01", "08", "15", "22")
    ]  # fmt: skip
    more = {
        "listings": pages,
        "term_clicks": shares,
        "term_weeks": [
            row for term, many in SMOKERS.items() for row in weekly(term, [many * 20] * 156, START)
        ],
    }
    for name, rows in more.items():
        files[name] += table("", *rows).lstrip("\n")
    return files


class FromTerms(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        give_data_folder(self)

    def press(self, button: Locator) -> None:
        """By the keyboard: it takes the focus and is pressed."""

        def is_focused() -> bool:
            # What is drawn anew meanwhile has lost it.
            button.focus()
            return bool(button.evaluate("one => one === document.activeElement"))

        # A view that has just come takes the focus when its answers are there.
        self.still()
        self.expect_soon(is_focused, True)
        self.page.keyboard.press("Enter")

    def analysed(self) -> None:
        """The analysis that a change asks for, and what the page makes of it."""
        expect(self.page.get_by_text("The market is being analysed again")).to_be_visible()
        # Within one process requests would meet the analysis halfway: what is under way is answered first, and
        # the page, which goes on asking what changed, may hear that the database is busy.
        self.still()
        self.expect_error("status of 503 .*api/changes")
        work_off()

    def test_from_a_word_drawn_at_random_to_a_brand_by_keyboard_alone(self) -> None:
        load(smoker_market())
        index = columns_of(Run.objects.get(), TERM).seeds
        number = next(n for n in range(1, 2_000) if index.draw(n) == "hive")
        page = self.open("/terms")
        expect(page.get_by_text("13 terms, most searched first.")).to_be_visible()
        page.evaluate(f"Math.random = () => {(number - 0.5) / 999_999}")
        page.keyboard.press("r")
        told = page.get_by_role("status").filter(has_text="on the year before")
        expect(told).to_contain_text("5 terms")
        letters = page.get_by_role("list", name="Letters of the next word")
        self.press(letters.get_by_role("button", name="s: 5 terms"))
        self.press(letters.get_by_role("button", name="sm: 5 terms"))
        beside = page.get_by_role("list", name="Words beside the seed")
        self.press(beside.get_by_role("button", name="brass: 1 term"))
        foot = page.get_by_role("region", name="Selected term")
        expect(foot.get_by_role("heading", name="brass hive smoker")).to_be_visible()
        page.get_by_role("grid", name="Terms").focus()
        page.keyboard.press("k")
        keep = page.get_by_role("grid", name="Terms").get_by_role(
            "button", name="Keep brass hive smoker"
        )
        expect(keep).to_have_attribute("aria-pressed", "true")

        # Back over the path, all that passes marked, and a niche made of it.
        self.press(page.get_by_role("button", name="hive", exact=True))
        expect(told).to_contain_text("5 terms")
        page.get_by_role("grid", name="Terms").focus()
        page.keyboard.press("a")
        marked = page.get_by_role("region", name="Marked terms")
        expect(marked).to_contain_text("1,622,400 searches a year")
        page.keyboard.press("m")
        name = page.get_by_role("textbox", name="Name of the niche of 5 terms")
        expect(name).to_have_value("Hive smoker")
        page.keyboard.type("Smokers for hives")
        page.keyboard.press("Enter")
        self.analysed()
        expect(foot.get_by_role("button", name="In niche: Smokers for hives")).to_be_visible()
        self.assertEqual(Decision.objects.get(current=True).subject, "brass hive smoker")

        page.get_by_role("grid", name="Terms").focus()
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("/dossier.*niche=smokers-for-hives#terms"))
        self.press(page.get_by_role("link", name="Its family"))
        family = page.get_by_role("article")
        expect(family.get_by_role("heading", name=" and 3 more")).to_be_visible()
        expect(family).to_contain_text(re.compile("Not by the usual measure|Yes, by the usual"))
        expect(family.get_by_role("row", name="Smokers for hives")).to_be_visible()

    def test_a_proposal_is_seen_changed_taken_over_and_undone(self) -> None:
        load(smoker_market())
        page = self.open("/grouping")
        expect(page.get_by_text("5 of them without a niche")).to_be_visible()
        page.get_by_role("button", name="Propose niches for terms without one").click()
        expect(page.get_by_text("Grouping Niches of North")).to_be_visible()
        work_off()
        expect(page.get_by_role("row", name="Take over Hive smoker")).to_contain_text(
            "hive smokers"
        )
        self.assertFalse(Placement.objects.exists())
        page.get_by_role("textbox", name="Name of Hive smoker").fill("Smokers")
        page.get_by_role("button", name="Take over 1 niche").click()
        self.analysed()
        done = page.get_by_role("listitem").filter(has_text="Took over 1 niche of a proposal")
        expect(done).to_contain_text("with 5 terms")
        self.assertEqual(Term.objects.filter(niche__name="Smokers").count(), 5)
        undo = page.get_by_role("button", name="Undo", exact=True)
        expect(page.get_by_text("Analysing North")).to_have_count(0)
        undo.click()
        self.analysed()
        expect(page.get_by_text("5 of them without a niche")).to_be_visible()
        self.assertIsNotNone(NicheChange.objects.get().undone_at)

    def test_a_niche_is_renamed_and_merged_in_its_dossier(self) -> None:
        load(small_market())
        page = self.open("/dossier?niche=mf")
        page.get_by_role("button", name="Rename …").click()
        page.get_by_role("textbox", name="Name of the niche").fill("Filters for the moon")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Filters for the moon")).to_be_visible()
        page.get_by_role("button", name="Merge into …").click()
        page.keyboard.type("rhubarb")
        expect(page.get_by_role("option", name="Rhubarb forcers")).to_be_visible()
        page.keyboard.press("Enter")
        self.analysed()
        expect(page.get_by_role("heading", name="Rhubarb forcers")).to_be_visible()
        expect(page.get_by_role("button", name="moon filter")).to_be_visible()

    def test_marked_terms_go_on_a_list(self) -> None:
        load(smoker_market())
        page = self.open("/terms?word=smoker")
        expect(page.get_by_role("grid", name="Terms").get_by_role("row")).to_have_count(6)
        page.keyboard.press("a")
        page.get_by_role("button", name="Put on a list …").click()
        page.keyboard.type("To try")
        page.keyboard.press("Enter")
        expect(page.get_by_text("5 terms on the list “To try”, which has 5.")).to_be_visible()
        page.get_by_role("link", name="Lists", exact=True).click()
        expect(page.get_by_role("region", name="To try")).to_contain_text(
            "5 terms, 1,622,400 searches"
        )
        page.get_by_role("button", name="Take hive smoker fuel off the list").click()
        expect(page.get_by_role("region", name="To try")).to_contain_text("4 terms")
        page.get_by_role("button", name="Remove the list").click()
        expect(page.get_by_text("No list yet.")).to_be_visible()
        page.get_by_role("button", name="Bring back").click()
        expect(page.get_by_role("link", name="To try")).to_be_visible()
        self.expect_soon(lambda: len(WordList.objects.get().terms), 4)
