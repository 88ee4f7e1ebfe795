from datetime import date
from unittest import TestCase

from driftfield.core.base import Period
from driftfield.core.curves.seasons import Call, season_dates


class Dates(TestCase):
    def test_the_dates_of_a_season_worked_by_hand(self) -> None:
        """Rise in ISO week 52 of 2026 (21 December), peak weeks 3 to 6, end in week 11 of 2027."""
        call = Call(date(2026, 10, 5), date(2026, 12, 21), None)
        found = season_dates(call, [2, 3, 4, 5], 10, Period.WEEK)
        self.assertEqual((found.order_by, found.list_by), (call.order_by, call.rise))
        self.assertEqual((found.peak_from, found.peak_to), (date(2027, 1, 18), date(2027, 2, 14)))
        self.assertEqual(found.wind_down, date(2027, 3, 22))

    def test_a_peak_window_that_begins_before_the_rise_is_that_of_the_same_season(self) -> None:
        call = Call(date(2026, 1, 5), date(2026, 4, 1), None)
        found = season_dates(call, [2, 3, 4], 7, Period.MONTH)
        self.assertEqual((found.peak_from, found.peak_to), (date(2026, 3, 1), date(2026, 5, 31)))
        self.assertEqual(found.wind_down, date(2026, 9, 1))
        self.assertIsNone(season_dates(call, [], 7, Period.MONTH).peak_from)
