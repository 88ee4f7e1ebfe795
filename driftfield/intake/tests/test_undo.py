"""An import is undone whole, a check changes nothing, and what others decided stays."""

import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path

from django.test import TestCase

from driftfield.core.base import CoreError
from driftfield.desk.actions import decide
from driftfield.desk.models import Choice, Decision
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.tests.packages import START, small_market, table, weekly, write
from driftfield.intake.actions import import_folder, undo_batch
from driftfield.intake.models import Batch, CurveBefore, Made, RowBefore
from driftfield.intake.stored import MODELS
from driftfield.market.curves import unpack
from driftfield.market.models import LeadSeller, Listing, ListingCurve, Market, TermCurve
from driftfield.readings.actions import analyse_all, stale
from driftfield.readings.tests.stored import column


def everything() -> dict[str, list[tuple]]:
    """All rows of all tables of the market."""
    return {m.__name__: list(m._default_manager.order_by("pk").values_list()) for m in MODELS}


class Undoing(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)
        self.kept = 0

    def load(self, name: str = "in", dry_run: bool = False, **files: str) -> Batch:
        return import_folder(write(self.folder / name, **files), dry_run=dry_run)

    def undo(self, pk: int | None = None) -> Batch:
        def keep() -> None:
            self.kept += 1

        return undo_batch(keep, pk)

    def test_each_table_is_as_it_was(self) -> None:
        self.load(**small_market())
        decide("north", "rf", Choice.KEEP, "looks good")
        before = everything()
        more = small_market(160)
        more["niches"] = more["niches"].replace("Rhubarb forcers", "Forcing jars")
        more["listings"] = more["listings"].replace("red", "blue")
        more["term_weeks"] += "new term,2024-01-01,3,,\nnew term,2024-01-08,4,,\n"
        more["brands"] = "id,name,first_seen\nb1,Other name,2020-01-05\nnewest,Newest,2024-02-29\n"
        later = self.load("later", **more)
        self.assertTrue(later.changed)
        self.assertNotEqual(everything(), before)
        self.assertEqual(Listing.objects.get(listing_id="l1").attributes, {"colour": "blue"})
        undone = self.undo(later.pk)
        self.assertEqual(everything(), before)
        self.assertIsNotNone(undone.undone_at)
        self.assertEqual(self.kept, 1)
        self.assertEqual(Decision.objects.get(current=True).reason, "looks good")
        # What it took to undo it is not kept any longer, and the same files come in again.
        for notes in (Made, RowBefore, CurveBefore):
            self.assertFalse(notes._default_manager.filter(batch=undone).exists(), notes)
        self.assertEqual(self.load("later", **more).counts, later.counts)

    def test_terms_that_find_a_niche_leave_none_behind_and_go_back_to_their_own(self) -> None:
        bare = {"term_weeks": small_market()["term_weeks"]}
        self.load(**bare)
        (run,) = analyse_all()
        self.assertEqual(run.niches, 4)
        grouped = table("term,niche_id", ("rhubarb forcer", "rf"), ("terracotta forcer", "rf"))
        self.load("grouped", terms=grouped, niches=table("niche_id,name", ("rf", "Forcers")))
        (run,) = analyse_all()
        self.assertEqual(run.niches, 3)
        self.assertEqual(set(column(run, "shape")), {"rf", "moon filter", "net float"})
        self.undo()
        (run,) = analyse_all()
        self.assertEqual(run.niches, 4)

    def test_back_to_an_empty_market_one_by_one(self) -> None:
        first = self.load(**small_market())
        second = self.load("later", **small_market(160))
        with self.assertRaisesRegex(CoreError, "came later and builds on it"):
            self.undo(first.pk)
        list(analyse_all())
        self.assertFalse(stale().exists())
        self.assertEqual(self.undo().pk, second.pk)
        self.assertTrue(stale().exists())
        self.assertEqual(self.undo().pk, first.pk)
        self.assertFalse(any(everything().values()))
        with self.assertRaisesRegex(CoreError, "no import to undo"):
            self.undo()
        self.assertEqual(self.kept, 2)

    def test_a_revised_week_in_the_middle_and_an_earlier_one_come_back(self) -> None:
        self.load(term_weeks=table("term,week,searches", *weekly("a", [1, 2, 3, 4])))
        first = TermCurve.objects.get()
        again = table(
            "term,week,searches", *weekly("a", [7, 5, 2, 9, 4, 5], START - timedelta(weeks=1))
        )
        self.load("later", term_weeks=again)
        self.assertEqual(TermCurve.objects.get().first, first.first - 1)
        # Only what is other now is kept of a curve.
        note = CurveBefore.objects.get()
        self.assertEqual((note.at, len(note.values) // 4), (0, 3))
        self.undo()
        found = TermCurve.objects.get()
        self.assertEqual((found.first, bytes(found.values)), (first.first, bytes(first.values)))

    def test_the_lead_offer_is_the_same_seller_s_whatever_came_in_between(self) -> None:
        self.load(**small_market())
        for week, seller in (("2025-03-01", "s3"), ("2025-04-01", "s1")):
            weeks = table("listing_id,week,lead_seller_id", ("l2", week, seller))
            self.load(seller, listing_weeks=weeks)
        weeks = table("listing_id,week,lead_seller_id", ("l1", "2025-03-01", "s4"))
        self.load("last", listing_weeks=weeks)
        numbers = dict(LeadSeller.objects.values_list("pk", "seller_id"))
        held = {
            curve.subject.listing_id: [numbers[int(v)] for v in unpack(bytes(curve.values))]
            for curve in ListingCurve.objects.filter(measure="lead_seller")
        }
        self.assertEqual(held, {"l1": ["s1", "s2", "s4"], "l2": ["s3", "s1"]})
        self.undo()
        self.assertNotIn("s4", LeadSeller.objects.values_list("seller_id", flat=True))

    def test_a_check_counts_what_an_import_would_and_changes_nothing(self) -> None:
        self.load(**small_market())
        before = everything()
        more = small_market(160)
        checked = self.load("later", dry_run=True, **more)
        self.assertEqual(everything(), before)
        self.assertEqual(Batch.objects.count(), 1)
        self.assertEqual(self.load("later", **more).counts, checked.counts)

    def test_who_what_and_when(self) -> None:
        batch = self.load(**small_market())
        self.assertTrue(batch.by)
        self.assertRegex(batch.digest, "^[0-9a-f]{64}$")
        self.assertEqual(batch.made_at.date(), datetime.now(UTC).date())

    def test_a_file_that_changes_while_it_is_read_is_refused(self) -> None:
        folder = write(self.folder / "in", **small_market())

        def progress(step: str, _done: int, _whole: int) -> None:
            if step.startswith("Reading term_weeks"):
                with (folder / "term_weeks.csv").open("a") as file:
                    file.write("late,2024-01-01,1,,\n")

        with self.assertRaisesRegex(ExchangeError, "term_weeks.csv.*changed while it was read"):
            import_folder(folder, progress=progress)
        self.assertFalse(Market.objects.exists())

    def test_work_that_is_told_to_stop_changes_nothing(self) -> None:
        folder = write(self.folder / "in", **small_market())
        steps: list[str] = []

        def progress(step: str, _done: int, _whole: int) -> None:
            steps.append(step)
            if step == "Writing term_clicks":
                raise InterruptedError

        with self.assertRaises(InterruptedError):
            import_folder(folder, progress=progress)
        self.assertFalse(any(everything().values()))
        self.assertEqual(steps[0], "Looking at the files")
        self.assertIn("Writing term_weeks", steps)
