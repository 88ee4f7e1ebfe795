"""The season at hand early or late: how many weeks are found, and how often where nothing of the kind happened."""

from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves import CurveReadings, read_curves

LINE = Timeline(Period.WEEK, date(2021, 5, 17), 260)
MANY = 150


def drawn(
    early: float = 0.0, usual: float = 0.3, spread: float = 6.0, to_peak: int = 3
) -> CurveReadings:
    """Curves of five years whose seasons differ by ``usual`` weeks, the last one ``early``, as it rises."""
    rng = np.random.default_rng(7)
    weeks = np.arange(LINE.length)
    top = (LINE.length - 1 + to_peak) % 52
    year = (weeks - top + 26) // 52
    shift = rng.normal(0, usual, (MANY, year.max() + 1))
    shift[:, year[-1]] += early
    off = (weeks - top + shift[:, year] + 26) % 52 - 26
    expected = 400 * (1 + 4 * np.exp(-(off**2) / 2 / spread**2))
    return read_curves(
        rng.poisson(expected * rng.lognormal(0, 0.05, off.shape)).astype(float), LINE, DEFAULTS
    )


class Shift(TestCase):
    def test_an_early_and_a_late_season_are_found(self) -> None:
        for weeks in (2.0, -2.0):
            early = drawn(weeks).early
            self.assertTrue(
                1.3 < np.nanmedian(early.size) * np.sign(weeks) < 2.3, np.nanmedian(early.size)
            )
            self.assertGreater(np.mean(early.p < 0.05), 0.8)

    def test_seasons_that_differ_as_ever_are_none(self) -> None:
        for usual in (0.0, 0.3, 1.0):
            early = drawn(usual=usual).early
            self.assertLessEqual(np.mean(early.p < 0.05), 0.09, usual)
            self.assertLessEqual(np.mean(early.p < 0.01), 0.03, usual)
        # What shifts by two weeks from year to year says nothing of this one by a shift as large.
        self.assertLess(np.mean(drawn(2.0, usual=2.0).early.p < 0.05), 0.3)

    def test_intervals_hold_the_shift_of_this_season(self) -> None:
        found = drawn(3.0, spread=3.0, usual=0.0)
        low, high = found.early.interval(0.9)
        self.assertGreater(np.mean((low < 3) & (high > 3)), 0.8)

    def test_only_a_season_on_the_move_is_judged(self) -> None:
        self.assertTrue(np.isnan(drawn(to_peak=26).early.p).all())
        flat = np.random.default_rng(0).poisson(400, (5, LINE.length)).astype(float)
        self.assertTrue(np.isnan(read_curves(flat, LINE, DEFAULTS).early.size).all())
