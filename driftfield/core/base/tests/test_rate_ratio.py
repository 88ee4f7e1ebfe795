"""Ratios of rates, index numbers and figures on other periods, against reference libraries and published tables."""

from datetime import date
from unittest import TestCase

import numpy as np
import pandas as pd
from statsmodels.stats.rates import confint_poisson_2indep, test_poisson_2indep

from driftfield.core.base import Period, Timeline, fisher_indices, rate_ratio, resampled

KNOWN = np.array([np.inf])


def ratio(count, exposure, before, exposure_before, dispersion=1.0, df=np.inf):
    one = [np.array([float(v)]) for v in (count, exposure, before, exposure_before, dispersion, df)]
    found = rate_ratio(*one, 0.9)
    return tuple(float(v[0]) for v in (found.value, found.low, found.high, found.p))


class RateRatios(TestCase):
    def test_intervals_are_the_score_intervals_of_statsmodels(self) -> None:
        for count, exposure, before, exposure_before in (
            (60, 51_477.5, 30, 54_308.7), (3, 10, 12, 25), (1, 400, 9, 380), (120, 1_000, 80, 900),
        ):  # fmt: skip
            value, low, high, p = ratio(count, exposure, before, exposure_before)
            ends = confint_poisson_2indep(
                count, exposure, before, exposure_before, method="score", compare="ratio", alpha=0.1
            )
            self.assertAlmostEqual(low / ends[0], 1, 5)
            self.assertAlmostEqual(high / ends[1], 1, 5)
            self.assertAlmostEqual(value, count / exposure / (before / exposure_before), 9)
            same = test_poisson_2indep(count, exposure, before, exposure_before, method="score")
            self.assertAlmostEqual(p, same.pvalue, 9)

    def test_none_at_one_time_has_one_end(self) -> None:
        value, low, high, _ = ratio(0, 100, 20, 100)
        self.assertEqual((value, low), (0, 0))
        self.assertGreater(high, 0)
        self.assertLess(high, 0.3)
        value, low, high, _ = ratio(20, 100, 0, 100)
        self.assertEqual((value, high), (np.inf, np.inf))
        self.assertGreater(low, 3)

    def test_what_scatters_more_counts_as_so_much_less(self) -> None:
        self.assertEqual(ratio(120, 50, 80, 50, 4)[1:3], ratio(30, 50, 20, 50)[1:3])
        wide = ratio(120, 50, 80, 50, 4, df=3)
        self.assertLess(wide[1], ratio(120, 50, 80, 50, 4)[1])

    def test_unknown_is_not_told(self) -> None:
        for asked in ((0, 10, 0, 10), (3, 0, 4, 10), (np.nan, 1, 2, 3)):
            self.assertTrue(np.isnan(ratio(*asked)).all(), asked)
        value, low, high, p = ratio(4, 10, 2, 10, np.nan)
        self.assertEqual(value, 2)
        self.assertTrue(np.isnan([low, high, p]).all())


class Indices(TestCase):
    # Tables 19.1 and 19.2 of the Consumer Price Index Manual (ILO et al. 2004), from memory: prices and quantities
    # of six goods in five periods, and the indices of its table 19.4 with the first period as base.
    PRICES = np.array([
        [1.0, 1.0, 1.0, 1.0, 1.0, 1.0], [1.2, 3.0, 1.3, 0.7, 1.4, 0.8], [1.0, 1.0, 1.5, 0.5, 1.7, 0.6],
        [0.8, 0.5, 1.6, 0.3, 1.9, 0.4], [1.0, 1.0, 1.6, 0.1, 2.0, 0.2],
    ])  # fmt: skip
    QUANTITIES = np.array([
        [1.0, 1.0, 2.0, 1.0, 4.5, 0.5], [0.8, 0.9, 1.9, 1.3, 4.7, 0.6], [1.0, 1.1, 1.8, 3.0, 5.0, 0.8],
        [1.2, 1.2, 1.9, 6.0, 5.6, 1.3], [0.9, 1.2, 2.0, 12.0, 6.5, 2.5],
    ])  # fmt: skip
    LASPEYRES = (1.0, 1.42, 1.345, 1.355, 1.44)
    PAASCHE = (1.0, 1.3823, 1.2031, 1.0209, 0.7968)
    FISHER = (1.0, 1.4011, 1.2721, 1.1762, 1.0712)

    def test_the_manual_s_example(self) -> None:
        prices, quantities = self.PRICES, self.QUANTITIES
        for at, (laspeyres, paasche, fisher) in enumerate(
            zip(self.LASPEYRES, self.PAASCHE, self.FISHER, strict=True)
        ):
            # The memory is right: Laspeyres' and Paasche's indices of the table follow from the goods.
            self.assertAlmostEqual(
                prices[at] @ quantities[0] / (prices[0] @ quantities[0]), laspeyres, delta=1e-4
            )
            self.assertAlmostEqual(
                prices[at] @ quantities[at] / (prices[0] @ quantities[at]), paasche, delta=1e-4
            )
            of_prices, of_amounts = fisher_indices(
                prices[at], quantities[at], prices[0], quantities[0]
            )
            self.assertAlmostEqual(float(of_prices), fisher, delta=1e-4)
            value = prices[at] @ quantities[at] / (prices[0] @ quantities[0])
            self.assertAlmostEqual(float(of_prices * of_amounts), value, 12)

    def test_rows_are_taken_one_by_one_and_nothing_is_divided_by(self) -> None:
        found, _ = fisher_indices(
            self.PRICES, self.QUANTITIES, self.PRICES[:1], self.QUANTITIES[:1]
        )
        np.testing.assert_allclose(found, self.FISHER, atol=1e-4)
        none = np.zeros(3)
        self.assertTrue(np.isnan(fisher_indices(none, np.ones(3), np.ones(3), np.ones(3))).all())


class Resampled(TestCase):
    WEEKS = Timeline(Period.WEEK, date(2025, 1, 6), 60)
    MONTHS = Timeline(Period.MONTH, date(2025, 1, 1), 14)

    def test_weeks_fall_into_months_by_their_days(self) -> None:
        rng = np.random.default_rng(3)
        values = rng.poisson(20, (2, 60)).astype(float)
        values[1, 30] = np.nan
        found = resampled(values, self.WEEKS, self.MONTHS)
        # pandas tells the same from single days.
        days = pd.date_range("2025-01-06", periods=420)
        for row in range(2):
            daily = pd.Series(np.repeat(values[row] / 7, 7), index=days)
            sums = daily.groupby(daily.index.to_period("M")).apply(
                lambda one: one.sum(skipna=False)
            )
            np.testing.assert_allclose(found[row, 1:13], sums.to_numpy()[1:13])
        # January has no first days, February 2026 goes on behind the end.
        self.assertTrue(np.isnan(found[:, 0]).all())
        self.assertEqual(np.isnan(found[0, 1:13]).sum(), 0)

    def test_one_period_is_only_shifted(self) -> None:
        values = np.arange(60.0)[None]
        found = resampled(values, self.WEEKS, Timeline(Period.WEEK, date(2024, 12, 30), 4))
        np.testing.assert_array_equal(found, [[np.nan, 0, 1, 2]])
        self.assertEqual(resampled(values[:0], self.WEEKS, self.MONTHS).shape, (0, 14))
