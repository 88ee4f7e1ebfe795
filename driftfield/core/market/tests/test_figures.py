"""The registry: every figure is documented, typed and unknown where it should be."""

import json
from datetime import date
from unittest import TestCase

import jsonschema
import numpy as np

from docs.generate import ROOT, stale
from driftfield.core.base import DEFAULTS, CoreError
from driftfield.core.curves.tests.synthetic import TIMELINE, counted, sine
from driftfield.core.market import NICHE, figures_of
from driftfield.core.market.figures import FIGURES
from driftfield.core.market.runner import MarketData, compute_figures
from driftfield.core.sentences import nested, plain, record_schema
from driftfield.core.signals import SIGNALS, THRESHOLDS
from driftfield.core.supply import Clicks
from driftfield.core.supply.tests.shops import listings


def small_market(clicks: bool) -> MarketData:
    values = counted(200 * sine(10, 0.3), 6)
    observed = Clicks(
        term=np.array([0, 0, 1]), at=np.array([259, 259, 259]), listing=np.array([0, 1, 2]),
        share=np.array([0.6, 0.3, 1.0]),
    )  # fmt: skip
    shop = listings(3, brand=[0, 0, -1], reviews=[40, 60, np.nan])
    return MarketData(
        TIMELINE, [f"n{i}" for i in range(6)], np.arange(6), values,
        purchases=values * 0.04, observed=observed if clicks else None,
        listings=shop if clicks else None,
    )  # fmt: skip


def records(figures: dict[str, np.ndarray]) -> list[dict]:
    n = len(figures["rank"])
    return [
        {
            **dict.fromkeys(NICHE.fields, "x"),
            **nested({f.key: plain(f, figures[f.key][i]) for f in figures_of(NICHE)}),
        }
        for i in range(n)
    ]


class Registry(TestCase):
    def test_made_files_are_up_to_date(self) -> None:
        self.assertEqual(stale(), [], "run bin/generate")

    def test_keys_and_columns_are_unique_and_every_row_is_whole(self) -> None:
        self.assertEqual(len({f.column for f in FIGURES}), len(FIGURES))
        for figure in figures_of(NICHE):
            self.assertTrue(
                figure.label and figure.formula and figure.source and figure.needs, figure.key
            )

    def test_records_follow_the_schema_with_and_without_clicks(self) -> None:
        for clicks in (True, False):
            for record in records(compute_figures(small_market(clicks), rules=SIGNALS)):
                jsonschema.validate(record, record_schema(NICHE))
                json.dumps(record, allow_nan=False)

    def test_the_worked_market(self) -> None:
        first, second, third, *_ = records(compute_figures(small_market(True), rules=SIGNALS))
        parts = first["competition_parts"]
        self.assertAlmostEqual(parts["hhi_listings"], 4500)
        self.assertAlmostEqual(parts["top_brand_share"], 0.9)
        self.assertEqual((first["review_barrier"], second["review_barrier"]), (50, None))
        self.assertAlmostEqual(first["purchase_rate"], 0.04)
        self.assertIsNone(third["competition"])
        self.assertIsNotNone(third["rank"])

    def test_order_of_input_does_not_matter(self) -> None:
        data = small_market(False)
        turned = MarketData(TIMELINE, data.subjects[::-1], np.arange(6), data.searches[::-1])
        one, two = compute_figures(data), compute_figures(turned)
        np.testing.assert_array_equal(one["rank"], two["rank"][::-1])
        np.testing.assert_array_equal(one["shape"], two["shape"][::-1])

    def test_scale_does_not_change_the_calendar(self) -> None:
        data = small_market(False)
        more = MarketData(TIMELINE, data.subjects, np.arange(6), data.searches * 7)
        np.testing.assert_allclose(
            compute_figures(data)["season_profile"],
            compute_figures(more)["season_profile"],
            atol=1e-6,
        )

    def test_as_of_reads_nothing_later(self) -> None:
        data = small_market(True)
        early = compute_figures(data, as_of=date(2025, 6, 1))
        self.assertEqual(early["as_of"][0], "2025-06-01")
        changed = data.searches.copy()
        changed[:, -30:] = 1e6
        later = MarketData(TIMELINE, data.subjects, np.arange(6), changed)
        np.testing.assert_array_equal(
            early["searches_52w"], compute_figures(later, as_of=date(2025, 6, 1))["searches_52w"]
        )

    def test_method_page_names_every_setting(self) -> None:
        text = (ROOT / "docs/method.md").read_text("utf-8")
        for name in [*DEFAULTS.as_dict(), *(one.key for one in THRESHOLDS)]:
            self.assertIn(f"`{name}`", text)


class SettingsByPairs(TestCase):
    def test_good_pairs(self) -> None:
        made = DEFAULTS.with_pairs(["drift_rate=0.1", "lead_days=60"])
        self.assertEqual((made.drift_rate, made.lead_days, DEFAULTS.lead_days), (0.1, 60, 77))

    def test_bad_pairs_say_what_is_wrong(self) -> None:
        for pair, expected in (
            ("drift_rate", "write key=value"),
            ("rate=1", "Known: .*drift_rate"),
            ("lead_days=6.5", "whole number; got “6.5”"),
            ("max_missing=2", "between 0 and 1; got 2"),
            ("evergreen_best13=0.5", "may not exceed"),
        ):
            with self.assertRaisesRegex(CoreError, expected):
                DEFAULTS.with_pairs([pair])
