"""What is known of each listing by itself, against numpy and plain loops over the same tables."""

from collections import Counter
from datetime import date
from itertools import pairwise
from unittest import TestCase

import numpy as np

from driftfield.core.supply.record import LOW_TENTH, RISE, best_quarter, read_records

from .shops import MONTHS, listings

N = 60


def gaps(rng: np.random.Generator, values: np.ndarray, share: float = 0.3) -> np.ndarray:
    """The same with some unknown, all of them in the last row."""
    out = np.where(rng.random(values.shape) < share, np.nan, values)
    out[-1] = np.nan
    return out


class Record(TestCase):
    def setUp(self) -> None:
        rng = np.random.default_rng(8)
        self.history = {
            "price": gaps(rng, rng.uniform(10, 20, (N, 24))),
            "units": gaps(rng, rng.poisson(9, (N, 24)).astype(float)),
            "lead_seller": gaps(rng, rng.integers(0, 3, (N, 24)).astype(float)),
            "sales_rank": gaps(rng, rng.integers(1, 900, (N, 24)).astype(float)),
            "reviews": gaps(rng, np.cumsum(rng.integers(0, 4, (N, 24)), axis=1).astype(float)),
        }
        self.price = rng.uniform(10, 20, N)
        self.found = read_records(listings(N, self.history, price=self.price))

    def year(self, measure: str) -> np.ndarray:
        return self.history[measure][:, -12:].astype(np.float32).astype(float)

    def test_levels_of_the_price(self) -> None:
        """The tenth percentile is numpy's own definition, Hyndman & Fan (1996) type 7."""
        with np.testing.suppress_warnings() as quiet:
            quiet.filter(RuntimeWarning)
            for name, expected in (
                (
                    "price_floor",
                    np.nanquantile(self.year("price"), LOW_TENTH, axis=1, method="linear"),
                ),
                ("price_low", np.nanmin(self.year("price"), axis=1)),
                ("price_high", np.nanmax(self.year("price"), axis=1)),
                ("best_rank", np.nanmin(self.year("sales_rank"), axis=1)),
            ):
                np.testing.assert_allclose(
                    getattr(self.found, name), expected, rtol=1e-6, err_msg=name
                )

    def test_the_price_before_the_last_rise(self) -> None:
        for row, prices in enumerate(self.year("price")):
            under = self.price[row] * (1 - RISE)
            lower = [at for at, price in enumerate(prices) if price < under - 1e-6]
            if lower:
                self.assertAlmostEqual(self.found.price_before[row], prices[lower[-1]], 5)
                day = date.fromordinal(int(self.found.price_before_on[row]))
                self.assertEqual(day, MONTHS.start(12 + lower[-1]))
            else:
                self.assertTrue(np.isnan(self.found.price_before[row]))

    def test_who_holds_the_lead_offer(self) -> None:
        for row, sellers in enumerate(self.year("lead_seller")):
            known = [one for one in sellers if one == one]
            longest = Counter(known).most_common(1)
            expected = longest[0][1] / len(known) if known else np.nan
            np.testing.assert_allclose(self.found.lead_share[row], expected)
            late = sellers[-6:]
            steps = [(a, b) for a, b in pairwise(late) if a == a and b == b]
            changed = sum(a != b for a, b in steps) / len(steps) if steps else np.nan
            np.testing.assert_allclose(self.found.lead_changes[row], changed)

    def test_the_best_quarter(self) -> None:
        for row, units in enumerate(self.year("units")):
            known = np.nan_to_num(units)
            best = max(known[at : at + 3].sum() for at in range(10)) / 3
            expected = best if (units == units).any() else np.nan
            np.testing.assert_allclose(self.found.best_quarter[row], expected, rtol=1e-6)
        self.assertTrue(np.isnan(best_quarter(np.empty((2, 0), dtype=np.float32), None)).all())

    def test_reviews_gained_are_known_at_both_ends_or_not_at_all(self) -> None:
        reviews = self.history["reviews"]
        for row in range(N):
            then, now = reviews[row, 11], reviews[row, 23]
            np.testing.assert_allclose(self.found.new_reviews[row], now - then)

    def test_offers_ahead_of_units(self) -> None:
        """At equal sales 10 offers that become 25: two and a half times, less 1."""
        offers = np.where(np.arange(24) < 21, 10.0, 25.0)[None]
        found = read_records(
            listings(1, {"offers": offers, "units": np.full((1, 24), 30.0)}, price=[5])
        )
        np.testing.assert_allclose([found.offers_change[0], found.offers_lead[0]], [1.5, 1.5])
        np.testing.assert_allclose(found.units_change, [0])

    def test_nothing_known_is_nothing_told(self) -> None:
        found = read_records(listings(2))
        for name in found.__slots__:
            self.assertTrue(np.isnan(getattr(found, name)).all(), name)
