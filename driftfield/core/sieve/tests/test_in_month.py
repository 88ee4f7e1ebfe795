"""Conditions on what a listing did in one month: read, written, and asked of histories."""

from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.base import CoreError, Period, Timeline
from driftfield.core.market import BRAND, LISTING, NICHE
from driftfield.core.sieve import parse_sieve, read_condition, sift
from driftfield.core.supply import History, of_month

WEEKS = Timeline(Period.WEEK, date(2025, 9, 1), 13)  # Mondays; up to 30 November
MONTHS = Timeline(Period.MONTH, date(2025, 9, 1), 3)


class Read(TestCase):
    def text(self, typed: str) -> str:
        found = read_condition(typed, kind=LISTING)
        self.assertNotIn("problem", found, typed)
        return str(found["condition"])

    def test_as_people_say_it(self) -> None:
        for typed, wanted in (
            ("sold at least 100 in October 2025", "sold 100.. in 2025-10"),
            ("sold 50 to 200 units in 2025-10", "sold 50..200 in 2025-10"),
            ("Sold over 99 in oct 2025", "sold 100.. in 2025-10"),
            ("sold 2k or more in 2025/3", "sold 2000.. in 2025-03"),
            ("ranked at most 500 in December 2025", "ranked ..500 in 2025-12"),
        ):
            self.assertEqual(self.text(typed), wanted)
            # What is written is read as the same.
            self.assertEqual(self.text(wanted), wanted)

    def test_in_sentences_and_denied(self) -> None:
        for typed, said in (
            ("sold at least 100 in 2025-10", "units in October 2025 ≥ 100"),
            ("not sold at least 100 in 2025-10", "units in October 2025 < 100"),
            ("ranked 10 to 500 in 2025-10", "best sales rank in October 2025 10–500"),
        ):
            self.assertEqual(read_condition(typed, kind=LISTING)["sentence"], said)

    def test_what_is_no_month_or_says_nothing(self) -> None:
        for typed, said in (
            ("sold at least 100 in October", "names no month: write one with its year"),
            ("sold at least 100 in 2025-13", "is no month"),
            ("sold at least 100 in Octember 2025", "There is no month “Octember”"),
        ):
            self.assertIn(said, str(read_condition(typed, kind=LISTING)["problem"]))
        offers = read_condition("sold 100 in 2025-10", kind=LISTING)["offers"]
        self.assertEqual(offers, ["sold 100.. in 2025-10", "sold ..100 in 2025-10"])
        # “sold by” asks for a seller all the same.
        self.assertEqual(self.text("sold by anyone in town"), "sold by anyone in town")

    def test_of_listings_alone(self) -> None:
        for kind in (NICHE, BRAND):
            with self.assertRaisesRegex(CoreError, "in one month is not kept; of listings it is"):
                parse_sieve(["sold at least 100 in 2025-10"], kind)


class Passing(TestCase):
    def test_unknown_passes_neither_it_nor_its_denial(self) -> None:
        class Columns:
            count = 3

            def in_month(self, measure: str, year: int, month: int) -> np.ndarray:
                assert (measure, year, month) == ("units", 2025, 10)
                return np.array([120.0, 80.0, np.nan])

        for typed, wanted in (
            ("sold at least 100 in 2025-10", [True, False, False]),
            ("not sold at least 100 in 2025-10", [False, True, False]),
        ):
            found = sift(parse_sieve([typed], LISTING), Columns())  # type: ignore[arg-type]
            self.assertEqual(found.passes.tolist(), wanted)


class Histories(TestCase):
    def history(self, timeline: Timeline, *rows: list[float], measure: str = "units") -> History:
        return History(timeline, {measure: np.array(rows, dtype=np.float32)})

    def test_weeks_belong_to_the_month_in_which_they_begin(self) -> None:
        # 6, 13, 20 and 27 October.
        rows = [float(at) for at in range(13)], [np.nan] * 13, [1.0] * 5 + [np.nan] * 8
        found = of_month(self.history(WEEKS, *rows), "units", 2025, 10)
        np.testing.assert_array_equal(found, [5 + 6 + 7 + 8, np.nan, np.nan])
        ranks = self.history(WEEKS, rows[0], measure="sales_rank")
        self.assertEqual(of_month(ranks, "sales_rank", 2025, 10).tolist(), [5])

    def test_what_a_history_does_not_hold_whole_is_unknown(self) -> None:
        short = replace(WEEKS, length=8)  # The last week of October is not there yet.
        found = of_month(self.history(short, [1.0] * 8), "units", 2025, 10)
        self.assertTrue(np.isnan(found).all())
        months = self.history(MONTHS, [3.0, 4.0, np.nan])
        self.assertEqual(of_month(months, "units", 2025, 10).tolist(), [4])
        for year, month in ((2025, 8), (2024, 10)):
            self.assertTrue(np.isnan(of_month(months, "units", year, month)).all())
        self.assertTrue(np.isnan(of_month(months, "sales_rank", 2025, 10)).all())
