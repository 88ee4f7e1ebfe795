from unittest import TestCase

import numpy as np

from driftfield.core.curves.outliers import outlying

from .synthetic import AHEAD, counted, hump, sine


def marked(values: np.ndarray) -> list[int]:
    marks, _ = outlying(values, 52)
    return [int(at) for at in np.flatnonzero(marks[0])]


class Months(TestCase):
    def test_a_wild_month_is_and_a_growing_seasons_last_peak_is_not(self) -> None:
        months = np.arange(60)
        peaks = 100 + 900 * (months % 12 == 11)
        growing = np.round(peaks * 2.0 ** (months / 12))
        odd = np.full(60, 400.0)
        odd[30] = 1000
        marks, stand_in = outlying(np.stack([growing, odd]), 12)
        self.assertEqual(list(marks.sum(axis=1)), [0, 1])
        self.assertTrue(marks[1, 30])
        self.assertEqual(stand_in[1, 30], 400)


class WildWeeks(TestCase):
    def test_one_is_found_wherever_it_falls(self) -> None:
        for at in (0, 100, 203, 259):
            values = counted(300 * sine(20, 0.4))
            values[0, at] *= 12
            self.assertEqual(marked(values), [at])

    def test_the_stand_in_is_like_its_neighbours(self) -> None:
        values = counted(np.full(260, 300.0))
        values[0, 100] = 9000
        self.assertAlmostEqual(outlying(values, 52)[1][0, 100], 300, delta=40)

    def test_seasons_occasions_growth_and_noise_have_none(self) -> None:
        for expected in (
            300 * (0.1 + 5 * hump(20, 4)),
            9000 * hump(3, 0.8),
            60 * 2 ** (AHEAD / 52) * (0.1 + 5 * hump(20, 4)),
            np.full(260, 2.0),
        ):
            marks, _ = outlying(counted(expected, 200), 52)
            self.assertLess(marks.any(axis=1).mean(), 0.02)

    def test_a_feast_that_moves_is_no_outlier(self) -> None:
        values = np.full((1, 260), 5.0)
        for year, week in enumerate((16, 14, 13, 16, 14)):
            values[0, year * 52 + week] = 900
        self.assertEqual(marked(values), [])
