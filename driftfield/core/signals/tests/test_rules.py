"""Each rule is raised by what it was made for and by nothing short of it."""

from typing import Any
from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS, CoreError, Settings
from driftfield.core.market import FIGURES_BY_KEY as FIGURES
from driftfield.core.signals import (
    JOINT,
    SIGNALS,
    SIGNALS_BY_KEY,
    THRESHOLDS,
    explain,
    raise_signals,
)
from driftfield.core.signals.rule import FORMATS, Clause, fields_of

P, B, E, R = "competition_parts.", "barriers.", "entry.", "pressure."
CLICKS = {"clicks_52w": 5000, "usual.clicks": 4000, "click_purchase_rate": 0.01,
          "usual.click_purchase_rate": 0.05}  # fmt: skip
SEARCHES = {"searches_52w": 9000, "usual.searches": 8000, "purchase_rate": 0.01,
            "usual.purchase_rate": 0.04}  # fmt: skip
SPRING = {"growth_13w.raw": 1.9, "growth_13w.season": 2.0, "growth_13w.drift": -0.03,
          "growth_13w.drift_high": 0.1, "growth_yoy.drift_low": -0.02,
          "growth_yoy.drift_high": 0.09, "drift_low": -0.05}  # fmt: skip

# Rule: figures that raise it, and what keeps it from being raised. Trade facts are marked in settings
# as common practice, without a source.
CASES: dict[str, tuple[dict[str, Any], dict[str, Any]]] = {
    "clicks_without_purchases": ({**CLICKS, "click_purchase_high": 0.012}, {"click_purchase_high": 0.03}),
    "searches_without_purchases": ({**SEARCHES, "purchase_rate_high": 0.015}, {"searches_52w": 900}),
    "few_but_willing": (
        {**SEARCHES, "searches_52w": 900, "purchase_rate": 0.1, "purchase_rate_low": 0.09},
        {"purchase_rate_low": 0.07},
    ),
    "brand_words": ({"branded_share": 0.55, "open_searches_52w": 4000}, {"branded_share": 0.3}),
    "waits_for_discounts": (
        {"price_answer.correlation": -0.8, "price_answer.low": -0.9, "price_answer.high": -0.6,
         "price_answer.changes": 23},
        {"price_answer.high": 0.1},
    ),
    "prices_fall": ({R + "price_change": -0.2, R + "price_falling": 0.8}, {R + "price_falling": 0.2}),
    # Offers from 10 to 25 with flat sales announce a price war.
    "offers_outrun_units": (
        {R + "offers_lead": 1.5, R + "offers_change": 1.5, R + "units_change": 0.0},
        {R + "offers_lead": 0.2},
    ),
    "lead_contested": ({R + "lead_changes": 0.6}, {R + "lead_changes": 0.1}),
    # Not where the same weeks a year ago were lower for sure, though those before may have been as high.
    "rises_by_season": ({**SPRING, "growth_13w.drift_low": -0.1}, {"growth_yoy.drift_low": 0.14}),
    "rises_underneath": (
        {"growth_13w.raw": -0.3, "growth_13w.season": -0.5, "growth_13w.drift": 0.4, "growth_13w.drift_low": 0.2},
        {"growth_13w.drift_low": 0.01},
    ),
    "order_now": ({"order_in_days": 9, "shape_family": "seasonal"}, {"shape_family": "evergreen"}),
    "searches_lead": (
        {"purchase_lag.weeks": 3.1, "purchase_lag.low": 2.0, "purchase_lag.high": 4.2},
        {"purchase_lag.low": -0.5},
    ),
    # One brand above half of the clicks is a dominated niche.
    "one_brand": ({P + "top_brand_share": 0.7}, {P + "top_brand_share": 0.49}),
    "few_brands": (
        {P + "effective_brands": 1.8, P + "effective_brands_52w_ago": 2.0},
        {P + "effective_brands_52w_ago": 4.0},
    ),
    # The top three at 90% leave no room.
    "top_three_hold": ({P + "top3_share": 0.9}, {P + "top3_share": 0.5}),
    # The top three at 15% leave room for the rest.
    "room_at_the_top": ({P + "top3_share": 0.15, P + "top3_share_high": 0.16}, {P + "top3_share_high": 0.4}),
    "field_opens": (
        {P + "effective_listings": 15.0, P + "effective_listings_52w_ago": 6.0, "field": "Opening"},
        {"field": "Steady"},
    ),
    "field_closes": (
        {P + "effective_listings": 4.0, P + "effective_listings_52w_ago": 9.0, "field": "Closing"},
        {"field": None},
    ),
    "strong_one_gone": ({"sales.gone": 0.45}, {"sales.gone": 0.1}),
    "own_retail": ({B + "own_retail": 0.4}, {B + "own_retail": 0.1}),
    "sponsored_rises": (
        {B + "sponsored_clicks": 0.6, B + "sponsored_clicks_52w_ago": 0.2},
        {B + "sponsored_clicks_52w_ago": 0.5},
    ),
    # Under 75 reviews is hardly competitive, under 150 approachable.
    "few_reviews": ({"review_barrier": 74}, {"review_barrier": 151}),
    "weak_pages": ({B + "quality": 30}, {B + "quality": 60}),
    "out_of_stock": ({B + "out_of_stock": 0.4}, {B + "out_of_stock": 0.05}),
    "returns_high": ({B + "return_rate": 0.12, B + "return_ratio": 2.4}, {B + "return_rate": 0.02}),
    "launches_fail": (
        {E + "successes": 0, E + "judged": 6, E + "bar": 40.0, E + "success_high": 0.31},
        {E + "success_high": 0.6},
    ),
    "launches_work": (
        {E + "successes": 3, E + "judged": 3, E + "bar": 40.0, E + "success_low": 0.53},
        # 2 of 4 is a 50% success rate, but four launches do not show it.
        {E + "success_low": 0.18},
    ),
    "nobody_new": (
        {"searches_52w": 20_000, "usual.searches": 8000, E + "newest_days": 1100},
        {E + "newest_days": 400},
    ),
    # Ten or more sales per review is a healthy ratio.
    "reviews_outrun_sales": ({E + "units_per_review": 4.0}, {E + "units_per_review": 10.5}),
    "reaches_target": ({"target.multiple": 1.4, "sales.listing_revenue": 42_000}, {"target.multiple": 0.9}),
}  # fmt: skip


def niche(**known: Any) -> dict[str, Any]:
    """Figures of a niche of which nothing else is known."""
    return {**dict.fromkeys(FIGURES), **known}


def severities(figures: dict[str, Any]) -> dict[str, float]:
    return {item.key: item.severity for item in explain(figures, DEFAULTS)}


class EachRule(TestCase):
    def test_has_a_case(self) -> None:
        self.assertEqual(set(CASES), {rule.key for rule in SIGNALS})
        self.assertGreaterEqual(len(SIGNALS), 16)

    def test_is_raised_by_its_case_and_not_short_of_it(self) -> None:
        for key, (raising, lacking) in CASES.items():
            with self.subTest(key):
                self.assertIn(key, severities(niche(**raising)))
                self.assertNotIn(key, severities(niche(**raising) | lacking))

    def test_is_not_raised_by_what_is_unknown(self) -> None:
        self.assertEqual(severities(niche()), {})
        for key, (raising, _) in CASES.items():
            for clause in SIGNALS_BY_KEY[key].when:
                for figure in clause.reads:
                    found = severities(niche(**raising) | {figure: None})
                    self.assertNotIn(key, found, f"{key} without {figure}")

    def test_says_its_evidence_with_all_its_numbers(self) -> None:
        for key, (raising, _) in CASES.items():
            answer = next(s for s in explain(niche(**raising), DEFAULTS) if s.key == key)
            self.assertNotIn("unknown", answer.evidence, key)
            self.assertNotIn("{", answer.evidence, key)
            self.assertRegex(answer.evidence, r"\d", key)
            self.assertTrue(answer.look.endswith("."), key)

    def test_reads_figures_and_settings_there_are(self) -> None:
        templates = [(r.key, r.sentence, r.when) for r in SIGNALS] + [
            (j.signal, j.sentence, j.when) for j in JOINT
        ]
        for key, sentence, when in templates:
            for setting, name, form in fields_of(sentence):
                self.assertIn(form, FORMATS, key)
                self.assertTrue(
                    hasattr(DEFAULTS, name) if setting else name in FIGURES, f"{key} {name}"
                )
            for clause in when:
                for figure in clause.reads:
                    self.assertIn(figure, FIGURES, key)


class Severity(TestCase):
    def test_comes_from_the_size_of_the_effect(self) -> None:
        # 1 − threshold ÷ figure: at the threshold 0, at twice it a half.
        for share, expected in ((0.5, 0), (0.75, 1 / 3), (1.0, 0.5)):
            found = severities(niche(**{P + "top_brand_share": share}))
            self.assertAlmostEqual(found["one_brand"], expected)
        for reviews, expected in ((150, 0), (75, 0.5), (15, 0.9)):
            self.assertAlmostEqual(
                severities(niche(review_barrier=reviews))["few_reviews"], expected
            )

    def test_reach_on_either_side_of_zero(self) -> None:
        for above, than, value, expected in (
            (True, 0.5, 1.0, 2), (True, 0.5, -1.0, 0), (False, 0.5, 0.25, 2), (False, 0.5, -1.0, np.inf),
            (False, -0.1, -0.3, 3), (False, -0.1, 0.3, 0), (True, 0.0, 0.5, 1.5), (True, 0.0, -0.5, 0),
            (False, 0.0, -0.5, 1.5), (True, -0.1, -0.05, 2), (True, -0.1, 0.2, np.inf),
        ):  # fmt: skip
            found = Clause("x", above, than).reach({"x": np.array([value])}, DEFAULTS)
            self.assertAlmostEqual(found[0], expected, msg=str((above, than, value)))

    def test_a_threshold_of_its_own_can_be_set_and_is_kept_with_the_result(self) -> None:
        figures = {key: np.array([np.nan]) for key in FIGURES}
        figures["branded_share"] = np.array([0.3])
        place = [rule.key for rule in SIGNALS].index("brand_words")
        self.assertEqual([one.key for one in SIGNALS[place].thresholds], ["brand_words"])
        self.assertTrue(np.isnan(raise_signals(figures, DEFAULTS)[0, place]))
        lower = DEFAULTS.with_pairs(["brand_words=0.2"], THRESHOLDS)
        kept = Settings.from_dict(lower.as_dict())
        self.assertEqual(kept, lower)
        self.assertAlmostEqual(raise_signals(figures, kept)[0, place], 1 / 3)
        with self.assertRaisesRegex(CoreError, "between 0 and 1; got 7"):
            DEFAULTS.with_pairs(["brand_words=7"], THRESHOLDS)

    def test_thresholds_come_from_settings(self) -> None:
        figures = {key: np.array([np.nan]) for key in FIGURES}
        figures[P + "top_brand_share"] = np.array([0.4])
        place = [rule.key for rule in SIGNALS].index("one_brand")
        self.assertTrue(np.isnan(raise_signals(figures, DEFAULTS)[0, place]))
        lower = DEFAULTS.with_pairs(["brand_dominant=0.3"])
        self.assertAlmostEqual(raise_signals(figures, lower)[0, place], 0.25)


class Jointly(TestCase):
    def sentences_of(self, *keys: str, **more: Any) -> list[str]:
        figures = niche(**{k: v for key in keys for k, v in CASES[key][0].items()}) | more
        return next(s.jointly for s in explain(figures, DEFAULTS) if s.key == keys[0])

    def test_sponsored_share_tells_a_need_not_met_from_bought_clicks(self) -> None:
        key = "clicks_without_purchases"
        (unmet,) = self.sentences_of(key, **{B + "sponsored_clicks": 0.08})
        (bought,) = self.sentences_of(key, **{B + "sponsored_clicks": 0.7})
        self.assertIn("a need not met is likelier than bought clicks", unmet)
        self.assertIn("bought clicks are likelier than a need not met", bought)
        self.assertEqual(self.sentences_of(key), [])

    def test_what_comes_together_is_read_together(self) -> None:
        for first, second, expected in (
            ("offers_outrun_units", "prices_fall", "the price war has begun"),
            ("one_brand", "brand_words", "by name"),
            ("few_reviews", "launches_fail", "not reviews"),
            ("launches_work", "field_opens", "newcomers take clicks"),
            ("order_now", "rises_by_season", "the calendar's, not growth"),
        ):
            self.assertEqual(self.sentences_of(first), [])
            self.assertIn(expected, self.sentences_of(first, second)[0])
