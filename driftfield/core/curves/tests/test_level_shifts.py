"""Level shifts, against a general change-point package and known truth."""

from unittest import TestCase

import numpy as np
import ruptures

from driftfield.core.base import DEFAULTS
from driftfield.core.curves.level_shifts import Shifts, level_shifts, week_of_shift

BLOCKS = 65
AT = np.arange(BLOCKS)


def noisy(course: np.ndarray, n: int = 30, size: float = 0.05, seed: int = 0) -> np.ndarray:
    return course + np.random.default_rng(seed).normal(0, size, (n, BLOCKS))


def search(levels: np.ndarray) -> Shifts:
    return level_shifts(levels, np.ones(len(levels), dtype=bool), DEFAULTS)


class OneShift(TestCase):
    def test_is_where_ruptures_puts_it(self) -> None:
        levels = noisy(np.where(AT < 37, 5.0, 5.6))
        ours = search(levels)
        for row, at in zip(levels, ours.at[:, 0], strict=True):
            theirs = ruptures.Binseg(model="l2", min_size=6, jump=1).fit(row).predict(n_bkps=1)
            self.assertEqual(at, theirs[0])

    def test_two_shifts_are_where_dynamic_programming_puts_them(self) -> None:
        levels = noisy(np.where(AT < 20, 5.0, np.where(AT < 45, 5.8, 5.3)))
        ours = search(levels)
        for row, at in zip(levels, ours.at, strict=True):
            theirs = ruptures.Dynp(model="l2", min_size=6, jump=1).fit(row).predict(n_bkps=2)
            self.assertEqual(sorted(at[at >= 0]), theirs[:2])

    def test_size_is_that_of_the_levels(self) -> None:
        for size in (np.log(1.5), np.log(0.6)):
            found = search(noisy(np.where(AT < 30, 4.0, 4.0 + size)))
            self.assertAlmostEqual(float(np.median(found.size[:, 0])), size, delta=0.02)

    def test_a_shift_on_top_of_growth_is_told_from_it(self) -> None:
        found = search(noisy(0.02 * AT + np.where(AT < 35, 0, 0.6)))
        self.assertGreaterEqual(np.mean(found.at[:, 0] == 35), 0.9)
        self.assertAlmostEqual(float(np.median(found.size[:, 0])), 0.6, delta=0.06)

    def test_absent_blocks_are_left_out(self) -> None:
        levels = noisy(np.where(AT < 39, 5.0, 5.7))
        levels[:, AT % 13 > 5] = np.nan  # only six blocks a year say anything
        found = search(levels)
        self.assertGreaterEqual(np.mean(np.abs(found.at[:, 0] - 39) <= 1), 0.9)


class NoShift(TestCase):
    def test_growth_noise_and_small_changes_are_none(self) -> None:
        for course in (np.zeros(BLOCKS), 0.05 * AT, -0.03 * AT, np.where(AT < 30, 0, 0.15)):
            self.assertEqual(search(noisy(course, 200)).found.mean(), 0)

    def test_a_wandering_level_is_seldom_a_shift(self) -> None:
        rng = np.random.default_rng(4)
        wander = np.zeros((300, BLOCKS))
        for t in range(1, BLOCKS):
            wander[:, t] = 0.7 * wander[:, t - 1] + rng.normal(0, 0.08, 300)
        self.assertLess(search(wander).found.mean(), 0.03)

    def test_who_may_not_have_any_has_none(self) -> None:
        levels = noisy(np.where(AT < 30, 5.0, 6.0), 4)
        found = level_shifts(levels, np.array([True, False, True, False]), DEFAULTS)
        self.assertEqual(list(found.found), [True, False, True, False])

    def test_a_short_record_has_none(self) -> None:
        self.assertFalse(search(np.r_[np.zeros(5), np.ones(5)][None]).found.any())


class Course(TestCase):
    def test_adds_up_the_shifts_so_far(self) -> None:
        shifts = Shifts(np.array([[0.5, -0.2, 0.0]]), np.array([[2, 4, -1]]))
        course = shifts.course(6)[0]
        np.testing.assert_allclose(course, [0, 0, 0.5, 0.5, 0.3, 0.3])

    def test_week_is_found_around_the_blocks_edge(self) -> None:
        rng = np.random.default_rng(2)
        for true in (118, 120, 124):
            logs = rng.normal(0, 0.05, (20, 260)) + np.where(np.arange(260) < true, 0, 0.5)
            found = week_of_shift(logs, np.full(20, 120))
            self.assertAlmostEqual(float(np.median(found)), true, delta=0.5)
