"""No sentence of the track record says more than its interval."""

import re
from datetime import date
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from driftfield.core.sentences import lens_sentence, line_sentence, season_miss
from driftfield.core.sentences.proof import _SENTENCES, SCORE_NAMES

CHANGES = [("forecast", "against_naive"), ("forecast", "bias"), ("season", "later")]
# What is only said of something that is beyond chance.
CLAIMS = r"missed by|came in .* (higher|lower)|weeks (later|earlier) than the dates"


def line(
    part: str,
    measure: str,
    value: float | None,
    low: float | None,
    high: float | None,
    **more: object,
) -> dict:
    group = {"launch": "headroom", "drift": "Rising", "shape": "Seasonal"}.get(part, "")
    if measure in {"alive", "revenue"} or measure.startswith("worked_by"):
        group = "10"
    if measure == "worked":
        group = ""
    if measure in {"within_level", "kept_if_sure"}:
        group = "0.8"
    return {
        "part": part, "measure": measure, "group": group, "name": "Signal" if part == "signal" else None,
        "weeks": 13, "value": value, "low": low, "high": high, "beside": 0.5, "beside_low": None,
        "beside_high": None, "observations": 300, "niches": 40, "days": 9, "meant": 0.8, "chance": 0.2,
        "stands": False, "category": "", "of": "niches", "currency": "GBP", **more,
    }  # fmt: skip


class Sentences(TestCase):
    @given(
        st.sampled_from(CHANGES),
        st.tuples(*[st.floats(-0.9, 5, allow_nan=False)] * 3).map(sorted),
    )
    def test_a_direction_is_told_where_the_interval_leaves_none_out(
        self, of: tuple[str, str], ends: list[float]
    ) -> None:
        low, value, high = ends
        said = line_sentence(line(*of, value, low, high))
        if low <= 0 <= high:
            self.assertNotRegex(said, CLAIMS)
        elif of[1] != "bias" or abs(value) >= 0.005:
            self.assertRegex(said, CLAIMS)

    def test_without_an_interval_no_direction_is_told(self) -> None:
        for of in CHANGES:
            self.assertNotRegex(line_sentence(line(*of, 0.4, None, None)), CLAIMS)

    def test_areas_and_lifts_within_chance_are_called_that(self) -> None:
        for measure, none in (("area", 0.5), ("lift", 1.0)):
            for group in SCORE_NAMES:
                may = line_sentence(
                    line("launch", measure, none + 0.1, none - 0.1, none + 0.3, group=group)
                )
                sure = line_sentence(
                    line("launch", measure, none + 0.2, none + 0.1, none + 0.3, group=group)
                )
                self.assertIn("may be chance", may)
                self.assertNotIn("may be chance", sure)
        self.assertIn("Not beyond chance", line_sentence(line("signal", "growth", 0.1, 0.02, 0.2)))

    def test_intervals_of_forecasts_are_judged_by_what_they_promise(self) -> None:
        for low, high, judged in (
            (0.6, 0.7, "too narrow"),
            (0.9, 0.95, "wider than"),
            (0.75, 0.85, ""),
        ):
            said = line_sentence(line("forecast", "within", (low + high) / 2, low, high))
            for word in ("too narrow", "wider than"):
                self.assertEqual(word in said, word == judged)

    def test_every_line_has_a_sentence_and_one_for_too_little(self) -> None:
        for part, measure in _SENTENCES:
            for value, beside in ((0.4, 0.5), (0.4, None), (None, None)):
                ends = (0.3, 0.5) if value else (None, None)
                said = line_sentence(line(part, measure, value, *ends, beside=beside))
                self.assertRegex(said, r"^[A-Z0-9−].*\.$")
                self.assertIsNone(re.search(r"None|nan", said), said)
                self.assertEqual("too little data" in said, value is None)

    def test_weights_are_proposed_in_words_where_they_are(self) -> None:
        row = {
            "value": 0.8,
            "beside": 0.7,
            "low": 0.03,
            "high": 0.16,
            "observations": 900,
            "days": 5,
        }
        self.assertIn("better than the default", lens_sentence({**row, "weights": "searches=1"}))
        self.assertIn("No evidence", lens_sentence({**row, "low": -0.03, "weights": None}))
        self.assertIn("Too few launches", lens_sentence({**row, "low": None, "weights": None}))


class Misses(TestCase):
    def test_how_far_away_a_season_was_is_told_only_where_it_was_found(self) -> None:
        day = date(2024, 11, 17)
        self.assertTrue(
            season_miss("Rings", day, -5.0).endswith("came 5.0 weeks earlier than the date given.")
        )
        for end in (8.0, -8.67):
            told = season_miss("Rings", day, end)
            self.assertTrue(told.endswith("no season came within 8 weeks of the date given."), told)
