from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.base import Period, Timeline
from driftfield.core.supply import Clicks, History, Listings, part_weights, read_members, read_moves
from driftfield.core.supply.moves import Moves

WEEKS, NICHES, PAGES = 130, 60, 6
TIMELINE = Timeline(Period.WEEK, date(2023, 11, 20), WEEKS)


def moves(
    seed: int = 1,
    *,
    war: int = -1,
    brand: int = -1,
    empty: int = -1,
    crowd: int = -1,
    weeks: int = WEEKS,
) -> Moves:
    """Sixty niches of six listings whose prices, offers and clicks jitter; from week 112 on one has a price war, one
    a brand that takes 70% instead of 40%; one's most clicked listing is out of stock for the last four weeks."""
    rng = np.random.default_rng(seed)
    n = NICHES * PAGES
    price = 20 * np.exp(rng.normal(0, 0.02, (n, WEEKS)))
    if war >= 0:
        price[war * PAGES : (war + 1) * PAGES, 112:] *= 0.8
    stock = np.ones((n, WEEKS))
    if empty >= 0:
        stock[empty * PAGES, -4:] = 0
    term, at, listing, share = [], [], [], []
    for week in range(WEEKS - weeks, WEEKS):
        for niche in range(NICHES):
            held = 0.4 + rng.normal(0, 0.01) + (0.3 if niche == brand and week >= 112 else 0)
            parts = np.append(held * np.array([0.6, 0.4]), np.full(4, (0.95 - held) / 4))
            term += [niche] * PAGES
            at += [week] * PAGES
            listing += range(niche * PAGES, (niche + 1) * PAGES)
            share += parts.tolist()
    seen = Clicks(*map(np.array, (term, at, listing, share)))
    searches = np.full((NICHES, WEEKS), 500.0)
    # The first two listings of a niche are one brand's, the others each of its own.
    code = np.arange(n)
    listings = replace(
        Listings.unknown(n),
        brand=np.where(code % PAGES < 2, code - code % PAGES, code),
        history=History(
            TIMELINE,
            {"price": price.astype(np.float32), "in_stock": stock.astype(np.float32),
             "offers": (2 + rng.poisson(3, (n, WEEKS))).astype(np.float32)},
        ),
    )  # fmt: skip
    weight = part_weights(seen, searches, None)
    owner = np.arange(NICHES)
    members = read_members(seen, weight, owner, NICHES, WEEKS, 13, Period.WEEK)
    # A launch a year in each niche; in one all listings came within half a year.
    day = TIMELINE.end.toordinal()
    launched = np.where(code % PAGES == 5, day - rng.integers(1, 450, n), day - 3000.0)
    launched = np.where(code // PAGES == crowd, day - 30.0 * (1 + code % PAGES), launched)
    listings = replace(listings, launched=launched)
    alone = read_moves(members, listings, seen, weight, owner, TIMELINE, 0.9)
    return alone.steadied(alone.sums)


class OfChance(TestCase):
    def test_nothing_is_told_where_all_only_jitters(self) -> None:
        found = moves()
        for one in (found.price, found.slide, found.offers, found.brand.move):
            self.assertEqual(np.isnan(one.p).sum(), 0)
            self.assertGreater(one.p.min(), 1e-4)
        np.testing.assert_allclose(found.brand.share, 0.4, atol=0.01)
        self.assertLess(found.brand.under.max(), 1e-6)

    def test_launches_that_pile_in_are_told_and_single_ones_are_not(self) -> None:
        found = moves(crowd=3).launches
        others = np.arange(NICHES) != 3
        # Six where none was in the nine months before; one is no more than chance.
        self.assertLess(found.p[3], 0.01)
        self.assertGreater(found.low[3], 1.5)
        self.assertTrue(found.low[3] < found.value[3] < np.inf)
        self.assertEqual((found.p[others] < 0.05).sum(), 0)

    def test_half_and_half_is_on_neither_side(self) -> None:
        found = moves().brand
        self.assertGreater(found.over.min(), 0.999)
        low, high = found.interval(0.9)
        self.assertTrue((low < 0.4).mean() > 0.8 and (high > 0.4).mean() > 0.8)


class Planted(TestCase):
    def test_a_price_war_is_told_with_its_size(self) -> None:
        found = moves(war=7)
        for one in (found.price, found.slide):
            self.assertLess(one.p[7], 1e-8)
            self.assertAlmostEqual(np.expm1(one.size[7]), -0.2, delta=0.02)
            self.assertGreater(np.delete(one.p, 7).min(), 1e-4)

    def test_a_brand_over_half_is_told_with_its_share_before(self) -> None:
        found = moves(brand=11).brand
        self.assertEqual(found.brand[11], 11 * PAGES)
        self.assertAlmostEqual(found.share[11], 0.7, delta=0.01)
        self.assertLess(found.over[11], 1e-5)
        self.assertLess(found.move.p[11], 1e-3)
        self.assertGreater(np.delete(found.over, 11).min(), 0.5)

    def test_the_leaders_stock_is_that_of_the_most_clicked(self) -> None:
        found = moves(empty=3).leader_stock
        self.assertEqual(found[3], 0)
        np.testing.assert_array_equal(np.delete(found, 3), 1)

    def test_of_one_quarter_of_clicks_no_noise_is_known(self) -> None:
        found = moves(weeks=10)
        self.assertTrue(np.isnan(found.brand.over).all())
        self.assertTrue(np.isnan(found.brand.move.p).all())
        np.testing.assert_allclose(found.brand.share, 0.4, atol=0.02)
