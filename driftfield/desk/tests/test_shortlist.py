"""The shortlist over the years: new figures, renamed and vanished niches."""

import tempfile
from pathlib import Path

from django.test import TestCase

from driftfield.core.base import CoreError
from driftfield.desk.actions import arrange, decide, remark
from driftfield.desk.models import Choice, Decision
from driftfield.desk.shortlist import Entry, changes, read_shortlist
from driftfield.exchange.tests.packages import small_market, supplied_market, write
from driftfield.intake.actions import import_folder
from driftfield.market.models import Niche
from driftfield.readings.actions import analyse_all


def load(files: dict[str, str]) -> None:
    with tempfile.TemporaryDirectory() as holder:
        import_folder(write(Path(holder) / "in", **files))
    list(analyse_all())


def entry(niche: str) -> Entry:
    return next(one for one in read_shortlist("north") if one.id == niche)


class OverTheYears(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        load(small_market())
        decide("north", "rf", Choice.KEEP, "steady")
        remark("north", "rf", note="ask two makers", tags=["clay"])

    def test_figures_of_the_decision_stay_and_what_changed_is_named(self) -> None:
        before = entry("rf")
        self.assertEqual(before.changes, [])
        load(supplied_market())
        after = entry("rf")
        self.assertEqual(after.then, before.then)
        moved = {one.figure: (one.then, one.now) for one in after.changes}
        self.assertEqual(moved["sales.price_median"][1], after.now["sales.price_median"])
        self.assertNotEqual(*moved["sales.price_median"])
        self.assertNotIn("shape", moved)

    def test_a_renamed_niche_in_a_renamed_category_keeps_its_decision(self) -> None:
        files = small_market()
        files["niches"] = files["niches"].replace("Rhubarb forcers", "Forcing pots")
        files["categories"] = files["categories"].replace("Bed covers", "Pots")
        load(files)
        now = entry("rf")
        self.assertEqual((now.name, now.renamed), ("Forcing pots", "Rhubarb forcers"))
        self.assertEqual((now.category, now.choice), ("Growing › Pots", "keep"))
        self.assertEqual((now.note, now.tags, now.reason), ("ask two makers", ["clay"], "steady"))

    def test_a_niche_that_left_the_market_stays_on_the_list(self) -> None:
        Niche.objects.filter(niche_id="rf").delete()
        gone = entry("rf")
        self.assertFalse(gone.present)
        self.assertEqual((gone.name, gone.category), ("Rhubarb forcers", "Growing › Bed covers"))
        self.assertEqual(gone.changes, [])
        remark("north", "rf", note="came to an end")
        self.assertEqual(entry("rf").note, "came to an end")

    def test_the_order_by_hand_and_what_came_later(self) -> None:
        decide("north", "mf", Choice.PARK)
        arrange("north", ["rf", "mf"])
        decide("north", "net float", Choice.KEEP)
        self.assertEqual([one.id for one in read_shortlist("north")], ["rf", "mf", "net float"])
        arrange("north", ["mf"])
        self.assertEqual([one.id for one in read_shortlist("north")], ["mf", "net float", "rf"])

    def test_a_decision_made_before_there_were_figures(self) -> None:
        Decision.objects.update(figures={}, name="", as_of=None)
        old = entry("rf")
        self.assertEqual((old.name, old.renamed, old.changes), ("Rhubarb forcers", "", []))

    def test_noise_is_no_news(self) -> None:
        then = {
            "searches_52w": 10_000,
            "drift_rate_year": 0.10,
            "shape": "Leaning",
            "order_by": None,
        }
        now = {
            "searches_52w": 10_050,
            "drift_rate_year": 0.104,
            "shape": "Leaning",
            "order_by": "2026-03-02",
        }
        self.assertEqual([one.figure for one in changes(then, now)], ["order_by"])
        self.assertEqual(
            [
                one.figure
                for one in changes(then, {**now, "searches_52w": 9_000, "drift_rate_year": -0.1})
            ],
            ["drift_rate_year", "searches_52w", "order_by"],
        )

    def test_what_is_refused(self) -> None:
        for niche, tags, expected in (
            ("zz", [], "no niche “zz”"),
            ("rf", ["a,b"], "no comma; got “a,b”"),
            ("rf", ["x" * 41], "up to 40 letters"),
            ("rf", [str(i) for i in range(13)], "12 tags; got 13"),
        ):
            with self.assertRaisesRegex(CoreError, expected):
                remark("north", niche, tags=tags)
        self.assertEqual(entry("rf").tags, ["clay"])
