from unittest import TestCase

import numpy as np

from driftfield.core.supply.assortment import attribute_values, compare_medians, spread
from driftfield.core.supply.listings import Listings


class Assortment(TestCase):
    def test_spread_by_listings_and_by_clicks(self) -> None:
        found = spread(np.array([1.0, 2, 2, 9, np.nan]), np.array([0.1, 0.2, 0.3, 0.35, 0.05]))
        self.assertEqual((sum(found.listings), found.unknown), (4, 1))
        self.assertEqual((found.edges[0], found.edges[-1], found.listings[-1]), (1, 9, 1))
        self.assertAlmostEqual(sum(found.clicks), 0.95)
        self.assertEqual(spread(np.array([np.nan]), np.array([1.0])).edges, [])
        alike = spread(np.array([4.0, 4.0]), np.array([0.5, 0.5]))
        self.assertEqual((alike.listings, alike.clicks), ([2], [1.0]))

    def test_values_of_attributes_and_medians_of_winners(self) -> None:
        listings = Listings.unknown(4)
        listings.attributes["colour"] = np.array([0, 1, 0, -1])
        listings.words["colour"] = ["grey", "red"]
        listings.price[:] = [10, 20, 30, np.nan]
        page = np.array([2, 1, 0, 3])
        told = attribute_values(
            listings, page, np.array([0.4, 0.3, 0.2, 0.1]), np.array([np.nan, 5, 7, 1])
        )
        self.assertEqual(
            [(one.value, one.listings, round(one.clicks, 3), one.units) for one in told],
            [("grey", 2, 0.6, 7), ("red", 1, 0.3, 5)],
        )
        won = np.array([True, False, True, False])
        price = next(
            one for one in compare_medians(listings, won, ~won, page) if one.fact == "price"
        )
        self.assertEqual((price.winners, price.others), (20, 20))
