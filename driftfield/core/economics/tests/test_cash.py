"""The cash path: against a table worked by hand and a loop, and to the penny."""

from decimal import Decimal
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from driftfield.core.economics.cash import CashPath, Payment, Terms, follow_cash, internal_rate
from driftfield.core.economics.own_demand import ShareDraws, sold_of
from driftfield.core.economics.pennies import adding_up, to_pennies


def terms(weeks: int, **changed: float) -> Terms:
    given: dict[str, float] = {
        "tax_part": 0.0, "commission": 0.1, "handling": 1.0, "returned": 0.0, "resold": 0.0, "storage": 0.0,
    } | changed  # fmt: skip
    return Terms(
        given["tax_part"], given["commission"], given["handling"], given["returned"], given["resold"],
        np.full(weeks, 20.0), np.full(weeks, 0.1), np.full(weeks, given["storage"]), payout_weeks=2, tax_every=4,
        tax_after=1,
    )  # fmt: skip


def cash_path(*given: Any, **named: Any) -> CashPath:
    return follow_cash(*given, **named).path()


class WorkedByHand(TestCase):
    """100 units: 300 paid in week 0 and 300 in week 2; 10 are sold in each of the weeks 4 to 9, at 20 with a
    tenth of commission, a tenth of advertising and 1 of handling: 15 a unit, 150 a week, two weeks later."""

    def setUp(self) -> None:
        self.sold = np.zeros((1, 14))
        self.sold[0, 4:10] = 10
        self.supply = np.r_[np.zeros(4), np.full(10, 100.0)]
        self.paid = [Payment("deposit", 0, 300.0), Payment("balance", 2, 300.0)]

    def test_balances_week_by_week(self) -> None:
        found = cash_path(self.paid, self.sold, self.supply, terms(14), np.ones(1), 2.0)
        np.testing.assert_allclose(
            found.middle,
            [-300, -300, -600, -600, -600, -600, -450, -300, -150, 0, 150, 300, 300, 300],
        )
        self.assertEqual((found.lowest[1], found.lowest_week, found.back[1]), (-600, 2, 9))
        # 40 are left, worth 2 each.
        self.assertAlmostEqual(found.final[1], 300 + 40 * 2)
        self.assertEqual((found.loss, found.never_back, found.sold, found.left), (0, 0, 60, 40))

    def test_tax_on_sales_and_on_the_import(self) -> None:
        """A sixth of the price: 200 a week of takings, 33.33 of it tax, due after each four weeks and one more;
        60 paid on the import in week 3 come back with the first of them."""
        imported = [Payment("tax on imports", 3, 60.0)]
        with_tax = cash_path(
            self.paid, self.sold, self.supply, terms(14, tax_part=1 / 6), np.ones(1), 2.0, imported
        )
        plain = cash_path(self.paid, self.sold, self.supply, terms(14), np.ones(1), 2.0)
        off = with_tax.middle - plain.middle
        third = 200 / 6
        np.testing.assert_allclose(
            off, [0, 0, 0, -60, 0, 0, 0, 0, -4 * third, *([-4 * third] * 3), -6 * third, -6 * third], atol=1e-3
        )  # fmt: skip

    def test_storage_until_the_end_and_not_after(self) -> None:
        found = cash_path(
            self.paid, self.sold, self.supply, terms(14, storage=0.1), np.ones(1), 2.0, end=10
        )
        # 90, 80, … 40 in stock at the ends of the weeks 4 to 9.
        self.assertAlmostEqual(
            found.middle[-1], 300 - 0.1 * (90 + 80 + 70 + 60 + 50 + 40), places=4
        )

    def test_what_is_not_back_is_not_told_a_week(self) -> None:
        found = cash_path(
            [Payment("deposit", 0, 9_000.0)], self.sold, self.supply, terms(14), np.ones(1), 0.0
        )
        self.assertTrue(np.isnan(found.back[1]))
        self.assertEqual((found.never_back, found.loss), (1, 1))

    def test_returns_cost_handling_twice_and_come_back_into_stock(self) -> None:
        found = cash_path(
            self.paid, self.sold, self.supply, terms(14, returned=0.2, resold=0.5), np.ones(1), 2.0
        )
        each = 20 * (0.8 * 0.9 - 0.1) - 1.2
        self.assertAlmostEqual(found.final[1], 60 * each - 600 + (100 - 60 + 6) * 2, places=3)


class InternalRate(TestCase):
    def test_worked_examples(self) -> None:
        """Brealey, Myers & Allen, Principles of Corporate Finance, chapter 5: 4,000 out, 2,000 and 4,000 in is 28.08%
        a period. Lorie & Savage, Journal of Business 28 (1955): a pump has two rates, 25% and 400%. From memory."""
        a_week = (1 + internal_rate(np.array([-4000.0, 2000.0, 4000.0]))) ** (1 / 52) - 1
        self.assertAlmostEqual(a_week, 0.2808, places=4)
        self.assertTrue(np.isnan(internal_rate(np.array([-1600.0, 10_000.0, -10_000.0]))))

    def test_a_loss_and_a_gift_have_none(self) -> None:
        self.assertTrue(np.isnan(internal_rate(np.array([-100.0, 20.0, 30.0]))))
        self.assertTrue(np.isnan(internal_rate(np.array([5.0, 20.0]))))

    @given(st.floats(1.0, 1e5), st.floats(0.001, 0.2), st.integers(1, 60))
    def test_one_payment_back(self, paid: float, rate: float, weeks: int) -> None:
        flow = np.zeros(weeks + 1)
        flow[0], flow[-1] = -paid, paid * (1 + rate) ** weeks
        found = internal_rate(flow)
        if not np.isnan(found):
            self.assertAlmostEqual((1 + found) ** (1 / 52), 1 + rate, places=6)
        else:  # Less than a penny was earned.
            self.assertLess(flow.sum(), 0.01)


class Sold(TestCase):
    @given(st.integers(0, 2**32 - 1))
    def test_who_finds_nothing_does_not_wait(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        demand = rng.integers(0, 12, (5, 15)).astype(np.float64)
        comes = np.where(rng.random(15) < 0.2, rng.integers(0, 60, 15), 0)
        found = sold_of(demand, np.cumsum(comes).astype(np.float64))
        for row, wanted in enumerate(demand):
            stock = 0.0
            for week in range(15):
                stock += comes[week]
                sold = min(stock, wanted[week])
                stock -= sold
                self.assertAlmostEqual(float(found[row, week]), sold, places=3)


class Shares(TestCase):
    def test_a_launch_keeps_its_place_and_months_go_over_into_one_another(self) -> None:
        draws = ShareDraws(
            np.array([0.1, 0.5, 0.9]), np.array([[0.0, 0.0], [0.1, 0.3], [0.2, 0.6]])
        )
        found = draws.at(np.array([0.5, 0.7, 0.99]), np.array([0.5, 1.0, 1.5, 9.0]))
        np.testing.assert_allclose(found[0], [0.1, 0.2, 0.3, 0.3], rtol=1e-6)
        np.testing.assert_allclose(found[1], [0.15, 0.3, 0.45, 0.45], rtol=1e-6)
        np.testing.assert_allclose(found[2], [0.2, 0.4, 0.6, 0.6], rtol=1e-6)


class Pennies(TestCase):
    @given(
        st.dictionaries(
            st.text(min_size=1, max_size=4), st.floats(-1e6, 1e6), min_size=1, max_size=12
        )
    )
    def test_parts_add_up_to_their_sum_and_none_is_off_by_a_penny(
        self, parts: dict[str, float]
    ) -> None:
        total = float(sum(Decimal(repr(one)) for one in parts.values()))
        found = adding_up(parts, total)
        self.assertEqual(sum(found.values(), Decimal(0)), to_pennies(total))
        for name, amount in parts.items():
            self.assertLess(abs(found[name] - Decimal(repr(amount))), Decimal("0.01001"))

    def test_what_does_not_add_up_is_refused(self) -> None:
        with self.assertRaises(ValueError):
            adding_up({"a": 1.0, "b": 2.0}, 4.0)
