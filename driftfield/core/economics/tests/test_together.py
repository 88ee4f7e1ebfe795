"""Several plans on one cash path: against trying every choice, a table worked by hand, and a calendar."""

from datetime import date, timedelta
from itertools import product
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from driftfield.core.economics.cash import CashDraws
from driftfield.core.economics.together import (
    Stake,
    filling,
    lay_out,
    propose,
    together,
    units_by_month,
)

MONDAY = date(2026, 9, 7)
TODAY = MONDAY + timedelta(days=2)


def stake(
    key: str, balance: list[float], niche: str | None = None, *, placed: bool = False, weeks: int = 0,
    gain: float | None = None, days: int = 2, sold: int = 0, units: list[float] | None = None,
) -> Stake:  # fmt: skip
    """A plan whose draws are all alike, ordered some weeks from now."""
    path = np.tile(np.array(balance), (4, 1))
    final = np.full(4, balance[-1] if gain is None else gain)
    first = MONDAY + timedelta(weeks=weeks)
    draws = CashDraws(path, final, np.zeros_like(path), np.zeros(4))
    expected = np.array(units or [0.0] * len(balance))
    on_sale = MONDAY + timedelta(weeks=sold)
    return Stake(
        key, niche or key, placed, first + timedelta(days=days), on_sale, on_sale + timedelta(weeks=9), first,
        expected, float(final.mean()),
        float((final < 0).mean()), draws,
    )  # fmt: skip


class Calendar(TestCase):
    def test_plans_stand_in_their_weeks_and_keep_what_they_ended_with(self) -> None:
        laid = lay_out(
            [stake("a", [-10, -30, 20]), stake("b", [-5, 15], weeks=2, units=[0, 7])], TODAY
        )
        np.testing.assert_allclose(
            laid.balances[:, 0], [[-10, -30, 20, 20], [0, 0, -5, 15]], atol=1e-6
        )
        np.testing.assert_allclose(laid.units[1], [0, 0, 0, 7])
        found = together(laid, np.array([True, True]), 40.0)
        np.testing.assert_allclose(found.middle, [30, 10, 55, 75])
        self.assertEqual((found.lowest[1], found.lowest_week, found.short), (10, 1, 0))
        self.assertEqual(found.gained[1], 35)

    def test_what_is_paid_is_behind(self) -> None:
        """Ordered two weeks ago for 100, 60 paid then: 40 are still to come, and all of what is sold."""
        old = stake("a", [-60, -60, -100, -20, 50], placed=True, weeks=-2)
        laid = lay_out([old], TODAY)
        np.testing.assert_allclose(laid.balances[0, 0], [-40, 40, 110], atol=1e-6)
        # Placed on Monday of this week, looked at on Wednesday: the deposit is paid.
        fresh = stake("a", [-60, -100, 50], placed=True, days=0)
        np.testing.assert_allclose(lay_out([fresh], TODAY).balances[0, 0], [0, -40, 110], atol=1e-6)
        # The same as a draft of today is still to be paid.
        np.testing.assert_allclose(
            lay_out([stake("a", [-60, -100, 50])], TODAY).balances[0, 0], [-60, -100, 50], atol=1e-6
        )
        # On Sunday the week is over.
        sunday = MONDAY + timedelta(days=6)
        np.testing.assert_allclose(lay_out([old], sunday).balances[0, 0], [0, 80, 150], atol=1e-6)

    def test_all_that_an_old_order_did_may_be_behind(self) -> None:
        laid = lay_out([stake("a", [-60, 50], placed=True, weeks=-9)], TODAY)
        np.testing.assert_allclose(laid.balances[0, 0], [0], atol=1e-6)

    def test_what_is_gained_is_told_from_now_on_and_a_loss_from_the_first_payment(self) -> None:
        laid = lay_out([stake("a", [-60, -100, 50], placed=True, weeks=-1, gain=-10)], TODAY)
        found = together(laid, np.array([True]), 0.0)
        # Of 10 lost in all 60 are paid already.
        self.assertEqual((found.gained[1], found.loss), (50, 1))

    def test_alike_is_worse_than_apart(self) -> None:
        rng = np.random.default_rng(4)
        stakes = []
        for key in "ab":
            final = rng.normal(20, 60, 1000)
            path = np.column_stack([np.full(1000, -10.0), final])
            stakes.append(
                Stake(
                    key,
                    key,
                    False,
                    TODAY,
                    TODAY,
                    TODAY,
                    MONDAY,
                    np.zeros(2),
                    float(final.mean()),
                    float((final < 0).mean()),
                    CashDraws(path, final, path, final),
                )
            )
        found = together(lay_out(stakes, TODAY), np.array([True, True]), 200.0)
        self.assertLess(found.alike, found.lowest[0])
        # Of two independent normal ones the tenth is 1.28 of their joint deviation below the mean.
        self.assertAlmostEqual(found.gained[0], 40 - 1.2816 * 60 * 2**0.5, delta=12)


class Choice(TestCase):
    @given(st.integers(0, 2**32 - 1), st.integers(0, 300))
    def test_no_other_choice_that_fits_earns_more(self, seed: int, cash: int) -> None:
        rng = np.random.default_rng(seed)
        stakes = []
        for at in range(6):
            paid, back = rng.integers(20, 120), rng.integers(0, 200)
            path = [-paid * 0.3, -paid, -paid, back - paid]
            stakes.append(
                stake(str(at), path, f"niche {rng.integers(4)}", weeks=int(rng.integers(4)))
            )
        laid = lay_out(stakes, TODAY)
        found = propose(laid, float(cash), TODAY)
        gains = np.array([one.draws.final.mean() for one in stakes])

        def fits(taken: np.ndarray) -> bool:
            niches = [one.niche for one, use in zip(stakes, taken, strict=True) if use]
            low = cash + laid.lows[taken].sum(axis=0)
            return len(niches) == len(set(niches)) and bool((low >= -0.01).all())

        tried = [np.array(one) for one in product((False, True), repeat=6)]
        best = max(gains[one].sum() for one in tried if fits(one))
        self.assertTrue(fits(found.taken))
        self.assertAlmostEqual(gains[found.taken].sum(), best, places=2)
        # Each that is left out is told why, and none that is taken.
        self.assertEqual(set(found.left_out), set(np.flatnonzero(~found.taken).tolist()))

    def test_the_reason_for_each_left_out(self) -> None:
        stakes = [
            stake("kept", [-80, 60]),
            stake("past", [-10, 60], days=-9),
            stake("loses", [-10, -2]),
            stake("dear", [-250, 900]),
            stake("same niche", [-80, 50], "kept"),
            stake("no room", [-50, 20]),
            stake("back in time", [-90, 30], weeks=1),
        ]
        found = propose(lay_out(stakes, TODAY), 100.0, TODAY)
        self.assertEqual(np.flatnonzero(found.taken).tolist(), [0, 6])
        told = {stakes[at].key: one.why for at, one in found.left_out.items()}
        self.assertEqual(
            told,
            {"past": "past", "loses": "loses", "dear": "alone", "same niche": "other", "no room": "beside"},
        )  # fmt: skip
        self.assertEqual((found.left_out[3].week, found.left_out[3].short), (0, 150))
        self.assertEqual((found.left_out[5].week, found.left_out[5].short), (0, 30))
        self.assertEqual(found.left_out[4].other, 0)

    def test_one_niche_has_several_orders_at_different_times(self) -> None:
        stakes = [
            stake("spring", [-30, 10], "n", placed=True),
            stake("spring again", [-20, 30], "n"),
            stake("autumn", [-20, 15], "n", sold=20),
            stake("next spring", [-20, 40], "n", sold=52),
        ]
        found = propose(lay_out(stakes, TODAY), 500.0, TODAY)
        self.assertEqual(found.taken.tolist(), [True, False, True, True])
        self.assertEqual((found.left_out[1].why, found.left_out[1].other), ("other", 0))

    def test_a_chance_of_a_loss_that_is_too_high(self) -> None:
        final = np.array([-20.0, -20, 90, 90])
        path = np.column_stack([np.full(4, -20.0), final])
        risky = Stake(
            "a",
            "a",
            False,
            TODAY,
            TODAY,
            TODAY,
            MONDAY,
            np.zeros(2),
            float(final.mean()),
            float((final < 0).mean()),
            CashDraws(path, final, path, final),
        )
        laid = lay_out([risky], TODAY)
        self.assertTrue(propose(laid, 100.0, TODAY).taken[0])
        self.assertEqual(propose(laid, 100.0, TODAY, 0.4).left_out[0].why, "risky")

    def test_placed_orders_stay_and_what_they_exceed_is_told(self) -> None:
        stakes = [
            stake("placed", [-40, -150, 60], placed=True, days=3),
            stake("other", [-30, -30, 10]),
            stake("again", [-1, 5], "placed"),
        ]
        found = propose(lay_out(stakes, TODAY), 100.0, TODAY)
        self.assertEqual(found.taken.tolist(), [True, False, False])
        self.assertEqual((found.over, found.over_week), (50, 1))
        self.assertEqual((found.left_out[1].why, found.left_out[2].why), ("alone", "other"))


class Year(TestCase):
    def test_quiet_months_are_those_after_goods_can_be_there(self) -> None:
        units = [0.0] * 60
        for week in range(12, 30):
            units[week] = 10
        laid = lay_out([stake("a", [0.0] * 60, units=units)], TODAY)
        months = units_by_month(laid, np.array([True]), TODAY + timedelta(days=77))
        self.assertEqual(len(months), 15)
        self.assertEqual((months[0].month, months[0].quiet), (date(2026, 9, 1), False))
        self.assertAlmostEqual(sum(one.units for one in months), 180)
        quiet = [one.month.month for one in months if one.quiet]
        self.assertEqual(quiet, [11, 5, 6, 7, 8, 9, 10])
        # Where nothing sells at all no month is quieter than another.
        none = units_by_month(laid, np.array([False]), TODAY)
        self.assertFalse(any(one.quiet for one in none))

    def test_what_fills_a_gap(self) -> None:
        profiles = np.ones((3, 12))
        profiles[1, :3] = 4.0
        profiles[2] = np.nan
        quiet = np.arange(12) < 3
        found = filling(profiles, quiet)
        np.testing.assert_allclose(found[:2], [1, 12 / 21 / 0.25])
        self.assertTrue(np.isnan(found[2]))
        self.assertTrue(np.isnan(filling(profiles, np.zeros(12, dtype=bool))).all())
