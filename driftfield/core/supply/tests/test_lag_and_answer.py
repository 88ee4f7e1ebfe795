"""Purchases that trail searches, and purchase rates that answer prices."""

from unittest import TestCase

import numpy as np
from scipy import stats
from statsmodels.tsa.stattools import ccf

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves import purchase_lag, read_lag
from driftfield.core.curves.tests.synthetic import LENGTH, TIMELINE, sine
from driftfield.core.supply.price_answer import (
    at_period,
    price_moves,
    rank_correlation,
    read_price_answer,
)

from .shops import MONTHS, listings, members_of


def trailing(weeks: int, niches: int = 40, amplitude: float = 0.6) -> tuple[np.ndarray, np.ndarray]:
    """Searches and purchases that come so many weeks later, counted."""
    rng = np.random.default_rng(weeks + 7)
    wander = np.exp(np.cumsum(rng.normal(0, 0.02, (niches, LENGTH)), axis=1))
    expected = 2000 * sine(20, amplitude) * wander
    bought = np.roll(expected, weeks, axis=1) * 0.05
    bought[:, :weeks] = expected[:, :weeks] * 0.05
    return rng.poisson(expected).astype(float), rng.poisson(bought).astype(float)


class Lags(TestCase):
    def read(self, weeks: int, amplitude: float = 0.6, seasonal: bool = True):
        searches, purchases = trailing(weeks, amplitude=amplitude)
        marks = np.full(len(searches), seasonal)
        return read_lag(searches, purchases, marks, TIMELINE, DEFAULTS)

    def test_the_calendar_lag_is_found_with_its_interval(self) -> None:
        for weeks in (0, 3, 6):
            found = self.read(weeks)
            self.assertAlmostEqual(float(np.median(found.weeks)), weeks, delta=0.4)
            held = (found.low <= weeks) & (weeks <= found.high)
            self.assertGreater(held.mean(), 0.75)

    def test_without_a_season_there_is_no_calendar_lag(self) -> None:
        self.assertTrue(np.isnan(self.read(3, seasonal=False).weeks).all())

    def test_what_is_left_trails_too_and_noise_does_not(self) -> None:
        found = self.read(4, amplitude=0.0, seasonal=False)
        told = found.rest[~np.isnan(found.rest)]
        self.assertGreater(len(told), 20)
        self.assertEqual(np.median(told), 4)
        rng = np.random.default_rng(2)
        noise = rng.poisson(500, (2, 400, LENGTH)).astype(float)
        found = read_lag(noise[0], noise[1], np.zeros(400, dtype=bool), TIMELINE, DEFAULTS)
        self.assertLess((~np.isnan(found.rest)).mean(), 0.03)

    def test_cross_correlation_is_that_of_statsmodels(self) -> None:
        rng = np.random.default_rng(3)
        x, y = rng.normal(size=(2, 1, 208))
        x -= x.mean()
        y -= y.mean()
        scale = np.sqrt((x**2).sum() * (y**2).sum())
        # statsmodels: entry k is the correlation of the first series at t + k with the second at t.
        expected = ccf(y[0], x[0], adjusted=False)[:10]
        found = [purchase_lag._at(x, y, k)[0] / scale for k in range(10)]
        np.testing.assert_allclose(found, expected, atol=1e-12)

    def test_months_few_years_and_few_purchases_say_nothing(self) -> None:
        searches, purchases = trailing(3, niches=2)
        marks = np.ones(2, dtype=bool)
        short = Timeline(Period.WEEK, TIMELINE.start(LENGTH - 100), 100)
        for found in (
            read_lag(searches[:, -100:], purchases[:, -100:], marks, short, DEFAULTS),
            read_lag(searches, purchases * 0, marks, TIMELINE, DEFAULTS),
        ):
            self.assertTrue(np.isnan([found.weeks, found.rest]).all())


class PriceAnswers(TestCase):
    def test_rank_correlation_is_scipys_ties_and_gaps_included(self) -> None:
        rng = np.random.default_rng(5)
        x, y = rng.integers(0, 5, (2, 6, 24)).astype(float)
        x[rng.random(x.shape) < 0.1] = np.nan
        found, pairs = rank_correlation(x, y)
        for i in range(6):
            known = ~np.isnan(x[i])
            expected = stats.spearmanr(x[i, known], y[i, known]).statistic
            self.assertAlmostEqual(found[i], expected, 12)
            self.assertEqual(pairs[i], known.sum())

    def test_a_rate_that_waits_for_discounts(self) -> None:
        rng = np.random.default_rng(6)
        price = 20 * (1 - rng.choice([0, 0.15, 0.3], 24))
        members = members_of([0.5, 0.3], [0.4])
        history = {"price": np.stack([price, price * 2, np.full(24, 9.0)])}
        searches = np.full((2, 24), 8000.0)
        rate = np.stack([0.04 * (price / 20) ** -3, np.full(24, 0.04)])
        bought = rng.poisson(searches * rate).astype(float)
        shop = listings(3, history)
        assert shop.history is not None
        found = read_price_answer(searches, bought, members, shop.history, DEFAULTS)
        self.assertLess(found.correlation[0], -0.7)
        self.assertLess(found.high[0], -0.4)
        self.assertTrue(np.isnan(found.correlation[1]) or found.high[1] > 0)

    def test_noise_seldom_reads_as_an_answer(self) -> None:
        rng = np.random.default_rng(8)
        n = 400
        members = members_of(*[[0.5]] * n)
        price = 20 * np.exp(rng.normal(0, 0.05, (n, 24)))
        bought = rng.poisson(320, (n, 24)).astype(float)
        shop = listings(n, {"price": price})
        assert shop.history is not None
        found = read_price_answer(np.full((n, 24), 8000.0), bought, members, shop.history, DEFAULTS)
        # The interval covers 90%, so 5% lie wholly below zero.
        self.assertLess((found.high < 0).mean(), 0.09)

    def test_listings_that_come_and_go_do_not_move_the_price(self) -> None:
        price = np.full((2, 24), 10.0)
        price[1] = np.nan
        price[1, 12:] = 90.0
        shop = listings(2, {"price": price})
        assert shop.history is not None
        moved = price_moves(members_of([0.5, 0.4]), shop.history)
        np.testing.assert_allclose(moved[0], 0)

    def test_weeks_count_in_the_month_of_their_thursday(self) -> None:
        weeks = Timeline(Period.WEEK, MONTHS.first.replace(month=4, day=1), 60)
        found = at_period(np.ones((1, 60)), weeks, MONTHS)
        # May 2024 has the Thursdays 2, 9, 16, 23 and 30; June 6, 13, 20 and 27.
        self.assertEqual(found[0, :2].tolist(), [5, 4])
