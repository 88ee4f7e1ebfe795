"""What buyers write: from a planted fault to a line of the brief that a second import keeps."""

import tempfile
from pathlib import Path

from playwright.sync_api import expect

from driftfield.desk.models import Pin, ThemeDecision
from driftfield.exchange.tests.packages import table, write
from driftfield.exchange.tests.spoken import HEAD, spoken_market, written
from driftfield.intake.actions import import_folder
from driftfield.readings.actions import analyse_all

from .base import BrowserCase
from .market import load


class Voices(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        load(spoken_market())

    def acts(self) -> list[str]:
        made = ThemeDecision.objects.filter(undone_at=None)
        return list(made.values_list("act", flat=True))

    def test_from_a_fault_to_the_brief_and_through_a_second_import(self) -> None:
        page = self.open("/dossier?market=north&niche=rf#complaints")
        section = page.get_by_role("region", name="What do they complain of?")
        complaints = section.get_by_role("table").filter(has_text="Complaints").first
        lid = complaints.get_by_role("button", name="lid").first
        name = lid.inner_text()
        # The planted fault: the lid cracks, and more often than a year ago.
        expect(lid.locator("xpath=ancestor::tr")).to_contain_text("more than a year ago")
        lid.click()
        said = (
            section.get_by_role("list").filter(has_text="Pin").first.get_by_role("listitem").first
        )
        expect(said).to_contain_text("lid")
        sentence = said.locator("q").inner_text().strip('“”"')
        said.get_by_role("button", name="Pin", exact=True).click()
        expect(page.get_by_text("Pinned to the note of this niche.")).to_be_visible()
        expect(page.get_by_role("list", name="Pinned sentences")).to_contain_text(sentence)
        expect(said.get_by_role("button", name="Unpin")).to_be_visible()
        # Two themes are made one, under a name of one's own.
        section.get_by_role("button", name="Merge", exact=True).click()
        page.get_by_role("combobox", name="The theme to merge into").click(force=True)
        into = page.get_by_role("option").filter(has_text="(complaint)").first
        other = into.inner_text().removesuffix(" (complaint)")
        into.click()
        section.get_by_role("button", name="Merge", exact=True).last.click()
        self.expect_soon(self.acts, ["merge"])
        expect(complaints.get_by_role("button", name=name, exact=True)).to_have_count(0)
        complaints.get_by_role("button", name=other, exact=True).click()
        expect(section.get_by_text("Merged into it:")).to_be_visible()
        section.get_by_role("button", name="Rename", exact=True).click()
        section.get_by_label("Name of the theme").fill("Breaks in the cold")
        section.get_by_role("button", name="Rename", exact=True).last.click()
        expect(complaints.get_by_role("button", name="Breaks in the cold")).to_be_visible()
        # What a better product would do is worded, and stands in the brief with its evidence.
        section.get_by_role("button", name="Word it: Breaks in the cold").click()
        line = section.get_by_label("What a better product would do about Breaks in the cold")
        line.fill("Fired twice, for frost")
        line.press("Enter")
        self.expect_soon(self.acts, ["merge", "rename", "remedy"])

        with tempfile.TemporaryDirectory() as holder:
            more = written(8, "later")
            import_folder(write(Path(holder) / "in", voices=table(HEAD, *more)))
        list(analyse_all(only_stale=True))
        page.goto(f"{self.live_server_url}/brief?market=north&niche=rf")
        expect(page.get_by_role("list", name="Pinned sentences")).to_contain_text(sentence)
        better = page.get_by_role("list", name="What a better product would do")
        expect(better.get_by_role("listitem").first).to_contain_text("Fired twice, for frost.")
        expect(better.get_by_role("listitem").first).to_contain_text("of 5 leaders")
        self.assertEqual(Pin.objects.get().said, sentence)

    def test_decisions_are_listed_and_undone(self) -> None:
        page = self.open("/dossier?market=north&niche=rf#complaints")
        section = page.get_by_role("region", name="What do they complain of?")
        section.get_by_role("button", name="Count a theme of your own").click()
        section.get_by_label("Name of your theme").fill("of the")
        section.get_by_label("Words of your theme").fill("of the")
        section.get_by_role("button", name="Count it").click()
        self.expect_error("409")
        expect(page.get_by_text("“of the” has no word to look for.")).to_be_visible()
        section.get_by_label("Words of your theme").fill("frost, cold")
        section.get_by_role("button", name="Count it").click()
        own = section.get_by_role("table").filter(has_text="Neither praise nor complaint")
        expect(own.get_by_role("button", name="of the")).to_be_visible()
        section.get_by_text("1 decision on themes").click()
        section.get_by_role("button", name="Undo").click()
        expect(own).to_have_count(0)
        self.assertEqual(self.acts(), [])
        # Another language is another list; one that cannot be read is said to be so.
        expect(section).to_contain_text("1 text is in “klingon” and not read")
        self.choose(section, "Language of the texts", "german (1)")
        expect(section).to_contain_text("From 1 review")
