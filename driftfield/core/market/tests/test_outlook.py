"""What a niche will sell: as much as its forecast says, week by week, and beyond it as a year before."""

from datetime import date, timedelta
from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS, CoreError, Floats, Period, Timeline
from driftfield.core.curves import curve_forecast
from driftfield.core.market.outlook import (
    WEEKS,
    PastUnits,
    outlook_of,
    share_of_newcomers,
)
from driftfield.core.supply import LEVELS, newcomers_path
from driftfield.core.supply.tests.test_newcomers import made_paths

FIRST = date(2021, 1, 4)
LENGTH = 260


def searches(seed: int = 0, length: int = LENGTH) -> Floats:
    rng = np.random.default_rng(seed)
    wave = 1 + 0.7 * np.cos(2 * np.pi * (np.arange(length) - 20) / 52)
    return rng.poisson(900 * wave).astype(np.float64)


class WeekByWeek(TestCase):
    timeline = Timeline(Period.WEEK, FIRST, LENGTH)

    def test_units_are_the_forecast_times_what_a_search_brings(self) -> None:
        values = searches()
        after = self.timeline.end + timedelta(days=1)
        found = outlook_of(values, self.timeline, DEFAULTS, 0.05, after)
        made = curve_forecast(values, self.timeline, DEFAULTS)
        assert made is not None
        self.assertEqual((found.first, found.known, len(found)), (after, 52, WEEKS))
        np.testing.assert_allclose(found.units[:52], made.values[0] * 0.05)
        # Further on each week is as the same one a year before, with more error.
        np.testing.assert_allclose(found.units[52:104], found.units[:52])
        self.assertGreater(found.log_error[60], found.log_error[51])

    def test_an_order_of_a_later_day_begins_there(self) -> None:
        values = searches()
        after = self.timeline.end + timedelta(days=1)
        now, later = (
            outlook_of(
                values, self.timeline, DEFAULTS, 0.05, after + timedelta(weeks=weeks, days=2)
            )
            for weeks in (0, 10)
        )
        self.assertEqual(later.first, after + timedelta(weeks=10))
        np.testing.assert_allclose(later.units[:42], now.units[10:52])
        self.assertEqual(later.known, 42)

    def test_weeks_that_are_over_are_as_they_were(self) -> None:
        """An order that was placed before the figures end: what is known is not foreseen."""
        values = searches()
        values[-4] = np.nan
        after = self.timeline.end + timedelta(days=1)
        early = outlook_of(values, self.timeline, DEFAULTS, 0.05, after - timedelta(weeks=30))
        now = outlook_of(values, self.timeline, DEFAULTS, 0.05, after)
        np.testing.assert_allclose(early.units[:26], values[-30:-4] * 0.05)
        self.assertAlmostEqual(early.units[26], (values[-5] + values[-3]) / 2 * 0.05)
        self.assertEqual(early.log_error[:30].max(), 0)
        np.testing.assert_allclose(early.units[30:82], now.units[:52])
        with self.assertRaisesRegex(CoreError, "two years before"):
            outlook_of(values, self.timeline, DEFAULTS, 0.05, after - timedelta(weeks=110))

    def test_what_was_sold_between_two_days(self) -> None:
        values = np.array([70.0, 140.0, np.nan, 7.0])
        past = PastUnits.of_searches(values, Timeline(Period.WEEK, FIRST, 4), 0.5)
        day = timedelta(days=1)
        self.assertAlmostEqual(past.between(FIRST, FIRST + 7 * day), 35)
        self.assertAlmostEqual(past.between(FIRST + 6 * day, FIRST + 8 * day), 5 + 10)
        self.assertAlmostEqual(past.between(FIRST + 21 * day, FIRST + 28 * day), 3.5)
        for begin, end in ((-1, 3), (20, 29), (10, 16), (3, 3)):
            self.assertTrue(np.isnan(past.between(FIRST + begin * day, FIRST + end * day)))

    def test_a_month_is_spread_over_its_days(self) -> None:
        length = 60
        wave = 1 + 0.7 * np.cos(2 * np.pi * (np.arange(length) - 4) / 12)
        values = np.random.default_rng(0).poisson(9_000 * wave).astype(np.float64)
        timeline = Timeline(Period.MONTH, date(2021, 1, 1), length)
        after = timeline.end + timedelta(days=1)
        made = curve_forecast(values, timeline, DEFAULTS)
        assert made is not None
        found = outlook_of(values, timeline, DEFAULTS, 0.1, after)
        year = found.units[:52].sum() + found.units[52] / 7
        self.assertAlmostEqual(year / (made.values[0].sum() * 0.1), 1, delta=0.02)

    def test_what_cannot_be_foreseen_or_is_not_sold_is_refused(self) -> None:
        after = self.timeline.end + timedelta(days=1)
        for units in (np.nan, 0.0):
            with self.assertRaisesRegex(CoreError, "takes units in listing_weeks"):
                outlook_of(searches(), self.timeline, DEFAULTS, units, after)
        short = Timeline(Period.WEEK, FIRST, 60)
        with self.assertRaisesRegex(CoreError, "two years of searches"):
            outlook_of(searches(length=60), short, DEFAULTS, 0.1, short.end + timedelta(days=1))
        with self.assertRaisesRegex(CoreError, "nothing is known of 20"):
            outlook_of(searches(), self.timeline, DEFAULTS, 0.1, after + timedelta(days=800))


class OfNewcomers(TestCase):
    def test_shares_end_with_what_is_known_and_too_few_are_refused(self) -> None:
        share = np.linspace(0.01, 0.2, 20)
        paths = made_paths([0] * 20, share)
        paths.share[:, 8:] = np.nan
        found = share_of_newcomers(newcomers_path(paths, np.array([0]), 0))
        self.assertEqual(found.shares.shape, (len(LEVELS), 8))
        self.assertAlmostEqual(found.at(np.array([0.5]), np.array([11.0]))[0, 0], 0.105, places=5)
        few = newcomers_path(made_paths([0, 0], np.array([0.1, 0.2])), np.array([0]), 0)
        with self.assertRaisesRegex(CoreError, "too few launches"):
            share_of_newcomers(few)
