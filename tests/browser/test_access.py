"""Every main view by axe's rules (WCAG 2.2 A and AA), by day and by night."""

import tempfile
from pathlib import Path

from django.test import override_settings
from playwright.sync_api import Page

from driftfield.desk.actions import decide, remark
from driftfield.desk.models import Choice
from driftfield.exchange.tests.packages import supplied_market

from .base import BrowserCase
from .market import load

AXE = Path(__file__).resolve().parents[2] / "web/node_modules/axe-core/axe.min.js"
# What colours can break; everything else is the same by day and by night.
COLOURS = ["color-contrast", "link-in-text-block"]
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
# Address, what to wait for, and a key that opens a sheet over it.
VIEWS = (
    ("/field", ".line .name", ""),
    ("/field?c=searches >= 5000&c=~shape = Fad&near=yes", ".line .name", ""),
    ("/field?c=price >= 9000", "text=No niche passes", ""),
    ("/field", ".line .name", "l"),
    ("/field", ".line .name", "w"),
    ("/field", ".line .name", "?"),
    ("/field", ".line .name", "Control+k"),
    ("/field?view=chart", ".pane canvas", ""),
    ("/skim", ".card h1", ""),
    ("/compare?niche=rf&niche=mf", ".compare canvas", ""),
    ("/compare", "text=Two to six", ""),
    ("/shortlist", ".foot h2", ""),
    ("/shortlist?show=pass", "text=Nothing is kept", ""),
    ("/brief?niche=rf", ".brief canvas", ""),
    ("/dossier?niche=rf", ".pages canvas", ""),
    ("/dossier?niche=net+float", ".pages canvas", ""),
    ("/intake", ".drop h1", ""),
    ("/coverage", ".coverage canvas", ""),
    ("/coverage?niche=nowhere", "text=Nothing is known", ""),
    ("/settings", ".settings .row", ""),
    ("/faults", ".faults h1", ""),
    ("/nowhere", "h1", ""),
)


class Access(BrowserCase):
    maxDiff = None

    def setUp(self) -> None:
        super().setUp()
        load(supplied_market())
        decide("north", "rf", Choice.KEEP, "steady")
        decide("north", "mf", Choice.PARK)
        remark("north", "rf", note="ask two makers", tags=["clay"])

    def test_no_view_has_a_serious_finding_by_day_or_by_night(self) -> None:
        self.expect_error("status of 404 .*niche=nowhere")
        for address, there, key in VIEWS:
            with self.subTest(address=address, key=key):
                page = self.open(address)
                page.wait_for_selector(there)
                if key:
                    page.keyboard.press(key)
                    page.wait_for_selector(".v-dialog.v-overlay--active, .lens")
                    page.wait_for_timeout(400)  # what slides in has come to rest
                self.check(page)

    def test_the_step_that_asks_how_a_file_is_read_has_none(self) -> None:
        page = self.open("/intake")
        with tempfile.TemporaryDirectory() as holder, override_settings(DATA_DIR=Path(holder)):
            file = Path(holder) / "weeks.csv"
            file.write_text("Phrase;Week ending;Volume\nmoon filter;14.06.2027;1.234,5\n")
            page.get_by_label("Files to import").set_input_files(str(file))
            page.get_by_role("region", name="Read as").wait_for()
            self.check(page)
            self.choose(page, "What Volume is", "left out")
            page.get_by_text("No column is searches (").wait_for()
            self.check(page)
        page.goto(f"{self.live_server_url}/intake")
        page.get_by_role("button", name="in", exact=True).click()
        page.get_by_role("heading", name="term_weeks").wait_for()
        self.check(page)

    def check(self, page: Page) -> None:
        """Nothing that axe calls serious or critical, by day and by night."""
        page.evaluate(AXE.read_text())
        self.find(page, {"runOnly": TAGS})
        page.emulate_media(color_scheme="dark")
        page.locator("html[data-theme=night]").wait_for()
        page.wait_for_timeout(300)  # colours change slowly
        self.find(page, {"runOnly": {"type": "rule", "values": COLOURS}})
        page.emulate_media(color_scheme="light")

    def find(self, page: Page, what: dict[str, object]) -> None:
        found = page.evaluate(
            "what => axe.run(document, {...what, resultTypes: ['violations']})", what
        )
        grave = [
            (one["id"], [(node["target"], node["failureSummary"]) for node in one["nodes"][:3]])
            for one in found["violations"]
            if one["impact"] in {"serious", "critical"}
        ]
        self.assertEqual(grave, [])
