"""The demo market's package, against the published table standard and its own story."""

import json
import tempfile
import zipfile
from pathlib import Path
from unittest import TestCase

from frictionless import Package as StandardPackage

from driftfield.core.market import compute_figures
from driftfield.core.signals import SIGNALS
from driftfield.exchange.market_data import assemble
from driftfield.exchange.reader import read_package
from driftfield.exchange.tables import SCHEMAS

DEMO = Path(__file__).resolve().parents[3] / "demo" / "harrow-quay.zip"


class DemoPackage(TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.package = read_package(DEMO)
        markets, _ = assemble(cls.package)
        cls.found = {}
        for market in markets:
            figures = compute_figures(market.data, rules=SIGNALS)
            for i, name in enumerate(market.niche_names):
                cls.found[name] = {key: values[i] for key, values in figures.items()}

    def test_is_as_large_as_promised(self) -> None:
        heights = {name: frame.height for name, frame in self.package.frames.items()}
        for name, least in {
            "niches": 250,
            "terms": 2500,
            "listings": 3500,
            "brands": 60,
            "sellers": 120,
        }.items():
            self.assertGreaterEqual(heights[name], least, name)

    def test_small_tables_are_valid_table_schema(self) -> None:
        # frictionless is the reference validator of the Table Schema standard.
        with tempfile.TemporaryDirectory() as holder:
            folder = Path(holder)
            with zipfile.ZipFile(DEMO) as archive:
                names = ["markets", "categories", "niches", "brands"]
                for name in names:
                    archive.extract(f"{name}.csv", folder)
                    (folder / f"{name}.schema.json").write_text(
                        (SCHEMAS / f"{name}.schema.json").read_text()
                    )
            resources = [
                {"name": n, "path": f"{n}.csv", "schema": f"{n}.schema.json"} for n in names
            ]
            (folder / "datapackage.json").write_text(
                json.dumps({"name": "demo", "resources": resources})
            )
            report = StandardPackage(str(folder / "datapackage.json")).validate()
        self.assertTrue(report.valid, report.to_summary())

    def test_planted_cases_are_read_as_planted(self) -> None:
        shapes = {
            "Marmalade thermometers": "Occasion", "Swarm traps": "Occasion", "Brassica cages": "Seasonal",
            "Ginger-beer plant jars": "Fad", "Eclipse viewing foils": "Fad", "Kimchi crocks": "Evergreen",
            "Weather vanes, garden": "Leaning", "Sting relief pens": "Unsettled", "Seed drill rollers": "Seasonal",
        }  # fmt: skip
        for name, shape in shapes.items():
            self.assertEqual(self.found[name]["shape"], shape, name)
        for name, drift in {
            "Rhubarb forcers": "Rising",
            "Kombucha spigots": "Easing",
            "Zip puller sets": "Stepped up",
        }.items():
            self.assertEqual(self.found[name]["drift"], drift, name)

    def test_a_spring_rise_is_not_growth(self) -> None:
        slugs = self.found["Slug collars"]
        self.assertGreater(slugs["growth_13w.raw"], 5)
        self.assertLess(abs(slugs["growth_13w.drift"]), 0.1)

    def test_the_running_week_is_out_and_gaps_are_counted(self) -> None:
        self.assertEqual(self.found["Rhubarb forcers"]["as_of"], "2026-05-17")
        self.assertEqual(self.found["Fruit leather sheets"]["bridged"], 6)
        self.assertEqual(self.found["Blister wool packs"]["outliers"], 1)

    def test_who_holds_the_clicks(self) -> None:
        self.assertGreater(self.found["Onion hoes"]["competition_parts.top_brand_share"], 0.5)
        storm = self.found["Storm glasses"]
        self.assertNotEqual(storm["competition"], storm["competition"])  # NaN: unknown, not zero
        self.assertGreater(storm["rank"], 0)
