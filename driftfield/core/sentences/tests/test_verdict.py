from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.base import Period
from driftfield.core.curves import next_call
from driftfield.core.curves.seasons import season_marks
from driftfield.core.market import NICHE, figures_of
from driftfield.core.sentences.verdict import format_change, verdict

SEASONAL = {
    **{f.key: None for f in figures_of(NICHE)},
    "as_of": "2026-05-17", "period": "week", "shape": "Seasonal", "shape_family": "seasonal",
    "best13": 0.78, "peak_weeks": list(range(3, 16)), "rise_week": 2,
    "growth_13w.raw": -0.17, "growth_13w.season": -0.2, "growth_13w.drift": 0.04,
    "growth_13w.drift_low": -0.03, "growth_13w.drift_high": 0.11,
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
            "Down 17% in 13 weeks: the usual February-to-May fall makes −20%, the remaining +4% is drift "
            "(−3% to +11%).",
        )
        self.assertEqual(drift, "A year it drifts +25% (+19% to +28%).")
        self.assertEqual(call, "Order by 26 Oct 2026 to be on sale when the rise begins, 11 Jan.")

    def test_months_are_said_as_months(self) -> None:
        monthly = SEASONAL | {"period": "month", "peak_weeks": [1, 2, 3], "rise_week": 12}
        answer = verdict(monthly, 77)
        self.assertIn("the best three months carry 78% of the year", answer[0])
        self.assertIn("in 3 months", answer[1])
        occasion = monthly | {"shape": "Occasion", "best4": 0.6, "peak_weeks": [1]}
        self.assertIn("in January: the best month carries 60%", verdict(occasion, 77)[0])

    def test_feast_second_hump_and_doubts(self) -> None:
        feast = SEASONAL | {
            "feast": "Easter", "peak_weeks": [11, 12, 13, 14], "second_peak_weeks": [40, 41, 42],
            "season_changed": True, "borrowed": 0.35, "yoy_feasts": "Easter, Ramadan",
            "growth_yoy.raw": 0.25,
            "level_shifts": [{"from": "2025-03-03", "size": 0.4}, {"from": "2025-11-03", "size": -0.3}],
        }  # fmt: skip
        answer = " ".join(verdict(feast, 77))
        for part in (
            "with Easter, next in March",
            "It rises a second time between September and October.",
            "apart from level shifts of +40% in March 2025 and −30% in November 2025.",
            "A year ago the same 13 weeks stood 20% lower, but Easter fell in one of the two windows",
            "Its season has moved",
            "35% of its season is borrowed from its category",
        ):
            self.assertIn(part, answer)

    def test_no_caution_for_a_feast_it_does_not_keep(self) -> None:
        other = SEASONAL | {"feast": "Diwali", "yoy_feasts": "Easter", "growth_yoy.raw": 0.25}
        self.assertNotIn("A year ago", " ".join(verdict(other, 77)))

    def test_a_change_is_never_said_without_its_split(self) -> None:
        unknown = SEASONAL | {"growth_13w.season": None, "growth_13w.drift": None}
        self.assertIn("what the calendar did in that is unknown", verdict(unknown, 77)[1])

    def test_evergreen_goods_have_no_order_date(self) -> None:
        evergreen = SEASONAL | {"shape": "Evergreen", "shape_family": "evergreen", "best13": 0.25}
        answer = verdict(evergreen | {"rise_week": None, "peak_weeks": None}, 77)
        self.assertEqual(answer[0], "Sells level all year: no season stands out from the noise.")
        self.assertFalse(any("Order" in sentence for sentence in answer))

    def test_each_shape_is_said_by_what_the_calendar_does(self) -> None:
        for changed, expected in (
            (
                {"shape": "Evergreen", "best13": 0.28},
                "Sells about level all year: the best quarter carries 28%, a flat year 25%.",
            ),
            (
                {"shape": "Leaning", "best13": 0.34},
                "Sells all year and leans between January and April: the best quarter carries 34% of the year.",
            ),
            (
                {"shape": "Fad"},
                "One burst carries most of its record, and it has not come back.",
            ),
            (
                {"shape": "Unsettled", "shape_reason": "There are 60 weeks; two years are needed.", "provisional": "Seasonal"},
                "There are 60 weeks; two years are needed. So far it looks seasonal.",
            ),
            ({"shape": "Unsettled", "shape_reason": None}, "It swings without a pattern."),
        ):  # fmt: skip
            self.assertEqual(verdict(SEASONAL | changed, 77)[0], expected)

    def test_a_burst_and_a_gap_claim_no_split(self) -> None:
        fad = SEASONAL | {"shape": "Fad", "growth_13w.raw": -0.4}
        answer = verdict(fad, 77)
        self.assertIn("no calendar by which season and drift could be told apart", answer[1])
        # After a burst a drift a year would only tell how it died.
        self.assertFalse(any("A year it drifts" in sentence for sentence in answer))
        gap = verdict(SEASONAL | {"growth_13w.raw": None}, 77)
        self.assertIn("cannot be compared: figures are missing or were near zero before", gap[1])

    def test_level_changes_and_calendars_without_a_part(self) -> None:
        level = SEASONAL | {"growth_13w.raw": 0.0}
        self.assertTrue(verdict(level, 77)[1].startswith("Level over 13 weeks: the usual"))
        none = SEASONAL | {"growth_13w.season": 0.0, "growth_13w.drift_low": None}
        self.assertEqual(
            verdict(none, 77)[1],
            "Down 17% in 13 weeks, and the calendar has no part in it: drift is +4%.",
        )
        rising = SEASONAL | {"growth_13w.raw": 0.3, "growth_13w.season": 0.25}
        self.assertIn("Up 30% in 13 weeks: the usual February-to-May rise", verdict(rising, 77)[1])

    def test_relative_curves_and_disagreement_are_doubts(self) -> None:
        relative = " ".join(verdict(SEASONAL | {"basis": "relative"}, 77))
        self.assertIn("its level cannot be summed, ranked or turned into counts", relative)
        apart = " ".join(verdict(SEASONAL | {"interest_agreement": 0.31}, 77))
        self.assertIn("Counts and relative curve disagree (rank correlation 0.31).", apart)
        self.assertNotIn("disagree", " ".join(verdict(SEASONAL | {"interest_agreement": 0.8}, 77)))

    def test_how_far_a_year_ago_stood_is_said_from_today(self) -> None:
        feast = SEASONAL | {"feast": "Easter", "yoy_feasts": "Easter"}
        for change, expected in (
            (1.0, "50% lower"),
            (-0.5, "100% higher"),
            (-0.995, "far higher"),
            (0.0, "as high"),
        ):
            text = " ".join(verdict(feast | {"growth_yoy.raw": change}, 77))
            self.assertIn(f"A year ago the same 13 weeks stood {expected}, but Easter", text)

    def test_changes_from_almost_nothing_are_words(self) -> None:
        for change, words in (
            (1e6, "from near zero"), (16.0, "×17"), (0.5, "+50%"), (0.0, "±0%"), (0.003, "±0%"), (-0.3, "−30%"),
            (-0.96, "÷25"), (-0.999, "to almost nothing"),
        ):  # fmt: skip
            self.assertEqual(format_change(change), words)


class Dates(TestCase):
    def test_the_next_season_that_can_be_met(self) -> None:
        call = next_call(10, Period.WEEK, date(2026, 1, 18), 77)
        self.assertEqual(call.missed, date(2025, 12, 22))
        self.assertEqual(call.order_by, date(2026, 12, 28))
        self.assertEqual((call.rise - call.order_by).days, 77)

    def test_an_order_by_of_today_can_be_met(self) -> None:
        call = next_call(10, Period.WEEK, date(2025, 12, 22), 77)
        self.assertEqual((call.order_by, call.missed), (date(2025, 12, 22), None))

    def test_the_marks_of_a_season(self) -> None:
        factors = np.full((2, 52), 0.4)
        factors[0, [49, 50, 51, 0, 1, 2]] = 4.8
        factors[0, 20:24] = 2.0
        factors[1] = 1
        factors[0] /= factors[0].mean()
        found = season_marks(factors, np.array([47, 0]), np.array([13, 13]), 0.5, 0.1)
        self.assertEqual(list(found.rise), [49, -1])
        self.assertEqual(list(found.end), [2, -1])
        self.assertEqual((found.quiet[0], found.quiet_length[0]), (24, 25))
        self.assertEqual((found.second[0], found.second_length[0]), (20, 4))

    def test_one_hump_is_one(self) -> None:
        weeks = np.arange(52)
        bell = np.exp(-0.5 * ((weeks - 30) / 5) ** 2)
        factors = (0.2 + bell) / (0.2 + bell).mean()
        found = season_marks(factors[None], np.array([24]), np.array([13]), 0.5, 0.25)
        self.assertEqual(found.second_length[0], 0)
        self.assertTrue(factors[found.rise[0]] > 1 >= factors[found.rise[0] - 1])
        self.assertTrue(factors[found.end[0]] > 1 >= factors[found.end[0] + 1])
