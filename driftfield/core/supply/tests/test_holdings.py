"""What groups of listings hold, with numbers made by hand and against the plain way."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy import stats

from driftfield.core.base import Groups, Period
from driftfield.core.supply import Clicks, Held, lorenz, read_holdings, rolled_up
from driftfield.core.supply.listings import Listings, Offers
from driftfield.core.supply.members import read_members

from .shops import DAY, days_ago, listings

ONE = np.zeros(5, dtype=np.int64)


class Uneven(TestCase):
    def test_gini_of_a_worked_example(self) -> None:
        # Five incomes 10 to 50: Gini 4/15, as by the mean-difference formula of Gini (1912): Σ|x−y| is 400 over
        # all 25 pairs, 16 a pair, over twice the mean of 30. Worked by hand.
        found = lorenz(Groups(ONE, 1), np.array([10.0, 20, 30, 40, 50]))
        self.assertAlmostEqual(found.gini[0], 16 / 60)
        # 50 + 40 + 30 of 150 are exactly 80%, so three of the five; 90% takes a fourth.
        self.assertEqual((found.share_for[0.8][0], found.share_for[0.9][0]), (3 / 5, 4 / 5))

    def test_gini_is_half_the_relative_mean_difference_that_scipy_gives(self) -> None:
        values = np.random.default_rng(1).lognormal(3, 1, 200)
        differences = np.abs(values[:, None] - values[None]).mean()
        self.assertAlmostEqual(
            lorenz(Groups(np.zeros(200, dtype=np.int64), 1), values).gini[0],
            differences / values.mean() / 2,
        )
        # Of exponential values the Gini coefficient is 1/2 (standard result).
        many = stats.expon.ppf((np.arange(20_000) + 0.5) / 20_000)
        self.assertAlmostEqual(
            lorenz(Groups(np.zeros(20_000, dtype=np.int64), 1), many).gini[0], 0.5, places=3
        )

    def test_equal_ones_are_even_and_one_that_has_all_is_not(self) -> None:
        even = lorenz(Groups(ONE, 1), np.full(5, 7.0))
        self.assertAlmostEqual(even.gini[0], 0)
        self.assertEqual(even.share_for[0.8][0], 4 / 5)
        alone = lorenz(Groups(ONE, 1), np.array([0, 0, 9.0, 0, 0]))
        self.assertAlmostEqual(alone.gini[0], 4 / 5)
        self.assertEqual(alone.share_for[0.9][0], 1 / 5)

    def test_unknown_is_left_out_and_nothing_is_unknown(self) -> None:
        found = lorenz(Groups(np.array([0, 0, 1, 1]), 3), np.array([5, np.nan, 0, 0]))
        self.assertEqual(found.listings[:2].tolist(), [1, 2])
        self.assertEqual(found.gini[0], 0)
        self.assertTrue(np.isnan(found.gini[1:]).all() and np.isnan(found.share_for[0.8][1:]).all())


class WhatIsHeld(TestCase):
    def made(self, **facts: list[float]) -> tuple[Held, Listings]:
        shop = listings(4, **facts)
        # Two groups: one with all four listings, one with the first two of them.
        lineage = np.array([0, 1, 1]), np.array([0, 1, 0])
        clicks, unknown = np.zeros((4, 3)), np.zeros(3, dtype=bool)
        members = Held.by(np.array([1, 1, 0, 0]), 2, lineage, clicks, unknown)
        return members, shop

    def test_distinct_things_are_counted_once(self) -> None:
        members, shop = self.made(brand=[1, 1, 2, -1], seller=[7, 7, 7, 8])
        unknown = np.full(4, np.nan)
        found = read_holdings(members, shop, unknown, unknown, DAY)
        self.assertEqual(found.listings.tolist(), [4, 2])
        self.assertEqual(found.brands.tolist(), [2, 1])
        self.assertEqual(found.sellers.tolist(), [2, 1])
        self.assertTrue(np.isnan(found.newcomers[26].listings).all())

    def test_sellers_with_an_offer_count_too(self) -> None:
        offers = Offers(
            np.array([1, 1]), np.array([9, 10]), np.array([1.0, 1.0]), np.array([np.inf, DAY - 1.0])
        )
        members, shop = self.made(seller=[7, 7, -1, -1])
        unknown = np.full(4, np.nan)
        found = read_holdings(members, replace(shop, offers=offers), unknown, unknown, DAY)
        # Seller 10's offer is over.
        self.assertEqual(found.sellers.tolist(), [2, 2])

    def test_newcomers_and_the_age_of_what_is_sold(self) -> None:
        members, shop = self.made(launched=days_ago(100, 300, 800, 900), seller=[1, 2, 3, 4],
                                  seller_since=days_ago(50, 400, 400, np.nan))  # fmt: skip
        units = np.array([10.0, 20, 30, 60])
        found = read_holdings(members, shop, units, units * 2, DAY)
        self.assertEqual(found.newcomers[26].listings.tolist(), [1, 1])
        self.assertEqual(found.newcomers[52].listings.tolist(), [2, 2])
        self.assertEqual(found.newcomers[26].sellers.tolist(), [1, 1])
        # 90 of 120 units are of listings over two years old; half of them come from those up to 800 days.
        self.assertAlmostEqual(found.established_share[0], 90 / 120)
        self.assertEqual(found.sold_age_days.tolist(), [800, 300])


class RolledUp(TestCase):
    def test_the_groups_of_a_tree_read_as_their_terms_at_once(self) -> None:
        # Of few listings each is of several niches, of many most are of one alone.
        for many in (1, 25, 600, 9_000):
            with self.subTest(listings=many):
                self.compared(many)

    def compared(self, many: int) -> None:
        rng = np.random.default_rng(5)
        niches, terms, weeks = 9, 30, 120
        owner = rng.integers(0, niches, terms)
        rows = 900
        seen = Clicks(rng.integers(0, terms, rows), rng.integers(40, weeks, rows),
                      rng.integers(0, many, rows), rng.uniform(0, 0.03, rows))  # fmt: skip
        weight = rng.integers(1, 50, (terms, weeks)).astype(float)[seen.term, seen.at]
        read = (weeks, 13, Period.WEEK)
        of_niches = read_members(seen, weight, owner, niches, *read)
        group = rng.integers(0, 4, niches)
        above = rolled_up(of_niches, np.arange(niches), Groups(group, 4))
        straight = read_members(seen, weight, group[owner], 4, *read)
        np.testing.assert_array_equal(above.subject, straight.subject)
        np.testing.assert_array_equal(above.listing, straight.listing)
        for name in ("share", "place", "portion", "weight", "reach"):
            np.testing.assert_allclose(getattr(above, name), getattr(straight, name), atol=1e-9)
        for ours, theirs in zip(above.rest, straight.rest, strict=True):
            for name in ("share", "largest", "norm", "squares"):
                np.testing.assert_allclose(getattr(ours, name), getattr(theirs, name), atol=1e-9)
