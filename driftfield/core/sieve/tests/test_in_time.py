"""Conditions on what a listing did in months or up to a feast: read, written, and asked of histories."""

from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.base import CoreError, Period, Timeline
from driftfield.core.curves import Time
from driftfield.core.market import BRAND, LISTING, NICHE
from driftfield.core.sieve import parse_sieve, read_condition, sift
from driftfield.core.supply import History, of_time

OCTOBER = Time.of_month("2025-10")
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
            ("sold 50 to 200 in 2025-10 to 2026-02", "sold 50..200 in 2025-10 to 2026-02"),
            ("sold at least 9 in November until March 2026", "sold 9.. in 2025-11 to 2026-03"),
            ("sold at least 9 in Mar – May 2025", "sold 9.. in 2025-03 to 2025-05"),
            ("sold at least 9 in 2025-04 to 2025-04", "sold 9.. in 2025-04"),
            ("sold at least 100 at easter 2026", "sold 100.. in Easter 2026"),
            ("ranked at most 50 before Lunar New Year 2025", "ranked ..50 in Lunar New Year 2025"),
        ):
            self.assertEqual(self.text(typed), wanted)
            # What is written is read as the same.
            self.assertEqual(self.text(wanted), wanted)

    def test_in_sentences_and_denied(self) -> None:
        for typed, said in (
            ("sold at least 100 in 2025-10", "units in October 2025 ≥ 100"),
            ("not sold at least 100 in 2025-10", "units in October 2025 < 100"),
            ("ranked 10 to 500 in 2025-10", "best sales rank in October 2025 10–500"),
            ("sold > 9 in 2025-10 to 2025-12", "units in October 2025 to December 2025 ≥ 10"),
            ("sold > 9 at Easter 2026", "units in the four weeks up to Easter 2026 ≥ 10"),
        ):
            self.assertEqual(read_condition(typed, kind=LISTING)["sentence"], said)

    def test_what_is_no_month_or_says_nothing(self) -> None:
        for typed, said in (
            ("sold at least 100 in October", "names no month: write one with its year"),
            ("sold at least 100 in 2025-13", "is no month"),
            ("sold at least 100 in Octember 2025", "There is no month “Octember”"),
            ("sold at least 100 at Easter", "names no year: write it as in Easter 2026"),
            ("sold at least 100 at Easter 1066", "years go from 1990 to 2100"),
            ("sold at least 100 in 2025-12 to 2025-10", "October 2025 comes before December 2025"),
            ("sold at least 100 in 2020-01 to 2025-10", "is more than three years"),
            ("sold at least 100 in 2025-01 to 2025-02 to 2025-03", "names more than two months"),
        ):
            self.assertIn(said, str(read_condition(typed, kind=LISTING)["problem"]))
        offers = read_condition("sold 100 in 2025-10", kind=LISTING)["offers"]
        self.assertEqual(offers, ["sold 100.. in 2025-10", "sold ..100 in 2025-10"])
        # “sold by” asks for a seller all the same.
        self.assertEqual(self.text("sold by anyone in town"), "sold by anyone in town")

    def test_of_listings_alone(self) -> None:
        for kind in (NICHE, BRAND):
            with self.assertRaisesRegex(CoreError, "in a time is not kept; of listings it is"):
                parse_sieve(["sold at least 100 in 2025-10"], kind)


class Passing(TestCase):
    def test_unknown_passes_neither_it_nor_its_denial(self) -> None:
        class Columns:
            count = 3

            def in_time(self, measure: str, time: Time) -> np.ndarray:
                assert (measure, time) == ("units", OCTOBER)
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
        found = of_time(self.history(WEEKS, *rows), "units", OCTOBER.first, OCTOBER.last)
        np.testing.assert_array_equal(found, [5 + 6 + 7 + 8, np.nan, np.nan])
        ranks = self.history(WEEKS, rows[0], measure="sales_rank")
        self.assertEqual(of_time(ranks, "sales_rank", OCTOBER.first, OCTOBER.last).tolist(), [5])

    def test_what_a_history_does_not_hold_whole_is_unknown(self) -> None:
        short = replace(WEEKS, length=8)  # The last week of October is not there yet.
        found = of_time(self.history(short, [1.0] * 8), "units", OCTOBER.first, OCTOBER.last)
        self.assertTrue(np.isnan(found).all())
        months = self.history(MONTHS, [3.0, 4.0, np.nan])
        self.assertEqual(of_time(months, "units", OCTOBER.first, OCTOBER.last).tolist(), [4])
        for text in ("2025-08", "2024-10"):
            before = Time.of_month(text)
            self.assertTrue(np.isnan(of_time(months, "units", before.first, before.last)).all())
        self.assertTrue(np.isnan(of_time(months, "sales_rank", OCTOBER.first, OCTOBER.last)).all())

    def test_several_months_and_the_weeks_up_to_a_feast(self) -> None:
        months = self.history(MONTHS, [30.0, 31.0, 60.0], [np.nan, np.nan, 6.0])
        both = Time.of_months(Time.of_month("2025-10"), Time.of_month("2025-11"))
        self.assertEqual(of_time(months, "units", both.first, both.last).tolist(), [91, 6])
        # Diwali is on 20 October 2025: four weeks before it begin on 22 September.
        feast = Time.of_feast_in("Diwali", 2025)
        self.assertEqual((feast.first, feast.last), (date(2025, 9, 22), date(2025, 10, 20)))
        # Of months, by the part of their days: 9 of 30 and 20 of 31.
        found = of_time(months, "units", feast.first, feast.last)
        np.testing.assert_allclose(found, [30 * 9 / 30 + 31 * 20 / 31, np.nan])
        # Of weeks, those that begin in it: 22 and 29 September, 6, 13 and 20 October.
        weeks = self.history(WEEKS, [float(at) for at in range(13)])
        self.assertEqual(
            of_time(weeks, "units", feast.first, feast.last).tolist(), [3 + 4 + 5 + 6 + 7]
        )
        ranks = self.history(MONTHS, [9.0, 5.0, 1.0], measure="sales_rank")
        self.assertEqual(of_time(ranks, "sales_rank", feast.first, feast.last).tolist(), [5])
