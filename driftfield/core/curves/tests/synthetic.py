"""Synthetic curves with known truth, for tests."""

from datetime import date

import numpy as np

from driftfield.core.base import Period, Timeline

LENGTH = 260
TIMELINE = Timeline(Period.WEEK, date(2021, 5, 17), LENGTH)
AHEAD = np.arange(LENGTH)


def hump(week: float, spread: float, timeline: Timeline = TIMELINE) -> np.ndarray:
    """A season around a week of the year, highest 1."""
    gap = np.abs(timeline.slots - week)
    return np.exp(-0.5 * (np.minimum(gap, 52 - gap) / spread) ** 2)


def sine(week: float, size: float) -> np.ndarray:
    return 1 + size * np.cos(2 * np.pi * (TIMELINE.slots - week) / 52)


def counted(expected: np.ndarray, n: int = 1, seed: int = 0) -> np.ndarray:
    """Poisson counts around an expectation, (n, length)."""
    return np.random.default_rng(seed).poisson(expected, (n, len(expected))).astype(float)
