from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from driftfield.core.concentration import concentration, weighted_shares
from driftfield.core.errors import CoreError


def one(*shares: float):
    return concentration(np.zeros(len(shares), dtype=np.int64), np.array(shares), 1)


class Published(TestCase):
    def test_four_firms_of_the_merger_guidelines(self) -> None:
        # U.S. Horizontal Merger Guidelines: shares of 30, 30, 20 and 20 per cent give 2,600.
        self.assertAlmostEqual(one(0.3, 0.3, 0.2, 0.2).hhi[0], 2600)

    def test_equal_holders(self) -> None:
        found = one(*[0.1] * 10)
        self.assertAlmostEqual(found.effective[0], 10)
        self.assertEqual(found.breadth[0], 8)
        self.assertAlmostEqual(found.top[3][0], 0.3)

    def test_a_monopoly(self) -> None:
        found = one(1.0)
        self.assertEqual((found.hhi[0], found.breadth[0], found.top[20][0]), (10_000, 1, 1))


class Arithmetic(TestCase):
    @given(st.lists(st.lists(st.floats(0.001, 1), min_size=1, max_size=30), min_size=1, max_size=5))
    def test_is_plain_arithmetic(self, groups: list[list[float]]) -> None:
        shares = [np.array(g) / sum(g) * 0.95 for g in groups]
        group = np.repeat(np.arange(len(shares)), [len(s) for s in shares])
        found = concentration(group, np.concatenate(shares), len(shares))
        for i, own in enumerate(shares):
            ordered = sorted(own, reverse=True)
            self.assertAlmostEqual(found.hhi[i], sum((100 * s) ** 2 for s in own), 6)
            self.assertAlmostEqual(found.top[5][i], sum(ordered[:5]), 9)
            running, breadth = 0.0, 0
            while running < 0.8 - 1e-9:
                running += ordered[breadth]
                breadth += 1
            self.assertEqual(found.breadth[i], breadth)


class Unknown(TestCase):
    def test_a_group_without_clicks_has_no_figures(self) -> None:
        found = concentration(np.array([0, 0]), np.array([0.5, 0.5]), 2)
        self.assertTrue(np.isnan([found.hhi[1], found.breadth[1], found.top[1][1]]).all())

    def test_breadth_is_unknown_where_too_little_is_accounted_for(self) -> None:
        found = one(0.3, 0.2)
        self.assertTrue(np.isnan(found.breadth[0]))
        self.assertAlmostEqual(found.accounted[0], 0.5)

    def test_impossible_shares_are_refused(self) -> None:
        with self.assertRaisesRegex(CoreError, "add up to 1.200"):
            one(0.6, 0.6)
        with self.assertRaisesRegex(CoreError, "negative"):
            one(-0.1, 0.5)


class Weights(TestCase):
    def test_terms_count_by_their_clicks(self) -> None:
        # 300 clicks that go to listing 0, and 100 of which half goes to listing 1.
        group, holder, share = weighted_shares(
            np.array([0, 0]), np.array([0, 1]), np.array([1.0, 0.5]), np.array([300.0, 100.0]),
            np.array([400.0]),
        )  # fmt: skip
        self.assertEqual(
            list(zip(group, holder, share, strict=True)), [(0, 0, 0.75), (0, 1, 0.125)]
        )
