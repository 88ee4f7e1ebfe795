"""The goods of brands and sellers: by hand, and on random tables against sums that polars makes of the rows."""

from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np
import polars as pl

from driftfield.core.base import Groups, Period, Timeline
from driftfield.core.supply import (
    Carried,
    Goods,
    History,
    Listings,
    Offers,
    People,
    curves_of_brands,
    curves_of_sellers,
    goods_of_brands,
    goods_of_sellers,
    read_carried,
    read_records,
)

from .shops import listings as made_of

MONTHS = Timeline(Period.MONTH, date(2024, 6, 1), 24)
DAY = date(2026, 5, 31).toordinal()
NONE = np.nan


def people(many: int) -> People:
    ids = [f"p{i}" for i in range(many)]
    return People(ids, ids, np.full(many, np.nan), np.full(many, np.nan))


def shop(
    brand: list[int], seller: list[int], units: np.ndarray, lead: np.ndarray | None = None, **known: object
) -> Listings:  # fmt: skip
    """Listings with what each sold a month, and who held their lead offers."""
    measures = {"units": units.astype(np.float32)}
    if lead is not None:
        measures["lead_seller"] = lead.astype(np.float32)
    found = made_of(len(brand), seller=seller)
    most = max(*seller, 0 if lead is None else int(np.nanmax(lead)), 9) + 1
    return replace(
        found, brand=np.array(brand), brands=people(max(brand) + 1), sellers=people(most),
        history=History(MONTHS, measures), price=np.full(len(brand), 10.0), **known,
    )  # fmt: skip


def offers(*rows: tuple[int, int, float, float]) -> Offers:
    """From listing, seller, first and last day before DAY, 0 for DAY itself."""
    listing, seller, since, until = (np.array(one) for one in zip(*rows, strict=True))
    return Offers(listing, seller, DAY - since.astype(float), DAY - until.astype(float))


def of(goods: Goods, code: int) -> list[int]:
    """Listings of one of them."""
    at = goods.codes.tolist().index(code)
    return goods.listing[goods.groups.own == at].tolist()


class Brands(TestCase):
    def test_what_is_on_sale_came_and_went(self) -> None:
        units = np.full((5, 24), 3.0)
        units[1, 20:] = NONE  # gone with its history four months ago
        units[3, :22] = NONE  # begins two months ago
        launched = np.array([NONE, DAY - 900, DAY - 900, DAY - 60, DAY + 20])
        found = goods_of_brands(shop([2, 2, 2, 2, 2], [-1] * 5, units, launched=launched), DAY)
        self.assertEqual((found.codes.tolist(), of(found, 2)), ([2], [0, 1, 2, 3]))
        self.assertEqual(found.now.tolist(), [True, False, True, True])
        np.testing.assert_array_equal(found.came, [NONE, 0, 0, 1])
        np.testing.assert_array_equal(found.went, [0, 1, 0, 0])

    def test_offers_say_it_where_they_are_known(self) -> None:
        known = offers((0, 1, 500, 400), (1, 1, 500, -np.inf), (1, 2, 500, 300), (2, 3, 900, 20))
        found = goods_of_brands(shop([0, 0, 0, 0], [-1] * 4, np.ones((4, 24)), offers=known), DAY)
        self.assertEqual(found.now.tolist(), [False, True, False, True])
        # What was given up more than a year ago did not go within one.
        np.testing.assert_array_equal(found.went, [0, 0, 1, 0])

    def test_a_listing_that_is_gone_sells_nothing_and_a_gap_is_no_fall(self) -> None:
        units = np.full((3, 24), 5.0)
        units[0, 12:] = NONE
        units[2, 10:16] = NONE
        curves = curves_of_brands(shop([0, 0, 1], [-1] * 3, units), units, 2)
        np.testing.assert_array_equal(curves[0], [10] * 12 + [5] * 12)
        np.testing.assert_array_equal(np.isnan(curves[1]), [10 <= at < 16 for at in range(24)])
        # A listing that may yet be told of its last month is not gone.
        late = units.copy()
        late[0], late[0, 23] = 5, NONE
        self.assertEqual(curves_of_brands(shop([0, 0, 1], [-1] * 3, late), late, 2)[0, 23], 10)


class Sellers(TestCase):
    def test_sales_are_those_of_who_held_the_lead_offer(self) -> None:
        units = np.full((2, 24), 4.0)
        lead = np.full((2, 24), NONE)
        lead[0, :18], lead[0, 18:] = 1, 2
        listings = shop([0, 0], [1, 5], units, lead)
        goods = goods_of_sellers(listings, DAY)
        self.assertEqual(goods.codes.tolist(), [1, 2, 5])
        # Half of the last year of the first listing; the second names its only seller.
        np.testing.assert_allclose(goods.portion, [0.5, 0.5, 1])
        # Whom a listing does not name and who has no offer of it does not carry it now.
        self.assertEqual(goods.now.tolist(), [True, False, True])
        curves = curves_of_sellers(listings, units, 2)
        np.testing.assert_array_equal(curves[1], [4] * 18 + [0] * 6)
        np.testing.assert_array_equal(curves[2], [NONE] * 18 + [4] * 6)
        np.testing.assert_array_equal(curves[5], [4] * 24)

    def test_what_one_never_led_is_unknown_and_what_sold_nothing_is_0(self) -> None:
        units = np.zeros((2, 24))
        units[0] = 4
        lead = np.full((2, 24), 1.0)
        known = offers((0, 2, 800, -np.inf), (0, 1, 800, -np.inf), (1, 1, 800, -np.inf))
        listings = shop([0, 0], [-1, -1], units, lead, offers=known)
        goods = goods_of_sellers(listings, DAY)
        none = np.full(2, NONE)
        found = read_carried(
            goods, listings, read_records(listings), none, np.full(2, -1), none > 0, DAY, price_fall=0.05
        )  # fmt: skip
        np.testing.assert_array_equal(found.units, [48, NONE])
        np.testing.assert_array_equal(found.lead_share, [1, 0])
        self.assertEqual(goods.portion.tolist(), [1, 0, 1])

    def test_a_storefront_by_its_offers(self) -> None:
        known = offers(
            (0, 1, 800, -np.inf), (1, 1, 100, -np.inf), (2, 1, 800, 90), (3, 1, 800, 500),
            (4, 1, -10, -np.inf), (0, 1, 1200, 1000),
        )  # fmt: skip
        found = goods_of_sellers(shop([0] * 5, [-1] * 5, np.ones((5, 24)), offers=known), DAY)
        self.assertEqual(of(found, 1), [0, 1, 2, 3])
        self.assertEqual(found.now.tolist(), [True, True, False, False])
        np.testing.assert_array_equal(found.came, [0, 1, 0, 0])
        np.testing.assert_array_equal(found.went, [0, 0, 1, 0])


class AgainstPolars(TestCase):
    """Random tables: group by over the rows themselves says the same."""

    @classmethod
    def setUpClass(cls) -> None:
        rng = np.random.default_rng(5)
        n, sellers = 400, 30
        cls.units = rng.poisson(6, (n, 24)).astype(float)
        cls.units[rng.random((n, 24)) < 0.02] = NONE
        cls.lead = rng.integers(0, sellers, (n, 24)).astype(float)
        cls.lead[rng.random((n, 24)) < 0.3] = NONE
        cls.brand = rng.integers(-1, 12, n)
        cls.seller = rng.integers(-1, sellers, n)
        many = 1500
        cls.offers = Offers(
            rng.integers(0, n, many), rng.integers(0, sellers, many), DAY - rng.integers(0, 1500, many) * 1.0,
            np.where(rng.random(many) < 0.5, np.inf, DAY - rng.integers(0, 900, many) * 1.0),
        )  # fmt: skip
        cls.listings = shop(
            cls.brand.tolist(), cls.seller.tolist(), cls.units, cls.lead, offers=cls.offers,
            sponsored=rng.choice([0.0, 1.0, NONE], n, p=[0.6, 0.2, 0.2]),
            reviews=rng.integers(0, 900, n) * 1.0,
        )  # fmt: skip
        row, month = np.divmod(np.arange(n * 24), 24)
        cls.rows = pl.DataFrame(
            {"listing": row, "month": month, "units": cls.units.ravel(), "lead": cls.lead.ravel(),
             "named": cls.seller[row], "brand": cls.brand[row]}
        ).with_columns(
            holder=pl.when(pl.col("lead").is_nan()).then(pl.col("named")).otherwise(pl.col("lead"))
        )  # fmt: skip

    def read(self, goods: Goods) -> Carried:
        category = np.zeros(len(self.brand), dtype=np.int64)
        nothing = np.full(len(category), NONE)
        return read_carried(
            goods, self.listings, read_records(self.listings), nothing, category, category > 0, DAY,
            price_fall=0.05,
        )  # fmt: skip

    def carried(self, goods: Goods) -> dict[int, tuple[float, float]]:
        found = self.read(goods)
        pairs = zip(found.units.tolist(), found.listings.tolist(), strict=True)
        return dict(zip(goods.codes.tolist(), pairs, strict=True))

    def test_units_a_year(self) -> None:
        late = self.rows.filter(pl.col("month") >= 12, ~pl.col("units").is_nan())
        for goods, column in (
            (goods_of_sellers(self.listings, DAY), "holder"),
            (goods_of_brands(self.listings, DAY), "brand"),
        ):
            sums = late.filter(pl.col(column) >= 0).group_by(column).agg(pl.col("units").sum())
            wanted = {int(code): units for code, units in sums.iter_rows()}
            for code, (units, _) in self.carried(goods).items():
                self.assertAlmostEqual(np.nan_to_num(units), wanted.get(code, 0), places=3)

    def test_sums_without_sponsored_listings(self) -> None:
        # What is known not to be sponsored; of what is not known nothing is counted.
        plain = pl.Series(np.flatnonzero(self.listings.sponsored == 0))
        late = self.rows.filter(
            pl.col("month") >= 12,
            ~pl.col("units").is_nan(),
            pl.col("listing").is_in(plain.implode()),
        )
        for goods, column in (
            (goods_of_sellers(self.listings, DAY), "holder"),
            (goods_of_brands(self.listings, DAY), "brand"),
        ):
            sums = late.filter(pl.col(column) >= 0).group_by(column).agg(pl.col("units").sum())
            wanted = {int(code): units for code, units in sums.iter_rows()}
            found = self.read(goods)
            for code, units, revenue in zip(
                goods.codes.tolist(),
                found.unsponsored_units,
                found.unsponsored_revenue,
                strict=True,
            ):
                self.assertAlmostEqual(np.nan_to_num(units), wanted.get(code, 0), places=3)
                self.assertAlmostEqual(np.nan_to_num(revenue), wanted.get(code, 0) * 10, places=2)
        brands = goods_of_brands(self.listings, DAY)
        reviews = self.listings.reviews[brands.listing] * (
            self.listings.sponsored[brands.listing] == 0
        )
        mine = np.bincount(
            brands.groups.own, weights=reviews * brands.now, minlength=len(brands.codes)
        )
        np.testing.assert_allclose(np.nan_to_num(self.read(brands).unsponsored_reviews), mine)

    def test_what_a_seller_has_on_sale(self) -> None:
        rows = pl.DataFrame(
            {"listing": self.offers.listing, "seller": self.offers.seller, "until": self.offers.until}
        )  # fmt: skip
        named = pl.DataFrame(
            {"listing": np.arange(len(self.seller)), "seller": self.seller}
        ).filter(pl.col("seller") >= 0)
        # A seller whom a listing names has it, but for one of whom it is known that it gave it up.
        without = named.join(rows, on=["listing", "seller"], how="anti")
        stands = rows.filter(pl.col("until") >= DAY).select("listing", "seller")
        wanted = pl.concat([stands, without], how="vertical_relaxed").unique()
        many = dict(wanted.group_by("seller").agg(pl.len()).iter_rows())
        for code, (_, listings) in self.carried(goods_of_sellers(self.listings, DAY)).items():
            self.assertEqual(listings, many.get(code, 0))

    def test_curves(self) -> None:
        whole = np.nan_to_num(self.units)
        curves = curves_of_sellers(self.listings, whole, 2)
        sums = (
            self.rows.with_columns(pl.col("units").fill_nan(0))
            .filter(pl.col("holder") >= 0)
            .group_by("holder", "month")
            .agg(pl.col("units").sum())
        )
        for code, month, units in sums.iter_rows():
            self.assertAlmostEqual(np.nan_to_num(curves[int(code), month]), units, places=3)

    def test_the_foremost_category_and_brand(self) -> None:
        goods = goods_of_sellers(self.listings, DAY)
        category = self.brand % 5
        found = read_carried(
            goods, self.listings, read_records(self.listings), np.full(400, NONE),
            np.where(self.brand < 0, -1, category), category > 9, DAY, price_fall=0.05,
        )  # fmt: skip
        late = self.rows.filter(
            pl.col("month") >= 12, ~pl.col("units").is_nan(), pl.col("holder") >= 0
        )
        total = dict(late.group_by("holder").agg(pl.col("units").sum()).iter_rows())
        for at, code in enumerate(goods.codes.tolist()):
            mine = late.filter(pl.col("holder") == code, pl.col("brand") >= 0)
            sums = (
                mine.with_columns(pl.col("brand") % 5)
                .group_by("brand")
                .agg(pl.col("units").sum())
                .sort("units", descending=True)
            )
            if sums.height:
                self.assertAlmostEqual(
                    found.top_category[at], sums["units"][0] / total[code], places=5
                )


class Few(TestCase):
    def test_without_listings_or_history_nothing_is_made_up(self) -> None:
        bare = replace(made_of(3, seller=[0, 0, 1]), sellers=people(2))
        goods = goods_of_sellers(bare, DAY)
        self.assertEqual(of(goods, 0), [0, 1])
        self.assertTrue(np.isnan(goods.came).all())
        found = read_carried(
            goods, bare, read_records(bare), np.full(3, NONE), np.full(3, -1), np.zeros(3, dtype=bool), DAY,
            price_fall=0.05,
        )  # fmt: skip
        self.assertEqual(found.listings.tolist(), [2, 1])
        for name in (
            "units",
            "revenue",
            "estimated",
            "price",
            "top_category",
            "lead_share",
            "came",
        ):
            self.assertTrue(np.isnan(getattr(found, name)).all(), name)
        self.assertEqual(len(goods_of_brands(Listings.unknown(0), DAY).codes), 0)
        self.assertEqual(len(goods_of_sellers(Listings.unknown(0), DAY).codes), 0)
        nobody = goods_of_brands(Listings.unknown(2), DAY)
        self.assertEqual((len(nobody.codes), nobody.groups), (0, Groups(nobody.groups.own, 0)))
