"""Orders and joins within groups, against numpy's own."""

from unittest import TestCase

import numpy as np

from driftfield.core.base import (
    first_of_each,
    in_groups,
    joined,
    order_of,
    order_within,
    places_in,
)


class Orders(TestCase):
    def test_they_are_those_of_lexsort(self) -> None:
        rng = np.random.default_rng(1)
        for groups in (1, 7, 300, 200_000):
            group = rng.integers(0, groups, 5_000)
            for values in (
                rng.integers(0, 90, 5_000),
                rng.random(5_000).round(2),
                np.sort(rng.random(5_000)),
            ):
                np.testing.assert_array_equal(
                    order_within(group, values), np.lexsort((values, group))
                )
            values = rng.integers(0, groups, 5_000) / 8
            np.testing.assert_array_equal(order_of(values), np.argsort(values, kind="stable"))
        self.assertEqual([order_of(np.zeros(n)).tolist() for n in range(3)], [[], [0], [0, 1]])
        in_order = np.repeat(np.arange(50), 100)
        np.testing.assert_array_equal(order_within(in_order, np.zeros(5_000)), np.arange(5_000))
        self.assertEqual(len(order_within(np.empty(0, dtype=np.int64), np.empty(0))), 0)

    def test_equal_numbers_stand_together_and_have_places(self) -> None:
        rng = np.random.default_rng(5)
        for many in (0, 1, 3_000):
            keys = rng.integers(0, 400, many)
            order, start = first_of_each(keys)
            found, counts = np.unique(keys, return_counts=True)
            np.testing.assert_array_equal(keys[order][start], found)
            np.testing.assert_array_equal(np.diff(np.append(start, many)), counts)
            own = in_groups(keys)
            np.testing.assert_array_equal(own, np.argsort(keys, kind="stable"))
            expected = [place for count in counts.tolist() for place in range(count)]
            self.assertEqual(places_in(keys[own]).tolist(), expected)

    def test_unknown_comes_last(self) -> None:
        found = order_within(np.array([1, 0, 1, 0]), np.array([np.nan, 2.0, 1.0, np.nan]))
        self.assertEqual(found.tolist(), [1, 3, 2, 0])


class Joins(TestCase):
    def test_every_pair_and_no_other(self) -> None:
        rng = np.random.default_rng(3)
        # Small numbers are looked up, others are sought; and none at all.
        for low, high, many in ((0, 12, 40), (-5, 5, 40), (10**9, 10**9 + 9, 40), (0, 12, 0)):
            keys = np.sort(rng.integers(low, high, many))
            wanted = rng.integers(low - 2, high + 3, 25)
            row, at = joined(keys, wanted)
            pairs = [
                (i, j) for i, one in enumerate(wanted) for j, key in enumerate(keys) if one == key
            ]
            self.assertEqual(list(zip(row.tolist(), at.tolist(), strict=True)), pairs)
