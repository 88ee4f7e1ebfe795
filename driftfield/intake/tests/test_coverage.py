"""Coverage is counted as it was loaded: gaps, revisions, and what lies outside is left out."""

import tempfile
from datetime import date
from pathlib import Path

from django.test import TestCase

from driftfield.exchange.tests.packages import small_market, table, weekly, write
from driftfield.intake.actions import import_folder, undo_batch
from driftfield.intake.batch_coverage import coverage_of_batch
from driftfield.intake.coverage import TableCoverage, coverage_of, niches_within
from driftfield.intake.models import Batch
from driftfield.market.models import Market


class Coverage(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)

    def load(self, name: str, **files: str) -> Batch:
        return import_folder(write(self.folder / name, **files))

    def known(self, **within: str) -> dict[str, TableCoverage]:
        found = coverage_of(niches_within(Market.objects.get(), **within))
        return {one.table: one for one in found}

    def test_gaps_shares_and_terms_without_figures(self) -> None:
        early, late = weekly("a", [1, 2, 3, 4, 5]), weekly("b", [1, 2, 3, 4])[2:]
        self.load(
            "in",
            term_weeks=table("term,week,searches", *early[:2], early[4], *late),
            terms=table("term,niche_id", ("a", ""), ("b", ""), ("c", "")),
        )
        (one,) = self.known().values()
        self.assertEqual((one.table, one.what, one.period.value), ("term_weeks", "terms", "week"))
        self.assertEqual((one.subjects, one.without, one.known, one.gaps), (3, 1, 5, 2))
        self.assertEqual((one.first, one.last), (date(2023, 1, 2), date(2023, 2, 5)))
        self.assertEqual(one.share, [0.3333, 0.3333, 0.3333, 0.3333, 0.3333])
        # The one that is known earliest comes first.
        self.assertEqual(one.bands, [[1, 1, 0, 0, 1], [0, 0, 1, 1, 0]])

    def test_weeks_in_which_nothing_was_taken_are_missed_by_nobody(self) -> None:
        weeks = [weekly(term, [1, 2, 3, 4, 5]) for term in "ab"]
        rows = [weeks[0][0], weeks[0][2], weeks[0][4], weeks[1][0], weeks[1][4]]
        self.load("in", term_weeks=table("term,week,searches", *rows))
        (one,) = self.known().values()
        self.assertEqual((one.taken, len(one.share), one.gaps), (3, 5, 1))

    def test_each_table_and_what_belongs_to_a_niche_or_category(self) -> None:
        self.load("in", **small_market())
        every = self.known()
        self.assertEqual(list(every), ["term_weeks", "term_clicks", "listing_weeks"])
        self.assertEqual((every["term_weeks"].subjects, every["term_weeks"].gaps), (4, 0))
        # Both listings after one term are one term that is known.
        self.assertEqual((every["term_clicks"].subjects, every["term_clicks"].without), (4, 3))
        listings = every["listing_weeks"]
        self.assertEqual(
            (listings.period.value, listings.subjects, listings.without), ("month", 2, 1)
        )
        self.assertEqual(self.known(niche="mf")["term_weeks"].subjects, 1)
        self.assertEqual(self.known(category="g")["term_weeks"].subjects, 2)
        self.assertEqual(self.known(niche="mf", category="g"), {})

    def test_revisions_are_counted_until_they_are_taken_back(self) -> None:
        self.load(
            "in", term_weeks=table("term,week,searches", *weekly("a", [1, 2]), *weekly("b", [1, 2]))
        )
        longer = [*weekly("a", [1, 2, 3]), *weekly("b", [1, 9])]
        self.load("later", term_weeks=table("term,week,searches", *longer))
        # A week that is added is no revision.
        self.assertEqual(self.known()["term_weeks"].revised, 1)
        undo_batch(lambda: None)
        self.assertEqual(self.known()["term_weeks"].revised, 0)

    def test_an_import_shows_the_weeks_it_brought_or_changed_and_no_others(self) -> None:
        one = self.load(
            "in",
            term_weeks=table("term,week,searches", *weekly("a", [1, 2, 3]), *weekly("b", [1, 2])),
        )
        two = self.load(
            "later",
            term_weeks=table(
                "term,week,searches",
                *weekly("a", [1, 2, 9, 4]),
                *weekly("b", [1, 2]),
                *weekly("c", [5]),
            ),
        )
        (first,) = coverage_of_batch(one)
        # What the second one added or changed was not brought by the first, as far as weeks go.
        self.assertEqual((first.subjects, first.known, first.revised), (2, 5, 0))
        self.assertEqual(first.bands, [[1, 1, 1], [1, 1, 0]])
        (second,) = coverage_of_batch(two)
        self.assertEqual((second.subjects, second.known, second.revised), (2, 3, 1))
        self.assertEqual(second.bands, [[1, 0, 0, 0], [0, 0, 1, 1]])
        self.assertEqual((second.first, second.last), (date(2023, 1, 2), date(2023, 1, 29)))
        undo_batch(lambda: None)
        two.refresh_from_db()
        self.assertEqual(coverage_of_batch(two), [])
        self.assertEqual(len(coverage_of_batch(one)), 1)
