"""A noisy niche leans on its category's season, and says so."""

from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS
from driftfield.core.curves import Prior, SeasonSums, borrowed_share, category_prior
from driftfield.core.curves.pooling import prefers
from driftfield.core.curves.tests.synthetic import TIMELINE, counted, hump, sine
from driftfield.core.market.runner import MarketData, compute_figures

SPRING = 0.2 + 3 * hump(18, 5)
NONE = np.full(12, -1)


def market(*expected: np.ndarray, category: int = 0) -> dict[str, np.ndarray]:
    """A market of one category."""
    values = np.concatenate([counted(e, 1, seed) for seed, e in enumerate(expected)])
    n = len(values)
    data = MarketData(
        TIMELINE, [f"n{i}" for i in range(n)], np.arange(n), values,
        category=np.full(n, category, dtype=np.int64),
    )  # fmt: skip
    return compute_figures(data)


def lent(factors: np.ndarray, noise: np.ndarray, able: np.ndarray, category: np.ndarray) -> Prior:
    sums = SeasonSums.of(factors, noise, able, category, 1)
    return category_prior(sums, category, DEFAULTS)


class Rule(TestCase):
    def test_share_by_hand(self) -> None:
        prior = Prior(np.ones((2, 52)), np.array([0.09, np.nan]))
        np.testing.assert_allclose(borrowed_share(np.array([0.03, 0.03]), prior), [0.25, 0])

    def test_a_category_lends_from_five_members_on(self) -> None:
        factors = np.ones((12, 52))
        able = np.arange(12) < 4
        category = np.zeros(12, dtype=np.int64)
        few = lent(factors, np.zeros(12), able, category)
        self.assertTrue(np.isnan(few.variance).all())
        able[4] = True
        enough = lent(factors, np.zeros(12), able, category)
        self.assertFalse(np.isnan(enough.variance).any())
        alone = lent(factors, np.zeros(12), able, NONE)
        self.assertTrue(np.isnan(alone.variance).all())

    def test_unlike_niches_lend_next_to_nothing(self) -> None:
        rng = np.random.default_rng(3)
        like = 1 + 0.5 * np.cos(np.arange(52) / 8) + rng.normal(0, 0.02, (12, 52))
        unlike = np.stack([np.roll(like[0], 5 * i) for i in range(12)])
        category, able = np.zeros(12, dtype=np.int64), np.ones(12, dtype=bool)
        noise = np.full(12, 0.04)
        shares = [
            borrowed_share(noise, lent(f, noise / 40, able, category)).mean()
            for f in (like, unlike)
        ]
        self.assertGreater(shares[0], 0.8)
        self.assertLess(shares[1], 0.3)

    def test_own_counts_must_speak_for_it(self) -> None:
        prior = np.repeat([[1.8, 0.2]], 26, axis=1)
        expected = np.full((2, 52), 5.0)
        seen = np.stack([5 * prior[0], expected[1]])
        self.assertEqual(list(prefers(seen, expected, prior, np.ones(2))), [True, False])


class Borrowing(TestCase):
    def test_few_searches_borrow_and_many_do_not(self) -> None:
        found = market(*[400 * SPRING] * 8, 1.2 * SPRING)
        self.assertTrue((found["borrowed"][:8] < 0.1).all())
        self.assertGreater(found["borrowed"][8], 0.3)
        truth = found["season_profile"][0]
        self.assertLess(np.abs(found["season_profile"][8] - truth).mean(), 0.35)

    def test_a_borrowed_profile_is_nearer_the_truth(self) -> None:
        alone = market(*[3 * SPRING] * 3, category=-1)["season_profile"]
        lent = market(*[3 * SPRING] * 3, *[400 * SPRING] * 8)["season_profile"]
        truth = SPRING[TIMELINE.slots.argsort(kind="stable")].reshape(52, -1).mean(axis=1)
        truth = truth / truth.mean()
        error = [np.abs(profiles[:3] - truth).mean() for profiles in (alone, lent)]
        self.assertLess(error[1], 0.7 * error[0])

    def test_a_niche_with_another_season_keeps_its_own(self) -> None:
        autumn = 0.2 + 3 * hump(42, 5)
        found = market(*[400 * SPRING] * 8, 400 * autumn, 300 * sine(20, 0.02))
        self.assertEqual(found["borrowed"][8], 0)
        self.assertGreater(found["season_profile"][8][41], 2)
        self.assertEqual(found["shape"][9], "Evergreen")
