"""The researcher's own tables, of matches and rates, as they are read from files."""

import tempfile
from collections.abc import Callable
from pathlib import Path
from unittest import TestCase

from driftfield.exchange.own_tables import read_matches, read_rates
from driftfield.exchange.problems import ExchangeError


class OwnTables(TestCase):
    """Tables of matches and rates that contradict themselves are refused with the line and the remedy."""

    def refused(self, read: Callable, head: str, *lines: str) -> str:
        with tempfile.TemporaryDirectory() as holder:
            path = Path(holder) / "own.csv"
            path.write_text("\n".join([head, *lines, ""]), "utf-8")
            with self.assertRaises(ExchangeError) as caught:
                read(path)
        return str(caught.exception)

    def test_matches(self) -> None:
        head, one = "of,market_id,id,other_market_id,other_id,same", "niches,north,a,south,b,1"
        for other, told in (
            (
                "niches,north,a,north,b,1",
                "line 3, column other_market_id: Both are of the market “north”.",
            ),
            ("niches,south,b,north,a,0", "line 3, column same: Line 2 says the opposite"),
            (
                "niches,north,a,south,c,1",
                "line 3, column id: “a” is matched with “b” of “south” in line 2.",
            ),
            (
                "niches,south,b,north,c,1",
                "line 3, column id: “b” is matched with “a” of “north” in line 2.",
            ),
        ):
            self.assertIn(told, self.refused(read_matches, head, one, other))

    def test_rates(self) -> None:
        head, one = "currency,into,rate,day", "EUR,GBP,0.8,2026-05-20"
        told = self.refused(read_rates, head, one, "GBP,EUR,3,2026-05-20", "USD,USD,1,2026-05-20")
        self.assertIn("line 3, column rate: Line 2 has the rate of these two in the other", told)
        self.assertIn("line 4, column into: It is USD as well. Name another currency.", told)
