"""Relative curves: read like any other, summed and ranked never."""

from datetime import date
from unittest import TestCase

import numpy as np
from scipy.stats import spearmanr

from driftfield.core.base import Period, Timeline
from driftfield.core.curves import Interest, agreement, mean_curves
from driftfield.core.curves.tests.synthetic import TIMELINE, counted, hump, sine
from driftfield.core.market.runner import MarketData, compute_figures

MONTHS = Timeline(Period.MONTH, date(2021, 6, 1), 60)


def relative(values: np.ndarray) -> dict[str, np.ndarray]:
    n = len(values)
    names = [f"n{i}" for i in range(n)]
    return compute_figures(MarketData(TIMELINE, names, np.arange(n), values, counts=False))


class Reading(TestCase):
    def setUp(self) -> None:
        shapes = (np.full(260, 300.0), 300 * sine(20, 0.35), 300 * (0.2 + 3 * hump(20, 5)))
        self.counts = np.concatenate([counted(one) for one in shapes])
        self.index = 100 * self.counts / self.counts.max(axis=1, keepdims=True)

    def test_shape_and_drift_are_those_of_the_counts(self) -> None:
        found = relative(self.index)
        counts = compute_figures(MarketData(TIMELINE, ["a", "b", "c"], np.arange(3), self.counts))
        self.assertEqual(list(found["shape"]), list(counts["shape"]))
        self.assertEqual(list(found["drift"]), list(counts["drift"]))
        np.testing.assert_allclose(found["growth_13w.raw"], counts["growth_13w.raw"], rtol=1e-6)

    def test_no_total_no_demand_no_rank(self) -> None:
        found = relative(self.index)
        for key in ("searches_52w", "demand", "headroom", "rank"):
            self.assertTrue(np.isnan(found[key]).all(), key)
        self.assertEqual(set(found["basis"]), {"relative"})

    def test_tiny_scales_read_the_same(self) -> None:
        large, small = relative(self.index), relative(self.index / 1000)
        np.testing.assert_allclose(large["season_profile"], small["season_profile"], atol=1e-4)
        np.testing.assert_allclose(large["drift_rate_year"], small["drift_rate_year"], atol=1e-4)


class Mean(TestCase):
    def test_each_curve_counts_the_same_whatever_its_scale(self) -> None:
        up, down = np.array([10.0, 20, 30]), np.array([3.0, 2, 1])
        found = mean_curves(np.stack([up, down]), np.zeros(2, dtype=np.int64), 1)[0]
        np.testing.assert_allclose(found, [100, 100, 100])

    def test_a_curve_of_zeros_says_nothing(self) -> None:
        index = np.array([[0.0, 0, 0], [1, 2, 4], [0, 0, 0]])
        found = mean_curves(index, np.array([0, 0, 1]), 2)
        np.testing.assert_allclose(found[0], [25, 50, 100])
        self.assertTrue(np.isnan(found[1]).all())


class Agreement(TestCase):
    def test_is_scipys_rank_correlation(self) -> None:
        rng = np.random.default_rng(2)
        a, b = rng.random(60), rng.random(60)
        ours = agreement(a, MONTHS, b, MONTHS)
        self.assertAlmostEqual(ours, spearmanr(a, b).statistic)

    def test_weeks_are_compared_with_months_by_their_thursday(self) -> None:
        weekly = 300 * sine(20, 0.5)
        months = np.array(
            [
                np.mean([
                    weekly[i] for i in range(260)
                    if (d := date.fromordinal(TIMELINE.start(i).toordinal() + 3)).year * 12 + d.month
                    == m.year * 12 + m.month
                ])
                for m in (MONTHS.start(k) for k in range(58))
            ]
        )  # fmt: skip
        shorter = Timeline(Period.MONTH, MONTHS.first, 58)
        self.assertAlmostEqual(agreement(weekly, TIMELINE, months, shorter), 1)

    def test_too_little_in_common_is_unknown(self) -> None:
        early = Timeline(Period.MONTH, date(2015, 1, 1), 60)
        self.assertTrue(np.isnan(agreement(np.ones(60), MONTHS, np.ones(60), early)))
        self.assertTrue(np.isnan(agreement(np.ones(60), MONTHS, np.arange(60.0), MONTHS)))

    def test_a_niche_that_has_both_is_checked(self) -> None:
        season = 300 * sine(20, 0.5)
        index = np.stack([season / 5, 100 - season / 5])
        data = MarketData(
            TIMELINE, ["same", "other", "none"], np.arange(3),
            np.concatenate([counted(season, 3)]),
            interest=Interest(TIMELINE, np.array([0, 1]), index),
        )  # fmt: skip
        found = compute_figures(data)["interest_agreement"]
        self.assertGreater(found[0], 0.9)
        self.assertLess(found[1], -0.9)
        self.assertTrue(np.isnan(found[2]))
