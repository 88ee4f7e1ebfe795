from unittest import TestCase

import numpy as np
from scipy.special import polygamma

from driftfield.core.base.moderated import _inverse_trigamma, moderated, prior_of_variances


def drawn(prior: float, usual: float, df: int, n: int, seed: int) -> np.ndarray:
    """Variances as Smyth's model has them: scaled inverse chi-squared, seen with ``df`` degrees of freedom."""
    rng = np.random.default_rng(seed)
    true = usual * prior / rng.chisquare(prior, n)
    return true * rng.chisquare(df, n) / df


class Moderated(TestCase):
    """Against the model of Smyth (2004), from which the data are drawn."""

    def test_the_prior_that_variances_were_drawn_from_comes_back(self) -> None:
        for prior, usual in ((4.0, 0.3), (12.0, 2.0)):
            seen = drawn(prior, usual, 5, 40_000, 1)
            df, variance = prior_of_variances(seen, np.full(len(seen), 5.0))
            self.assertAlmostEqual(df / prior, 1, delta=0.1)
            self.assertAlmostEqual(variance / usual, 1, delta=0.05)

    def test_variances_that_differ_by_chance_alone_share_all_they_know(self) -> None:
        rng = np.random.default_rng(2)
        seen = rng.chisquare(4, 5_000) / 4
        found, df = moderated(seen, np.full(5_000, 4.0))
        self.assertGreater(df[0], 60)
        self.assertLess(np.std(found), np.std(seen) / 10)
        self.assertAlmostEqual(found.mean(), 1, delta=0.05)

    def test_one_that_is_unknown_takes_the_usual_one(self) -> None:
        seen = np.append(drawn(6, 1.0, 8, 500, 3), np.nan)
        found, df = moderated(seen, np.append(np.full(500, 8.0), 0.0))
        prior, usual = prior_of_variances(seen, np.append(np.full(500, 8.0), 0.0))
        self.assertAlmostEqual(found[-1], usual)
        self.assertAlmostEqual(df[-1], prior)

    def test_of_two_nothing_can_be_said(self) -> None:
        found, df = moderated(np.array([1.0, 4.0, np.nan]), np.array([3.0, 3.0, 0.0]))
        np.testing.assert_array_equal(found, [1.0, 4.0, np.nan])
        np.testing.assert_array_equal(df, [3, 3, 0])

    def test_trigamma_is_turned_round(self) -> None:
        for value in (1e-6, 0.01, 0.5, 3.0, 200.0, 1e8):
            self.assertAlmostEqual(
                float(polygamma(1, _inverse_trigamma(value))) / value, 1, delta=1e-3
            )
