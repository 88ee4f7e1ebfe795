"""The cases planted in the demo market are read as what they are."""

from pathlib import Path
from typing import Any, ClassVar
from unittest import TestCase

import numpy as np

from benchmarks.false_alarms import noise_market
from driftfield.core.base import DEFAULTS
from driftfield.core.market import NICHE, FigureType, compute_figures, figures_of
from driftfield.core.sentences import plain, verdict
from driftfield.core.signals import SIGNALS, explain
from driftfield.exchange.market_data import assemble
from driftfield.exchange.reader import read_package

ROOT = Path(__file__).resolve().parents[1]


class Planted(TestCase):
    niches: ClassVar[dict[str, dict[str, Any]]]

    @classmethod
    def setUpClass(cls) -> None:
        cls.niches = {}
        markets, _ = assemble(read_package(ROOT / "demo/harrow-quay.zip"))
        for market in markets:
            figures = compute_figures(market.data, rules=SIGNALS)
            for row, name in enumerate(market.niche_names):
                if name in cls.niches:
                    continue  # The South has some of the North's, told there in tests of both.
                cls.niches[name] = {
                    f.key: plain(
                        f,
                        figures[f.key][row].tolist()
                        if hasattr(figures[f.key][row], "tolist")
                        else figures[f.key][row],
                    )
                    for f in figures_of(NICHE)
                }

    def verdict_of(self, name: str) -> str:
        return " ".join(verdict(self.niches[name], int(DEFAULTS.lead_days)))

    def shapes(self, shape: str, *names: str) -> None:
        for name in names:
            self.assertEqual(self.niches[name]["shape"], shape, name)

    def test_a_spring_rise_is_not_growth(self) -> None:
        for name in ("Slug collars", "Water-butt taps"):
            figures = self.niches[name]
            self.assertGreater(figures["growth_13w.raw"], 2)
            self.assertLess(abs(figures["growth_13w.drift"]), 0.15)
            self.assertIn("the usual February-to-May rise makes", self.verdict_of(name))

    def test_what_hangs_on_easter_is_named_so(self) -> None:
        for name in ("Simnel cake rings", "Hot cross bun tins", "Easter dove-cake moulds"):
            self.assertEqual(self.niches[name]["feast"], "Easter", name)
            self.assertIn("with Easter, next in March", self.verdict_of(name))
        self.assertEqual(sum(n["feast"] is not None for n in self.niches.values()), 3)

    def test_fads_that_died(self) -> None:
        self.shapes(
            "Fad",
            "Ginger-beer plant jars",
            "Beeswax wrap kits",
            "Visible-mending hoops",
            "Eclipse viewing foils",
        )
        self.assertIn("it has not come back", self.verdict_of("Beeswax wrap kits"))
        self.assertIsNone(self.niches["Beeswax wrap kits"]["forecast_52w.value"])
        # Its burst is among the last 52 weeks, but nobody should enter for it.
        foils = self.niches["Eclipse viewing foils"]
        self.assertGreater(foils["rank"], 150)
        self.assertIsNone(foils["drift_rate_year"])

    def test_level_shifts_are_dated_and_sized(self) -> None:
        for name, size, year in (
            ("Water-butt taps", 0.6, "2025"), ("Zip puller sets", 0.45, "2025"), ("Roof-rack foam blocks", -0.35, "2025"),
        ):  # fmt: skip
            (shift,) = self.niches[name]["level_shifts"]
            self.assertAlmostEqual(shift["size"], size, delta=0.1)
            self.assertIn("apart from a level shift of", self.verdict_of(name))
            self.assertIn(shift["from"][:4], (year, "2024"))

    def test_two_humps(self) -> None:
        for name in ("Grafting knives", "Entrance reducers", "Fleece pegs"):
            self.assertIn("It peaks a second time", self.verdict_of(name))

    def test_a_bots_week_a_gap_and_a_young_niche(self) -> None:
        self.assertEqual(self.niches["Blister wool packs"]["outliers"], 1)
        self.assertIn("6 weeks bridged", self.niches["Fruit leather sheets"]["left_out"])
        for name in ("Sting relief pens", "Windlass holsters", "Squash stands"):
            self.assertEqual(
                (self.niches[name]["life"], self.niches[name]["shape"]), ("New", "Unsettled")
            )

    def test_drift_without_a_season(self) -> None:
        self.assertEqual(self.niches["Biochar kiln lids"]["drift"], "Rising")
        self.assertEqual(self.niches["Kombucha spigots"]["drift"], "Easing")
        self.shapes("Evergreen", "Biochar kiln lids", "Kombucha spigots", "Proving baskets")

    def test_no_listings_no_competition(self) -> None:
        figures = self.niches["Storm glasses"]
        self.assertIsNone(figures["competition_parts.hhi_listings"])
        self.assertIsNone(figures["headroom"])
        self.assertIsNotNone(figures["rank"])

    def test_the_running_week_is_left_out(self) -> None:
        self.assertEqual({n["as_of"] for n in self.niches.values()}, {"2026-05-17"})

    def test_nobody_reads_change_without_its_split(self) -> None:
        for name, figures in self.niches.items():
            if figures["growth_13w.raw"] is not None:
                text = self.verdict_of(name)
                self.assertTrue("drift" in text or "unknown" in text, name)
            if figures["growth_13w.drift"] is not None:
                whole = (1 + figures["growth_13w.season"]) * (1 + figures["growth_13w.drift"])
                self.assertAlmostEqual(whole, 1 + figures["growth_13w.raw"], 6)

    def raised(self, name: str) -> set[str]:
        return {item["signal"] for item in self.niches[name]["signals"]}

    def test_signals_are_raised_by_what_was_planted_for_them(self) -> None:
        for signal, *names in (
            ("one_brand", "Onion hoes", "Apple corer-peelers", "Hop spiders", "Sundial plates", "Rivet setters"),
            ("few_brands", "Onion hoes", "Rivet setters"),
            ("prices_fall", "Greenhouse drip kits", "Queen excluders", "Inflatable board pumps", "Herb wall pockets"),
            ("offers_outrun_units", "Greenhouse drip kits", "Queen excluders", "Inflatable board pumps"),
            ("lead_contested", "Greenhouse drip kits", "Queen excluders", "Inflatable board pumps"),
            ("launches_fail", "Paper pot formers", "Kayak scupper plugs", "Still thermometers"),
            ("launches_work", "Olla watering pots"),
            ("strong_one_gone", "Slug collars"),
            ("clicks_without_purchases", "Duckweed rakes", "Red-light head torches"),
            ("few_but_willing", "Clock mainspring winders"),
            ("brand_words", "Walking-pole tips"),
            ("waits_for_discounts", "Sharpening stone holders"),
            ("searches_lead", "Cider presses", "Honey extractors"),
            ("returns_high", "Hammock underquilts"),
            ("out_of_stock", "Copper watering roses"),
            ("field_opens", "Trailside map cases"),
            ("field_closes", "Moon filters"),
            ("own_retail", "Spectacle screw sets"),
            ("weak_pages", "Darning mushrooms"),
            ("few_reviews", "Kimchi crocks"),
            ("reviews_outrun_sales", "Paddle leashes"),
            ("room_at_the_top", "Needle threaders"),
            ("sponsored_rises", "Red-light head torches"),
            ("rises_by_season", "Slug collars", "Water-butt taps"),
            ("order_now", "Bulb planters"),
        ):  # fmt: skip
            for name in names:
                self.assertIn(signal, self.raised(name), name)

    def test_unmet_needs_and_bought_clicks_are_told_apart(self) -> None:
        for name, expected in (
            ("Duckweed rakes", "a need not met is likelier"),
            ("Red-light head torches", "bought clicks are likelier"),
        ):
            found = explain(self.niches[name], DEFAULTS)
            (signal,) = (s for s in found if s.key == "clicks_without_purchases")
            self.assertIn(expected, signal.sentence)

    def test_no_listings_no_word_about_them(self) -> None:
        for name in ("Storm glasses", "China riveting kits", "Fan pleating boards"):
            self.assertFalse(self.raised(name) & {"few_reviews", "room_at_the_top", "nobody_new"})

    def test_purchases_trail_by_the_weeks_that_were_planted(self) -> None:
        for name, weeks in (("Cider presses", 3), ("Honey extractors", 4)):
            figures = self.niches[name]
            self.assertAlmostEqual(figures["purchase_lag.weeks"], weeks, delta=0.3)
            self.assertGreater(figures["purchase_lag.low"], weeks - 1)

    def test_every_figure_lies_within_its_kind(self) -> None:
        ends = {FigureType.SHARE: (0, 1), FigureType.INDEX: (0, 100), FigureType.RATIO: (-1, 1), FigureType.CHANGE: (-1, np.inf),
                FigureType.AMOUNT: (0, np.inf), FigureType.COUNT: (0, np.inf)}  # fmt: skip
        for figures in self.niches.values():
            for figure in figures_of(NICHE):
                value = figures[figure.key]
                if figure.type in ends and value is not None:
                    low, high = ends[figure.type]
                    self.assertTrue(low <= value <= high, f"{figure.key} {value}")


class Noise(TestCase):
    def test_a_market_with_nothing_to_find_raises_little(self) -> None:
        raised = ~np.isnan(compute_figures(noise_market(400, 5), rules=SIGNALS)["signals"])
        for rule, rate in zip(SIGNALS, raised.mean(axis=0), strict=True):
            self.assertLess(rate, 0.06, rule.key)
        self.assertLess(raised.sum(axis=1).mean(), 0.2)
