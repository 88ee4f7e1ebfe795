from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.base import CoreError, Period, Timeline, fold_week53
from driftfield.core.curves.align import bridge, sum_by_group

NAN = np.nan


class Calendar(TestCase):
    def test_week_53_shares_the_slot_of_week_52(self) -> None:
        # 2020 has 53 ISO weeks: its last begins on 28 December (ISO 8601).
        timeline = Timeline(Period.WEEK, date(2020, 12, 14), 5)
        self.assertEqual(list(timeline.slots), [50, 51, 51, 0, 1])
        folded = fold_week53(np.array([[1.0, 4.0, 6.0, 2.0, 3.0]]), timeline)
        self.assertEqual(folded.tolist(), [[1, 5, 2, 3]])

    def test_months(self) -> None:
        timeline = Timeline(Period.MONTH, date(2024, 11, 1), 3)
        self.assertEqual(list(timeline.slots), [10, 11, 0])
        self.assertEqual(timeline.end, date(2025, 1, 31))
        self.assertEqual(timeline.upto(date(2025, 1, 30)).end, date(2024, 12, 31))

    def test_as_of_keeps_complete_weeks_only(self) -> None:
        timeline = Timeline(Period.WEEK, date(2024, 1, 1), 10)
        self.assertEqual(timeline.upto(date(2024, 1, 20)).end, date(2024, 1, 14))
        self.assertEqual(timeline.upto(date(2024, 1, 21)).end, date(2024, 1, 21))
        with self.assertRaisesRegex(CoreError, "the figures start on 2024-01-01"):
            timeline.upto(date(2024, 1, 6))

    def test_a_week_is_its_monday(self) -> None:
        with self.assertRaisesRegex(CoreError, "first day; 2024-01-02"):
            Timeline(Period.WEEK, date(2024, 1, 2), 3)


class Bridge(TestCase):
    def test_short_gaps_are_lines_and_leading_absence_is_none(self) -> None:
        found = bridge(np.array([[NAN, NAN, 2.0, NAN, NAN, 8.0, NAN]]), 4)
        np.testing.assert_array_equal(found.values[0], [NAN, NAN, 2, 4, 6, 8, 8])
        self.assertEqual((found.begin[0], found.end[0], found.bridged[0]), (2, 7, 3))
        self.assertAlmostEqual(found.missing[0], 0.5)

    def test_what_lies_before_a_gap_that_cannot_be_bridged_is_apart(self) -> None:
        values = np.array([[1.0, 1, NAN, NAN, NAN, 2, 2, 2]])
        found = bridge(values, 2)
        self.assertEqual((found.begin[0], found.end[0]), (5, 8))

    def test_a_long_gap_takes_its_season_from_the_years_beside(self) -> None:
        season = np.tile(10 + np.arange(12.0), 3)
        values = np.concatenate([season[:12], 2 * season[12:24], 4 * season[24:]])[None]
        holed = values.copy()
        holed[0, 15:21] = NAN
        found = bridge(holed, 2, per_year=12)
        np.testing.assert_allclose(found.values, values)

    def test_the_span_ends_where_figures_end(self) -> None:
        found = bridge(np.array([[1.0, 1, 1, NAN, NAN, NAN]]), 2)
        self.assertEqual((found.begin[0], found.end[0], found.tail[0]), (0, 3, 3))


class Sums(TestCase):
    def test_a_new_term_adds_and_a_gap_does_not_subtract(self) -> None:
        terms = np.array(
            [[10.0, 10, 10, 10, 10], [NAN, NAN, 5, 5, 5], [8.0, NAN, 8, 8, 8], [1.0, 1, 1, 1, 1]]
        )
        sums = sum_by_group(terms, np.array([0, 0, 2, 2]), 3, longest=1)
        np.testing.assert_array_equal(sums[0], [10, 10, 15, 15, 15])
        np.testing.assert_array_equal(sums[2], [9, 9, 9, 9, 9])
        self.assertTrue(np.isnan(sums[1]).all())

    def test_a_long_gap_in_a_large_term_makes_the_sum_unknown(self) -> None:
        terms = np.array([[50.0, NAN, NAN, 50, 50], [5.0, 5, 5, 5, 5]])
        sums = sum_by_group(terms, np.array([0, 0]), 1, longest=1)
        np.testing.assert_array_equal(sums[0], [55, NAN, NAN, 55, 55])
