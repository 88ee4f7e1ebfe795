"""The weekly routine: the next week comes in, the digest is read, a change opened, marked as seen, and gone."""

import tempfile
from pathlib import Path

from playwright.sync_api import expect

from driftfield.desk.actions import analyse_all_and_watch, decide, save_sieve
from driftfield.desk.models import Choice
from driftfield.exchange.tests.newsy import BRAND, CHANGES, FALLS, newsy
from driftfield.intake.actions import import_folder

from .base import BrowserCase


def bring(weeks: int) -> None:
    with tempfile.TemporaryDirectory() as folder:
        import_folder(newsy(Path(folder) / "in", weeks))
    list(analyse_all_and_watch(only_stale=True))


class WeeklyRoutine(BrowserCase):
    def test_the_next_week_is_read_and_what_was_seen_is_gone(self) -> None:
        bring(CHANGES)
        page = self.open("/watch")
        expect(page.get_by_text("Nothing is watched yet.")).to_be_visible()
        for niche in (FALLS, BRAND):
            decide("m", niche, Choice.KEEP)
        save_sieve("Many searches", ["searches >= 29000"])
        page.reload()
        expect(page.get_by_text("These are the first figures the watch has kept")).to_be_visible()
        bring(260)
        # The open page learns of it.
        changed = page.get_by_role("region", name="What is watched")
        row = changed.get_by_role("listitem").filter(has_text="Niche 1").first
        expect(row).to_contain_text("below their course")
        expect(changed).to_contain_text("Brand b3 now takes over half of the clicks")
        sieves = page.get_by_role("region", name="Sieves")
        expect(sieves).to_contain_text("1 no longer passes")
        expect(
            page.get_by_text("Nothing else that you have not seen changed beyond noise")
        ).to_be_visible()
        # What was known on a day.
        row.get_by_role("button", name="History of Niche 1").click()
        history = page.get_by_role("complementary", name="What was known of Niche 1")
        expect(history.get_by_role("row")).to_have_count(3)
        history.get_by_role("button", name="Close").click()
        row.get_by_role("link", name="Niche 1").click()
        expect(page.get_by_role("heading", name="Niche 1")).to_be_visible()
        page.go_back()
        row.get_by_role("button", name="Seen: Niche 1, Demand off its course").click()
        expect(changed).not_to_contain_text("below their course")
        page.reload()
        expect(changed).to_contain_text("Brand b3")
        expect(changed).not_to_contain_text("below their course")
        page.get_by_role("button", name="All seen").first.click()
        expect(page.get_by_text("No change that you have not seen.")).to_be_visible()
        # It is not lost, and what was known since any import can be asked for.
        self.choose(page, "What is shown", "since 21 Dec 2025")
        expect(changed).to_contain_text("below their course")
        expect(
            page.get_by_text("Nothing else changed beyond noise from 21 Dec 2025")
        ).to_be_visible()
