"""Forecasts: the smoothing against statsmodels, the rest against simulation and plain arithmetic."""

from unittest import TestCase

import numpy as np
from statsmodels.tsa.holtwinters import SimpleExpSmoothing

from driftfield.core.base import DEFAULTS
from driftfield.core.curves.forecast import WEIGHTS, damped, smooth_level, sum_ahead, units_ahead
from driftfield.core.curves.reading import forecast_curves, read_curves

from .synthetic import AHEAD, TIMELINE, counted, hump, sine


class Smoothing(TestCase):
    def test_is_statsmodels_simple_exponential_smoothing(self) -> None:
        levels = np.cumsum(np.random.default_rng(1).normal(0, 0.1, (12, 65)), axis=1)
        level, weight, variance = smooth_level(levels)
        for row in range(12):
            errors = {}
            for alpha in WEIGHTS:
                model = SimpleExpSmoothing(
                    levels[row], initialization_method="known", initial_level=levels[row, 0]
                )
                fit = model.fit(smoothing_level=alpha, optimized=False)
                errors[alpha] = ((fit.resid[6:] ** 2).mean(), fit.level[-1])
            best = min(errors, key=lambda alpha: errors[alpha][0])
            self.assertEqual(weight[row], best)
            self.assertAlmostEqual(level[row], errors[best][1])
            self.assertAlmostEqual(variance[row], errors[best][0])

    def test_absent_blocks_leave_the_level_alone(self) -> None:
        levels = np.zeros((1, 20))
        levels[0, 10:15] = np.nan
        levels[0, 15:] = 1.0
        whole, _, _ = smooth_level(np.delete(levels, np.s_[10:15], axis=1))
        holed, _, _ = smooth_level(levels)
        self.assertAlmostEqual(holed[0], whole[0])

    def test_too_few_blocks_give_nothing(self) -> None:
        self.assertTrue(np.isnan(np.array(smooth_level(np.zeros((1, 7))))).all())


class Damping(TestCase):
    def test_sum_of_powers_by_hand(self) -> None:
        # Hyndman & Athanasopoulos, section 8.2: (φ + φ² + … + φʰ) b.
        change, _ = damped(np.array([0.1]), np.array([0.0]), np.array([1.0, 2.0, 3.0]), 0.9)
        np.testing.assert_allclose(change[0], 0.1 * np.array([0.9, 1.71, 2.439]))

    def test_a_drift_within_its_error_is_trusted_little(self) -> None:
        sure, _ = damped(np.array([0.02]), np.array([0.001]), np.array([13.0]), 1.0)
        unsure, _ = damped(np.array([0.02]), np.array([0.06]), np.array([13.0]), 1.0)
        self.assertAlmostEqual(float(sure[0, 0]), 0.26, delta=0.001)
        self.assertAlmostEqual(float(unsure[0, 0]), 0.026, delta=0.0001)


class Ahead(TestCase):
    def test_season_and_level_come_back(self) -> None:
        truth = 400 * sine(20, 0.5)
        made = forecast_curves(counted(truth, 20), TIMELINE, DEFAULTS)
        assert made is not None
        usual = np.median(made.values, axis=0)
        np.testing.assert_allclose(usual, truth[-52:], rtol=0.06)

    def test_the_level_is_that_after_a_shift(self) -> None:
        truth = np.where(AHEAD < 180, 200, 320) * sine(20, 0.3)
        found = read_curves(counted(truth, 20), TIMELINE, DEFAULTS).ahead[52]
        self.assertAlmostEqual(float(np.median(found.value)) / (320 * 52), 1, delta=0.04)

    def test_intervals_hold_what_they_say(self) -> None:
        rng = np.random.default_rng(5)
        walk = np.exp(np.cumsum(rng.normal(0, 0.012, (300, 312)), axis=1))
        longer = rng.poisson(
            300 * walk * np.tile(1 + 0.4 * np.sin(np.arange(312) / 52 * 2 * np.pi), 1)
        )
        made = forecast_curves(longer[:, :260].astype(float), TIMELINE, DEFAULTS)
        assert made is not None
        inside = (made.low <= longer[:, 260:]) & (longer[:, 260:] <= made.high)
        self.assertAlmostEqual(float(inside.mean()), DEFAULTS.forecast_interval, delta=0.07)

    def test_a_sum_is_surer_than_its_weeks(self) -> None:
        made = forecast_curves(counted(np.full(260, 25.0), 20), TIMELINE, DEFAULTS)
        assert made is not None
        whole = sum_ahead(made, 52, DEFAULTS)
        week = (made.high - made.low)[:, 0] / made.values[:, 0]
        self.assertTrue(((whole.high - whole.low) / whole.value < 0.7 * week).all())
        np.testing.assert_allclose(whole.value, made.values.sum(axis=1))

    def test_bursts_have_no_forecast_and_short_curves_none(self) -> None:
        burst = 20 + 4000 * np.exp(-0.5 * ((AHEAD - 110) / 8) ** 2)
        found = read_curves(counted(burst, 5), TIMELINE, DEFAULTS).ahead[26]
        self.assertTrue(np.isnan(found.value).all())
        self.assertIsNone(
            forecast_curves(np.ones((1, 90)), TIMELINE.upto(TIMELINE.start(90)), DEFAULTS)
        )


class Units(TestCase):
    def test_the_ratio_goes_the_right_way_round(self) -> None:
        # Common practice, no source: who sells 100 a day while searches stand at 30,000 a month may
        # be expected to sell 150 when they stand at 45,000, and not 175.
        one = np.ones(1)
        self.assertEqual(units_ahead(100 * one, 30_000 * one, 45_000 * one, one)[0], 150)

    def test_from_season_to_season(self) -> None:
        profile = hump(20, 5) + 0.1
        found = units_ahead(np.array([12.0]), profile[20:21], profile[:1], np.array([1.1]))
        self.assertAlmostEqual(found[0], 12 * profile[0] / profile[20] * 1.1)
        self.assertTrue(np.isnan(units_ahead(np.ones(1), np.zeros(1), np.ones(1), np.ones(1))[0]))
