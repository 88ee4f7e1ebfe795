"""What sellers carry together, with storefronts made by hand and chance against scipy."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy import stats

from driftfield.core.base import CoreError
from driftfield.core.supply import (
    Offers,
    Shelves,
    all_offers,
    carried_together,
    dropped_together,
    recurring,
)
from driftfield.core.supply.storefronts import at_least

from .shops import listings

NOW = 1000.0


def shelves(*rows: tuple[int, int, float, float]) -> Shelves:
    """From seller, listing, first and last day."""
    seller, listing, since, until = (np.array(column) for column in zip(*rows, strict=True))
    return Shelves.of(Offers(listing, seller, since.astype(float), until.astype(float)))


class TogetherMade(TestCase):
    def setUp(self) -> None:
        gone = np.inf
        self.shelves = shelves(
            (1, 0, 500, gone), (2, 0, 600, gone), (3, 0, 700, gone),  # carried by all three
            (1, 1, 500, gone), (2, 1, 400, 900),  # the second seller gave it up
            (1, 2, 500, 800), (2, 2, 500, 850), (3, 2, 990, gone), (3, 2, 300, 400),
            (9, 1, 100, gone), (9, 3, 100, gone),  # one who was not chosen
        )  # fmt: skip
        self.sellers = np.array([3, 1, 2])

    def test_now_in_a_window_and_ever(self) -> None:
        now = carried_together(self.shelves, self.sellers, NOW, NOW, 2)
        self.assertEqual((now.listing.tolist(), now.sellers.tolist()), ([0], [3]))
        self.assertEqual((now.since[0], now.until[0]), (500, np.inf))
        lately = carried_together(self.shelves, self.sellers, 850, NOW, 2)
        # Places of the sellers are those in which they were asked for.
        self.assertEqual(lately.listing.tolist(), [0, 1, 2])
        self.assertEqual(lately.by[2].tolist(), [True, False, True])
        ever = carried_together(self.shelves, self.sellers, 0, NOW, 3)
        self.assertEqual((ever.listing.tolist(), ever.since.tolist()), ([0, 2], [500, 300]))
        one = carried_together(self.shelves, np.array([9]), NOW, NOW, 1)
        self.assertEqual(one.listing.tolist(), [1, 3])
        self.assertEqual(len(carried_together(self.shelves, np.array([77]), 0, NOW, 1).listing), 0)

    def test_what_is_yet_to_come_is_not_carried(self) -> None:
        found = carried_together(self.shelves, self.sellers, 980, 985, 1)
        self.assertEqual(found.listing.tolist(), [0, 1])

    def test_dropped_is_what_each_of_them_has_no_more(self) -> None:
        found = dropped_together(self.shelves, self.sellers, 0, NOW, 2)
        # The third one took it up again.
        self.assertEqual(found.listing.tolist(), [2])
        self.assertEqual((found.by[0].tolist(), found.until[0]), ([False, True, True], 850))
        lately = dropped_together(self.shelves, self.sellers, 860, NOW, 1)
        self.assertEqual(lately.listing.tolist(), [1])

    def test_more_than_there_are_cannot_be_asked_for(self) -> None:
        for least in (0, 4):
            with self.assertRaisesRegex(CoreError, "choose from 1 to 3"):
                carried_together(self.shelves, self.sellers, 0, NOW, least)

    def test_a_seller_whom_a_listing_names_carries_it(self) -> None:
        shop = listings(4, seller=[1, 5, -1, 6])
        alone = all_offers(shop)
        self.assertEqual(alone.listing.tolist(), [0, 1, 3])
        self.assertTrue(np.isnan(alone.since).all())
        both = all_offers(replace(shop, offers=self.shelves.offers))
        # Seller 1 has an offer of listing 0 already, which says since when.
        self.assertEqual(len(both.listing), len(self.shelves.offers.listing) + 2)
        found = carried_together(Shelves.of(both), np.array([5, 9]), NOW, NOW, 2)
        self.assertEqual(found.listing.tolist(), [1])
        self.assertEqual(found.since.tolist(), [100])


class Chance(TestCase):
    def test_the_tail_is_scipys(self) -> None:
        rng = np.random.default_rng(2)
        p = rng.random((30, 8))
        many = rng.integers(0, 9, 30)
        expected = [stats.poisson_binom.sf(k - 1, row) for k, row in zip(many, p, strict=True)]
        np.testing.assert_allclose(at_least(many, p), expected, rtol=1e-9)

    def market(self, planted: bool) -> tuple[Shelves, np.ndarray]:
        """40 sellers of 10 to 60 of 2,000 listings, 100 brands of very different size."""
        rng = np.random.default_rng(7)
        brand = np.sort((100 * rng.random(2000) ** 2).astype(np.int64))
        brand[:6] = 200
        rows = []
        for seller in range(40):
            has = rng.choice(2000, rng.integers(10, 60), replace=False).tolist()
            if planted and seller < 5:
                has.append(seller)  # each another listing of it
            rows += [(seller, listing, 1.0, np.inf) for listing in has]
        return shelves(*rows), brand

    def test_a_small_brand_that_all_of_them_have_recurs_and_large_ones_do_not(self) -> None:
        made, brand = self.market(planted=True)
        found = recurring(made, brand, np.arange(5), NOW, NOW, 2)
        self.assertEqual((found.code.tolist(), found.sellers.tolist()), ([200], [5]))
        # Each seller's chance to have one of the brand, as scipy gives it; and how many of five.
        offered = np.unique(made.offers.listing)
        size = (brand[offered] == 200).sum()
        drawn = [
            len(set(made.offers.listing[made.offers.seller == seller].tolist()))
            for seller in range(5)
        ]
        p = [stats.hypergeom.sf(0, len(offered), size, many) for many in drawn]
        self.assertAlmostEqual(found.expected[0], sum(p))
        self.assertAlmostEqual(found.chance[0], stats.poisson_binom.sf(4, p))
        self.assertEqual(found.market[0], size)
        self.assertGreaterEqual(found.listings[0], 5)

    def test_false_discoveries_are_as_rare_as_was_said(self) -> None:
        made, brand = self.market(planted=False)
        rng = np.random.default_rng(3)
        told = [
            len(recurring(made, brand, rng.choice(40, 6, replace=False), NOW, NOW, 2).code) > 0
            for _ in range(200)
        ]
        # Nothing recurs, so each time that something is said to is a false discovery.
        self.assertLessEqual(np.mean(told), 0.05)

    def test_nothing_is_known_of_no_offers(self) -> None:
        nothing = np.empty(0, dtype=np.int64)
        empty = Shelves.of(Offers(nothing, nothing, np.empty(0), np.empty(0)))
        found = recurring(empty, nothing, np.array([1]), 0, NOW, 1)
        self.assertEqual(len(found.code), 0)
        self.assertEqual(len(carried_together(empty, np.array([1]), 0, NOW, 1).listing), 0)
