"""A group of listings at a glance, with numbers made by hand and against statsmodels and scipy."""

from unittest import TestCase

import numpy as np
from scipy import stats
from statsmodels.stats.proportion import confint_proportions_2indep

from driftfield.core.base import newcombe
from driftfield.core.supply.overview import (
    attribute_demand,
    holders,
    lorenz_points,
    price_spread,
    what_they_share,
)

NAN = np.nan


class Glance(TestCase):
    def test_who_sells_by_revenue(self) -> None:
        found = holders(
            np.array([3, 3, 5, -1, 7]), np.array([10.0, 20, 60, 10, 0]), np.array([1.0, 0, 2, 1, 0]),
            np.array([0.0, 1, 0, 0, 4]), 2,
        )  # fmt: skip
        self.assertEqual(
            [(one.code, one.listings, one.share) for one in found.top], [(5, 1, 0.6), (3, 2, 0.3)]
        )
        self.assertEqual((found.count, found.selling, found.selling_before), (3, 2, 2))
        unknown = np.full(5, NAN)
        self.assertIsNone(holders(np.arange(5), unknown, unknown, unknown, 3).selling)

    def test_the_curve_of_lorenz_ends_at_one_and_never_falls_back(self) -> None:
        listings, revenue = lorenz_points(np.array([50.0, 10, NAN, 40]))
        np.testing.assert_allclose(listings, [0, 1 / 3, 2 / 3, 1])
        np.testing.assert_allclose(revenue, [0, 0.5, 0.9, 1])
        _, many = lorenz_points(np.random.default_rng(1).lognormal(3, 1, 5_000))
        self.assertTrue(np.all(np.diff(many) >= 0) and np.all(np.diff(many, 2) <= 1e-12))
        self.assertEqual(lorenz_points(np.array([NAN, 0.0])), ([], []))

    def test_prices_now_and_then_share_their_bins(self) -> None:
        found = price_spread(np.array([10.0, 20, 30, NAN]), np.array([12.0, NAN, 40, NAN]))
        self.assertEqual((sum(found.now), sum(found.then)), (3, 2))
        self.assertEqual(
            (found.edges[0], found.edges[-1], found.median, found.median_then), (10, 40, 20, 26)
        )
        self.assertEqual(price_spread(np.array([NAN]), np.array([NAN])).edges, [])


class Wanted(TestCase):
    def test_the_interval_is_newcombes(self) -> None:
        # Newcombe (1998), table II: 56/70 against 48/80 is 0.0524 to 0.3339 at 95% by method 10; from memory.
        low, high = newcombe(
            np.array([0.8]), np.array([70.0]), np.array([0.6]), np.array([80.0]), 0.95
        )
        self.assertAlmostEqual(low[0], 0.0524, places=4)
        self.assertAlmostEqual(high[0], 0.3339, places=4)
        for first, of, second, among in ((9, 10, 3, 10), (0, 29, 0, 20), (45, 90, 30, 120)):
            theirs = confint_proportions_2indep(
                first, of, second, among, method="newcomb", alpha=0.1
            )
            ours = newcombe(
                np.array([first / of]), np.array([float(of)]), np.array([second / among]),
                np.array([float(among)]), 0.9,
            )  # fmt: skip
            np.testing.assert_allclose([ours[0][0], ours[1][0]], theirs, atol=1e-9)

    def test_what_sells_beyond_its_listings_is_wanted(self) -> None:
        code = np.repeat([0, 1], [40, 60])
        units = np.where(code == 0, 30.0, 5.0)
        cedar, poly = sorted(
            attribute_demand(code, ["cedar", "poly"], units, 0.9), key=lambda v: v.value
        )
        self.assertEqual((cedar.says, poly.says), ("wanted", "oversupplied"))
        self.assertAlmostEqual(cedar.unit_share, 1200 / 1500)
        self.assertAlmostEqual(cedar.listing_share, 0.4)

    def test_one_listing_that_sells_all_proves_nothing_of_its_colour(self) -> None:
        units = np.full(30, 1.0)
        units[0] = 5_000
        code = np.array([0] * 10 + [1] * 20)
        self.assertEqual(
            {one.says for one in attribute_demand(code, ["red", "blue"], units, 0.9)}, {""}
        )

    def test_chance_alone_is_seldom_called_wanted(self) -> None:
        rng = np.random.default_rng(2)
        called = 0
        for _ in range(200):
            code = rng.integers(0, 3, 120)
            found = attribute_demand(code, ["a", "b", "c"], rng.lognormal(2, 1, 120), 0.9)
            called += sum(bool(one.says) for one in found)
        self.assertLess(called / 600, 0.1)

    def test_without_units_nothing_is_said(self) -> None:
        self.assertEqual(attribute_demand(np.array([0, 1]), ["a", "b"], np.full(2, NAN), 0.9), [])


class Together(TestCase):
    def test_what_leaders_share_is_fishers(self) -> None:
        code = np.array([0] * 8 + [1] * 40)
        chosen = np.zeros(48, dtype=bool)
        chosen[:7] = True
        [found] = what_they_share({"material": (code, ["cedar", "poly"])}, chosen)
        self.assertEqual(
            (found.value, found.held, found.chosen, found.held_by_others, found.others),
            ("cedar", 7, 7, 1, 41),
        )
        _, p = stats.fisher_exact([[7, 0], [1, 40]], alternative="greater")
        self.assertLess(p * 2, 0.05)
        chosen[:] = False
        chosen[[0, 9, 10, 11]] = True
        self.assertEqual(what_they_share({"material": (code, ["cedar", "poly"])}, chosen), [])
