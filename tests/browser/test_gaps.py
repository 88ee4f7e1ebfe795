"""Screens of markets that lack a table: nothing breaks, no figure is made up, and each gap is explained."""

import re

from django.core.management import call_command
from playwright.sync_api import expect

from driftfield.api.tests.test_gaps import lacking, odd_markets
from driftfield.desk.actions import decide
from driftfield.desk.models import Choice
from driftfield.exchange.tables import tables
from driftfield.exchange.tests.packages import whole_market
from driftfield.logs import note_fault
from driftfield.market.models import Niche

from .base import BrowserCase
from .market import load
from .screens import screens

# What a screen can only show by accident.
UNTOLD = re.compile(r"\b(NaN|Infinity|undefined|null|None)\b")
QUESTIONS = (
    "Is the demand real?", "When does it come?", "Who holds it?", "What do buyers type?",
    "What do they complain of?", "Does it pay?", "Our part",
)  # fmt: skip
# The screen on which each table tells; what the others show is lacking in the odd markets.
DOSSIER = "/dossier"
# Screens that show nothing of a market.
OF_NONE = ("/intake", "/faults")
ODD = {
    "interest alone",
    "terms alone",
    "prices alone",
    "a term that is always 0",
    "one week",
    "months",
}


class Gaps(BrowserCase):
    height = 2400  # All questions of a dossier are in view.

    def check(self, name: str, files: dict[str, str], *paths: str) -> None:
        with self.subTest(name):
            load(files)
            first = Niche.objects.select_related("market").order_by("pk")[0]
            decide(first.market.market_id, first.niche_id, Choice.KEEP)
            page = self.page
            for address in screens(niches=1):
                if address.startswith(OF_NONE) or (paths and not address.startswith(paths)):
                    continue
                # Loaded once: what a market lacks is the same by a link.
                self.go(address)
                self.still()
                text = page.locator("#app").inner_text()
                self.assertNotRegex(text, UNTOLD, address)
                self.assertGreater(len(text), 60, address)
                if address.startswith("/dossier"):
                    self.explained()
                self.assertEqual((address, self.errors), (address, []))
        # What the last screen asks for ahead would be asked of the next market.
        self.page.goto("about:blank")
        self.page.wait_for_timeout(300)
        self.errors.clear()
        call_command("flush", interactive=False, verbosity=0)

    def explained(self) -> None:
        """Each question is answered, or it is said what would answer it."""
        for question in QUESTIONS:
            heading = self.page.get_by_role("heading", name=question)
            expect(heading).to_be_visible()
            section = heading.locator("xpath=..")
            # All questions are asked at once; what takes longest is answered after the page was still.
            expect(section.get_by_text("Looking it up …")).to_have_count(0)
            answer = section.inner_text().removeprefix(question).strip()
            self.assertRegex(answer, r"\w{3,}.*[.!]", question)

    def test_each_table_may_be_lacking(self) -> None:
        for name in tables():
            self.check(f"without {name}", lacking(whole_market(), (name, "")), DOSSIER)

    def test_markets_that_nobody_thought_of(self) -> None:
        for name, files in odd_markets():
            if name in ODD:
                self.check(name, files)


class Faults(BrowserCase):
    def test_a_fault_is_shown_and_copied_for_a_report(self) -> None:
        try:
            raise KeyError("<b>luck</b>")
        except KeyError as error:
            noted = note_fault(error, "GET /api/figures/")
        page = self.open("/faults")
        self.page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        fault = page.get_by_role("article", name=noted)
        expect(fault).to_contain_text("GET /api/figures/: KeyError: '<b>luck</b>'")
        expect(fault).to_contain_text("while a page was answered")
        fault.get_by_text("Where in the program").click()
        expect(fault).to_contain_text("Traceback (most recent call last)")
        fault.get_by_role("button", name=f"Copy for a report: {noted}").click()
        expect(page.get_by_text("Copied. Read it before you send it")).to_be_visible()
        copied = page.evaluate("navigator.clipboard.readText()")
        self.assertIn(noted, copied)
        self.assertIn("test_gaps.py", copied)
        self.assertIn("Driftfield 0.1.0", copied)
