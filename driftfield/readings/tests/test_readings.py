"""Markets read from the database: parts, previews, and readings that are made anew."""

import tempfile
from pathlib import Path

import numpy as np
from django.test import TestCase

from driftfield.core.errors import CoreError
from driftfield.core.settings import DEFAULTS
from driftfield.exchange.market_data import assemble
from driftfield.exchange.reader import read_package
from driftfield.exchange.tests.packages import START, small_market, table, weekly, write
from driftfield.intake.actions import import_folder
from driftfield.market.models import Market, Niche
from driftfield.readings.actions import analyse_all, analyse_market
from driftfield.readings.load import load_market
from driftfield.readings.models import Reading, Run
from driftfield.readings.preview import preview


def with_interest() -> dict[str, str]:
    """The small market, one of its terms with a relative curve too, and a niche of nothing else."""
    files = small_market()
    wave = 50 + 40 * np.cos(2 * np.pi * (np.arange(156) - 20) / 52)
    rows = [*weekly("terracotta forcer", wave), *weekly("star chart", wave)]
    files["interest"] = table("term,week,index", *rows)
    return files


class Parts(TestCase):
    def setUp(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **with_interest())
            import_folder(folder)
            self.files = assemble(read_package(folder))[0]
        self.market = Market.objects.get()

    def test_counts_and_relative_curves_come_apart(self) -> None:
        counts, relative = load_market(self.market)
        self.assertTrue(counts.data.counts and not relative.data.counts)
        self.assertEqual(relative.data.niches, ["star chart"])
        self.assertNotIn("star chart", counts.data.niches)
        assert counts.data.interest is not None
        self.assertEqual(counts.data.niches[counts.data.interest.niche[0]], "rf")

    def test_the_same_as_from_files(self) -> None:
        for ours, theirs in zip(load_market(self.market), self.files, strict=True):
            self.assertEqual(sorted(ours.data.niches), sorted(theirs.data.niches))
            self.assertEqual(ours.data.timeline.first, theirs.data.timeline.first)
            self.assertAlmostEqual(
                float(np.nansum(ours.data.searches)),
                float(np.nansum(theirs.data.searches)),
                places=0,
            )

    def test_a_relative_niche_is_read_and_not_ranked(self) -> None:
        analyse_market(self.market)
        reading = Reading.objects.get(niche__niche_id="star chart")
        self.assertEqual((reading.basis, reading.shape), ("relative", "Seasonal"))
        self.assertIsNone(reading.rank)
        self.assertIsNone(reading.searches_52w)
        self.assertGreater(Reading.objects.get(niche__niche_id="rf").interest_agreement, 0.8)

    def test_its_preview_says_that_levels_are_relative(self) -> None:
        run = analyse_market(self.market)
        niche = Niche.objects.get(niche_id="star chart")
        made = preview(niche, run, niche.reading)
        self.assertIn("cannot be summed, ranked or turned into counts", " ".join(made.verdict))
        self.assertEqual(max(v for v in made.values if v is not None), 100)


class NothingElse(TestCase):
    def test_relative_curves_alone_make_a_market(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            rows = weekly("star chart", 50 + 40 * np.cos(np.arange(156) * 2 * np.pi / 52))
            files = {"interest": table("term,week,index", *rows)}
            batch = import_folder(write(Path(holder) / "in", **files))
        self.assertIn("no totals, and no ranking", " ".join(batch.notes))
        (run,) = analyse_all()
        self.assertEqual(run.niches, 1)


class Runs(TestCase):
    def setUp(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            import_folder(write(Path(holder) / "in", **small_market()))
        self.market = Market.objects.get()

    def test_settings_are_kept_with_the_run_and_readings_are_replaced(self) -> None:
        analyse_market(self.market)
        before = set(Reading.objects.values_list("niche__niche_id", "shape"))
        strict = DEFAULTS.with_pairs(["seasonal_best13=0.9", "occasion_best4=0.9"])
        run = analyse_market(self.market, strict)
        self.assertEqual(run.settings["seasonal_best13"], 0.9)
        self.assertEqual(Run.objects.count(), 1)
        after = dict(Reading.objects.values_list("niche__niche_id", "shape"))
        self.assertEqual(len(after), len(before))
        self.assertEqual(after["rf"], "Leaning")

    def test_up_to_an_earlier_day(self) -> None:
        early = START.replace(year=2025, month=6, day=1)
        run = analyse_market(self.market, as_of=early)
        self.assertEqual(str(run.as_of), "2025-06-01")
        reading = Reading.objects.get(niche__niche_id="rf")
        self.assertEqual(str(reading.as_of), "2025-06-01")
        made = preview(reading.niche, run, reading)
        self.assertEqual(len(made.values), 126)

    def test_only_markets_that_were_never_read(self) -> None:
        self.assertEqual(len(list(analyse_all(only_new=True))), 1)
        self.assertEqual(len(list(analyse_all(only_new=True))), 0)

    def test_a_market_without_curves_says_so(self) -> None:
        empty = Market.objects.create(market_id="empty", name="Empty")
        with self.assertRaisesRegex(CoreError, "Empty has no searches to analyse"):
            analyse_market(empty)
