from unittest import TestCase

import numpy as np
from scipy import stats

from driftfield.core.base import DEFAULTS
from driftfield.core.curves.drift import theil_sen
from driftfield.core.curves.reading import CurveReadings, drift_line, read_curves

from .synthetic import AHEAD, TIMELINE, counted, hump, sine


def read(values: np.ndarray) -> CurveReadings:
    return read_curves(values, TIMELINE, DEFAULTS)


class TheilSen(TestCase):
    def test_is_scipys(self) -> None:
        rng = np.random.default_rng(1)
        levels = rng.normal(size=(20, 26)) + 0.02 * np.arange(26)
        slope, low, high = theil_sen(levels, 0.9)
        for row in range(20):
            theirs = stats.theilslopes(levels[row], np.arange(26), alpha=0.9)
            self.assertAlmostEqual(slope[row], theirs.slope)
            # Ours is at least as wide: it allows for autocorrelation where there is some.
            self.assertLessEqual(low[row], theirs.low_slope + 0.004)
            self.assertGreaterEqual(high[row], theirs.high_slope - 0.004)

    def test_absent_values_are_left_out(self) -> None:
        levels = np.array([[0.0, np.nan, 2.0, 3.0, np.nan], [np.nan, np.nan, 1.0, np.nan, np.nan]])
        slope, _, _ = theil_sen(levels, 0.9)
        self.assertEqual(slope[0], 1)
        self.assertTrue(np.isnan(slope[1]))

    def test_interval_covers_what_it_says(self) -> None:
        flat = np.random.default_rng(2).normal(size=(2000, 26))
        _, low, high = theil_sen(flat, 0.9)
        self.assertAlmostEqual(np.mean((low <= 0) & (high >= 0)), 0.92, delta=0.03)


class Rates(TestCase):
    def test_known_rates_come_back_whatever_the_season(self) -> None:
        for season in (np.ones(260), sine(20, 0.5), 0.2 + 3 * hump(20, 5)):
            for rate in (-0.3, 0.0, 0.25, 1.0):
                values = counted(400 * season * (1 + rate) ** (AHEAD / 52), 30)
                found = read(values)
                self.assertAlmostEqual(np.median(found.rate), rate, delta=0.04)
                word = "Holding" if rate == 0 else "Rising" if rate > 0 else "Easing"
                self.assertGreaterEqual(np.mean(found.drift == word), 0.9)

    def test_a_good_sold_three_weeks_a_year_has_a_rate(self) -> None:
        found = read(counted(6000 * hump(3, 1.2) * 1.5 ** (AHEAD / 52), 30))
        self.assertAlmostEqual(np.median(found.rate), 0.5, delta=0.06)

    def test_noise_rarely_drifts(self) -> None:
        found = read(counted(np.full(260, 25.0), 1000))
        self.assertLess(np.mean(found.drift != "Holding"), 0.05)


class Steps(TestCase):
    def test_a_level_shift_is_named_dated_and_sized(self) -> None:
        for size, word in ((0.6, "Stepped up"), (-0.4, "Stepped down")):
            expected = 300 * sine(20, 0.3) * np.where(AHEAD < 190, 1, 1 + size)
            found = read(counted(expected, 30))
            self.assertGreaterEqual(np.mean(found.drift == word), 0.9)
            self.assertAlmostEqual(np.nanmedian(found.shifts[:, 0]), size, delta=0.06)
            self.assertAlmostEqual(np.median(found.shifts_at[:, 0]), 190, delta=1)
            self.assertAlmostEqual(np.median(found.rate), 0, delta=0.03)

    def test_growth_is_no_step_and_a_burst_is_no_new_level(self) -> None:
        growing = read(counted(200 * 1.6 ** (AHEAD / 52), 50))
        self.assertEqual(set(growing.drift), {"Rising"})
        burst = read(counted(30 + 3000 * np.exp(-0.5 * ((AHEAD - 226) / 5) ** 2), 20))
        self.assertFalse(any("Stepped" in str(word) for word in burst.drift))


class Line(TestCase):
    def test_follows_the_level_and_not_the_season(self) -> None:
        level = 300 * 1.2 ** (AHEAD / 52)
        line = drift_line(counted(level * sine(20, 0.5))[0], TIMELINE, DEFAULTS)
        assert line is not None
        self.assertLess(np.abs(line / level - 1).max(), 0.08)
