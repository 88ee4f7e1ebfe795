"""Launches held against the established ones over the same weeks, with numbers made by hand and by chance."""

from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.supply.launches import Judged, judge_launches
from driftfield.core.supply.listings import History

from .shops import DAY, days_ago, listings, members_of

FOUR = [0.4, 0.3, 0.2, 0.1]
# Twelve months up to April: nearly all of the 380 units of a year go in January.
JANUARY = [2, 2, 2, 2, 2, 2, 6, 20, 300, 30, 8, 4]
SEED = 16


def year_of(*units: list[float]) -> np.ndarray:
    """Two years of monthly units, each the twelve months given."""
    return np.array([[*one, *one] for one in units], dtype=float)


def judged(units: np.ndarray, ages: list[float], *pairs: str) -> Judged:
    shop = listings(len(units), {"units": units}, launched=days_ago(*ages))
    return judge_launches(members_of(FOUR), shop, DAY, DEFAULTS.with_pairs(list(pairs)))


class InSeason(TestCase):
    def test_a_launch_that_sells_as_the_others_in_its_weeks_has_worked(self) -> None:
        # Common practice, no source. The launch of 10 December came too late for that month. From January
        # on it sold 342 while the others sold 300 + 30 + 8 + 4 = 342 of their 380.
        units = year_of(JANUARY, JANUARY, JANUARY, JANUARY)
        units[3, :20] = np.nan
        found = judged(units, [900, 900, 900, DAY - date(2025, 12, 10).toordinal()])
        self.assertTrue(found.judged[3] and found.won[3])
        np.testing.assert_allclose(found.amount, 380 / 13)
        self.assertAlmostEqual(found.bar[0], 380 / 13)

    def test_a_twentieth_less_falls_short_by_as_much(self) -> None:
        units = year_of(JANUARY, JANUARY, JANUARY, JANUARY)
        units[3, :20] = np.nan
        units[3, 20:] *= 0.95
        found = judged(units, [900, 900, 900, DAY - date(2025, 12, 10).toordinal()])
        self.assertFalse(found.won[3])
        self.assertAlmostEqual(found.amount[3] / found.bar[0], 0.95)

    def test_out_of_season_nothing_can_be_told(self) -> None:
        # March and April hold 12 of 380, a thirtieth of the year.
        units = year_of(JANUARY, JANUARY, JANUARY, JANUARY)
        units[3, :22] = np.nan
        ages = [900, 900, 900, DAY - date(2026, 2, 20).toordinal()]
        self.assertFalse(judged(units, ages).judged[3])
        self.assertTrue(judged(units, ages, "launch_least=0.03").judged[3])

    def test_more_than_the_window_can_be_asked_for(self) -> None:
        found = judged(year_of(*[[90] * 12] * 4), [900, 900, 900, 300], "launch_least=0.5")
        self.assertTrue(found.judged[3])
        self.assertAlmostEqual(found.amount[3], 90 * 12 / 13)

    def test_without_a_year_of_anybody_every_week_holds_the_same(self) -> None:
        units = year_of([90] * 12, [80] * 12, [70] * 12, [60] * 12)
        units[:, :16] = np.nan
        found = judged(units, [230, 230, 230, 230])
        np.testing.assert_allclose(found.amount, np.array([90, 80, 70, 60]) * 12 / 13)
        self.assertAlmostEqual(found.bar[0], 75 * 12 / 13)

    def test_where_no_units_are_known_nothing_is_judged(self) -> None:
        shop = listings(4, {"price": [9] * 4}, launched=days_ago(900, 900, 900, 200))
        found = judge_launches(members_of(FOUR), shop, DAY, DEFAULTS)
        self.assertFalse(found.judged.any())
        self.assertTrue(np.isnan(found.bar[0]))


class ByChance(TestCase):
    """Niches of seven established listings and one launch, flat to one month's season, counts by chance."""

    def success(self, strength: float) -> float:
        random = np.random.default_rng(SEED)
        niches, size, weeks = 400, 8, 104
        timeline = Timeline(Period.WEEK, date(2024, 5, 6), weeks)
        day = timeline.end.toordinal()
        peaks, widths = random.uniform(0, 52, niches), random.choice([3, 6, 12, 1000], niches)
        apart = (timeline.slots - peaks[:, None] + 26) % 52 - 26
        season = 0.02 + np.exp(-0.5 * (apart / widths[:, None]) ** 2)
        season /= season.mean(axis=1, keepdims=True)
        rates = 30 * np.exp(random.normal(0, 0.4, (niches, size)))
        rates[:, -1] *= strength
        units = random.poisson(season[:, None] * rates[..., None]).astype(np.float32)
        ages = random.integers(60, 360, niches)
        launched = np.full((niches, size), day - 900.0)
        launched[:, -1] = day - ages
        since = weeks - ages // 7
        units[:, -1][np.arange(weeks) < since[:, None]] = np.nan
        shop = listings(niches * size, launched=launched.ravel())
        object.__setattr__(shop, "history", History(timeline, {"units": units.reshape(-1, weeks)}))
        members = members_of(*[[0.2, 0.15, 0.15, 0.1, 0.1, 0.1, 0.1, 0.1]] * niches)
        found = judge_launches(members, shop, day, DEFAULTS)
        self.assertGreater(found.judged.sum(), 0.7 * niches)
        return float(found.won.sum() / found.judged.sum())

    def test_as_good_half_of_them_work(self) -> None:
        self.assertAlmostEqual(self.success(1), 0.5, delta=0.05)

    def test_twice_as_good_nearly_all(self) -> None:
        self.assertGreaterEqual(self.success(2), 0.9)

    def test_half_as_good_hardly_any(self) -> None:
        self.assertLessEqual(self.success(0.5), 0.1)
