"""One's own goods: what one had and has by the offers, and what says that it may pay to order again."""

import json
import tempfile
from datetime import date
from pathlib import Path
from unittest import TestCase

import numpy as np
from click.testing import CliRunner, Result

from driftfield.cli.main import main
from driftfield.core.base import CoreError
from driftfield.core.supply import Offers, Shelves
from driftfield.exchange.own_goods import HARDLY, Own, own_goods
from driftfield.exchange.storefronts import Storefronts

from .packages import write
from .sleepy import peopled_market

DAY = date(2026, 5, 10)
TODAY = float(DAY.toordinal())
NONE, GONE = np.nan, np.inf


def shops(*rows: tuple[int, int, float, float]) -> Storefronts:
    """From listing, seller and first and last day before DAY; infinite for what stands."""
    listing, seller, since, until = (np.array(one) for one in zip(*rows, strict=True))
    offers = Offers(
        listing, seller, TODAY - since, np.where(np.isinf(until), np.inf, TODAY - until)
    )
    none = np.empty(0, dtype=np.int64)
    return Storefronts(
        ids=[f"l{i}" for i in range(8)], facts={}, brand=none, brands=[], category=none, tree=None,
        shelves=Shelves.of(offers), sellers={f"s{i}": i for i in range(5)}, names={}, day=DAY,
    )  # fmt: skip


class Had(TestCase):
    def test_now_before_and_who_else_has_it(self) -> None:
        found = Own.of(
            shops(
                (0, 1, 500, GONE), (0, 2, 900, GONE), (0, 3, 400, 30),  # mine twice; one gave it up
                (3, 1, 800, 200), (3, 4, 90, GONE), (3, 3, 90, GONE), (3, 3, 500, 100),
                (5, 2, -20, GONE),  # not begun yet
                (6, 4, 90, GONE),
            ),
            ["s1", "s2"],
            pasted=[6],
        )  # fmt: skip
        self.assertEqual(found.place.tolist(), [0, 3, 6])
        self.assertEqual(found.now.tolist(), [True, False, False])
        np.testing.assert_array_equal(found.since, [TODAY - 900, TODAY - 800, NONE])
        np.testing.assert_array_equal(found.until, [np.inf, TODAY - 200, NONE])
        self.assertEqual(found.rivals.tolist(), [0, 2, 1])


class Figures(dict[str, list[float]]):
    def figure(self, key: str) -> np.ndarray:
        return np.array(self[key], dtype=float)


class Again(TestCase):
    def reasons(self, **changes: float) -> list[str]:
        return self.record(**changes)["reasons"]

    def record(
        self, *, now: bool = False, rivals: int = 3, rise: float = 0.1, **changes: float
    ) -> dict:
        """One good: sold well at an unchanged price, offered by others; with some figures changed."""
        usual = {
            "listing.price": 20.0, "listing.price_change_13w": 0.0, "sales.units_52w": 400.0,
            "listing.estimated_units": NONE, "listing.own_units": NONE, "drift_low": -0.5, "drift_high": -0.2, "listing.offers": rivals,
            "listing.in_stock": 0.98, "sleep.order_in_days": NONE, "sleep.state": NONE,
        }  # fmt: skip
        niche = {"drift_low": -0.02, "drift_high": 0.07}
        for key, value in changes.items():
            where = niche if key.startswith("niche_") else usual
            where[key.removeprefix("niche_").replace("__", ".")] = value
        listings = Figures({key: [NONE, value] for key, value in usual.items()})
        niches = Figures({key: [value] for key, value in niche.items()})
        own = Own(
            np.array([1]), np.array([now]), np.array([NONE]), np.array([NONE]), np.array([rivals])
        )
        names = {"id": ["a", "b"], "name": ["A", "B"]}
        (row,) = own_goods(own, listings, niches, np.array([-1, 0]), names, rise, DAY)
        return row

    def test_nothing_says_so(self) -> None:
        row = self.record()
        self.assertEqual((row["reasons"], row["sentence"]), ([], "Nothing says so yet."))

    def test_its_price_rose_while_the_demand_of_its_niche_holds(self) -> None:
        self.assertEqual(self.reasons(listing__price_change_13w=0.1), ["price"])
        self.assertEqual(self.reasons(listing__price_change_13w=0.09), [])
        self.assertEqual(self.reasons(listing__price_change_13w=0.09, rise=0.05), ["price"])
        # All of the interval of its drift lies under 0: demand falls.
        self.assertEqual(self.reasons(listing__price_change_13w=0.3, niche_drift_high=-0.01), [])
        # Whether demand holds is not known.
        self.assertEqual(self.reasons(listing__price_change_13w=0.3, niche_drift_high=NONE), [])
        said = self.record(listing__price_change_13w=0.12)["sentence"]
        self.assertEqual(
            said,
            "Its price rose by 12% in 13 weeks while demand in its niche is not seen to fall (−2% to +7% a year).",
        )  # fmt: skip

    def test_a_wide_interval_does_not_say_that_demand_holds(self) -> None:
        wide = self.record(
            listing__price_change_13w=0.12, niche_drift_low=-0.62, niche_drift_high=1.89
        )
        self.assertEqual(
            wide["sentence"],
            "Its price rose by 12% in 13 weeks; whether demand in its niche falls is not known (−62% to +189% a year).",
        )  # fmt: skip
        self.assertEqual(wide["reasons"], ["price"])

    def test_its_season_comes(self) -> None:
        row = self.record(sleep__order_in_days=31, sleep__state=0)
        self.assertEqual((row["reasons"], row["order_by"]), (["season"], "2026-06-10"))
        self.assertIn("order by 10 Jun 2026", row["sentence"])
        for days in (-1, 61):
            self.assertEqual(self.reasons(sleep__order_in_days=days), [])

    def test_nobody_else_has_it(self) -> None:
        self.assertEqual(self.reasons(rivals=0), ["rivals"])
        # Its history counts an offer that is not one's own.
        self.assertEqual(self.reasons(rivals=0, listing__offers=1), [])
        self.assertEqual(self.reasons(rivals=0, now=True, listing__offers=1), ["rivals"])
        row = self.record(listing__in_stock=0.2)
        # On what it rests stands beside it: the interval of its demand.
        self.assertEqual(
            row["sentence"],
            "It was in stock for 20% of the last four weeks while demand in its niche is not seen to fall "
            "(−2% to +7% a year).",
        )

    def test_what_hardly_sells_is_nothing_to_order(self) -> None:
        self.assertEqual(self.reasons(rivals=0, sales__units_52w=HARDLY - 1), [])
        self.assertEqual(self.reasons(rivals=0, sales__units_52w=HARDLY), ["rivals"])
        # Of ranks alone, by what they come to; unknown is not little.
        by_rank = {"sales__units_52w": NONE, "listing__estimated_units": 5}
        self.assertEqual(self.reasons(rivals=0, **by_rank), [])
        # What one sold is known better than what its rank says.
        self.assertEqual(self.reasons(rivals=0, **by_rank, listing__own_units=300), ["rivals"])
        self.assertEqual(self.reasons(rivals=0, sales__units_52w=NONE), ["rivals"])

    def test_a_rise_that_is_none(self) -> None:
        for rise in (0, -0.1, NONE):
            with self.assertRaisesRegex(CoreError, "must be above"):
                self.record(rise=rise)


class Command(TestCase):
    def run_it(self, *words: str) -> Result:
        with tempfile.TemporaryDirectory() as holder:
            folder = write(Path(holder) / "in", **peopled_market())
            pasted = Path(holder) / "ids.txt"
            pasted.write_text("https://quay.example/p/l5; l99", "utf-8")
            done = [one.replace("IDS", str(pasted)) for one in words]
            return CliRunner().invoke(main, ["replenish", str(folder), *done])

    def test_sellers_and_pasted_listings(self) -> None:
        done = self.run_it("--mine", "wick", "--ids-from", "IDS", "--all")
        self.assertEqual(done.exit_code, 0, done.output)
        rows = {row["listing_id"]: row for row in map(json.loads, done.stdout.splitlines())}
        self.assertEqual(set(rows), {"l1", "l2", "l3", "l5"})
        # Its price went from 8 to 12 in the last three months, and strainers hold.
        self.assertIn("price", rows["l2"]["reasons"])
        self.assertEqual((rows["l2"]["until"], rows["l2"]["carried_now"]), ("2025-09-10", False))
        self.assertEqual(rows["l1"]["rivals"], 3)
        self.assertIn("“l99” is unknown here", done.stderr)

    def test_the_seller_of_the_demo_market_who_clears_after_the_season(self) -> None:
        demo = Path(__file__).resolve().parents[3] / "demo" / "harrow-quay.zip"
        done = CliRunner().invoke(main, ["replenish", str(demo), "--mine", "s205"])
        rows = [json.loads(line) for line in done.stdout.splitlines()]
        risen = [row["name"] for row in rows if "price" in row["reasons"]]
        self.assertEqual(len(risen), 2)
        self.assertTrue(all("bean row netting" in name for name in risen))
        alone = [row for row in rows if "rivals" in row["reasons"]]
        (empty,) = (row for row in alone if not row["carried_now"])
        self.assertLess(empty["in_stock"], 0.1)
        # What it makes itself nobody else has; how many it sold is known where its rank alone would tell less.
        made = [row for row in alone if row["carried_now"]]
        self.assertTrue(made and all(row["own_units"] for row in made))

    def test_what_is_lacking_is_said(self) -> None:
        for words, said in (
            ((), "Say what is your own"),
            (("--mine", "zebra"), "None of zebra is a seller here"),
            (("--mine", "wick", "--rise", "0"), "0.0 is not in the range"),
        ):
            done = self.run_it(*words)
            self.assertNotEqual(done.exit_code, 0)
            self.assertIn(said, done.stderr)
