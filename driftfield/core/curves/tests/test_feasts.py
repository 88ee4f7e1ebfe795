"""Feasts that move: their dates, and the niches that keep time with them."""

from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves.feasts import (
    FEAST_NAMES,
    FEASTS,
    feast_axis,
    feast_dates,
    feasts_between,
    weeks_from,
)
from driftfield.core.curves.reading import CurveReadings, read_curves

from .synthetic import TIMELINE, counted, hump

EASTER, RAMADAN, DIWALI, NEW_YEAR = FEASTS


def around(name: str, ahead: float = -1, spread: float = 1.3) -> np.ndarray:
    """Expected searches that hang on a feast, a fixed number of weeks before it."""
    weeks = weeks_from(FEASTS[FEAST_NAMES.index(name)], TIMELINE)
    return 40 + 4000 * np.exp(-0.5 * ((weeks - ahead) / spread) ** 2)


def read(*expected: np.ndarray, n: int = 20) -> CurveReadings:
    return read_curves(np.concatenate([counted(e, n) for e in expected]), TIMELINE, DEFAULTS)


class Dates(TestCase):
    def test_easter_as_in_the_published_tables(self) -> None:
        # Sundays of the Gregorian Easter, from the tables of the Book of Common Prayer; 1818 and
        # 1943 have the earliest and the latest date there is.
        for day in (
            date(1943, 4, 25), date(1954, 4, 18), date(2000, 4, 23), date(2008, 3, 23), date(2011, 4, 24),
            date(2016, 3, 27), date(2024, 3, 31), date(2025, 4, 20), date(2026, 4, 5), date(2027, 3, 28),
        ):  # fmt: skip
            self.assertEqual(feast_dates(EASTER, day.year, day.year), (day,))

    def test_the_others_as_calendars_printed_them(self) -> None:
        # From memory of printed calendars; Ramadan as seen in south-east Asia.
        for feast, day in (
            (NEW_YEAR, date(2023, 1, 22)), (NEW_YEAR, date(2024, 2, 10)), (NEW_YEAR, date(2025, 1, 29)),
            (DIWALI, date(2022, 10, 24)), (DIWALI, date(2023, 11, 12)), (DIWALI, date(2025, 10, 20)),
            (RAMADAN, date(2022, 4, 3)), (RAMADAN, date(2023, 3, 23)), (RAMADAN, date(2025, 3, 2)),
        ):  # fmt: skip
            self.assertEqual(feast_dates(feast, day.year, day.year), (day,), feast.name)

    def test_ramadan_may_come_twice_a_year(self) -> None:
        found = feast_dates(RAMADAN, 2030, 2030)
        self.assertEqual([day.month for day in found], [1, 12])

    def test_week_nought_holds_the_feast(self) -> None:
        for feast in FEASTS:
            weeks = weeks_from(feast, TIMELINE)
            starts = [TIMELINE.start(int(i)) for i in np.flatnonzero(weeks == 0)]
            for day in feast_dates(feast, 2022, 2025):
                # A week counts by its Thursday, so a feast may fall up to three days outside.
                self.assertTrue(any(-3 <= (day - start).days <= 9 for start in starts), day)

    def test_whole_years_lie_inside_the_record(self) -> None:
        axis = feast_axis(EASTER, TIMELINE)
        self.assertEqual(axis.years.shape[1], 52)
        self.assertTrue((axis.years >= 0).all() and (axis.years < TIMELINE.length).all())
        self.assertTrue((axis.slots[axis.years[:, 26]] == 26).all())


class KeepsTime(TestCase):
    def test_each_feast_is_named_with_its_gain(self) -> None:
        found = read(*(around(name) for name in FEAST_NAMES))
        for i, name in enumerate(FEAST_NAMES):
            mine = slice(20 * i, 20 * i + 20)
            self.assertGreaterEqual(np.mean(found.feast[mine] == i), 0.95, name)
            self.assertGreaterEqual(float(np.nanmin(found.feast_gain[mine])), DEFAULTS.feast_gain)
            self.assertTrue((found.shape.shape[mine] == "Occasion").all(), name)

    def test_what_keeps_to_the_calendar_names_none(self) -> None:
        found = read(40 + 4000 * hump(14, 1.3), 40 + 4000 * hump(6, 1.3), np.full(260, 300.0), n=60)
        self.assertEqual(int((found.feast >= 0).sum()), 0)
        self.assertTrue(np.isnan(found.feast_gain).all())

    def test_peak_and_profile_are_the_coming_years(self) -> None:
        found = read(around("Easter"))
        # The record ends in May 2026; Easter 2027 is on 28 March, in week 12, and buying a week before.
        peak = (found.shape.peak_start[:, None] + np.arange(4)) % 52 + 1
        self.assertTrue((peak == 11).any(axis=1).all())
        np.testing.assert_allclose(found.factors.mean(axis=1), 1, rtol=0.05)

    def test_a_year_apart_the_feast_is_in_the_season_part(self) -> None:
        # Up to 27 March 2026, a week and a half before Easter; a year before, three weeks and more.
        early = TIMELINE.upto(date(2026, 3, 29))
        values = counted(around("Easter", -1, 1.5), 20)[:, : early.length]
        split = read_curves(values, early, DEFAULTS).year_on_year
        self.assertGreater(float(np.median(split.raw)), 2)
        self.assertLess(float(np.abs(np.median(split.drift))), 0.2)

    def test_two_years_are_too_few_to_name_a_feast(self) -> None:
        short = Timeline(Period.WEEK, TIMELINE.start(130), 130)
        found = read_curves(counted(around("Easter"))[:, 130:], short, DEFAULTS)
        self.assertEqual(found.feast[0], -1)


class OneWindowOnly(TestCase):
    def test_easter_in_one_of_two_windows_a_year_apart(self) -> None:
        # 13 weeks up to 5 April 2026 hold Easter (5 April); the same a year before ended on 6 April
        # 2025, two weeks before Easter (20 April).
        line = TIMELINE.upto(date(2026, 4, 5))
        late = slice(line.length - 13, line.length)
        early = slice(line.length - 65, line.length - 52)
        self.assertIn("Easter", feasts_between(line, late, early))

    def test_a_feast_in_both_windows_is_no_reason(self) -> None:
        line = TIMELINE.upto(date(2026, 4, 26))
        late = slice(line.length - 13, line.length)
        early = slice(line.length - 65, line.length - 52)
        self.assertNotIn("Easter", feasts_between(line, late, early))
