from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp

from driftfield.core.base import CoreError
from driftfield.core.curves.growth import growth_split

SLOTS = np.arange(104) % 52


class GrowthSplit(TestCase):
    def test_by_hand(self) -> None:
        # A/B = 300/200, the profile doubles between the windows: half as much is left.
        values = np.array([[100.0, 100.0, 150.0, 150.0]])
        factors = np.array([[0.5, 0.5, 1.0, 1.0]])
        split = growth_split(values, factors, 2)
        self.assertEqual((split.raw[0], split.season[0], split.drift[0]), (0.5, 1.0, -0.25))

    @given(
        hnp.arrays(float, (3, 104), elements=st.floats(1, 1e6)),
        hnp.arrays(float, (3, 52), elements=st.floats(0.05, 20)),
        st.sampled_from([4, 13, 26, 52]),
    )
    def test_the_parts_multiply_to_the_change(self, values, factors, window) -> None:
        split = growth_split(values, factors[:, SLOTS], window)
        np.testing.assert_allclose((1 + split.season) * (1 + split.drift), 1 + split.raw, rtol=1e-9)

    def test_a_spring_rise_is_not_growth(self) -> None:
        season = np.tile(1 + 0.8 * np.cos(2 * np.pi * (np.arange(52) - 45) / 52), 2)
        split = growth_split(100 * season[None], season[None], 13)
        self.assertGreater(split.raw[0], 0.7)
        self.assertAlmostEqual(split.drift[0], 0)

    def test_a_year_apart_the_season_cancels(self) -> None:
        values = np.concatenate([np.full(52, 10.0), np.full(52, 12.0)])[None]
        split = growth_split(values, np.linspace(0.1, 1.9, 52)[None, SLOTS], 13, lag=52)
        self.assertAlmostEqual(split.raw[0], 0.2)
        self.assertAlmostEqual(split.season[0], 0)

    def test_unknown_is_not_zero(self) -> None:
        nothing_before = np.r_[np.zeros(13), np.ones(13)][None]
        gap = np.r_[np.ones(25), np.nan][None]
        for values in (nothing_before, gap, np.ones((1, 25))):
            split = growth_split(values, np.ones_like(values), 13)
            self.assertTrue(np.isnan([split.raw[0], split.season[0], split.drift[0]]).all())

    def test_a_window_of_nothing_is_refused(self) -> None:
        with self.assertRaisesRegex(CoreError, "at least 1"):
            growth_split(np.ones((1, 26)), np.ones((1, 26)), 0)
