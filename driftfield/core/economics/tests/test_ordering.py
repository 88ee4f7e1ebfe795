"""How many to order: against textbook examples, brute force, and the trade's own figures."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import norm

from driftfield.core.base import CoreError
from driftfield.core.economics.ordering import (
    OwnFigure,
    critical_ratio,
    economic_quantity,
    newsvendor_normal,
    newsvendor_quantity,
    plain_practice,
    profit_curve,
    safety_stock,
    slips_in,
)
from driftfield.core.economics.quotes import Part, PriceBreak, Quote, Way, split_units


class Textbooks(TestCase):
    def test_newsvendor_with_normal_demand(self) -> None:
        """Snyder & Shen, Fundamentals of Supply Chain Theory, example 4.3: holding 0.18, penalty 0.70, demand
        N(50, 8²): 56.60. The values are from memory; benchmarks/order_quantities.py holds against the package."""
        self.assertAlmostEqual(critical_ratio(0.70, 0.18), 0.7955, places=4)
        self.assertAlmostEqual(newsvendor_normal(50, 8, 0.70, 0.18), 56.604, places=3)

    def test_economic_order_quantity(self) -> None:
        """The same, example 3.1: 1,300 a year, 8 an order, 0.225 a unit and year: 304.05. From memory."""
        self.assertAlmostEqual(economic_quantity(1300, 8, 0.225), 304.05, places=2)

    def test_reorder_point(self) -> None:
        """Mean demand while one waits and k deviations; k = 1.645 at 95%, as any table of the normal has it."""
        self.assertAlmostEqual(safety_stock(1, 0.95), 1.645, places=3)
        self.assertAlmostEqual(100 + safety_stock(20, 0.95), 100 + 20 * norm.ppf(0.95))
        for service in (0, 1):
            with self.assertRaises(CoreError):
                safety_stock(1, service)

    def test_draws_come_near_the_normal(self) -> None:
        draws = np.random.default_rng(0).normal(500, 80, 200_000)
        self.assertAlmostEqual(
            newsvendor_quantity(draws, 7, 3) / newsvendor_normal(500, 80, 7, 3), 1, delta=0.002
        )


class BruteForce(TestCase):
    @given(
        st.lists(st.integers(0, 60), min_size=1, max_size=30),
        st.floats(0.1, 20),
        st.floats(0.1, 20),
    )
    def test_no_quantity_earns_more_than_the_newsvendor_s(
        self, demand: list[int], under: float, over: float
    ) -> None:
        drawn = np.array(demand, dtype=np.float64)

        def lost(units: float) -> float:
            return float(
                (under * np.maximum(drawn - units, 0) + over * np.maximum(units - drawn, 0)).mean()
            )

        best = newsvendor_quantity(drawn, under, over)
        self.assertLessEqual(lost(best), min(lost(units) for units in range(62)) + 1e-9)

    @given(st.integers(0, 2**32 - 1), st.floats(0, 0.4), st.floats(0, 0.3))
    def test_the_profit_curve_is_what_selling_week_by_week_gives(
        self, seed: int, again: float, storage: float
    ) -> None:
        rng = np.random.default_rng(seed)
        demand = rng.poisson(rng.uniform(0, 30, (1, 6)), (40, 6)).astype(np.float64)
        earned = rng.uniform(2, 12, 6)
        stored = storage * rng.uniform(1, 3, 6)  # Dearer in some weeks.
        units = np.array([0, 10, 45, 90, 400])
        curve = profit_curve(
            np.cumsum(demand, axis=1), units, earned, lambda many: 3.0 * many, lambda many: 1.5, again,
            stored,
        )  # fmt: skip
        for at, many in enumerate(units.tolist()):
            profit = []
            for row in demand:
                stock, money = float(many), -3.0 * many
                for week, wanted in enumerate(row):
                    # What comes back is on the shelf again at once.
                    sold = min(wanted, stock / (1 - again))
                    stock -= sold * (1 - again)
                    money += sold * earned[week] - stock * stored[week]
                profit.append(money + stock * 1.5)
            self.assertAlmostEqual(float(np.mean(profit)), curve.profit[at], places=6)


class OwnReckoning(TestCase):
    def test_searches_that_rise_by_half(self) -> None:
        """30,000 now and 45,000 then is +50%: common practice, no source."""
        own = OwnFigure(4, 30_000, 45_000, 90)
        self.assertAlmostEqual(own.growth, 0.5)
        self.assertAlmostEqual(plain_practice(own), 540)

    def test_the_usual_slips_are_told(self) -> None:
        for quantity, slips in (
            (240, ["upside down"]),
            (360, ["ignores arrival"]),
            (540, []),
            (480, []),
        ):
            self.assertEqual(slips_in(OwnFigure(4, 30_000, 45_000, 90, quantity)), slips, quantity)
        # Where nothing changes there is nothing to confuse.
        self.assertEqual(slips_in(OwnFigure(4, 30_000, 30_000, 90, 360)), [])
        self.assertEqual(slips_in(OwnFigure(4, 30_000, 0, 90, 10)), [])

    def test_no_searches_now_is_refused(self) -> None:
        with self.assertRaisesRegex(CoreError, "searches now above 0"):
            OwnFigure(4, 0, 45_000, 90)


class Quotes(TestCase):
    quote = Quote("A", (PriceBreak(1, 5.0), PriceBreak(200, 4.0)), minimum=50, carton=24)

    def test_breaks_minimum_and_cartons(self) -> None:
        self.assertEqual([self.quote.unit_cost(n) for n in (1, 199, 200, 999)], [5, 5, 4, 4])
        self.assertEqual([self.quote.orderable(n) for n in (0, 50, 72, 72.5)], [72, 72, 72, 96])

    def test_what_makes_no_quote(self) -> None:
        for breaks in ((), (PriceBreak(2, 1.0),), (PriceBreak(1, 2.0), PriceBreak(1, 1.0))):
            with self.assertRaises(CoreError):
                Quote("A", breaks)
        with self.assertRaises(CoreError):
            Quote("A", (PriceBreak(1, 1.0),), deposit=1.2)

    @given(st.integers(1, 40), st.floats(0, 1))
    def test_parts_are_whole_cartons_and_all_of_it(self, cartons: int, share: float) -> None:
        way = Way("sea", 40)
        parts = [Part(way, 1 - share), Part(way, share)]
        found = split_units(cartons * 24, parts, 24)
        self.assertEqual(sum(found), cartons * 24)
        self.assertEqual(found[1] % 24, 0)
        self.assertTrue(all(one >= 0 for one in found))

    def test_freight_by_weight_and_volume(self) -> None:
        way = Way("sea", 40, per_kg=0.5, per_m3=100, per_unit=0.1, fixed=80)
        self.assertAlmostEqual(way.cost(100, 0.4, 0.002), 80 + 100 * (0.1 + 0.2 + 0.2))
        self.assertEqual(way.cost(0, 0.4, 0.002), 0)
