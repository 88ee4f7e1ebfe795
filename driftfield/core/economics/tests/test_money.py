"""What is left of a price: worked by hand, and as identities."""

import re
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from driftfield.core.base import CoreError
from driftfield.core.economics.money import (
    EXAMPLE_CLASSES,
    Costs,
    SizeClass,
    at_price,
    class_of,
    unit_economics,
    what_matters,
)
from driftfield.core.economics.working import money_workings

PRICE = st.floats(1, 500)
SHARE = st.floats(0, 0.4)


class Reckonings(TestCase):
    def test_worked_by_hand(self) -> None:
        """Price 20, goods 4 with 5% duty and 1.80 freight: landed 6.00. Commission 15% = 3.00, handling
        3.00, advertising 10% = 2.00: 6.00 is left, a margin of 30% and a return of 100%."""
        found = unit_economics(Costs(price=20, goods=4, duty=0.05, freight=1.8, handling=3))
        self.assertAlmostEqual(found.landed, 6.0)
        self.assertAlmostEqual(found.left, 6.0)
        self.assertAlmostEqual(found.margin, 0.30)
        self.assertAlmostEqual(found.roi, 1.0)
        self.assertAlmostEqual(found.break_even, 12.0)  # 9 ÷ 0.75
        self.assertAlmostEqual(found.most, 7.0)  # 20 × (0.75 − 0.25) − 3
        self.assertAlmostEqual(found.lost_to_returns, 0.0)

    def test_returns_worked_by_hand(self) -> None:
        """A tenth comes back, half of it is resold: 18.00 is taken, 2.70 commission, 3.30 handling,
        2.00 advertising, 5.70 of goods: 4.30 is left, 1.70 less than without returns."""
        found = unit_economics(Costs(price=20, goods=6, handling=3, returns=0.1, resold=0.5))
        self.assertAlmostEqual(found.left, 4.3)
        self.assertAlmostEqual(found.lost_to_returns, 1.7)
        # The costs themselves stand as if nothing came back; what comes back is a step of its own.
        self.assertAlmostEqual(found.commission, 3.0)
        self.assertAlmostEqual(found.handling, 3.0)

    def test_a_waterfall_worked_by_hand(self) -> None:
        """Price 24 with 20% tax: 4.00 is tax. Commission 15% 3.60, advertising 10% 2.40, handling 3.00,
        two months of storage at 0.25 0.50, goods 4.00, 5% duty on them 0.20, freight 1.80. A tenth comes
        back, half of it is resold: 0.1 × (24 − 4 − 3.60) = 1.64 and a handling fee of 0.30 more, less
        0.05 × 6.00 = 0.30 of goods had again. 24 − 19.50 − 1.64 = 2.86 is left, 14.3% of 20."""
        costs = Costs(
            price=24, tax=0.2, goods=4, duty=0.05, freight=1.8, handling=3, storage=0.25, months=2,
            returns=0.1, resold=0.5,
        )  # fmt: skip
        found = unit_economics(costs)
        steps = {
            "tax": 4.0, "commission": 3.6, "advertising": 2.4, "handling": 3.0, "storage": 0.5, "goods": 4.0,
            "duty": 0.2, "freight": 1.8, "lost_to_returns": 1.64,
        }  # fmt: skip
        for key, amount in steps.items():
            self.assertAlmostEqual(getattr(found, key), amount, msg=key)
        self.assertAlmostEqual(found.left, 2.86)
        self.assertAlmostEqual(found.left, costs.price - sum(steps.values()))
        self.assertAlmostEqual(found.margin, 0.143)

    def test_tax_as_it_is_published(self) -> None:
        """HM Revenue & Customs, VAT guide (Notice 700), section 7.3: at a rate of 20% the tax in a price
        that includes it is 1/6 of it; at 5% it is 1/21. So £120 holds £20. From memory."""
        for rate, price, tax in ((0.2, 120, 20), (0.2, 6, 1), (0.05, 21, 1)):
            found = unit_economics(Costs(price=price, goods=0, tax=rate, handling=0))
            self.assertAlmostEqual(found.tax, tax)
        without = unit_economics(Costs(price=100, goods=0, tax=0.2, tax_included=False, handling=0))
        self.assertEqual(without.tax, 0)
        # Commission and advertising are paid on what the buyer pays.
        included = unit_economics(Costs(price=120, goods=0, tax=0.2, handling=0))
        self.assertAlmostEqual(included.commission, 18)

    @given(PRICE, PRICE, SHARE, SHARE, SHARE, SHARE)
    def test_the_waterfall_always_adds_up(
        self, price: float, goods: float, tax: float, ads: float, returns: float, duty: float
    ) -> None:
        found = unit_economics(
            Costs(price=price, goods=goods, tax=tax, advertising=ads, returns=returns, duty=duty,
                  freight=1.5, storage=0.3, months=3, handling=2)
        )  # fmt: skip
        taken = sum(
            getattr(found, key)
            for key in ("tax", "commission", "advertising", "handling", "storage", "goods", "duty",
                        "freight", "lost_to_returns")
        )  # fmt: skip
        self.assertAlmostEqual(price - taken, found.left, places=8)
        self.assertAlmostEqual(found.landed, found.goods + found.duty + found.freight)

    def test_what_would_change_it_most(self) -> None:
        """Of a price of 20: goods at 8 instead of 5 take 3.00, freight at 2 takes 2.00, 20% tax takes
        20 ÷ 6 = 3.33, which is most."""
        costs = Costs(price=20, goods=5, handling=3)
        worst = what_matters(costs, ["goods", "freight", "tax"], EXAMPLE_CLASSES)
        assert worst is not None
        self.assertEqual((worst.cost, worst.value), ("tax", 0.2))
        self.assertAlmostEqual(worst.left, unit_economics(costs).left - 20 / 6)
        worst = what_matters(costs, ["goods", "freight"], EXAMPLE_CLASSES)
        assert worst is not None
        self.assertEqual((worst.cost, worst.value), ("goods", 8))
        self.assertIsNone(what_matters(costs, [], EXAMPLE_CLASSES))
        dear = Costs(price=20, goods=15, handling=3)
        self.assertIsNone(what_matters(dear, ["goods"], EXAMPLE_CLASSES))

    @given(PRICE, PRICE, SHARE, SHARE, SHARE, SHARE)
    def test_break_even_leaves_nothing_and_the_most_leaves_the_wanted_margin(
        self,
        price: float,
        goods: float,
        commission: float,
        ads: float,
        returns: float,
        wanted: float,
    ) -> None:
        costs = Costs(price=price, goods=goods, commission=commission, advertising=ads, returns=returns,
                      wanted=wanted, weight_g=400)  # fmt: skip
        found = unit_economics(costs)
        if found.break_even is not None:
            self.assertAlmostEqual(
                at_price(costs, found.break_even, EXAMPLE_CLASSES).left, 0, places=6
            )
        if found.most is not None:
            paid = Costs(price=price, goods=found.most, commission=commission, advertising=ads,
                         returns=returns, wanted=wanted, weight_g=400)  # fmt: skip
            self.assertAlmostEqual(unit_economics(paid).margin, wanted, places=6)

    def test_when_no_price_would_do(self) -> None:
        greedy = unit_economics(
            Costs(price=20, goods=4, handling=3, commission=0.6, advertising=0.5)
        )
        self.assertIsNone(greedy.break_even)
        self.assertIsNone(greedy.most)
        self.assertLess(greedy.left, 0)
        self.assertIsNone(unit_economics(Costs(price=20, goods=0, handling=3)).roi)

    def test_size_classes_by_weight_and_longest_side(self) -> None:
        for weight, side, name in (
            (200, 300, "small"), (251, 300, "standard"), (200, 400, "standard"), (1_001, 300, "large"),
            (9_000, 300, "bulky"), (None, None, "small"), (None, 600, "large"),
        ):  # fmt: skip
            self.assertEqual(class_of(weight, side, EXAMPLE_CLASSES).name, name)
        with self.assertRaisesRegex(CoreError, "add one without limits"):
            class_of(900, 300, [SizeClass("small", 250, 350, 2.0)])
        self.assertEqual(
            unit_economics(Costs(price=20, goods=4, weight_g=900)).size_class, "standard"
        )

    def test_what_is_refused(self) -> None:
        for wrong, expected in (
            ({"price": 0}, "price must be from 0.01"),
            ({"goods": -1}, "goods must be from 0 to 1,000,000,000; got -1"),
            ({"returns": 1.2}, "returns must be a share from 0% to 100%; got 1.2"),
            ({"freight": float("nan")}, "freight must be from 0"),
            ({"tax": 1.2}, "tax must be a share from 0% to 100%; got 1.2"),
        ):
            with self.assertRaisesRegex(CoreError, expected):
                Costs(**{"price": 20, "goods": 4, **wrong})


class Workings(TestCase):
    def test_the_numbers_put_in_come_to_the_figure(self) -> None:
        """Read back from its text, each working gives its own figure to the digits shown."""
        costs = Costs(
            price=20, goods=6, freight=1.25, duty=0.05, returns=0.1, handling=3, wanted=0.2, tax=0.2,
            storage=0.2, months=3,
        )  # fmt: skip
        result = unit_economics(costs)
        for working in money_workings(costs, result, EXAMPLE_CLASSES):
            with self.subTest(figure=working.key):
                sum_, _, shown = working.numbers.rpartition(" = ")
                plain = re.sub(r"[a-z]+|,", "", re.sub(r"([\d.]+)%", r"(\1/100)", sum_))
                value = eval(plain.replace("×", "*").replace("÷", "/").replace("−", "-"))
                exact = getattr(result, working.key)
                self.assertAlmostEqual(value, exact, delta=0.012)
                given = float(shown.replace("−", "-").rstrip("%")) / (
                    100 if shown.endswith("%") else 1
                )
                self.assertAlmostEqual(given, exact, delta=0.005)

    def test_what_cannot_be_had_says_why(self) -> None:
        costs = Costs(price=20, goods=0, commission=0.6, advertising=0.5, handling=3)
        answer = {one.key: one.numbers for one in money_workings(costs, unit_economics(costs), ())}
        self.assertEqual(answer["roi"], "there is no landed cost")
        self.assertIn("no price would do", answer["break_even"])
        self.assertIn("no cost leaves the margin wanted", answer["most"])
