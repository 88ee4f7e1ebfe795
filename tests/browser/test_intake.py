"""The door as a researcher sees it: hand over, look, import, undo, stop."""

from django.test import override_settings
from playwright.sync_api import FileChooser, Locator, expect

from driftfield.api.tests.files import work_off
from driftfield.desk.actions import decide
from driftfield.desk.models import Choice, Decision
from driftfield.exchange.tests.packages import small_market, write
from driftfield.feedsim.tests.simulated import clock, simulated
from driftfield.intake.models import FeedSchedule
from driftfield.market.models import Market

from .base import BrowserCase
from .market import load
from .working import give_data_folder


class Intake(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.folder = give_data_folder(self)

    def hand_over(self, **files: str) -> None:
        folder = write(self.folder / "files", **files)
        paths = [str(path) for path in sorted(folder.iterdir())]
        self.page.get_by_label("Files to import").set_input_files(paths)

    def head(self, text: str) -> Locator:
        return self.page.get_by_role("heading", name=text)

    def work_off(self) -> None:
        """What the worker does, once the page says that something waits."""
        expect(self.page.get_by_text("Waiting for its turn …")).to_be_visible()
        work_off()

    def test_from_nothing_to_a_ranked_market_and_back(self) -> None:
        self.expect_error("status of 404 .*/api/ledger/")
        page = self.open("/field")
        page.get_by_role("link", name="Upload files here").click()
        expect(page.get_by_text("Nothing was imported yet.")).to_be_visible()
        self.hand_over(**small_market())
        self.work_off()
        expect(self.head("Checked: 11 files")).to_be_visible()
        expect(page.get_by_text("Nothing was changed yet")).to_be_visible()
        terms = page.get_by_role("row", name="terms rows 4 0 0", exact=True)
        expect(terms).to_be_visible()
        self.assertFalse(Market.objects.exists())

        page.get_by_role("button", name="Import it").click()
        self.work_off()
        expect(self.head("Imported: 11 files")).to_be_visible()
        expect(page.get_by_text("Harrow Quay North: 3 niches analysed")).to_be_visible()
        # The rest of the application knows at once.
        page.get_by_role("link", name="Field", exact=True).click()
        expect(page.get_by_role("row", name="Rhubarb forcers")).to_be_visible()

        decide("north", "rf", Choice.KEEP, "looks good")
        page.get_by_role("link", name="Intake").click()
        page.get_by_role("button", name="Undo import …").click()
        page.get_by_role("button", name="Cancel").click()
        page.get_by_role("button", name="Undo import …").click()
        page.get_by_role("button", name="Undo import of 11 files").click()
        self.work_off()
        expect(self.head("Undone: 11 files")).to_be_visible()
        expect(page.get_by_role("cell", name="undone")).to_be_visible()
        self.assertFalse(Market.objects.exists())
        self.assertEqual(Decision.objects.get(current=True).reason, "looks good")

    def test_refused_files_say_where_and_what_to_do(self) -> None:
        load(small_market())
        page = self.open("/intake")
        self.hand_over(term_weeks="term,week,searches\nmoon filter,2026-01-06,many\n")
        self.work_off()
        expect(self.head("Refused: term_weeks.csv")).to_be_visible()
        expect(page.get_by_role("row", name="term_weeks.csv 2 searches")).to_contain_text(
            "“many” is not a number. Write it as 1234.5"
        )
        with page.expect_download() as file:
            page.get_by_role("link", name="Download as CSV").click()
        self.assertIn("is a Tuesday", file.value.path().read_text("utf-8-sig"))

    def test_a_file_of_another_layout_is_asked_about_and_remembered(self) -> None:
        load(small_market())
        page = self.open("/intake")
        folder = self.folder / "other"
        folder.mkdir()
        file = folder / "wochen.csv"
        rows = ["Suchbericht;;", "Suchbegriff;Woche;Volumen"]
        rows += [f"moon filter;{day}.06.2027;1.234,5" for day in ("07", "14")]
        file.write_text("\n".join(rows), "cp1252")
        chooser = page.get_by_label("Files to import")
        chooser.set_input_files(str(file))
        expect(self.head("How wochen.csv is read")).to_be_visible()
        made = page.get_by_role("region", name="Read as")
        expect(made.get_by_role("row", name="moon filter 2027-06-07 1234.5")).to_be_visible()

        # Nothing can be checked while something that is needed is missing.
        self.choose(page, "What Volumen is", "left out")
        expect(page.get_by_text("No column is searches (")).to_be_visible()
        check = page.get_by_role("button", name="Check with this mapping")
        expect(check).to_be_disabled()
        self.choose(page, "What Volumen is", "searches")
        self.choose(page, "What Volumen is given in", "thousands")
        expect(made.get_by_role("row", name="moon filter 2027-06-07 1234500")).to_be_visible()
        self.choose(page, "What Volumen is given in", "ones")
        self.choose(page, "Numbers are written like", "1,234.5")
        expect(page.get_by_text("“1.234,5” is not a number as in 1,234.5.").first).to_be_visible()
        self.choose(page, "Numbers are written like", "1.234,5")
        expect(made).to_be_visible()

        check.click()
        self.work_off()
        expect(self.head("Checked: wochen.csv")).to_be_visible()
        page.get_by_role("button", name="Import it").click()
        self.work_off()
        expect(self.head("Imported: wochen.csv")).to_be_visible()
        page.get_by_role("button", name="wochen.csv", exact=True).click()
        expect(page.get_by_label("How files were read")).to_contain_text(
            "Volumen is searches in ones; numbers like 1.234,5; dates as day, month, year"
        )
        chooser.set_input_files(str(file))
        expect(page.get_by_text("As you had files like this read on")).to_be_visible()
        page.get_by_role("button", name="Cancel").click()
        expect(self.head("How wochen.csv is read")).to_be_hidden()

    def test_all_of_it_can_be_done_by_the_keyboard(self) -> None:
        load(small_market())
        page = self.open("/intake")
        file = self.folder / "zahlen.csv"
        rows = [f"moon filter;{day}.06.2027;1.234,5" for day in ("07", "14")]
        file.write_text("\n".join(["Wort;Wann;Wie oft", *rows]), "utf-8")
        expect(page.get_by_role("button", name="choose files")).to_be_visible()
        chosen: list[FileChooser] = []
        self.listen("filechooser", lambda one: chosen.append(one))
        self.tab_to("choose files")
        page.keyboard.press("Enter")
        page.wait_for_timeout(200)
        chosen[0].set_files(str(file))
        # What had the focus is gone, so the part that came has it.
        expect(self.head("How zahlen.csv is read")).to_be_focused()
        expect(
            page.get_by_text("“Wie oft” is taken for searches by what is in it.")
        ).to_be_visible()
        self.tab_to("What Wort is")
        page.keyboard.type("left")
        check = page.get_by_role("button", name="Check with this mapping")
        expect(check).to_be_disabled()
        page.wait_for_timeout(1_100)  # Letters typed after a pause begin another word.
        page.keyboard.type("term")
        expect(page.get_by_role("row", name="moon filter 2027-06-07 1234.5")).to_be_visible()
        # It is not offered before what was changed is looked at.
        expect(check).to_be_enabled()
        self.head("How zahlen.csv is read").focus()
        self.tab_to("Check with this mapping")
        page.keyboard.press("Enter")
        self.work_off()
        expect(self.head("Checked: zahlen.csv")).to_be_focused()
        self.tab_to("Import it")
        page.keyboard.press("Enter")
        self.work_off()
        expect(self.head("Imported: zahlen.csv")).to_be_focused()

    def tab_to(self, name: str) -> None:
        """Press Tab until the part of the page with this name has the focus."""
        for _ in range(25):
            self.page.keyboard.press("Tab")
            had = self.page.evaluate(
                "document.activeElement.ariaLabel ?? document.activeElement.innerText"
            )
            if had.strip() == name:
                return
        self.fail(f"Tab never comes to {name}")

    def test_refused_files_can_be_read_another_way(self) -> None:
        load(small_market())
        page = self.open("/intake")
        self.hand_over(term_weeks="term;week;searches\nmoon filter;2027-06-07;1.234,5\n")
        self.work_off()
        page.get_by_role("button", name="How the files are read").click()
        page.get_by_role("button", name="term_weeks.csv", exact=True).click()
        self.choose(page, "Numbers are written like", "1.234,5")
        expect(page.get_by_role("row", name="moon filter 2027-06-07 1234.5")).to_be_visible()
        page.get_by_role("button", name="Check with this mapping").click()
        self.work_off()
        expect(self.head("Checked: term_weeks.csv")).to_be_visible()

    def test_the_feed_is_pulled_by_hand_and_asked_by_the_clock(self) -> None:
        package = write(self.folder / "package", **small_market(80))
        told = simulated(package, faults="none", told=30, further=4)
        with told as address, override_settings(FEED_URL=address):
            page = self.open("/intake")
            expect(page.get_by_text("not pulled yet")).to_be_visible()
            pull = page.get_by_role("button", name="Pull what is new")
            pull.click()
            self.work_off()
            expect(self.head("Pulled: the market feed")).to_be_visible()
            expect(page.get_by_text("Harrow Quay North: 3 niches analysed")).to_be_visible()
            clock(address, forward=30)
            pull.click()
            self.work_off()
            expect(page.get_by_role("row", name="Feed, Harrow Quay North")).to_have_count(2)
            page.get_by_role("button", name="Feed, Harrow Quay North").first.click()
            revised = page.get_by_role("region", name="Revised figures")
            expect(revised.get_by_role("row")).not_to_have_count(0)
            with page.expect_download() as file:
                revised.get_by_role("link", name="Download as CSV").click()
            self.assertIn("before,now", file.value.path().read_text("utf-8-sig"))
            # What is open stands in the address.
            page.reload()
            expect(revised).to_be_visible()
            self.choose(page, "Automatic pull", "every day")
            expect(page.get_by_text(", next ")).to_be_visible()
        self.expect_soon(lambda: FeedSchedule.objects.get().every_hours, 24)

    def test_what_waits_can_be_stopped_and_gone_on_with(self) -> None:
        load(small_market())
        page = self.open("/intake")
        self.hand_over(**small_market(160))
        expect(page.get_by_text("Waiting for its turn …")).to_be_visible()
        page.get_by_role("button", name="Stop").click()
        expect(self.head("Stopped: 11 files")).to_be_visible()
        # Who comes back later sees the same.
        page.reload()
        page.get_by_role("button", name="Resume").click()
        self.work_off()
        expect(self.head("Checked: 11 files")).to_be_visible()
        expect(page.get_by_role("row", name="term_weeks curves 0 12 0", exact=True)).to_be_visible()

    def test_files_of_other_kinds_are_left_out_by_name(self) -> None:
        page = self.open("/intake")
        other = self.folder / "notes.docx"
        other.write_bytes(b"x")
        page.get_by_label("Files to import").set_input_files(str(other))
        expect(page.get_by_text("Skipped, unsupported type: notes.docx.")).to_be_visible()

    def test_the_as_of_leads_to_what_is_known(self) -> None:
        self.expect_error("status of 404 .*niche=nowhere")
        load(small_market())
        page = self.open("/dossier?niche=rf")
        page.get_by_role("link", name="as of").click()
        expect(page.get_by_role("heading", name="Data coverage: Rhubarb forcers")).to_be_visible()
        weeks = page.get_by_role("region", name="term_weeks")
        expect(weeks).to_contain_text("312 figures by week of 2 terms; no gaps.")
        expect(weeks.get_by_role("img", name="terms of term_weeks by week")).to_be_visible()
        page.get_by_role("link", name="All of Harrow Quay North").click()
        expect(weeks).to_contain_text("624 figures by week of 4 terms; no gaps.")
        page.goto(f"{self.live_server_url}/coverage?niche=nowhere")
        expect(
            page.get_by_role("heading", name="Nothing is known by week or month")
        ).to_be_visible()
