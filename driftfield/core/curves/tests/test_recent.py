from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy import stats

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves.reading import read_curves
from driftfield.core.curves.recent import Recent, apart, recent_move

from .synthetic import AHEAD, TIMELINE, counted, hump, sine


def noise(n: int, blocks: int, seed: int, memory: float = 0.0, spread: float = 0.05) -> np.ndarray:
    rng = np.random.default_rng(seed)
    made = np.zeros((n, blocks))
    made[:, 0] = rng.normal(0, spread, n)
    for column in range(1, blocks):
        fresh = rng.normal(0, spread * np.sqrt(1 - memory**2), n)
        made[:, column] = memory * made[:, column - 1] + fresh
    return made


class Chances(TestCase):
    def test_noise_alone_is_hardly_ever_beyond_chance(self) -> None:
        for memory in (0.0, 0.4):
            p = recent_move(noise(20_000, 65, 1, memory), 13).p
            for level in (0.05, 0.01, 0.001):
                self.assertLess(np.mean(p < level), 1.3 * level, f"{memory} at {level}")
            self.assertGreater(p.min(), 1e-6)

    def test_a_steady_drift_is_no_move(self) -> None:
        drifting = noise(4_000, 65, 2) + 0.02 * np.arange(65)
        found = recent_move(drifting, 13)
        self.assertLess(np.mean(found.p < 0.01), 0.013)
        self.assertAlmostEqual(found.size.mean(), 0, delta=0.003)

    def test_the_interval_holds_what_was_planted(self) -> None:
        levels = noise(3_000, 65, 3)
        levels[:, -4:] += 0.3
        found = recent_move(levels, 13)
        low, high = found.interval(0.9)
        # Of a stretch that begins before the step, its mean is what there is to hold.
        truth = 0.3 * np.minimum(4 / found.blocks, 1)
        held = np.mean((low <= truth) & (high >= truth))
        self.assertGreaterEqual(held, 0.85)
        self.assertLessEqual(held, 0.97)
        self.assertGreater(np.mean(found.p < 1e-4), 0.93)
        self.assertEqual(np.median(found.blocks), 4)


class Moves(TestCase):
    def read(self, expected: np.ndarray, n: int = 40, seed: int = 1) -> np.ndarray:
        return read_curves(counted(expected, n, seed), TIMELINE, DEFAULTS).recent

    def test_a_season_is_no_move(self) -> None:
        for season in (sine(20, 0.6), 0.2 + 3 * hump(20, 5)):
            found = self.read(800 * season, 200)
            told = ~np.isnan(found.p)
            if told.any():
                self.assertLess(np.mean(found.p[told] < 1e-3), 0.01)

    def test_a_step_of_late_is_told_with_its_size_and_day(self) -> None:
        for season in (np.ones(260), sine(20, 0.4)):
            found = self.read(800 * season * np.where(AHEAD >= 248, 0.7, 1))
            self.assertGreater(np.mean(found.p < 1e-5), 0.95)
            self.assertAlmostEqual(np.median(np.expm1(found.size)), -0.3, delta=0.03)
            self.assertEqual(np.median(found.blocks), 3)

    def test_one_wild_week_is_no_move(self) -> None:
        values = counted(np.full(260, 500.0), 60)
        values[:, 257] *= 4
        found = read_curves(values, TIMELINE, DEFAULTS).recent
        self.assertLess(np.mean(found.p < 1e-3), 0.02)

    def test_of_a_short_a_sparse_and_an_ended_curve_nothing_is_told(self) -> None:
        values = counted(np.full(260, 500.0), 3)
        values[0, :200] = np.nan
        values[1] = counted(np.full(260, 2.0))[0]
        values[2, -10:] = np.nan
        found = read_curves(values, TIMELINE, DEFAULTS).recent
        self.assertTrue(np.isnan(found.p).all())
        self.assertTrue((found.blocks == 0).all())

    def test_months_are_read_as_months(self) -> None:
        timeline = Timeline(Period.MONTH, TIMELINE.first.replace(day=1), 60)
        rng = np.random.default_rng(5)
        values = rng.poisson(3_000, (80, 60)).astype(float)
        values[:40, -3:] *= 1.4
        found = read_curves(values, timeline, DEFAULTS).recent
        self.assertGreater(np.mean(found.p[:40] < 1e-4), 0.95)
        self.assertLess(np.mean(found.p[40:] < 1e-2), 0.1)

    def test_each_curve_is_judged_by_itself(self) -> None:
        levels = noise(50, 65, 7)
        levels[0, ::7] = np.nan
        alone = [recent_move(levels[row : row + 1], 13).p[0] for row in range(50)]
        np.testing.assert_allclose(recent_move(levels, 13).p, alone)

    def test_is_students_t_where_nothing_but_the_last_block_is_tried(self) -> None:
        """The chance of one stretch against scipy's distribution, six of them being tried."""
        found = recent_move(noise(200, 65, 9), 13)
        t = np.abs(found.size / found.error)
        expected = np.minimum(6 * 2 * stats.t.sf(t, found.df), 1)
        np.testing.assert_allclose(found.p, expected, rtol=1e-9)


class Settings(TestCase):
    def test_the_interval_follows_the_coverage_that_is_asked_for(self) -> None:
        found = recent_move(noise(20, 65, 11), 13)
        wide, narrow = found.interval(0.99), found.interval(0.5)
        self.assertTrue((wide[0] < narrow[0]).all() and (wide[1] > narrow[1]).all())
        self.assertTrue(np.isnan(replace(found, df=np.full(20, np.nan)).interval(0.9)[0]).all())


class Apart(TestCase):
    def test_is_welchs_t_test(self) -> None:
        """Against the standard error and degrees of freedom that scipy gives two samples."""
        rng = np.random.default_rng(1)
        first, second = rng.normal(0.4, 1, 12), rng.normal(0, 2, 20)

        def mean_of(sample: np.ndarray) -> Recent:
            error = np.array([sample.std(ddof=1) / np.sqrt(len(sample))])
            df = np.array([len(sample) - 1.0])
            return Recent(np.array([sample.mean()]), error, df, df, np.array([1]), np.array([0.5]))

        theirs = stats.ttest_ind(first, second, equal_var=False)
        ours = apart(mean_of(first), mean_of(second))
        self.assertAlmostEqual(ours.df[0], theirs.df)
        self.assertAlmostEqual(ours.p[0], theirs.pvalue)

    def test_what_moves_alike_is_not_apart_and_what_is_unknown_stays_so(self) -> None:
        levels = noise(200, 65, 13)
        levels[:, -3:] += 0.4
        levels[0] = np.nan
        both = recent_move(levels, 13), recent_move(noise(200, 65, 14) + (levels > 0.2) * 0.4, 13)
        found = apart(*both)
        self.assertTrue(np.isnan(found.p[0]))
        self.assertLess(np.mean(found.p[1:] < 0.01), 0.02)
        alone = apart(both[0], recent_move(noise(200, 65, 15), 13))
        self.assertGreater(np.mean(alone.p[1:] < 0.01), 0.95)
