"""One's own sales: as a share of a niche's, and against what was planned."""

from datetime import date, timedelta
from unittest import TestCase

import numpy as np

from driftfield.core.base import CoreError
from driftfield.core.economics.own_sales import PlannedSales, Sold, outcome, own_share

MONDAY = date(2026, 1, 5)


def weeks(units: list[float], first: date = MONDAY) -> list[Sold]:
    days = [first + timedelta(weeks=at) for at in range(len(units) + 1)]
    return [Sold(a, b, own) for a, b, own in zip(days, days[1:], units, strict=False)]


def planned(on_sale: date = MONDAY) -> PlannedSales:
    """Ten a week in the middle, 5 and 20 at the ends, of which there are eight weeks."""
    a_week = np.arange(1, 9)
    return PlannedSales(MONDAY, on_sale, 5.0 * a_week, 10.0 * a_week, 20.0 * a_week)


class Share(TestCase):
    def test_it_is_that_of_the_niche_in_the_same_weeks(self) -> None:
        found = own_share(weeks([4, 6, 5]), lambda *_: 100.0)
        self.assertAlmostEqual(float(found.shares[0, 0]), 0.05)
        # Of more periods it is told how far their share moves.
        found = own_share(weeks([4, 6, 5, 5, 8]), lambda *_: 100.0)
        middle = found.shares[found.levels == 0.5][0, 0]
        self.assertAlmostEqual(float(middle), 0.05)
        self.assertLess(float(found.shares[0, 0]), 0.045)

    def test_weeks_of_which_the_niche_is_not_known_do_not_count(self) -> None:
        def niche(begin: date, _: date) -> float:
            return float("nan") if begin == MONDAY else 50.0

        self.assertAlmostEqual(float(own_share(weeks([40, 5]), niche).shares[0, 0]), 0.1)
        with self.assertRaises(CoreError):
            own_share(weeks([40]), niche)
        with self.assertRaises(CoreError):
            own_share([], niche)

    def test_more_than_all_of_a_niche_is_all_of_it(self) -> None:
        self.assertEqual(float(own_share(weeks([400]), lambda *_: 50.0).shares[0, 0]), 1.0)


class CameOfIt(TestCase):
    def test_within_above_and_below(self) -> None:
        for units, place in (
            ([12, 9, 11], "within"),
            ([2, 3, 1], "below"),
            ([40, 30, 30], "above"),
        ):
            found = outcome(planned(), weeks(units))
            assert found is not None, "something was sold"
            self.assertEqual((found.place, found.sold), (place, sum(units)))
            self.assertEqual((found.low, found.middle, found.high), (15, 30, 60))
            self.assertEqual(found.until, MONDAY + timedelta(days=20))

    def test_a_month_reaches_into_a_week(self) -> None:
        month = [Sold(date(2026, 1, 1), date(2026, 2, 1), 31.0)]
        found = outcome(planned(), month)
        assert found is not None, "something was sold"
        # To the end of January are three weeks and six days of the fourth.
        self.assertAlmostEqual(found.middle, 10 * 27 / 7)

    def test_what_was_sold_before_the_goods_came_does_not_count(self) -> None:
        before = weeks([9, 9], MONDAY - timedelta(weeks=2))
        found = outcome(planned(MONDAY + timedelta(days=3)), [*before, *weeks([5, 7])])
        assert found is not None, "something was sold"
        # The week that they came in is part of both: it is left out.
        self.assertEqual((found.since, found.sold), (MONDAY + timedelta(weeks=1), 7))

    def test_nothing_yet_and_nothing_any_more(self) -> None:
        self.assertIsNone(outcome(planned(), []))
        self.assertIsNone(outcome(planned(), weeks([3], MONDAY - timedelta(weeks=4))))
        self.assertIsNone(outcome(planned(), weeks([3], MONDAY + timedelta(weeks=40))))
