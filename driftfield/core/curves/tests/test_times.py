"""Times that are asked about: months, the weeks up to a feast, and the last peak that is over."""

from datetime import date
from unittest import TestCase

from driftfield.core.base import CoreError, Period
from driftfield.core.curves import Time


class Times(TestCase):
    def test_a_month(self) -> None:
        found = Time.of_month("2024-02")
        self.assertEqual((found.first, found.last), (date(2024, 2, 1), date(2024, 2, 29)))
        self.assertEqual(Time.of_month("2025-12-14").last, date(2025, 12, 31))
        for text in ("2025-13", "soon", ""):
            with self.assertRaisesRegex(CoreError, "write it as 2026-10"):
                Time.of_month(text)

    def test_the_latest_one_that_is_over(self) -> None:
        october = Time.of_month("2026-10")
        self.assertEqual(october.latest_upto(date(2026, 5, 17)).name, "October 2025")
        self.assertEqual(october.latest_upto(date(2026, 10, 31)).name, "October 2026")
        leap = Time.of_month("2028-02").latest_upto(date(2027, 6, 1))
        self.assertEqual((leap.first, leap.last), (date(2027, 2, 1), date(2027, 2, 28)))

    def test_a_feast_that_moves(self) -> None:
        # Easter Sunday was 20 April 2025 and 5 April 2026 (Butcher's computus).
        self.assertEqual(Time.of_feast("easter", date(2026, 4, 4)).last, date(2025, 4, 20))
        found = Time.of_feast("Easter", date(2026, 5, 17))
        self.assertEqual((found.first, found.last), (date(2026, 3, 8), date(2026, 4, 5)))
        with self.assertRaisesRegex(CoreError, "none of the feasts"):
            Time.of_feast("Midsummer fair", date(2026, 5, 17))

    def test_a_peak_by_months(self) -> None:
        found = Time.of_peak([5, 6, 7], Period.MONTH, date(2026, 5, 17))
        self.assertEqual((found.first, found.last), (date(2025, 5, 1), date(2025, 7, 31)))
        self.assertEqual(found.name, "its last season, May 2025 to July 2025")
        # Over the turn of the year.
        found = Time.of_peak([11, 12, 1], Period.MONTH, date(2026, 5, 17))
        self.assertEqual((found.first, found.last), (date(2025, 11, 1), date(2026, 1, 31)))
        found = Time.of_peak([11, 12, 1], Period.MONTH, date(2026, 1, 30))
        self.assertEqual((found.first, found.last), (date(2024, 11, 1), date(2025, 1, 31)))

    def test_a_peak_by_weeks_is_over_when_its_last_week_is(self) -> None:
        found = Time.of_peak(list(range(6, 19)), Period.WEEK, date(2026, 5, 3))
        self.assertEqual((found.first, found.last), (date(2026, 2, 2), date(2026, 5, 3)))
        before = Time.of_peak(list(range(6, 19)), Period.WEEK, date(2026, 5, 2))
        self.assertEqual(before.first.year, 2025)

    def test_without_a_peak_it_is_the_last_year(self) -> None:
        for none in (None, []):
            found = Time.of_peak(none, Period.WEEK, date(2026, 5, 17))
            self.assertEqual((found.last - found.first).days, 363)
            self.assertEqual(found.name, "the last year")
