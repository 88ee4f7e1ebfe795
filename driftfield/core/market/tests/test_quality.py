"""What was read of a curve, what was left out, and why."""

from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS
from driftfield.core.curves import bridge, read_curves
from driftfield.core.curves.align import before_launch
from driftfield.core.curves.tests.synthetic import AHEAD, TIMELINE, counted, hump, sine
from driftfield.core.market.runner import MarketData, compute_figures


def figures(values: np.ndarray) -> dict[str, np.ndarray]:
    n = len(values)
    return compute_figures(MarketData(TIMELINE, [f"n{i}" for i in range(n)], np.arange(n), values))


class BeforeLaunch(TestCase):
    def test_zeros_before_a_launch_are_no_record(self) -> None:
        for started in (10, 70, 150):
            expected = np.where(started > AHEAD, 0, 300 * sine(20, 0.3))
            found = before_launch(counted(expected), 52, DEFAULTS.launch_counts)
            self.assertEqual(found[0], started)

    def test_a_seasons_own_zeros_are(self) -> None:
        # The record begins in May; an occasion in January sells nothing for half a year and more.
        season = hump(3, 1.2) * (hump(3, 1.2) > 0.01)
        values = counted(2000 * season)
        self.assertGreater(int((values[0] > 0).argmax()), 25)
        self.assertEqual(before_launch(values, 52, DEFAULTS.launch_counts)[0], 0)

    def test_few_searches_and_none_at_all(self) -> None:
        values = np.stack([counted(np.full(260, 0.3))[0], np.zeros(260), np.full(260, np.nan)])
        values[0, :6] = 0
        self.assertEqual(list(before_launch(values, 52, DEFAULTS.launch_counts)), [0, 0, 0])

    def test_a_launch_reads_like_a_curve_that_began_then(self) -> None:
        expected = 300 * sine(20, 0.35)
        late = counted(expected)
        zeros, absent = late.copy(), late.copy()
        zeros[:, :120], absent[:, :120] = 0, np.nan
        first, second = (read_curves(v, TIMELINE, DEFAULTS) for v in (zeros, absent))
        self.assertEqual(first.shape.shape[0], "Leaning")
        self.assertEqual(first.rate[0], second.rate[0])
        self.assertEqual((first.not_yet[0], second.not_yet[0]), (120, 0))
        self.assertEqual(first.begin[0], 120)


class Life(TestCase):
    def test_new_fading_gone_and_established(self) -> None:
        young = np.where(AHEAD < 180, np.nan, 300.0)
        fading = 800 * 0.45 ** (AHEAD / 52)
        burst = 20 + 4000 * np.exp(-0.5 * ((AHEAD - 110) / 8) ** 2)
        values = np.concatenate(
            [
                counted(np.nan_to_num(young)),
                counted(fading),
                counted(burst),
                counted(np.full(260, 300.0)),
            ]
        )
        values[0][np.isnan(young)] = np.nan
        found = figures(values)
        self.assertEqual(list(found["life"]), ["New", "Fading", "Gone", "Established"])
        self.assertEqual(list(found["shape"]), ["Unsettled", "Evergreen", "Fad", "Evergreen"])
        self.assertEqual(found["drift"][1], "Easing")


class LeftOut(TestCase):
    def test_says_what_and_why(self) -> None:
        values = counted(300 * sine(20, 0.3), 5)
        values[1, 40:43] = np.nan
        values[1, 90] = np.nan
        values[2, 200] *= 15
        values[3, :60] = 0
        values[3, 150] = np.nan
        found = figures(values)
        self.assertEqual(
            list(found["left_out"]),
            [
                None,
                "4 weeks bridged.",
                "1 outlying week left out of all but the raw change.",
                "60 weeks of zeros from before its launch left out; 1 week bridged.",
                None,
            ],
        )
        self.assertEqual(list(found["gaps"]), [0, 2, 0, 1, 0])
        self.assertEqual(found["read_from"][3], TIMELINE.start(60).isoformat())
        self.assertAlmostEqual(found["coverage"][1], 256 / 260)

    def test_what_lies_before_a_gap_too_long_to_bridge(self) -> None:
        values = counted(np.full(260, 300.0))
        values[0, 8:70] = np.nan
        found = figures(values)
        self.assertIn("18 weeks up to the end of a gap too long to bridge", found["left_out"][0])
        self.assertEqual(found["periods"][0], 242)

    def test_whole_curves_pass_untouched_beside_holed_ones(self) -> None:
        values = counted(np.full(260, 50.0), 3)
        values[1, 100] = np.nan
        found = bridge(values, 4, 52)
        np.testing.assert_array_equal(found.values[[0, 2]], values[[0, 2]])
        self.assertEqual(list(found.bridged), [0, 1, 0])
        self.assertEqual(list(found.gaps), [0, 1, 0])
        self.assertTrue(np.isnan(values[1, 100]), "what came in is not written to")
