"""The first rows of a ledger, found without putting all of them in order."""

from collections import OrderedDict
from unittest import TestCase

import numpy as np

from driftfield.readings.columns import RunColumns

MANY = 20_000


class First(TestCase):
    def setUp(self) -> None:
        rng = np.random.default_rng(3)
        self.columns = RunColumns.__new__(RunColumns)
        self.columns._made = OrderedDict()
        self.columns._found = {
            "rank": rng.permutation(MANY) + 1.0,
            "headroom": np.where(rng.random(MANY) < 0.4, np.nan, rng.uniform(0, 100, MANY)),
            # Nearly all are unknown, or the same.
            "drift": np.where(rng.random(MANY) < 0.99, np.nan, 1.0),
            "shape": rng.integers(0, 3, MANY).astype(float),
        }
        self.columns.__dict__["_ties"] = rng.permutation(MANY)
        self.rng = rng

    def test_they_are_the_first_of_the_whole_order(self) -> None:
        for key in self.columns._found:
            for down in (False, True):
                for share, most in (
                    (1, 100),
                    (1, 1_000),
                    (0.5, 100),
                    (0.02, 100),
                    (0.001, 100),
                    (0, 100),
                ):
                    among = self.rng.random(MANY) < share
                    keys = [(key, down), ("headroom", not down)]
                    wanted = self.columns._sorted(keys, None, np.flatnonzero(among))[:most]
                    with self.subTest(key=key, down=down, share=share, most=most):
                        found = self.columns.first(keys, among, most)
                        self.assertEqual(found.tolist(), wanted.tolist())

    def test_most_are_not_even_looked_at(self) -> None:
        among = np.ones(MANY, dtype=bool)
        for down in (False, True):
            found = self.columns._promising("rank", down, among, 100, None)
            assert found is not None
            self.assertLess(len(found), MANY // 8)
