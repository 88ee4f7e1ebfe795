"""The ways to begin that Rivals offers are conditions and orders of their kinds."""

import re
from pathlib import Path
from unittest import TestCase

from driftfield.core.market import FIGURES_BY_KEY, KINDS_BY_PLURAL
from driftfield.core.sieve import read_condition

WAYS = Path(__file__).parents[1] / "web/src/screens/rivals/ways.ts"


class Ways(TestCase):
    def test_each_is_understood_and_sorts_by_a_figure_of_its_kind(self) -> None:
        text = WAYS.read_text("utf-8")
        blocks = re.findall(r"^  (listings|brands|sellers): \[(.*?)^  \]", text, re.S | re.M)
        self.assertEqual([name for name, _ in blocks], ["listings", "brands", "sellers"])
        for plural, block in blocks:
            kind = KINDS_BY_PLURAL[plural]
            ways = re.findall(r'condition: "(.*?)",\s*sort: "-?(.*?)"', block)
            self.assertGreater(len(ways), 3)
            for condition, sort in ways:
                found = read_condition(condition, kind=kind)
                self.assertNotIn("problem", found, condition)
                self.assertNotIn("search", found, condition)
                self.assertIn(kind, FIGURES_BY_KEY[sort].kinds, sort)
