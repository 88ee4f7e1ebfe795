from unittest import TestCase

from driftfield.core.market import NICHE, TERM, figures_of
from driftfield.core.sentences.verdict import (
    calendar_answers,
    demand_answers,
    format_change,
    verdict,
)

SEASONAL = {
    **{f.key: None for f in figures_of(NICHE)},
    "as_of": "2026-05-17", "period": "week", "shape": "Seasonal", "shape_family": "seasonal",
    "best13": 0.78, "peak_weeks": list(range(3, 16)), "rise_week": 2,
    "growth_13w.raw": -0.17, "growth_13w.season": -0.2, "growth_13w.drift": 0.04,
    "growth_13w.drift_low": -0.03, "growth_13w.drift_high": 0.11,
    "drift_rate_year": 0.25, "drift_low": 0.19, "drift_high": 0.28,
    "planning_date": "2026-05-17", "act.order_by": "2026-10-26", "act.open_until": "2026-12-06",
    "act.caught": 1.0, "order_by": "2026-10-26", "seasons": [
        {"rise": "2026-05-04", "peak_start": "2026-06-01", "peak_end": "2026-08-30", "wind_down": "2026-09-14",
         "end": "2026-11-01", "share": 0.6, "caught": 0.71},
        {"rise": "2027-01-11", "peak_start": "2027-01-18", "peak_end": "2027-04-18", "wind_down": "2027-05-03",
         "end": "2027-08-01", "share": 1.0, "caught": 1.0},
    ],
}  # fmt: skip


class Sentences(TestCase):
    def test_season_change_drift_and_date(self) -> None:
        shape, change, drift, call = verdict(SEASONAL, 77)
        self.assertEqual(
            shape,
            "Every year from January to April: the best quarter carries 78% of the year.",
        )
        self.assertEqual(
            change,
            "Down 17% in 13 weeks: the usual February-to-May fall makes −20%; the rest is drift, +4% "
            "(−3% to +11%).",
        )
        self.assertEqual(drift, "Trend without the season: +25% a year (+19% to +28%).")
        self.assertEqual(
            call, "Order by 26 Oct 2026 to be on sale when it starts to rise, 11 Jan 2027."
        )

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
            "It peaks a second time from September to October.",
            "apart from level shifts of +40% in March 2025 and −30% in November 2025.",
            "A year ago the same 13 weeks stood 20% lower, but Easter fell in one of the two windows",
            "Its season has moved",
            "35% of its season is borrowed from its category",
        ):
            self.assertIn(part, answer)
        self.assertIn("borrowed from its niche", " ".join(verdict(feast, 77, TERM)))

    def test_no_caution_for_a_feast_it_does_not_keep(self) -> None:
        other = SEASONAL | {"feast": "Diwali", "yoy_feasts": "Easter", "growth_yoy.raw": 0.25}
        self.assertNotIn("A year ago", " ".join(verdict(other, 77)))

    def test_a_change_is_never_said_without_its_split(self) -> None:
        unknown = SEASONAL | {"growth_13w.season": None, "growth_13w.drift": None}
        self.assertIn("what the calendar did in that is unknown", verdict(unknown, 77)[1])

    def test_evergreen_goods_have_no_order_date(self) -> None:
        evergreen = SEASONAL | {"shape": "Evergreen", "shape_family": "evergreen", "best13": 0.25}
        answer = verdict(evergreen | {"rise_week": None, "peak_weeks": None}, 77)
        self.assertEqual(answer[0], "All year: no season stands out from the noise.")
        self.assertFalse(any("Order" in sentence for sentence in answer))

    def test_each_shape_is_said_by_what_the_calendar_does(self) -> None:
        for changed, expected in (
            (
                {"shape": "Evergreen", "best13": 0.28},
                "All year: the best quarter carries 28%, a flat year 25%.",
            ),
            (
                {"shape": "Leaning", "best13": 0.34},
                "All year, strongest from January to April: the best quarter carries 34% of the year.",
            ),
            (
                {"shape": "Fad"},
                "Once: one burst carries most of its record, and it has not come back.",
            ),
            (
                {"shape": "Fad", "gone_since": "2024-12-16"},
                "Once: one burst carries most of its record, and it has not come back, with next to "
                "nothing since December 2024.",
            ),
            (
                {"shape": "Unsettled", "gone_since": "2024-12-16", "provisional": "Seasonal"},
                "No more: demand is gone, next to nothing since December 2024. Until then it looked seasonal.",
            ),
            (
                {"shape": "Unsettled", "shape_reason": "There are 60 weeks; two years are needed.", "provisional": "Seasonal"},
                "Not proven: there are 60 weeks; two years are needed. So far it looks seasonal.",
            ),
            ({"shape": "Unsettled", "shape_reason": None}, "Not proven: it swings without a pattern."),
        ):  # fmt: skip
            self.assertEqual(verdict(SEASONAL | changed, 77)[0], expected)

    def test_whether_demand_is_real_is_answered_first(self) -> None:
        """And no word says more of the drift than its interval bears."""
        real = SEASONAL | {"searches_52w": 114_309, "basis": "counts"}
        for changed, expected in (
            ({"drift": "Rising"}, "Yes, 114,309 searches a year, and it is growing: +25% a year (+19% to +28%)."),
            (
                {"drift": "Easing", "drift_rate_year": -0.2, "drift_low": -0.3, "drift_high": -0.1},
                "Yes, 114,309 searches a year, but it is shrinking: −20% a year (−30% to −10%).",
            ),
            (
                {"drift": "Holding", "drift_rate_year": 0.13, "drift_low": -0.08, "drift_high": 0.89},
                "Yes, 114,309 searches a year, and whether it grows or shrinks is not proven: +13% a year "
                "(−8% to +89%).",
            ),
            (
                {"drift": "Holding", "drift_rate_year": 0.01, "drift_low": -0.05, "drift_high": 0.06},
                "Yes, 114,309 searches a year, and it is steady: +1% a year (−5% to +6%).",
            ),
            (
                {"drift": "Rising", "basis": "relative", "searches_52w": None},
                "Yes, though its level is not known, and it is growing: +25% a year (+19% to +28%).",
            ),
            (
                {"drift": "Holding", "drift_rate_year": 0.07, "drift_low": 0.01, "drift_high": 0.13},
                "Yes, 114,309 searches a year, and it grows a little: +7% a year (+1% to +13%).",
            ),
            (
                {"drift": "Holding", "drift_rate_year": -0.06, "drift_low": -0.12, "drift_high": -0.01},
                "Yes, 114,309 searches a year, but it shrinks a little: −6% a year (−12% to −1%).",
            ),
            (
                {"drift": "Holding", "searches_52w": 3, "drift_rate_year": 0.1, "drift_low": -0.8, "drift_high": 2.0},
                "Hardly: 3 searches a year, and whether it grows or shrinks is not proven: +10% a year "
                "(−80% to +200%).",
            ),
            ({"shape": "Fad"}, "No: one burst carries most of its record, and it has not come back."),
            (
                {"shape": "Unsettled", "gone_since": "2024-12-16"},
                "No: demand is gone, next to nothing since December 2024.",
            ),
            (
                {"shape": "Unsettled", "shape_reason": "The latest weeks are missing."},
                "Not proven: the latest weeks are missing.",
            ),
        ):  # fmt: skip
            self.assertEqual(demand_answers(real | changed)[0], expected)
        shifted = real | {
            "drift": "Stepped up",
            "level_shifts": [{"from": "2025-03-03", "size": 0.4}],
        }
        answer = demand_answers(shifted)
        self.assertIn("and its level stepped up within two years; apart from that +25%", answer[0])
        self.assertIn("apart from a level shift of +40% in March 2025", " ".join(answer))

    def test_when_it_comes_is_answered_with_the_dates(self) -> None:
        answer = calendar_answers(SEASONAL, 77)
        self.assertTrue(answer[0].startswith("Every year from January to April"))
        self.assertTrue(answer[1].startswith("Order by 26 Oct 2026"))

    def test_a_burst_and_a_gap_claim_no_split(self) -> None:
        fad = SEASONAL | {"shape": "Fad", "growth_13w.raw": -0.4}
        answer = verdict(fad, 77)
        self.assertIn("no calendar by which season and drift could be told apart", answer[1])
        # After a burst a drift a year would only tell how it died.
        self.assertFalse(any("A year it drifts" in sentence for sentence in answer))
        gap = verdict(SEASONAL | {"growth_13w.raw": None}, 77)
        self.assertIn(
            "cannot be compared: figures are missing or were almost nothing before", gap[1]
        )

    def test_level_changes_and_calendars_without_a_part(self) -> None:
        level = SEASONAL | {"growth_13w.raw": 0.0}
        self.assertTrue(verdict(level, 77)[1].startswith("Unchanged over 13 weeks: the usual"))
        none = SEASONAL | {"growth_13w.season": 0.0, "growth_13w.drift_low": None}
        self.assertEqual(
            verdict(none, 77)[1],
            "Down 17% in 13 weeks, none of it seasonal: drift is +4%.",
        )
        rising = SEASONAL | {"growth_13w.raw": 0.3, "growth_13w.season": 0.25}
        self.assertIn("Up 30% in 13 weeks: the usual February-to-May rise", verdict(rising, 77)[1])
        for raw, season, expected in (
            (-0.986, -0.985, "Fell to 1/71 in 13 weeks: the usual February-to-May fall takes it to 1/67; the rest"),
            (80.0, 200.0, "Rose 81-fold in 13 weeks: the usual February-to-May rise starts from almost nothing;"),
            (150.0, 9.0, "Rose from almost nothing in 13 weeks: the usual February-to-May rise makes it 10-fold;"),
        ):  # fmt: skip
            moved = SEASONAL | {"growth_13w.raw": raw, "growth_13w.season": season}
            self.assertTrue(verdict(moved, 77)[1].startswith(expected), verdict(moved, 77)[1])
        still = SEASONAL | {"growth_13w.drift": 0.001}
        self.assertIn("; nothing is left for drift (", verdict(still, 77)[1])

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
            (1e6, "from almost nothing"), (16.0, "17-fold"), (4.0, "5-fold"), (3.9, "+390%"), (0.5, "+50%"), (0.0, "unchanged"), (0.003, "unchanged"), (-0.3, "−30%"),
            (-0.8, "−80%"), (-0.96, "to 1/25"), (-0.999, "to almost nothing"),
        ):  # fmt: skip
            self.assertEqual(format_change(change), words)


class Dates(TestCase):
    def test_a_season_that_is_open_is_told_before_the_next_full_one(self) -> None:
        late = SEASONAL | {
            "act.order_by": "2026-02-16", "act.open_until": "2026-06-20", "act.caught": 0.7143,
            "order_by": "2027-02-15",
        }  # fmt: skip
        self.assertEqual(
            verdict(late, 77)[-3:],
            [
                "The season is still open: goods ordered on 17 May 2026 arrive on 2 Aug and meet about 71% of "
                "it, which peaks from 1 Jun to 30 Aug.",
                "Half of it is met until 20 Jun; too late for the full season since 16 Feb.",
                "For the next full one, order by 15 Feb 2027.",
            ],
        )

    def test_what_is_left_of_the_season_before_is_told_where_it_matters(self) -> None:
        for left, said in ((0.31, True), (0.02, False), (None, False)):
            answer = verdict(SEASONAL | {"act.running_left": left}, 77)
            told = [one for one in answer if "the season before that" in one]
            self.assertEqual(bool(told), said)
            if told:
                self.assertIn("arrive on 2 Aug and would still meet about 31%", told[0])

    def test_a_date_of_the_planning_day_itself_is_not_missed(self) -> None:
        today = SEASONAL | {"act.order_by": "2026-05-17"}
        self.assertIn("Order by 17 May 2026", verdict(today, 77)[-1])

    def test_no_dates_without_a_season_to_act_on(self) -> None:
        none = SEASONAL | {"act.order_by": None, "seasons": []}
        self.assertFalse([one for one in verdict(none, 77) if "rder" in one])
