"""Two windows on one desk, and a server that goes and comes back."""

import os
import subprocess
import tempfile
from pathlib import Path
from unittest import TestCase

from django.test import tag
from playwright.sync_api import Page, Route, expect

from driftfield.desk.models import Remark
from driftfield.exchange.tests.packages import supplied_market, write
from tests.served import ROOT, free_port, served

from .base import BrowserCase, fresh_context
from .market import load


def soon() -> float:
    """Milliseconds in which a page must learn of what another one did: three seconds, and as much longer as
    the machine has more to do than it can."""
    return 3_000 * max(1.0, 3 * os.getloadavg()[0] / (os.cpu_count() or 1))


class Windows(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(supplied_market())

    def other(self, path: str) -> Page:
        """A window of another browser: nothing but the server is shared with the first."""
        context = fresh_context(viewport={"width": 1280, "height": 800})
        self.addCleanup(context.close)
        page = context.new_page()
        page.goto(f"{self.live_server_url}{path}")
        return page

    def test_a_decision_and_a_note_are_seen_in_the_other_window(self) -> None:
        here = self.open("/field?sort=name")
        there = self.other("/dossier?niche=rf")
        keep = here.get_by_label("Keep Rhubarb forcers", exact=True)
        expect(keep).to_have_attribute("aria-pressed", "false")
        note = there.get_by_label("Note on Rhubarb forcers")
        expect(note).to_be_visible()

        there.keyboard.press("k")
        expect(keep).to_have_attribute("aria-pressed", "true", timeout=soon())
        there.keyboard.press("u")
        expect(keep).to_have_attribute("aria-pressed", "false", timeout=soon())

        here = self.open("/dossier?niche=rf")
        mine = here.get_by_label("Note on Rhubarb forcers")
        expect(mine).to_have_value("")
        note.fill("ask two makers")
        note.press("Enter")
        expect(mine).to_have_value("ask two makers", timeout=soon())

    def test_no_list_moves_under_ones_hands(self) -> None:
        here = self.open("/field?c=decided+open&sort=name")
        expect(here.get_by_text("3 of 3 pass")).to_be_visible()
        there = self.other("/dossier?niche=mf")
        expect(there.get_by_label("Note on Moon filters")).to_be_visible()
        there.keyboard.press("k")
        keep = here.get_by_label("Keep Moon filters", exact=True)
        expect(keep).to_have_attribute("aria-pressed", "true", timeout=soon())
        expect(here.locator("#row-0")).to_contain_text("Moon filters")

    def test_a_note_that_was_changed_elsewhere_is_not_overwritten(self) -> None:
        here = self.open("/dossier?niche=rf")
        mine = here.get_by_label("Note on Rhubarb forcers")
        mine.fill("from here")
        Remark.objects.create(market_id="north", subject="rf", note="from there")
        self.expect_error("status of 412")
        mine.press("Enter")
        asked = here.get_by_role("alert")
        expect(asked).to_contain_text("Changed elsewhere meanwhile to “from there”.")
        self.assertEqual(Remark.objects.get().note, "from there")
        expect(mine).to_have_value("from here")
        asked.get_by_role("button", name="Keep mine").click()
        expect(asked).to_be_hidden()
        self.expect_soon(lambda: Remark.objects.get().note, "from here")

    def test_a_note_sent_from_a_page_that_is_left_and_refused_is_still_there(self) -> None:
        self.expect_error("ERR_FAILED")
        remarks = self.intercept("**/api/desk/remarks/")
        here = self.open("/dossier?niche=rf")
        mine = here.get_by_label("Note on Rhubarb forcers")
        mine.fill("typed and left")
        held: list[Route] = []
        remarks.once(held.append)
        here.get_by_role("link", name="Shortlist").click()
        expect(mine).to_be_hidden()
        self.expect_soon(lambda: len(held), 1)
        # The answer comes when the field is long gone.
        held[0].abort()
        # Sent again without a key, as soon as the server takes it.
        self.expect_soon(lambda: Remark.objects.get().note, "typed and left")
        # The page has the answer a moment after the server has the note.
        self.expect_soon(lambda: here.evaluate("localStorage.getItem('driftfield.drafts')"), "{}")

    def test_no_note_is_lost_while_the_server_is_away(self) -> None:
        self.expect_error("ERR_FAILED")
        server = self.intercept("**/api/**")
        here = self.open("/dossier?niche=rf")
        mine = here.get_by_label("Note on Rhubarb forcers")
        expect(mine).to_be_visible()
        server.every(Route.abort)
        expect(here.get_by_text("Driftfield does not answer")).to_be_visible()
        mine.fill("typed into the void")
        mine.press("Enter")
        expect(here.get_by_text("Not saved yet; kept in this browser")).to_be_visible()
        server.every(None)
        # It is sent as soon as the server answers, also where the page was loaded anew meanwhile.
        here.reload()
        expect(here.get_by_label("Note on Rhubarb forcers")).to_have_value("typed into the void")
        self.expect_soon(lambda: Remark.objects.get().note, "typed into the void")
        expect(here.get_by_text("Not saved yet")).to_be_hidden()

    def test_a_key_pressed_while_the_server_is_away_says_that_nothing_was_decided(self) -> None:
        self.expect_error("ERR_FAILED")
        server = self.intercept("**/api/**")
        here = self.open("/field?sort=name")
        keep = here.get_by_label("Keep Moon filters", exact=True)
        expect(keep).to_be_visible()
        server.every(Route.abort)
        here.keyboard.press("k")
        expect(
            here.get_by_text("Not recorded, and not shown any more: Kept Moon filters.")
        ).to_be_visible()
        expect(keep).to_have_attribute("aria-pressed", "false")
        # It stands until it is closed: what is lost is not to be missed by looking away.
        here.wait_for_timeout(7_000)
        here.get_by_role("button", name="Close").click()
        expect(here.get_by_text("Not recorded")).to_be_hidden()


@tag("browser")
class Restarted(TestCase):
    """A server of its own that is stopped and started again, on one port."""

    def test_an_import_from_elsewhere_is_seen_in_every_window(self) -> None:
        """From another program, as it is: within one, requests would see a transaction before its end."""
        files = supplied_market()
        later = {k: v.replace("Rhubarb forcers", "Rhubarb bells") for k, v in files.items()}
        with tempfile.TemporaryDirectory() as data:
            folder = write(Path(data) / "in", **files)
            with served(data, free_port(), "--load", str(folder)) as address:
                pages = []
                for path in ("/dossier?niche=rf", "/field?niche=rf"):
                    context = fresh_context()
                    self.addCleanup(context.close)
                    pages.append(context.new_page())
                    pages[-1].goto(f"{address}{path}")
                    expect(
                        pages[-1].get_by_role("heading", name="Rhubarb forcers").first
                    ).to_be_visible()
                done = subprocess.run(
                    [str(ROOT / "bin/driftfield"), "import", str(write(Path(data) / "later", **later))],
                    env={**os.environ, "DRIFTFIELD_DATA": data}, capture_output=True, text=True,
                )  # fmt: skip
                self.assertEqual(done.returncode, 0, done.stderr)
                for page in pages:
                    bells = page.get_by_role("heading", name="Rhubarb bells").first
                    expect(bells).to_be_visible(timeout=soon())

    def test_no_note_is_lost_while_the_server_is_stopped_and_started(self) -> None:
        port = free_port()
        with tempfile.TemporaryDirectory() as data:
            folder = write(Path(data) / "in", **supplied_market())
            context = fresh_context()
            self.addCleanup(context.close)
            page = context.new_page()
            note = page.get_by_label("Note on Rhubarb forcers")
            with served(data, port, "--load", str(folder)) as address:
                page.goto(f"{address}/dossier?niche=rf")
                expect(note).to_be_visible()
            note.fill("typed while it was away")
            note.press("Enter")
            expect(page.get_by_text("Not saved yet; kept in this browser")).to_be_visible()
            expect(page.get_by_text("Driftfield does not answer")).to_be_visible()
            with served(data, port):
                expect(page.get_by_text("Not saved yet")).to_be_hidden()
                expect(page.get_by_text("Driftfield does not answer")).to_be_hidden()
                # In a browser that has never seen it, it comes from the server alone.
                other = fresh_context()
                self.addCleanup(other.close)
                fresh = other.new_page()
                fresh.goto(f"{address}/dossier?niche=rf")
                expect(fresh.get_by_label("Note on Rhubarb forcers")).to_have_value(
                    "typed while it was away"
                )
