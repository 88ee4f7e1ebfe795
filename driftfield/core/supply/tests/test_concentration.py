from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate

from driftfield.core.base import CoreError, Period
from driftfield.core.supply.concentration import bounds, by_brand, by_listing, concentration
from driftfield.core.supply.members import Clicks, read_members

from .shops import members_of

SHARES = st.lists(st.floats(0.001, 1), min_size=1, max_size=30)


def one(*shares: float):
    return concentration(np.zeros(len(shares), dtype=np.int64), np.array(shares), 1)


class Published(TestCase):
    def test_four_firms_of_the_merger_guidelines(self) -> None:
        # U.S. Horizontal Merger Guidelines: shares of 30, 30, 20 and 20 per cent give 2,600.
        self.assertAlmostEqual(one(0.3, 0.3, 0.2, 0.2).hhi[0], 2600)

    def test_thresholds_of_the_merger_guidelines(self) -> None:
        # Guidelines of 2023, 2.1: above 1,800 is highly concentrated. Ten equal firms are not, five are.
        self.assertLess(one(*[0.1] * 10).hhi[0], 1800)
        self.assertGreater(one(*[0.2] * 5).hhi[0], 1800)

    def test_equal_holders(self) -> None:
        found = one(*[0.1] * 10)
        self.assertAlmostEqual(found.effective[0], 10)
        self.assertEqual(found.breadth[0], 8)
        self.assertAlmostEqual(found.top[3][0], 0.3)
        self.assertAlmostEqual(found.gini[0], 0)

    def test_a_monopoly(self) -> None:
        found = one(1.0)
        self.assertEqual((found.hhi[0], found.breadth[0], found.top[20][0]), (10_000, 1, 1))


class Arithmetic(TestCase):
    @given(st.lists(SHARES, min_size=1, max_size=5))
    def test_is_plain_arithmetic(self, groups: list[list[float]]) -> None:
        shares = [np.array(g) / sum(g) * 0.95 for g in groups]
        group = np.repeat(np.arange(len(shares)), [len(s) for s in shares])
        found = concentration(group, np.concatenate(shares), len(shares))
        for i, own in enumerate(shares):
            ordered = sorted(own, reverse=True)
            self.assertAlmostEqual(found.hhi[i], sum((100 * s) ** 2 for s in own), 6)
            self.assertAlmostEqual(found.effective[i], 1 / sum(s * s for s in own), 6)
            for k in (1, 3, 5, 20):
                self.assertAlmostEqual(found.top[k][i], sum(ordered[:k]), 9)
            # Gini (1912): mean absolute difference over twice the mean.
            apart = sum(abs(a - b) for a in own for b in own) / len(own) ** 2
            self.assertAlmostEqual(found.gini[i], apart / (2 * sum(own) / len(own)), 6)
            running, breadth = 0.0, 0
            while running < 0.8 - 1e-9:
                running += ordered[breadth]
                breadth += 1
            self.assertEqual(found.breadth[i], breadth)

    @given(st.lists(st.tuples(st.floats(1, 500), SHARES), min_size=1, max_size=4))
    def test_terms_count_by_their_clicks(self, terms: list[tuple[float, list[float]]]) -> None:
        rows = [
            (t, listing, share / sum(shares) * 0.9, clicks)
            for t, (clicks, shares) in enumerate(terms)
            for listing, share in enumerate(shares)
        ]
        term, listing, share, clicks = (np.array(c) for c in zip(*rows, strict=True))
        seen = Clicks(term, np.zeros(len(rows), dtype=np.int64), listing, share)
        members = read_members(
            seen, clicks, np.zeros(len(terms), dtype=np.int64), 1, 1, 13, Period.WEEK
        )
        found = by_listing(members, 0, breadth=0.8)
        whole = sum(c for c, _ in terms)
        held: dict[int, float] = {}
        for _, page, part, weight in rows:
            held[page] = held.get(page, 0) + part * weight / whole
        self.assertAlmostEqual(found.hhi[0], sum((100 * s) ** 2 for s in held.values()), 6)
        self.assertAlmostEqual(found.accounted[0], 0.9, 9)


class Lorenz(TestCase):
    def test_gini_is_one_less_twice_the_area_under_the_lorenz_curve(self) -> None:
        shares = np.random.default_rng(2).dirichlet(np.ones(15))
        curve = np.concatenate([[0], np.cumsum(np.sort(shares))])
        area = integrate.trapezoid(curve, dx=1 / 15)
        self.assertAlmostEqual(one(*shares).gini[0], 1 - 2 * area, 12)


class Unaccounted(TestCase):
    @given(st.lists(SHARES, min_size=1, max_size=4), st.integers(1, 8))
    def test_bounds_hold_where_only_the_top_listings_are_known(
        self, terms: list[list[float]], known: int
    ) -> None:
        full = [sorted((np.array(s) / sum(s)).tolist(), reverse=True) for s in terms]
        # The same listing may stand at different places after different terms.
        rows = [
            (t, (place * (t + 1)) % 31, share)
            for t, shares in enumerate(full)
            for place, share in enumerate(shares)
        ]
        truth: dict[int, float] = {}
        for _, page, share in rows:
            truth[page] = truth.get(page, 0) + share / len(full)
        merged: dict[tuple[int, int], float] = {}
        for t, page, share in rows:
            merged[t, page] = merged.get((t, page), 0) + share
        cut = []
        for t in range(len(full)):
            mine = sorted(((s, p) for (u, p), s in merged.items() if u == t), reverse=True)
            cut += [(t, page, share) for share, page in mine[:known]]
        term, page, share = (np.array(c) for c in zip(*cut, strict=True))
        seen = Clicks(term, np.zeros(len(cut), dtype=np.int64), page, share)
        members = read_members(
            seen, np.ones(len(cut)), np.zeros(len(full), dtype=np.int64), 1, 1, 13, Period.WEEK
        )
        found = by_listing(members, 0, breadth=0.8)
        limits = bounds(members.subject, members.share[:, 0], found, members.rest[0], members.reach)
        ordered = sorted(truth.values(), reverse=True)
        hhi = sum((100 * s) ** 2 for s in ordered)
        self.assertLessEqual(found.hhi[0], hhi + 1e-6)
        self.assertGreaterEqual(limits.hhi_high[0], hhi - 1e-6)
        for k in (1, 3, 5, 20):
            self.assertLessEqual(found.top[k][0], sum(ordered[:k]) + 1e-9)
            self.assertGreaterEqual(limits.top_high[k][0], sum(ordered[:k]) - 1e-9)
        breadth = int(np.searchsorted(np.cumsum(ordered), 0.8 - 1e-9)) + 1
        self.assertLessEqual(limits.breadth_least[0], breadth)
        if not np.isnan(found.breadth[0]):
            self.assertGreaterEqual(found.breadth[0], breadth)

    def test_by_hand(self) -> None:
        # One term, 40, 20 and 10 per cent known: 30 left, in shares of at most 10. HHI is 2,100 to 2,400.
        members = members_of([0.4, 0.2, 0.1])
        found = by_listing(members, 0, breadth=0.8)
        limits = bounds(members.subject, members.share[:, 0], found, members.rest[0], members.reach)
        self.assertAlmostEqual(found.hhi[0], 2100)
        self.assertAlmostEqual(limits.hhi_high[0], 2400)
        self.assertTrue(np.isnan(found.breadth[0]))
        # 40, 20, 10 and one more of 10 make 80: four at least. No unknown one is among the top three.
        self.assertEqual(limits.breadth_least[0], 4)
        self.assertAlmostEqual(limits.top_high[3][0], 0.7)


class Unknown(TestCase):
    def test_a_group_without_clicks_has_no_figures(self) -> None:
        found = concentration(np.array([0, 0]), np.array([0.5, 0.5]), 2)
        self.assertTrue(np.isnan([found.hhi[1], found.breadth[1], found.top[1][1]]).all())

    def test_impossible_shares_are_refused(self) -> None:
        with self.assertRaisesRegex(CoreError, "add up to 1.200"):
            one(0.6, 0.6)
        with self.assertRaisesRegex(CoreError, "negative"):
            one(-0.1, 0.5)


class Brands(TestCase):
    def test_listings_of_a_brand_count_together_and_the_unnamed_apart(self) -> None:
        members = members_of([0.3, 0.2, 0.2, 0.1])
        found = by_brand(members, np.array([5, 5, -1, -1]), 0, breadth=0.8)
        self.assertAlmostEqual(found.top[1][0], 0.5)
        self.assertEqual(found.holders[0], 3)

    def test_unknown_where_no_brand_is_known(self) -> None:
        members = members_of([0.3, 0.2])
        self.assertTrue(np.isnan(by_brand(members, np.array([-1, -1]), 0, breadth=0.8).hhi[0]))


class Windows(TestCase):
    def test_now_and_a_year_ago(self) -> None:
        members = members_of([0.5, 0.5], then=[[1.0]])
        self.assertAlmostEqual(by_listing(members, 0, breadth=0.8).hhi[0], 5000)
        self.assertAlmostEqual(by_listing(members, 2, breadth=0.8).hhi[0], 10_000)

    def test_a_listing_divides_its_units_among_niches_by_clicks(self) -> None:
        seen = Clicks(np.array([0, 1]), np.array([0, 0]), np.array([7, 7]), np.array([0.5, 0.5]))
        members = read_members(
            seen, np.array([300.0, 100.0]), np.array([0, 1]), 2, 1, 13, Period.WEEK
        )
        self.assertEqual(members.portion.tolist(), [0.75, 0.25])
