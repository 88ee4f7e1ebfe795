"""Brands and sellers as kinds, on the made market of listings: curves, figures and what is said of them."""

from dataclasses import replace
from datetime import timedelta
from unittest import TestCase

import numpy as np

from driftfield.core.base import Period
from driftfield.core.market import (
    BRAND,
    HOLDERS,
    SELLER,
    Kind,
    Workings,
    figures_of,
    run_holders,
    run_listings,
    run_market,
)
from driftfield.core.sentences import verdict
from driftfield.core.supply import People, lorenz

from .test_listings import LISTED, SEASONS, Made, made

WITH = len(SEASONS) * LISTED  # Listings of niches that have a season.


def held(market: Made, **changes: object) -> tuple[Workings, dict[Kind, Workings]]:
    """The made market with a brand a season and one for all the rest, and a seller for every third listing."""
    data = market.niches.data
    assert data.listings is not None
    n = len(data.listings)
    brand = np.minimum(np.arange(n) // LISTED, len(SEASONS))
    seller = np.arange(n) % 3
    since = np.full(len(SEASONS) + 1, np.nan)
    since[0] = data.timeline.end.toordinal() - 100
    listings = replace(
        data.listings, brand=brand, seller=seller,
        brands=People([f"b{i}" for i in range(len(since))], [f"Brand {i}" for i in range(len(since))], since,
                      since),
        sellers=People(["s0", "s1", "s2"], ["One", "Two", "Three"], np.full(3, np.nan), np.array([0, 1, np.nan])),
        **changes,
    )  # fmt: skip
    niches = run_market(replace(data, listings=listings))
    of_listings = run_listings(niches, [f"l{i}" for i in range(n)])
    found = {kind: run_holders(kind, niches, of_listings) for kind in HOLDERS}
    assert of_listings is not None
    return of_listings, {kind: one for kind, one in found.items() if one is not None}


class Read(TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.market = made(Period.MONTH)
        cls.listings, cls.holders = held(cls.market)

    def test_every_figure_of_the_kind_is_there(self) -> None:
        for kind, work in self.holders.items():
            self.assertEqual(set(work.figures), {figure.key for figure in figures_of(kind)})
        self.assertEqual(self.holders[SELLER].data.subjects, ["s0", "s1", "s2"])

    def test_units_and_revenue_add_up_to_those_of_the_listings(self) -> None:
        for key in ("sales.units_52w", "sales.revenue_52w"):
            whole = np.nansum(self.listings.figures[key])
            for work in self.holders.values():
                self.assertAlmostEqual(np.nansum(work.figures[key]) / whole, 1, places=5)

    def test_a_brand_of_one_season_has_it(self) -> None:
        # Half of a niche's listings fade or sleep for other reasons; its brand has its season all the same.
        work = self.holders[BRAND]
        lag = []
        for place, week in enumerate(SEASONS):
            factors = work.curves.factors[place]
            month = (week + 0.5) / 52 * 12 - 0.5
            lag.append((factors.argmax() - month + 6) % 12 - 6)
        self.assertLessEqual(np.abs(lag).max(), 1.5)
        self.assertNotIn(work.figures["shape"][len(SEASONS)], ("Seasonal", "Occasion"))

    def test_few_listings_make_most(self) -> None:
        work, revenue = self.holders[BRAND], self.listings.figures["sales.revenue_52w"]
        for place in range(len(SEASONS)):
            value = np.sort(revenue[place * LISTED : (place + 1) * LISTED])[::-1]
            value = value[~np.isnan(value)]
            needed = np.searchsorted(np.cumsum(value), 0.9 * value.sum() - 1e-6) + 1
            self.assertAlmostEqual(
                work.figures["lorenz.share_for_90"][place], needed / len(value), places=6
            )

    def test_sleepers_are_counted(self) -> None:
        asleep = self.listings.figures["sleep.state"] == "Asleep"
        found = self.holders[SELLER].figures["carried.asleep"]
        self.assertEqual(found.tolist(), [asleep[at::3].sum() for at in range(3)])

    def test_who_they_are(self) -> None:
        brands, sellers = self.holders[BRAND].figures, self.holders[SELLER].figures
        self.assertEqual(brands["carried.age"][0], 100)
        first = self.market.niches.timeline.end - timedelta(days=100)
        self.assertEqual(brands["carried.first_seen"][0], first.isoformat())
        self.assertTrue(np.isnan(brands["carried.age"][1]))
        self.assertEqual(sellers["carried.own_retail"].tolist(), ["no", "yes", None])
        self.assertEqual(sellers["carried.listings"].sum(), self.listings.count)

    def said(self, kind: Kind, place: int) -> str:
        work = self.holders[kind]
        row = {}
        for figure in figures_of(kind):
            value = work.figures[figure.key][place]
            row[figure.key] = None if isinstance(value, float) and np.isnan(value) else value
        return " ".join(verdict(row, 77, kind, "GBP"))

    def test_what_is_said(self) -> None:
        brand = self.said(BRAND, 3)
        self.assertRegex(brand, r"^Every year .*It has \d+ listings in 1 category on sale")
        self.assertNotIn("order by", brand.lower())  # The dates of a sum are nobody's to order by.
        self.assertIn("Its sales are assumed", self.said(SELLER, 0))


class Thin(TestCase):
    def test_what_sells_next_to_nothing_has_no_season(self) -> None:
        figures = {"sales.units_52w": 8.0, "basis": "counts"}
        figures |= dict.fromkeys(
            [figure.key for figure in figures_of(BRAND) if figure.key not in figures]
        )
        figures |= {
            "shape": "Evergreen", "best13": 0.3, "period": "week", "level_shifts": [], "seasons": [],
            "carried.listings": 2.0,
        }  # fmt: skip
        said = verdict(figures, 77, BRAND)
        self.assertEqual(
            said,
            ["It sells too little to tell a season or a trend: 8 units in the last year.",
             "It has 2 listings on sale."],
        )  # fmt: skip

    def test_a_seller_who_never_held_a_lead_offer(self) -> None:
        figures = dict.fromkeys(figure.key for figure in figures_of(SELLER))
        figures |= {
            "shape": "Unsettled", "basis": "counts", "period": "week", "level_shifts": [], "seasons": [],
            "carried.listings": 3.0, "carried.lead_share": 0.0,
        }  # fmt: skip
        said = verdict(figures, 77, SELLER)
        self.assertEqual(
            said[0],
            "What it sells is not known: it held no lead offer of its listings in the last year.",
        )
        self.assertNotIn("assumed", " ".join(said))

    def test_without_brands_sellers_or_history(self) -> None:
        market = made(Period.MONTH)
        data = market.niches.data
        niches = run_market(data)
        listings = run_listings(niches, [f"l{i}" for i in range(len(data.listings or ()))])
        for kind in HOLDERS:
            self.assertIsNone(run_holders(kind, niches, listings))
            self.assertIsNone(run_holders(kind, niches, None))
        _, found = held(market, history=None)
        figures = found[BRAND].figures
        self.assertTrue(np.isnan(figures["sales.units_52w"]).all())
        self.assertEqual(set(figures["shape"]), {"Unsettled"})


class Shared(TestCase):
    def test_a_lorenz_curve_of_parts(self) -> None:
        # What a seller makes of a listing is its part: the Catalogue's curve over the divided revenue.
        market = made(Period.MONTH)
        n = market.work.count
        history = market.niches.data.listings.history  # type: ignore[union-attr]
        assert history is not None
        lead = np.full((n, history.timeline.length), 0, dtype=np.float32)
        lead[:, -6:] = 1
        changed = replace(history, measures={**history.measures, "lead_seller": lead})
        listings, found = held(market, history=changed)
        work = found[SELLER]
        self.assertEqual(work.figures["carried.lead_share"][:2].tolist(), [0.5, 0.5])
        holder = work.holder
        assert holder is not None
        goods = holder.goods
        # Of a listing whose lead offer it never held nothing is known.
        portion = np.where(goods.portion > 0, goods.portion, np.nan)
        revenue = listings.figures["sales.revenue_52w"][goods.listing] * portion
        wanted = lorenz(goods.groups, revenue)
        np.testing.assert_allclose(work.figures["lorenz.gini"], wanted.gini, atol=1e-9)
