from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.dates import next_call, rise_start
from driftfield.core.figures import FIGURES
from driftfield.core.periods import Period
from driftfield.core.verdict import say_change, verdict

SEASONAL = {
    **{f.key: None for f in FIGURES},
    "as_of": "2026-05-17", "period": "week", "shape": "Seasonal", "shape_family": "seasonal",
    "best13": 0.78, "peak_weeks": list(range(3, 16)), "rise_week": 2,
    "growth_13w.raw": -0.17, "growth_13w.season": -0.2, "growth_13w.drift": 0.04,
    "drift_rate_year": 0.25, "drift_low": 0.19, "drift_high": 0.28,
}  # fmt: skip


class Sentences(TestCase):
    def test_season_change_drift_and_date(self) -> None:
        shape, change, drift, call = verdict(SEASONAL, 77)
        self.assertEqual(
            shape,
            "Comes every year between January and April: the best quarter carries 78% of the year.",
        )
        self.assertEqual(
            change,
            "The last 13 weeks look like −17%: the calendar alone makes it −20%, so the drift is +4%.",
        )
        self.assertEqual(drift, "A year it drifts +25% (+19% to +28%).")
        self.assertEqual(call, "Order by 26 Oct 2026 to be on sale when the rise begins, 11 Jan.")

    def test_a_change_is_never_said_without_its_split(self) -> None:
        unknown = SEASONAL | {"growth_13w.season": None, "growth_13w.drift": None}
        self.assertIn("what the calendar did in that is unknown", verdict(unknown, 77)[1])

    def test_evergreen_goods_have_no_order_date(self) -> None:
        evergreen = SEASONAL | {"shape": "Evergreen", "shape_family": "evergreen", "best13": 0.25}
        said = verdict(evergreen | {"rise_week": None, "peak_weeks": None}, 77)
        self.assertEqual(said[0], "Sells level all year: no season stands out from the noise.")
        self.assertFalse(any("Order" in sentence for sentence in said))

    def test_changes_from_almost_nothing_are_words(self) -> None:
        for change, words in (
            (1e6, "from near zero"), (16.0, "×17"), (0.5, "+50%"), (0.0, "±0%"), (-0.3, "−30%"),
            (-0.96, "÷25"), (-0.999, "to almost nothing"),
        ):  # fmt: skip
            self.assertEqual(say_change(change), words)


class Dates(TestCase):
    def test_the_next_season_that_can_be_met(self) -> None:
        call = next_call(10, Period.WEEK, date(2026, 1, 18), 77)
        self.assertEqual(call.missed, date(2025, 12, 22))
        self.assertEqual(call.order_by, date(2026, 12, 28))
        self.assertEqual((call.rise - call.order_by).days, 77)

    def test_an_order_by_of_today_can_be_met(self) -> None:
        call = next_call(10, Period.WEEK, date(2025, 12, 22), 77)
        self.assertEqual((call.order_by, call.missed), (date(2025, 12, 22), None))

    def test_the_rise_starts_where_the_run_above_the_mean_does(self) -> None:
        factors = np.full((2, 52), 0.5)
        factors[0, [49, 50, 51, 0, 1, 2]] = 4.8
        factors[1] = 1
        found = rise_start(factors, np.array([47, 0]), np.array([13, 13]))
        self.assertEqual(list(found), [49, -1])
