"""Log-odds with an informative prior, against the formulas written out."""

from unittest import TestCase

import numpy as np

from driftfield.core.base import CoreError
from driftfield.core.voices import contrast, log_odds


class LogOdds(TestCase):
    def test_it_is_what_the_formulas_say_word_by_word(self) -> None:
        # Monroe, Colaresi & Quinn (2008), equations 16, 20 and 22, computed directly.
        rng = np.random.default_rng(1)
        first, second = rng.poisson(5, 40).astype(float), rng.poisson(9, 40).astype(float)
        prior = rng.uniform(0.1, 3, 40)
        delta, z = log_odds(first, second, prior)
        n, m, a = first.sum(), second.sum(), prior.sum()
        for at in range(40):
            up = np.log((first[at] + prior[at]) / (n + a - first[at] - prior[at]))
            down = np.log((second[at] + prior[at]) / (m + a - second[at] - prior[at]))
            variance = 1 / (first[at] + prior[at]) + 1 / (second[at] + prior[at])
            self.assertAlmostEqual(delta[at], up - down)
            self.assertAlmostEqual(z[at], (up - down) / np.sqrt(variance))

    def test_a_rare_word_is_drawn_to_the_prior_and_a_frequent_one_speaks(self) -> None:
        first, second = np.array([3.0, 300, 1000]), np.array([0.0, 100, 1000])
        found = contrast(first, second)
        self.assertGreater(found.z[1], found.z[0])
        self.assertTrue(found.told[1])
        self.assertFalse(found.told[0])

    def test_by_chance_hardly_anything_is_told_apart(self) -> None:
        rng = np.random.default_rng(2)
        told = 0
        for _ in range(50):
            often = rng.gamma(0.5, 20, 200)
            first, second = rng.poisson(often), rng.poisson(often)
            told += contrast(first.astype(float), second.astype(float)).told.any()
        self.assertLessEqual(told, 8)  # 5% of 50, and its spread.

    def test_what_is_no_count_is_refused_and_nothing_has_no_contrast(self) -> None:
        one = np.ones(3)
        for first, prior in ((-one, one), (one, 0 * one)):
            with self.assertRaisesRegex(CoreError, "Counts of words must be from 0"):
                log_odds(first, one, prior)
        found = contrast(np.zeros(3), np.array([0.0, 1, 2]))
        self.assertFalse(found.told.any() or found.z.any())
