from unittest import TestCase

import numpy as np
from scipy import stats
from statsmodels.stats.proportion import proportion_confint

from driftfield.core.base.intervals import correlation_interval, wilson


class Wilson(TestCase):
    def test_agrees_with_statsmodels(self) -> None:
        for successes, trials in ((0, 3), (2, 4), (7, 7), (30, 1000)):
            found = wilson(np.array([float(successes)]), np.array([float(trials)]), 0.9)
            expected = proportion_confint(successes, trials, alpha=0.1, method="wilson")
            np.testing.assert_allclose([found[0][0], found[1][0]], expected, atol=1e-12)

    def test_two_of_four_launches(self) -> None:
        # Common practice, no source: 2 successful of 4 launches is a 50% success rate; how little
        # that says the interval shows.
        low, high = wilson(np.array([2.0]), np.array([4.0]), 0.9)
        self.assertLess(low[0], 0.25)
        self.assertGreater(high[0], 0.75)

    def test_unknown_without_trials_or_with_more_successes(self) -> None:
        low, _ = wilson(np.array([0.0, 5.0, np.nan]), np.array([0.0, 4.0, 3.0]), 0.9)
        self.assertTrue(np.isnan(low).all())


class Correlation(TestCase):
    def test_holds_the_truth_as_often_as_it_says(self) -> None:
        rng = np.random.default_rng(4)
        truth, n, hits = -0.6, 24, 0
        # Spearman's ρ of a bivariate normal with correlation r is 6/π times the arcsine of r/2.
        r = 2 * np.sin(truth * np.pi / 6)
        for _ in range(500):
            x, y = rng.multivariate_normal([0, 0], [[1, r], [r, 1]], n).T
            rho = stats.spearmanr(x, y).statistic
            low, high = correlation_interval(np.array([rho]), np.array([float(n)]), 0.9)
            hits += low[0] <= truth <= high[0]
        self.assertGreater(hits / 500, 0.86)
        self.assertLess(hits / 500, 0.94)

    def test_unknown_with_under_five_pairs(self) -> None:
        low, _ = correlation_interval(np.array([0.5]), np.array([4.0]), 0.9)
        self.assertTrue(np.isnan(low[0]))
