"""Every main view by axe's rules (WCAG 2.2 A and AA), by day and by night, in wide and narrow windows: nothing is
clipped, everything stays within reach, and every heading and figure is explained."""

import tempfile
from pathlib import Path

from django.test import override_settings
from playwright.sync_api import Page

from driftfield.core.market import FIGURES_BY_KEY
from driftfield.core.sentences import WORDS_BY_KEY
from driftfield.desk.actions import decide, remark
from driftfield.desk.models import Choice
from driftfield.exchange.tests.packages import supplied_market
from driftfield.market.models import Market
from driftfield.readings.actions import replay_past

from .base import BrowserCase
from .market import load

AXE = Path(__file__).resolve().parents[2] / "web/node_modules/axe-core/axe.min.js"
# What colours can break; everything else is the same by day and by night.
COLOURS = ["color-contrast", "link-in-text-block"]
TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
# Address, what to wait for, and a key that opens a sheet over it.
VIEWS = (
    ("/almanac", ".calendar .row", ""),
    ("/almanac?view=list", ".weeks li", ""),
    ("/plan?niche=rf", ".side form", ""),
    ("/orders", "text=No plan is kept", ""),
    ("/track-record", ".facts", ""),
    ("/track-record?of=terms", "text=Nothing was replayed yet", ""),
    ("/field", ".line .name", ""),
    ("/field?c=searches >= 5000&c=~shape = Fad&near=yes", ".line .name", ""),
    ("/field?c=price >= 9000", "text=No niche passes", ""),
    ("/field", ".line .name", "l"),
    ("/field", ".line .name", "w"),
    ("/field", ".line .name", "?"),
    ("/field", ".line .name", "Control+k"),
    ("/field?view=chart", ".pane canvas", ""),
    ("/terms", ".line .name", ""),
    ("/rivals", ".line .name", ""),
    ("/rivals", ".line .name", "w"),
    ("/listing?listing=l2", ".page h1", ""),
    ("/rivals/brands", ".line .name", ""),
    ("/rivals/sellers", ".line .name", ""),
    ("/brand?brand=b1", ".page h1", ""),
    ("/seller?seller=s1", ".page h1", ""),
    ("/rivals/together?sellers=s1&least=1", "text=1 seller", ""),
    ("/rivals/own?listings=l1&every=yes", ".page table", ""),
    ("/lists?of=sellers", "text=No list yet", ""),
    ("/terms?word=forcer", ".line .name", ""),
    ("/terms?word=parsnip", "text=No term has", ""),
    ("/skim", ".card h1", ""),
    ("/skim?of=listings", ".card h1", ""),
    ("/compare?niche=rf&niche=mf", ".compare canvas", ""),
    ("/compare", "text=Two to six", ""),
    ("/across", "text=There is one market", ""),
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
    ("/glossary", ".glossary dl", ""),
    ("/nowhere", "h1", ""),
)


# A tablet, a telephone, and 1280 × 800 at 200% (WCAG 2.2, 1.4.4 and 1.4.10).
NARROW = ((768, 1000), (390, 800), (640, 400))
NARROWEST = 390
# What runs out of the window and cannot be scrolled to, or is cut off without an ellipsis.
OUT_OF_REACH = """() => {
  const scrolls = (one) => {
    for (let at = one.parentElement; at; at = at.parentElement)
      if (/auto|scroll/.test(getComputedStyle(at).overflowX) && at.scrollWidth > at.clientWidth) return true;
    return false;
  };
  const found = new Set();
  for (const one of document.querySelectorAll("a,button,select,textarea,h1,h2,h3,p,th,td,dt,dd,label,[tabindex='0']")) {
    const style = getComputedStyle(one), box = one.getBoundingClientRect();
    if (one.closest(".unseen") || style.visibility === "hidden" || !box.width || !box.height) continue;
    const said = `${one.tagName} ${(one.innerText || one.ariaLabel || "").slice(0, 40)}`;
    if ((box.right > innerWidth + 2 || box.left < -2) && !scrolls(one)) found.add(`out: ${said}`);
    const cut = /hidden|clip/.test(style.overflowX) && style.textOverflow !== "ellipsis";
    if (cut && one.scrollWidth > one.clientWidth + 2) found.add(`cut: ${said}`);
  }
  return [...found];
}"""
# What can be focused, by its role and name; rows of the ledger come and go with the room there is.
FOCUSED = """() => [...new Set([...document.querySelectorAll("a[href],button,input,select,textarea,[tabindex='0']")]
  .filter((one) => !one.closest("[role=rowgroup]") && !one.disabled && one.checkVisibility())
  .map((one) => `${one.tagName} ${(one.ariaLabel || one.innerText || one.name || "").trim().slice(0, 20)}`)
  .filter((name) => !/^\\w+ *$/.test(name)))]"""
# Headings of columns and facts that say nothing of themselves, and words and figures that are none.
UNEXPLAINED = """() => {
  const bare = [], words = [], figures = [];
  const heads = "th[scope=col],[role=columnheader],dt,.number-button";
  for (const one of document.querySelectorAll(heads)) {
    if (!one.innerText.trim() || one.closest("[role=dialog],.glossary,figure,.unseen,.v-overlay")) continue;
    const tipped = "[data-tip],[data-word],[data-figure]";
    if (!one.closest(tipped) && !one.querySelector(tipped)) bare.push(one.innerText.trim());
  }
  for (const one of document.querySelectorAll("[data-word]")) words.push(one.dataset.word);
  for (const one of document.querySelectorAll("[data-figure]")) figures.push(one.dataset.figure);
  return { bare: [...new Set(bare)], words: [...new Set(words)], figures: [...new Set(figures)] };
}"""


class Access(BrowserCase):
    maxDiff = None

    def setUp(self) -> None:
        super().setUp()
        load(supplied_market())
        replay_past(Market.objects.get())
        decide("north", "rf", Choice.KEEP, "steady")
        decide("north", "mf", Choice.PARK)
        remark("north", "rf", note="ask two makers", tags=["clay"])

    def test_no_view_has_a_serious_finding_by_day_or_by_night(self) -> None:
        self.expect_error("status of 404 .*niche=nowhere")
        anew = True
        for address, there, key in VIEWS:
            with self.subTest(address=address, key=key):
                # What lies over a screen, or what failed, is left behind by loading the page anew.
                page = self.open(address) if anew else self.go(address)
                anew = True
                page.wait_for_selector(there)
                self.still()
                if key:
                    page.keyboard.press(key)
                    page.wait_for_selector(".v-dialog.v-overlay--active, .lens")
                    page.wait_for_timeout(400)  # what slides in has come to rest
                self.check(page)
                self.check_explained(page)
                if not key:
                    self.check_narrow(page)
                anew = bool(key)

    def check_explained(self, page: Page) -> None:
        """Every heading has its explanation, in the registry or in the glossary."""
        found = page.evaluate(UNEXPLAINED)
        self.assertEqual(found["bare"], [])
        self.assertEqual([one for one in found["words"] if one not in WORDS_BY_KEY], [])
        self.assertEqual([one for one in found["figures"] if one not in FIGURES_BY_KEY], [])

    def check_narrow(self, page: Page) -> None:
        """In narrower windows the same can be focused, nothing is cut off, and axe finds nothing grave."""
        self.assertEqual(page.evaluate(OUT_OF_REACH), [])
        wide = set(page.evaluate(FOCUSED))
        for width, height in NARROW:
            page.set_viewport_size({"width": width, "height": height})
            page.wait_for_timeout(250)  # charts and sheets find their size
            self.assertEqual(page.evaluate(OUT_OF_REACH), [], width)
            self.assertEqual(sorted(wide - set(page.evaluate(FOCUSED))), [], width)
            # Axe looks at the markup, which is the same in all narrow windows: once is enough.
            if width == NARROWEST:
                self.find(page, {"runOnly": TAGS})
        page.set_viewport_size({"width": self.width, "height": self.height})

    def test_the_step_that_asks_how_a_file_is_read_has_none(self) -> None:
        page = self.open("/intake")
        with tempfile.TemporaryDirectory() as holder, override_settings(DATA_DIR=Path(holder)):
            file = Path(holder) / "weeks.csv"
            file.write_text("Phrase;Week ending;Volume\nmoon filter;14.06.2027;1.234,5\n")
            page.get_by_label("Files to import").set_input_files(str(file))
            page.get_by_role("region", name="Read as").wait_for()
            self.check(page)
            self.choose(page, "What Volume is", "left out")
            page.get_by_text("No column is searches (").first.wait_for()
            self.check(page)
        page.goto(f"{self.live_server_url}/intake")
        page.get_by_role("button", name="in", exact=True).click()
        page.get_by_role("heading", name="term_weeks").wait_for()
        self.check(page)

    def check(self, page: Page) -> None:
        """Nothing that axe calls serious or critical, by day and by night."""
        if not page.evaluate("'axe' in window"):
            page.evaluate(AXE.read_text())
        self.find(page, {"runOnly": TAGS})
        page.emulate_media(color_scheme="dark")
        page.locator("html[data-theme=night]").wait_for()
        page.wait_for_timeout(300)  # colours change slowly
        self.find(page, {"runOnly": {"type": "rule", "values": COLOURS}})
        page.emulate_media(color_scheme="light")
        page.locator("html[data-theme=day]").wait_for()

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
