"""Area, lift and shares against scikit-learn, scipy and statsmodels, and against what is true of drawn observations."""

from unittest import TestCase

import numpy as np
from scipy import stats
from sklearn.metrics import roc_auc_score
from statsmodels.stats.proportion import proportion_confint

from driftfield.core.base import (
    area_under_curve,
    clustered_mean,
    clustered_share,
    lift,
)

DRAWS = 200


def drawn(
    seed: int, niches: int = 60, days: int = 8
) -> tuple[np.ndarray, np.ndarray, list[np.ndarray]]:
    """Scores and what worked, of niches looked at on several days; each niche and each day has its own luck."""
    rng = np.random.default_rng(seed)
    niche, day = (one.ravel() for one in np.indices((niches, days)))
    score = rng.normal(size=niches)[niche] + 0.5 * rng.normal(size=niches * days)
    luck = 0.5 * rng.normal(size=niches)[niche] + 0.3 * rng.normal(size=days)[day]
    won = rng.random(len(score)) < 1 / (1 + np.exp(-(0.8 * score + luck - 0.5)))
    return score, won, [niche, day]


def alone(n: int) -> list[np.ndarray]:
    return [np.arange(n)]


class AreaUnderCurve(TestCase):
    def test_is_that_of_scikit_learn_ties_included(self) -> None:
        rng = np.random.default_rng(5)
        for n in (30, 500):
            score = rng.integers(0, 12, n).astype(float)
            won = rng.random(n) < score / 14
            found = area_under_curve(score, won, alone(n), 0.9)
            self.assertAlmostEqual(found.value, roc_auc_score(won, score), places=12)
            self.assertAlmostEqual(
                found.value,
                stats.mannwhitneyu(score[won], score[~won]).statistic / won.sum() / (~won).sum(),
                places=12,
            )

    def test_its_error_is_delongs_where_observations_are_independent(self) -> None:
        """The worked definition of DeLong, DeLong & Clarke-Pearson (1988), by every pair."""
        rng = np.random.default_rng(6)
        score, won = rng.normal(size=80), rng.random(80) < 0.4
        pairs = (score[won][:, None] > score[~won]) + 0.5 * (score[won][:, None] == score[~won])
        variance = (
            pairs.mean(axis=1).var(ddof=1) / won.sum()
            + pairs.mean(axis=0).var(ddof=1) / (~won).sum()
        )
        found = area_under_curve(score, won, alone(80), 0.9)
        area = found.value
        reach = (np.log(found.high / (1 - found.high)) - np.log(found.low / (1 - found.low))) / 2
        error = reach * area * (1 - area) / stats.t.ppf(0.95, 79)
        self.assertAlmostEqual(error, variance**0.5, delta=0.03 * variance**0.5)

    def test_what_parts_them_wholly_or_not_at_all(self) -> None:
        score = np.arange(8.0)
        whole = area_under_curve(score, score > 3, alone(8), 0.9)
        self.assertEqual(whole.value, 1)
        self.assertTrue(np.isnan(whole.low))
        self.assertEqual(area_under_curve(np.ones(8), score > 3, alone(8), 0.9).value, 0.5)
        self.assertTrue(np.isnan(area_under_curve(score, score > 9, alone(8), 0.9).value))


class Intervals(TestCase):
    """How often 90% intervals hold what is true, where niches and days have luck of their own."""

    truth_score, truth_won, truth_groups = drawn(0, niches=1000, days=300)

    def held(self, of: str) -> float:
        tell = {
            "area": lambda s, w, g: area_under_curve(s, w, g, 0.9),
            "lift": lambda s, w, g: lift(s, w, g, 0.9),
            "share": lambda s, w, g: clustered_share(w, g, 0.9),
        }[of]
        truth = tell(self.truth_score, self.truth_won, [np.arange(len(self.truth_won))]).value
        found = [tell(*drawn(seed)) for seed in range(1, DRAWS + 1)]
        return float(np.mean([one.low <= truth <= one.high for one in found]))

    def test_of_areas_lifts_and_shares_hold_it(self) -> None:
        for of in ("area", "lift", "share"):
            with self.subTest(of=of):
                self.assertTrue(0.85 <= self.held(of) <= 0.96, self.held(of))

    def test_where_groups_are_left_out_of_account_they_do_not(self) -> None:
        truth = self.truth_won.mean()
        found = [
            clustered_share(won, alone(len(won)), 0.9) for _, won, _ in map(drawn, range(1, 100))
        ]
        self.assertLess(np.mean([one.low <= truth <= one.high for one in found]), 0.75)


class Lift(TestCase):
    def test_by_hand(self) -> None:
        """20 launches of which 5 worked, 2 of them among the best two: 1 ÷ 0.25 = 4."""
        score = np.arange(20.0)
        won = np.isin(score, [19, 18, 10, 5, 3])
        self.assertAlmostEqual(lift(score, won, alone(20), 0.9).value, 4)

    def test_ties_at_the_edge_count_with_what_is_still_wanted(self) -> None:
        # Two are wanted and four tie for them, of which one worked: a quarter, as of all.
        score = np.array([9.0, 9, 9, 9, *range(8, -8, -1)])
        won = np.zeros(20, dtype=bool)
        won[[0, 6, 8, 10, 12]] = True
        self.assertAlmostEqual(lift(score, won, alone(20), 0.9).value, 1)


class Shares(TestCase):
    def test_of_independent_observations_is_nearly_wilsons(self) -> None:
        hit = np.arange(400) % 4 == 0
        found = clustered_share(hit, alone(400), 0.9)
        low, high = proportion_confint(100, 400, alpha=0.1, method="wilson")
        self.assertAlmostEqual(found.low, low, delta=1e-3)
        self.assertAlmostEqual(found.high, high, delta=1e-3)

    def test_what_repeats_itself_counts_once(self) -> None:
        hit = np.repeat(np.arange(40) % 4 == 0, 10)
        again = clustered_share(hit, [np.repeat(np.arange(40), 10)], 0.9)
        once = clustered_share(hit[::10], alone(40), 0.9)
        self.assertAlmostEqual(again.low, once.low, delta=0.004)
        self.assertAlmostEqual(again.high, once.high, delta=0.004)

    def test_few_groups_have_no_interval(self) -> None:
        self.assertTrue(np.isnan(clustered_share(np.array([True, False]), alone(2), 0.9).low))
        self.assertTrue(np.isnan(clustered_mean(np.ones(4), [np.array([0, 0, 1, 1])], 0.9).low))

    def test_the_mean_of_independent_values_is_students(self) -> None:
        values = np.random.default_rng(3).normal(size=12)
        low, high = stats.t.interval(0.9, 11, values.mean(), stats.sem(values))
        found = clustered_mean(values, alone(12), 0.9)
        np.testing.assert_allclose([found.low, found.high], [low, high])
