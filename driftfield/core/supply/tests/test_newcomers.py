"""What launches reached: month by month, without the calendar, and pooled with the category's."""

from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from driftfield.core.base import Floats, Period, Timeline
from driftfield.core.supply.listings import History, Listings
from driftfield.core.supply.members import Members, Rest
from driftfield.core.supply.newcomers import (
    FEWEST,
    LEVELS,
    LaunchPaths,
    launch_paths,
    newcomers_path,
    weighted_quantiles,
)

FIRST = date(2024, 1, 1)
DAY = date(2025, 12, 31).toordinal()


def members(subjects: list[int], now: list[bool] | None = None) -> Members:
    """One listing a pair, in order."""
    n = len(subjects)
    share = np.where(now if now is not None else np.ones(n, dtype=bool), 0.1, np.nan)[:, None]
    none = np.full(max(subjects) + 1, np.nan)
    return Members(
        max(subjects) + 1, np.array(subjects), np.arange(n), share, np.arange(n), np.ones(n),
        (Rest(none, none, none, none),), none, np.ones((max(subjects) + 1, 1)),
    )  # fmt: skip


def listings(units: Floats, launched: list[date | None], **more: Floats) -> Listings:
    made = Listings.unknown(len(units))
    made.launched[:] = [np.nan if day is None else day.toordinal() for day in launched]
    timeline = Timeline(Period.MONTH, FIRST, units.shape[1])
    measures = {"units": units.astype(np.float32)} | {
        k: v.astype(np.float32) for k, v in more.items()
    }
    return replace(made, history=History(timeline, measures))


class WorkedByHand(TestCase):
    """Two years of months; an old listing sells 90 a month, and one launched on 10 March 2025 sells 10 a month from
    April on: a tenth."""

    def setUp(self) -> None:
        self.units = np.full((2, 24), np.nan)
        self.units[0] = 90
        self.units[1, 14:] = 10
        self.launched = [date(2020, 1, 1), date(2025, 3, 10)]

    def paths(self, **more: Floats) -> LaunchPaths:
        found = launch_paths(members([0, 0]), listings(self.units, self.launched, **more), DAY)
        assert found is not None
        return found

    def test_months_count_from_the_first_whole_one(self) -> None:
        found = self.paths()
        self.assertEqual(found.listing.tolist(), [1])
        np.testing.assert_allclose(found.share[0, :9], 0.1)
        # The record ends with its ninth month; of later ones nothing is known, not 0.
        self.assertTrue(np.isnan(found.share[0, 9:]).all())

    def test_the_calendar_cancels(self) -> None:
        season = 1 + 0.9 * np.cos(np.arange(24) / 12 * 2 * np.pi)
        self.units *= season
        np.testing.assert_allclose(self.paths().share[0, :9], 0.1, rtol=1e-6)

    def test_price_and_reviews_went_along(self) -> None:
        price = np.array([[20.0] * 24, [15.0] * 24])
        reviews = np.vstack([np.full(24, 300.0), np.arange(24.0)])
        found = self.paths(price=price, reviews=reviews)
        # Against the median of the niche's two listings, 17.50.
        np.testing.assert_allclose(found.price[0, :9], 15 / 17.5, rtol=1e-6)
        np.testing.assert_allclose(found.reviews[0, :9], np.arange(15, 24))

    def test_what_was_given_up_reached_nothing_since(self) -> None:
        self.units[1, 18:] = np.nan
        found = launch_paths(
            members([0, 0], [True, False]), listings(self.units, self.launched), DAY
        )
        assert found is not None
        np.testing.assert_allclose(found.share[0, :9], [0.1] * 3 + [0] * 6)
        np.testing.assert_array_equal(found.alive[0, :9], [1] * 3 + [0] * 6)
        # Who is still clicked has not been given up: its units are unknown.
        self.assertTrue(np.isnan(self.paths().share[0, 3:]).all())

    def test_nothing_is_known_without_units_or_dates(self) -> None:
        self.assertIsNone(launch_paths(members([0, 0]), Listings.unknown(2), DAY))
        unknown = listings(self.units, [None, None])
        self.assertIsNone(launch_paths(members([0, 0]), unknown, DAY))


def made_paths(subject: list[int], share: Floats) -> LaunchPaths:
    n = len(subject)
    level = np.broadcast_to(share[:, None], (n, 12)).copy()
    blank = np.full((n, 12), np.nan)
    return LaunchPaths(np.array(subject), np.arange(n), level, np.ones((n, 12)), blank, blank)


class Pooled(TestCase):
    def test_many_of_its_own_tell_a_subject_and_few_lean_on_the_category(self) -> None:
        category = np.array([0, 0, 1])
        theirs = [0.01] * 100
        for own, near in ((2, 0.01), (100, 0.2)):
            paths = made_paths([0] * own + [1] * 100, np.array([0.2] * own + theirs))
            found = newcomers_path(paths, category, 0)
            self.assertEqual((found.own[0], found.pooled[0]), (own, 100))
            self.assertAlmostEqual(found.quantiles[LEVELS.index(0.5), 0], near, places=6)

    def test_another_category_says_nothing(self) -> None:
        paths = made_paths([0] * 3 + [2] * 50, np.full(53, 0.1))
        found = newcomers_path(paths, np.array([0, 0, 1]), 0)
        self.assertEqual(found.pooled.sum(), 0)
        self.assertLess(3, FEWEST)
        self.assertFalse(found.known.any())
        # Nor does a subject without a category lean on others that have none.
        found = newcomers_path(paths, np.array([-1, -1, -1]), 0)
        self.assertFalse(found.known.any())


class Quantiles(TestCase):
    @given(st.lists(st.floats(0, 1), min_size=2, max_size=40))
    def test_equal_weights_are_weibull_s(self, values: list[float]) -> None:
        """Against numpy's method of that name, between the lowest value and the highest."""
        n = len(values)
        levels = [one for one in LEVELS if 1 / (n + 1) <= one <= n / (n + 1)]
        found = weighted_quantiles(np.array(values), np.ones(n), levels)
        np.testing.assert_allclose(
            found, np.quantile(values, levels, method="weibull"), rtol=1e-9, atol=1e-12
        )

    def test_the_next_one_lies_below_as_often_as_is_said(self) -> None:
        """Also where only a dozen are known: the tenth and the ninetieth hold eight in ten of what comes next."""
        rng = np.random.default_rng(3)
        inside = 0
        for _ in range(4_000):
            *known, after = rng.beta(1.2, 25, 13)
            low, high = weighted_quantiles(np.array(known), np.ones(12), (0.1, 0.9))
            inside += low <= after <= high
        self.assertAlmostEqual(inside / 4_000, 0.8, delta=0.02)
