"""The almanac: the same dates as plans have, all seasons of a window, and the usual year week by week."""

from datetime import date, timedelta
from itertools import pairwise
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from driftfield.core.base import DEFAULTS, Floats, Period
from driftfield.core.curves.feasts import FEAST_NAMES, FEASTS, feast_dates
from driftfield.core.curves.seasons import season_starts
from driftfield.core.curves.tests.test_seasons import bell, mean_one
from driftfield.core.market import (
    SeasonInputs,
    Window,
    almanac_rows,
    feasts_in,
    knows_holidays,
    plan_subjects,
)

AS_OF = date(2026, 5, 17)
PROFILES = mean_one(
    0.2 + bell(30, 5), 0.05 + bell(2, 3), 0.3 + 2 * bell(14, 3) + 1.6 * bell(40, 3), 0.02 + bell(51, 2),
    0.4 + bell(20, 9),
)  # fmt: skip


def inputs(factors: Floats, feast: str | None = None, shape: str = "Seasonal") -> SeasonInputs:
    n = len(factors)
    return SeasonInputs(
        np.array([shape] * n, dtype=object), np.array([feast] * n, dtype=object), factors,
        season_starts(factors, np.zeros_like(factors), 0.25),
        Period.WEEK if factors.shape[1] == 52 else Period.MONTH, AS_OF,
    )  # fmt: skip


class WithPlans(TestCase):
    @given(st.integers(0, 500), st.integers(0, 200))
    def test_the_next_deadline_is_that_of_the_season_to_act_on(self, later: int, lead: int) -> None:
        planning = AS_OF + timedelta(days=later)
        settings = DEFAULTS.with_pairs([f"lead_days={lead}"])
        plan = plan_subjects(inputs(PROFILES), settings, planning)
        rows = almanac_rows(
            inputs(PROFILES), np.full(len(PROFILES), lead), planning, Window.from_month_of(planning)
        )
        for at, row in enumerate(rows):
            due = row.next(planning)
            assert due is not None
            order_by = plan.order_by[at]
            on_time = order_by >= planning.toordinal()
            self.assertEqual(due.what, "order" if on_time else "order_half")
            expected = order_by if on_time else plan.open_until[at]
            self.assertEqual(due.day.toordinal(), expected)
            self.assertAlmostEqual(due.season.caught, plan.caught[at], places=5)
            # Dates of one season never contradict one another, and seasons do not overlap.
            for one in row.seasons:
                self.assertTrue(one.start <= one.rise <= one.peak_start <= one.peak_end <= one.end)
                self.assertLessEqual(one.wind_down, one.end)
                self.assertLessEqual(one.order_by, one.open_until + timedelta(days=lead))
            for one, other in pairwise(row.seasons):
                self.assertLess(one.end, other.start)

    def test_each_subject_has_a_lead_time_of_its_own(self) -> None:
        rows = almanac_rows(
            inputs(PROFILES[:2]), np.array([10, 100]), AS_OF, Window.from_month_of(AS_OF)
        )
        for row, lead in zip(rows, (10, 100), strict=True):
            self.assertEqual(row.lead_days, lead)
            for one in row.seasons:
                self.assertEqual(one.rise - one.order_by, timedelta(days=lead))


class OfAWindow(TestCase):
    def test_fifteen_whole_months(self) -> None:
        window = Window.from_month_of(date(2026, 11, 15))
        self.assertEqual((window.first, window.last), (date(2026, 11, 1), date(2028, 1, 31)))
        self.assertEqual(window.weeks, 66)  # 457 days

    def test_a_season_that_runs_and_cannot_be_met_any_more_is_shown(self) -> None:
        """Its peak lies in the first days of the year; the window begins in January."""
        planning = date(2027, 1, 10)
        (row,) = almanac_rows(
            inputs(PROFILES[1:2]), np.array([77]), planning, Window.from_month_of(planning)
        )
        self.assertLess(row.seasons[0].peak_start, planning)
        self.assertLess(row.seasons[0].open_until, planning)
        due = row.next(planning)
        self.assertTrue(due and due.season is row.seasons[1])

    def test_what_happens_comes_by_day_from_the_planning_date_on(self) -> None:
        window = Window.from_month_of(AS_OF)
        (row,) = almanac_rows(inputs(PROFILES[2:3]), np.array([60]), AS_OF, window)
        found = row.happenings(AS_OF, window.last)
        days = [one.day for one in found]
        self.assertEqual(days, sorted(days))
        self.assertTrue(all(AS_OF <= one <= window.last for one in days))
        autumn = [one.what for one in found if one.season is found[0].season]
        self.assertEqual(sorted(autumn), ["order", "order_half", "peak", "rise", "wind_down"])

    def test_where_no_calendar_is_known_there_are_no_dates(self) -> None:
        for shape in ("Fad", "Unsettled"):
            (row,) = almanac_rows(
                inputs(PROFILES[:1], shape=shape), np.array([77]), AS_OF, Window.from_month_of(AS_OF)
            )  # fmt: skip
            self.assertEqual((row.seasons, row.levels, row.next(AS_OF)), ([], [], None))


class UsualYear(TestCase):
    def test_levels_are_the_profile_of_their_weeks(self) -> None:
        window = Window.from_month_of(AS_OF)
        (row,) = almanac_rows(inputs(PROFILES[:1]), np.array([77]), AS_OF, window)
        for week, level in enumerate(row.levels):
            middle = window.first + timedelta(days=7 * week + 3)
            slot = min(middle.isocalendar().week, 52) - 1
            self.assertAlmostEqual(level, PROFILES[0, slot], delta=0.001)
        # Now, of the year's highest.
        now = PROFILES[0, AS_OF.isocalendar().week - 1] / PROFILES[0].max()
        self.assertAlmostEqual(row.seasons[-1].level or 0, now, places=3)

    def test_months(self) -> None:
        factors = mean_one(np.array([1.0, 1, 1, 2, 4, 6, 4, 2, 1, 1, 1, 1]))
        window = Window.from_month_of(AS_OF)
        (row,) = almanac_rows(inputs(factors), np.array([30]), AS_OF, window)
        self.assertEqual(row.seasons[-1].peak_start.day, 1)
        self.assertAlmostEqual(max(row.levels), factors.max(), places=3)

    def test_a_curve_that_keeps_time_with_easter_is_highest_where_easter_lies(self) -> None:
        """Dates of Easter from the published ecclesiastical tables: 5 April 2026, 28 March 2027, 16 April 2028.
        The profile is that of 2027, with its best week in the one before."""
        easter = FEASTS[FEAST_NAMES.index("Easter")]
        known = list(feast_dates(easter, 2027, 2028))
        self.assertEqual(known, [date(2027, 3, 28), date(2028, 4, 16)])
        factors = mean_one(0.02 + bell(11, 1.2))
        for planning, day in zip((AS_OF, date(2027, 5, 17)), known, strict=True):
            window = Window.from_month_of(planning)
            (row,) = almanac_rows(inputs(factors, "Easter"), np.array([77]), planning, window)
            highest = window.first + timedelta(days=7 * int(np.argmax(row.levels)))
            self.assertTrue(timedelta(0) <= day - highest <= timedelta(days=14), (day, highest))
            self.assertTrue(all(level >= 0 for level in row.levels))


class FeastDays(TestCase):
    def test_public_holidays_of_a_country_beside_the_moving_feasts(self) -> None:
        """Bank holidays as gov.uk publishes them for England: Good Friday 26 March, 31 May 2027."""
        window = Window(date(2027, 1, 1), date(2027, 6, 30))
        found = {one.name: one for one in feasts_in(window, "GB")}
        self.assertEqual(found["Easter"].day, date(2027, 3, 28))
        self.assertTrue(found["Easter"].moving)
        self.assertEqual(found["Good Friday"].day, date(2027, 3, 26))
        self.assertEqual(found["Spring Bank Holiday"].day, date(2027, 5, 31))

    def test_of_a_country_that_is_not_known_the_moving_ones_alone(self) -> None:
        window = Window(date(2027, 1, 1), date(2027, 6, 30))
        self.assertFalse(knows_holidays("XX") or knows_holidays(""))
        self.assertTrue(all(one.moving for one in feasts_in(window, "XX")))
