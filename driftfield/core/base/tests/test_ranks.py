from unittest import TestCase

import numpy as np
from scipy.stats import rankdata

from driftfield.core.base import low_ranks, mid_ranks


class Ranks(TestCase):
    def test_are_scipys_with_and_without_ties(self) -> None:
        rng = np.random.default_rng(3)
        for shape in ((5, 1), (40, 13), (6, 4, 13), (30,)):
            for values in (rng.normal(size=shape), rng.integers(0, 4, shape).astype(float)):
                with self.subTest(shape=shape):
                    np.testing.assert_array_equal(mid_ranks(values), rankdata(values, axis=-1))
                    np.testing.assert_array_equal(
                        low_ranks(values), rankdata(values, method="min", axis=-1)
                    )

    def test_of_nothing_there_are_none(self) -> None:
        self.assertEqual(mid_ranks(np.empty((3, 0))).shape, (3, 0))
        self.assertEqual(low_ranks(np.empty((0, 5))).shape, (0, 5))
