"""Counts by value and sums that do not depend on their order, against the values themselves and scipy."""

from unittest import TestCase

import numpy as np
from scipy import stats

from driftfield.core.base import Tally, VarianceSums, on_grid, row_products, to_digits
from driftfield.core.base.moderated import prior_of_variances


def split(values: np.ndarray, seed: int = 0) -> list[np.ndarray]:
    """Values in seven parts of different sizes, in another order."""
    rng = np.random.default_rng(seed)
    order = rng.permutation(len(values))
    return np.split(values[order], np.sort(rng.integers(0, len(values), 6)))


class Counted(TestCase):
    def setUp(self) -> None:
        rng = np.random.default_rng(1)
        self.values = rng.integers(0, 40, 500) * 0.7
        self.values[::9] = np.nan
        self.known = self.values[~np.isnan(self.values)]

    def test_places_are_those_scipy_finds(self) -> None:
        tally = Tally.of(self.values)
        ranks = stats.rankdata(self.known)
        np.testing.assert_allclose(tally.percentile(self.known), (ranks - 0.5) / len(self.known))
        np.testing.assert_array_equal(
            tally.rank(self.known), stats.rankdata(-self.known, "min").astype(int)
        )
        self.assertEqual(tally.median(), np.median(self.known))

    def test_what_is_unknown_has_no_place(self) -> None:
        tally = Tally.of(self.values)
        self.assertTrue(np.isnan(tally.percentile(np.array([np.nan]))).all())
        self.assertEqual(tally.rank(np.array([np.nan])).tolist(), [0])
        self.assertEqual(tally.total, len(self.known))
        self.assertTrue(np.isnan(Tally.nothing().median()))

    def test_parts_come_to_the_whole(self) -> None:
        whole = Tally.of(self.values)
        made = Tally.together(Tally.of(part) for part in split(self.values))
        np.testing.assert_array_equal(made.values, whole.values)
        np.testing.assert_array_equal(made.counts, whole.counts)
        self.assertEqual(Tally.together([]).total, 0)

    def test_an_even_number_has_two_in_the_middle(self) -> None:
        for values in ([1.0, 2, 3, 10], [1.0, 1, 3, 3], [5.0], [1.0, 4], [2.0, 2, 2, 7, 9]):
            self.assertEqual(Tally.of(np.array(values)).median(), np.median(values))

    def test_digits_are_significant_ones(self) -> None:
        found = to_digits(np.array([1234567.8, -0.00012345678, 0, np.nan, 1e300]))
        np.testing.assert_allclose(found, [1234570, -0.000123457, 0, np.nan, 1e300], rtol=1e-12)


class Sums(TestCase):
    def test_sums_on_the_grid_are_the_same_in_any_order(self) -> None:
        values = np.random.default_rng(2).lognormal(0, 2, 20_000)
        sums = {
            float(on_grid(np.random.default_rng(s).permutation(values)).sum()) for s in range(9)
        }
        self.assertEqual(len(sums), 1)
        self.assertAlmostEqual(sums.pop() / values.sum(), 1, places=9)

    def test_the_prior_of_variances_is_told_from_sums_of_parts(self) -> None:
        """limma's prior, on draws of the model it is made for (Smyth 2004): 4 degrees, variance 0.3."""
        rng = np.random.default_rng(3)
        true = 0.3 * 4 / rng.chisquare(4, 4000)
        df = rng.integers(3, 9, 4000).astype(float)
        variance = true * rng.chisquare(df) / df
        whole = prior_of_variances(variance, df)
        self.assertAlmostEqual(whole[0], 4, delta=0.4)
        self.assertAlmostEqual(whole[1], 0.3, delta=0.02)
        sums = VarianceSums()
        for part in split(np.arange(4000)):
            sums += VarianceSums.of(variance[part], df[part])
        self.assertEqual(sums.prior, whole)

    def test_a_rows_product_is_the_same_wherever_it_stands(self) -> None:
        rng = np.random.default_rng(4)
        for precision in (np.float32, np.float64):
            rows = rng.normal(size=(700, 260)).astype(precision)
            matrix = rng.normal(size=(260, 52)).astype(precision)
            whole = row_products(rows, matrix)
            np.testing.assert_allclose(whole, rows @ matrix, rtol=1e-3, atol=1e-3)
            for many in (1, 7, 33, 256, 511):
                some = np.sort(rng.choice(700, many, replace=False))
                np.testing.assert_allclose(
                    row_products(rows[some], matrix), whole[some], rtol=1e-12 if precision is np.float64 else 1e-6
                )  # fmt: skip
        self.assertEqual(row_products(np.empty((0, 3)), np.ones((3, 2))).shape, (0, 2))
