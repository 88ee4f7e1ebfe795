"""Dates of seasons: what is caught, until when half can be, and that dates never contradict each other."""

from datetime import date, timedelta
from typing import Any
from unittest import TestCase

import numpy as np

from driftfield.core.base import Floats, Period
from driftfield.core.curves.feasts import FEAST_NAMES, FEASTS, NO_FEAST, feast_dates
from driftfield.core.curves.season_dates import SeasonPlan, plan_seasons
from driftfield.core.curves.seasons import season_starts

from .test_seasons import bell, mean_one


def plan(
    factors: Floats, planning: date, lead: int, *, feast: int = NO_FEAST, as_of: date | None = None,
    **options: Any,
) -> SeasonPlan:  # fmt: skip
    n = len(factors)
    period = options.get("period", Period.WEEK)
    return plan_seasons(
        factors, season_starts(factors, np.zeros_like(factors), 0.25),
        np.full(n, options.get("peak", period.span(13))), np.full(n, feast), period,
        as_of=as_of or planning, planning=planning, lead_days=lead,
    )  # fmt: skip


def day(ordinal: float) -> date:
    return date.fromordinal(int(ordinal))


class WorkedByHand(TestCase):
    """Four weeks carry 10 each (ISO weeks 20 to 23 of 2026, from 11 May on), the other 48 weeks ¼ each:
    52 in all, so that the mean is 1. The season starts in the middle of the level stretch."""

    factors = mean_one(np.where((np.arange(52) >= 19) & (np.arange(52) < 23), 10.0, 0.25))

    def test_a_season_that_can_be_met_from_its_rise(self) -> None:
        found = plan(self.factors, date(2026, 1, 5), 77)
        self.assertEqual(day(found.order_by[0]), date(2026, 5, 11) - timedelta(days=77))
        one = found.planned
        self.assertEqual(day(one.peak_start[0]), date(2026, 5, 11))
        self.assertEqual(day(one.peak_end[0]), date(2026, 6, 7))
        self.assertEqual(day(one.wind_down[0]), date(2026, 6, 8))
        # The one after it has its highest week 71 weeks away.
        self.assertEqual([day(rise).year for rise in one.rise], [2026, 2027])
        # Of the 24 level weeks before the rise those before arrival, 23 March, are lost: 17.
        self.assertAlmostEqual(found.caught[0], 1 - 17 * 0.25 / 52, places=6)

    def test_half_way_through(self) -> None:
        """24 level weeks before, 4 of 10, 24 after: half has passed after two of the four."""
        arrival = date(2026, 5, 25)
        for late, caught in ((0, 26 / 52), (-7, 36 / 52), (-14, 46 / 52)):
            planning = arrival + timedelta(days=late - 77)
            found = plan(self.factors, planning, 77)
            self.assertAlmostEqual(found.caught[0], caught, places=6)
            self.assertEqual(day(found.open_until[0]), arrival - timedelta(days=77))

    def test_a_day_later_it_is_next_years_and_what_is_left_stands_beside(self) -> None:
        planning = date(2026, 5, 26) - timedelta(days=77)
        found = plan(self.factors, planning, 77)
        self.assertEqual(found.caught[0], 1)
        self.assertAlmostEqual(found.running_left[0], (26 - 10 / 7) / 52, places=6)
        self.assertEqual(day(found.order_by[0]), date(2027, 5, 17) - timedelta(days=77))
        self.assertEqual(found.order_by[0], found.next_full[0])

    def test_the_quarter_after_arrival(self) -> None:
        for arrival, share in (
            (date(2026, 5, 11), (40 + 9 * 0.25) / 52),
            (date(2026, 5, 18), (30 + 10 * 0.25) / 52),
            (date(2026, 6, 8), 13 * 0.25 / 52),
            (date(2026, 5, 14), (40 - 30 / 7 + 9 * 0.25 + 3 * 0.25 / 7) / 52),
        ):
            found = plan(self.factors, arrival - timedelta(days=30), 30)
            self.assertAlmostEqual(found.after_arrival[0], share, places=6)

    def test_no_profile_is_unknown_and_a_level_one_has_a_quarter(self) -> None:
        factors = np.array([np.full(52, np.nan), np.ones(52)])
        found = plan_seasons(
            factors, np.zeros((2, 52), dtype=bool), np.full(2, 13), np.full(2, NO_FEAST), Period.WEEK,
            as_of=date(2026, 5, 3), planning=date(2026, 5, 3), lead_days=77,
        )  # fmt: skip
        self.assertTrue(np.isnan(found.after_arrival[0]))
        self.assertAlmostEqual(found.after_arrival[1], 0.25)
        self.assertTrue(np.isnan(found.caught).all() and np.isnan(found.order_by).all())
        self.assertEqual(len(found.planned.rise), 0)

    def test_months(self) -> None:
        """Half of a year's demand in May, 6 level months before it and 5 after: half of the year has passed
        when 6 − 6 × 6/11 = 2.73 of May's 6 have, which is 14.09 of its days."""
        factors = np.full((1, 12), 6 / 11)
        factors[0, 4] = 6
        found = plan(factors, date(2026, 3, 1), 61, period=Period.MONTH)
        self.assertEqual(day(found.order_by[0]), date(2026, 3, 1))
        self.assertEqual(day(found.planned.rise[0]), date(2026, 5, 1))
        self.assertEqual(day(found.open_until[0]) + timedelta(days=61), date(2026, 5, 15))


class TwoSeasons(TestCase):
    def test_the_autumn_one_is_acted_on_when_goods_come_for_it(self) -> None:
        two = mean_one(0.1 + bell(14, 3) + bell(40, 3))
        found = plan(two, date(2026, 5, 3), 77)
        self.assertEqual(day(found.planned.peak_start[0]).year, 2026)
        self.assertGreater(day(found.order_by[0]) + timedelta(days=77), date(2026, 8, 1))
        self.assertGreater(found.caught[0], 0.95)
        # Spring's next one is in the list too, and after it.
        self.assertEqual(day(found.planned.peak_start[1]).year, 2027)

    def test_what_is_left_of_spring_stands_beside_autumn(self) -> None:
        two = mean_one(0.1 + bell(14, 3) + bell(40, 3))
        found = plan(two, date(2026, 1, 26), 77)  # arrival 13 April, a week after spring's peak
        self.assertTrue(0.2 < found.running_left[0] < 0.5)
        self.assertEqual(found.caught[0], 1)


class Feasts(TestCase):
    def test_a_season_moves_with_its_feast(self) -> None:
        """Dates of Easter from the published ecclesiastical tables: 5 April 2026, 28 March 2027, 16 April
        2028. The profile is that of 2026, with its best week four weeks before."""
        easter = FEAST_NAMES.index("Easter")
        known = list(feast_dates(FEASTS[easter], 2026, 2028))
        self.assertEqual(known, [date(2026, 4, 5), date(2027, 3, 28), date(2028, 4, 16)])
        factors = mean_one(0.02 + bell(9, 1.2))
        for planning in (date(2026, 1, 4), date(2026, 11, 1), date(2027, 11, 7)):
            found = plan(factors, planning, 14, feast=easter, as_of=date(2026, 1, 4), peak=4)
            start, end = (day(getattr(found.planned, n)[0]) for n in ("peak_start", "peak_end"))
            middle = start + (end - start) / 2
            own = next(one for one in known if one.year == middle.year)
            self.assertLessEqual(abs((own - middle).days - 33), 7, (planning, middle))


class NeverContradict(TestCase):
    def test_dates_of_one_season_keep_their_order_on_a_hundred_thousand_profiles(self) -> None:
        """rise ≤ peak start ≤ peak end ≤ wind-down ≤ end, and seasons do not overlap."""
        rng = np.random.default_rng(19)
        for planning, lead, peak in (
            (date(2026, 5, 17), 77, 13),
            (date(2020, 12, 31), 0, 4),
            (date(2027, 2, 28), 730, 13),
            (date(2026, 1, 1), 200, 13),
        ):
            factors = _profiles(rng, 25_000)
            found = plan(factors, planning, lead, peak=peak)
            one = found.planned
            for before, after in (
                (one.rise, one.peak_start), (one.peak_start, one.peak_end),
                (one.peak_end, one.wind_down), (one.wind_down, one.end),
            ):  # fmt: skip
                self.assertTrue((before <= after).all())
            same = one.subject[1:] == one.subject[:-1]
            self.assertTrue((one.end[:-1] < one.rise[1:])[same].all())
            self.assertTrue((one.peak_start[:-1] < one.peak_start[1:])[same].all())
            self.assertTrue((one.end >= planning.toordinal() + lead).all())
            self.assertTrue(((one.caught >= 0) & (one.caught <= 1) & (one.share > 0)).all())
            self.assertTrue((found.order_by <= found.open_until).all())
            self.assertTrue((found.open_until >= planning.toordinal()).all())
            self.assertTrue((found.next_full >= planning.toordinal()).all())
            self.assertTrue((found.caught >= 0.5 - 1e-9).all())
            self.assertTrue((found.running_left[~np.isnan(found.running_left)] < 0.5).all())

    def test_ordering_on_the_last_open_day_catches_half_and_a_day_later_less(self) -> None:
        factors = _profiles(np.random.default_rng(5), 200)
        first = plan(factors, date(2026, 5, 17), 77)
        for row in range(0, 200, 7):
            one, last = factors[row : row + 1], day(first.open_until[row])
            on = plan(one, last, 77)
            self.assertEqual(on.order_by[0], first.order_by[row])
            self.assertGreaterEqual(on.caught[0], 0.5 - 1e-9)
            later = plan(one, last + timedelta(days=1), 77)
            self.assertNotEqual(later.order_by[0], first.order_by[row])

    def test_a_market_is_planned_as_its_parts_are(self) -> None:
        factors = _profiles(np.random.default_rng(6), 5000)  # more than are dated at once
        whole = plan(factors, date(2026, 5, 17), 77)
        part = plan(factors[4090:4110], date(2026, 5, 17), 77)
        np.testing.assert_array_equal(whole.order_by[4090:4110], part.order_by)
        mine = (whole.planned.subject >= 4090) & (whole.planned.subject < 4110)
        np.testing.assert_array_equal(whole.planned.end[mine], part.planned.end)


def _profiles(rng: np.random.Generator, n: int) -> Floats:
    """Random years, from white noise to smooth humps."""
    made = rng.gamma(rng.uniform(0.3, 5, (n, 1)), 1, (n, 52)) + 1e-6
    for _ in range(8):
        some = rng.random(n) < 0.6
        made[some] = (
            np.roll(made[some], 1, axis=1) + 2 * made[some] + np.roll(made[some], -1, axis=1)
        ) / 4
    return np.asarray(made / made.mean(axis=1, keepdims=True))
