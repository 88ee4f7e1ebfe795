"""Markets read from the database: parts, previews, and readings that are made anew."""

import tempfile
from datetime import date
from pathlib import Path

import numpy as np
from django.test import TestCase

from driftfield.core.base import DEFAULTS, CoreError
from driftfield.core.market import NICHE, compute_figures, figures_of
from driftfield.core.ranking import DEFAULT_LENS
from driftfield.core.sieve import Condition, parse_sieve, sift
from driftfield.core.sieve.clauses import Peak
from driftfield.core.signals import SIGNALS
from driftfield.exchange.market_data import assemble
from driftfield.exchange.reader import read_package
from driftfield.exchange.tests.packages import (
    START,
    small_market,
    supplied_market,
    table,
    weekly,
    write,
)
from driftfield.intake.actions import import_folder
from driftfield.market.models import Market, Niche
from driftfield.readings.actions import analyse_all, analyse_market, stale
from driftfield.readings.columns import columns_of
from driftfield.readings.load import load_market
from driftfield.readings.models import Run
from driftfield.readings.plain import plain_list
from driftfield.readings.preview import preview
from driftfield.readings.terms import term_rows
from driftfield.readings.tests.stored import column, reading, stored


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
        self.assertEqual(relative.data.subjects, ["star chart"])
        self.assertNotIn("star chart", counts.data.subjects)
        assert counts.data.interest is not None
        self.assertEqual(counts.data.subjects[counts.data.interest.niche[0]], "rf")

    def test_the_same_as_from_files(self) -> None:
        for ours, theirs in zip(load_market(self.market), self.files, strict=True):
            self.assertEqual(sorted(ours.data.subjects), sorted(theirs.data.subjects))
            self.assertEqual(ours.data.timeline.first, theirs.data.timeline.first)
            self.assertAlmostEqual(
                float(np.nansum(ours.data.searches)),
                float(np.nansum(theirs.data.searches)),
                places=0,
            )

    def test_a_relative_niche_is_read_and_not_ranked(self) -> None:
        analyse_market(self.market)
        figures = stored("star chart")
        self.assertEqual((figures["basis"], figures["shape"]), ("relative", "Seasonal"))
        self.assertIsNone(figures["rank"])
        self.assertIsNone(figures["searches_52w"])
        self.assertGreater(stored("rf")["interest_agreement"], 0.8)

    def test_its_preview_says_that_levels_are_relative(self) -> None:
        analyse_market(self.market)
        niche = Niche.objects.get(niche_id="star chart")
        made = preview(reading(niche.niche_id))
        self.assertIn("cannot be summed, ranked or turned into counts", " ".join(made.verdict))
        self.assertEqual(max(v for v in made.values if v is not None), 100)


class Supply(TestCase):
    """The supply side from the database is that of the files, and what is asked of it at once."""

    @classmethod
    def setUpTestData(cls) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **supplied_market())
            import_folder(folder)
            (cls.files,), _ = assemble(read_package(folder))
        cls.market = Market.objects.get()
        cls.made = analyse_market(cls.market)

    def test_every_figure_is_the_same_as_from_files(self) -> None:
        (part,) = load_market(self.market)
        ours = compute_figures(part.data, as_of=self.made.as_of, rules=SIGNALS)
        theirs = compute_figures(self.files.data, rules=SIGNALS)
        order = [part.data.subjects.index(niche) for niche in self.files.data.subjects]
        for figure in figures_of(NICHE):
            mine, other = ours[figure.key][order], theirs[figure.key]
            if mine.dtype.kind == "f":
                np.testing.assert_allclose(mine, other, rtol=1e-4, atol=1e-5, err_msg=figure.key)
            else:
                self.assertEqual(mine.tolist(), other.tolist(), figure.key)

    def test_an_earlier_day_knows_nothing_of_what_came_later(self) -> None:
        early = compute_figures(self.files.data, as_of=START.replace(year=2025, month=10, day=15))
        row = self.files.data.subjects.index("rf")
        self.assertEqual(early["entry.judged"][row], 2)
        # Reviews are the history's of that time, one fewer for each month before the last.
        self.assertLess(
            early["review_barrier"][row], compute_figures(self.files.data)["review_barrier"][row]
        )

    def test_columns_hold_what_the_readings_say(self) -> None:
        columns = columns_of(self.made, NICHE)
        place = columns.places["rf"]
        figures = stored("rf")
        self.assertAlmostEqual(
            columns.figure("sales.price_median")[place], figures["sales.price_median"], 5
        )
        self.assertEqual(columns.raised("few_reviews")[place], True)
        self.assertIn("few_reviews", {item["signal"] for item in figures["signals"]})
        found = sift(parse_sieve(["top 4 of 5 reviews < 100", "category Bed covers"]), columns)
        self.assertEqual(np.flatnonzero(found.passes).tolist(), [place])
        weeks = [date.fromisocalendar(2026, w, 4).month for w in figures["peak_weeks"]]
        peak = sift([Condition(Peak((weeks[0],)))], columns)
        self.assertTrue(peak.passes[place])

    def test_a_new_run_is_read_anew(self) -> None:
        before = columns_of(self.made, NICHE)
        self.assertIs(columns_of(self.made, NICHE), before)
        self.assertIsNot(columns_of(analyse_market(self.market), NICHE), before)

    def test_ranks_under_the_default_lens_come_from_what_the_run_kept(self) -> None:
        columns = columns_of(self.made, NICHE)
        ranking = columns.ranking(DEFAULT_LENS)
        assert ranking is not None
        ranks = dict(zip(columns.ids, ranking.rank.tolist(), strict=True))
        self.assertEqual({k: v or None for k, v in ranks.items()}, column(self.made, "rank"))

    def test_terms_of_a_niche(self) -> None:
        rows = term_rows(reading("rf"))
        self.assertEqual([row["term"] for row in rows], ["rhubarb forcer", "terracotta forcer"])
        self.assertAlmostEqual(rows[0]["top1_share"], 0.4, 5)
        self.assertAlmostEqual(rows[0]["hhi_listings"], 1600 + 400 + 225 + 100 + 25, 1)
        self.assertIsNone(term_rows(reading("mf"))[0]["top1_share"])


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
        before = column(Run.objects.get(), "shape")
        strict = DEFAULTS.with_pairs(["seasonal_best13=0.9", "occasion_best4=0.9"])
        run = analyse_market(self.market, strict)
        self.assertEqual(run.settings["seasonal_best13"], 0.9)
        self.assertEqual(Run.objects.count(), 1)
        after = column(run, "shape")
        self.assertEqual(len(after), len(before))
        self.assertEqual(after["rf"], "Leaning")

    def test_up_to_an_earlier_day(self) -> None:
        early = START.replace(year=2025, month=6, day=1)
        run = analyse_market(self.market, as_of=early)
        self.assertEqual(str(run.as_of), "2025-06-01")
        self.assertEqual(str(stored("rf")["as_of"]), "2025-06-01")
        made = preview(reading("rf"))
        self.assertEqual(len(made.values), 126)

    def test_only_markets_that_were_never_read(self) -> None:
        self.assertEqual(len(list(analyse_all(only_stale=True))), 1)
        self.assertEqual(len(list(analyse_all(only_stale=True))), 0)

    def test_readings_of_another_method_are_made_anew(self) -> None:
        analyse_market(self.market)
        Run.objects.update(method="of an earlier version")
        self.assertEqual([run.market for run in analyse_all(only_stale=True)], [self.market])
        self.assertFalse(stale().exists())

    def test_a_market_without_curves_says_so(self) -> None:
        empty = Market.objects.create(market_id="empty", name="Empty")
        with self.assertRaisesRegex(CoreError, "Empty has no searches to analyse"):
            analyse_market(empty)


class Plain(TestCase):
    def test_what_json_has_no_number_for_is_none(self) -> None:
        found = plain_list(np.array([1.23456789, np.nan, np.inf, -np.inf, 0.0]), 3)
        self.assertEqual(found, [1.235, None, None, None, 0.0])
        self.assertIsNone(plain_list(None))
