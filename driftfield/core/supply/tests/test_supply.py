"""Barriers, entry, pressure, sales and questions about the top listings, with numbers made by hand."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy import stats

from driftfield.core.base import DEFAULTS, CoreError, Settings
from driftfield.core.supply.barriers import beside_usual, rates_by_category, read_barriers
from driftfield.core.supply.entry import Entry, read_entry, upper_tail
from driftfield.core.supply.launches import judge_launches
from driftfield.core.supply.listings import Listings, Offers
from driftfield.core.supply.members import Members
from driftfield.core.supply.pressure import read_pressure
from driftfield.core.supply.sales import read_sales, read_target, units_for, yearly
from driftfield.core.supply.top_listings import TopQuestion, top_tables

from .shops import DAY, days_ago, listings, members_of

SIX = [0.3, 0.2, 0.15, 0.1, 0.05, 0.05]


class BarriersMade(TestCase):
    def test_of_the_top_ten(self) -> None:
        members = members_of([0.4, 0.3, 0.1], [0.5])
        shop = listings(
            4, reviews=[10, 400, 90, np.nan], rating=[4, 5, 3, 2], quality=[50, 70, 60, 10],
            launched=days_ago(100, 200, 300, 50), sponsored=[1, 0, 0, np.nan], own_retail=[0, 1, 0, 0],
            brand=[1, 1, 2, -1],
        )  # fmt: skip
        found = read_barriers(members, shop, DAY, DEFAULTS)
        self.assertEqual((found.reviews[0], found.rating[0], found.age_days[0]), (90, 4, 200))
        # 10 and 90 of 10, 400 and 90 are under 150.
        self.assertAlmostEqual(found.few_reviews[0], 2 / 3)
        self.assertTrue(np.isnan(found.reviews[1]))
        self.assertEqual(found.brands[0], 2)
        self.assertAlmostEqual(found.sponsored[0], 1 / 3)
        self.assertAlmostEqual(found.sponsored_clicks[0], 0.5)
        self.assertAlmostEqual(found.own_retail[0], 0.375)

    def test_returns_against_the_category(self) -> None:
        members = members_of([0.5], [0.5], [0.5], [0.5])
        shop = listings(4, return_rate=[0.04, 0.05, 0.12, 0.05])
        alone, category = read_barriers(members, shop, DAY, DEFAULTS), np.array([0, 0, 0, 1])
        found = beside_usual(alone, category, rates_by_category(alone, category))
        self.assertAlmostEqual(found.return_ratio[2], 0.12 / 0.05)
        # A category of one niche has nothing to compare with.
        self.assertTrue(np.isnan(found.return_ratio[3]))

    def test_a_forsaken_listing_counts_as_out_of_stock(self) -> None:
        members = members_of([0.5, 0.0], then=[[0.5, 0.4]])
        shop = listings(2, history={"in_stock": [0.9, 0.0]})
        self.assertAlmostEqual(read_barriers(members, shop, DAY, DEFAULTS).out_of_stock[0], 0.55)

    def test_sellers_by_offers_that_stand(self) -> None:
        members = members_of([0.5, 0.4])
        offers = Offers(
            np.array([0, 0, 1, 1]), np.array([1, 2, 2, 3]), np.array(days_ago(50, 50, 50, 500)),
            np.array([np.inf, np.inf, np.inf, DAY - 400]),
        )  # fmt: skip
        shop = listings(2, seller=[9, 9])
        self.assertEqual(read_barriers(members, shop, DAY, DEFAULTS).sellers[0], 1)
        object.__setattr__(shop, "offers", offers)
        self.assertEqual(read_barriers(members, shop, DAY, DEFAULTS).sellers[0], 2)


def entry_of(members: Members, shop: Listings, settings: Settings) -> Entry:
    return read_entry(members, shop, DAY, settings, judge_launches(members, shop, DAY, settings))


class EntryMade(TestCase):
    def shop(self, units: list[float], **facts: object):
        history = {"units": units, "reviews": np.arange(24) * np.ones((6, 1))}
        ages = days_ago(900, 800, 700, 300, 200, 100)
        return listings(6, history, **{"launched": ages, **facts})

    def test_launches_and_their_rate(self) -> None:
        # The median of the three old ones is 100 a month, 1,200 a year, a thirteenth of it in four weeks.
        # Two of three launches reach it.
        found = entry_of(members_of(SIX), self.shop([50, 100, 200, 150, 40, 100]), DEFAULTS)
        self.assertEqual((found.launches_26w[0], found.launches_52w[0]), (1, 3))
        self.assertAlmostEqual(found.bar[0], 1200 / 13)
        self.assertEqual((found.judged[0], found.successes[0]), (3, 2))
        self.assertAlmostEqual(found.success_rate[0], 2 / 3)

    def test_a_launch_of_last_week_is_not_judged(self) -> None:
        shop = self.shop([50, 100, 200, 0, 0, 0], launched=days_ago(900, 800, 700, 300, 200, 7))
        found = entry_of(members_of(SIX), shop, DEFAULTS)
        self.assertEqual((found.launches_52w[0], found.judged[0]), (3, 2))

    def test_a_launch_whose_history_ended_has_failed(self) -> None:
        units = np.full((6, 24), 100.0)
        units[5, 10:] = np.nan
        members = members_of([0.3, 0.2, 0.1, 0.1, 0.1, 0.0], then=[[0.3, 0.2, 0.1, 0.1, 0.1, 0.1]])
        found = entry_of(members, self.shop(units), DEFAULTS)  # type: ignore[arg-type]
        self.assertEqual((found.judged[0], found.successes[0]), (3, 2))

    def test_a_users_own_bar(self) -> None:
        shop = self.shop([50, 100, 200, 150, 40, 100], price=[20.0] * 6)
        by_units = DEFAULTS.with_pairs(["success_units=36"])
        self.assertEqual(entry_of(members_of(SIX), shop, by_units).successes[0], 3)
        by_money = DEFAULTS.with_pairs(["success_revenue=2500"])
        self.assertEqual(entry_of(members_of(SIX), shop, by_money).successes[0], 1)

    def test_units_per_review(self) -> None:
        # One review a month, 20 units a month: 20 for each review. Common practice, no source: ten or
        # more sales a review is a healthy ratio.
        found = entry_of(members_of(SIX), self.shop([20] * 6), DEFAULTS)
        self.assertAlmostEqual(found.units_per_review[0], 20)

    def test_how_winners_differ(self) -> None:
        shop = self.shop(
            [50, 100, 200, 150, 150, 150], price=[10, 10, 10, 15, 15, 15], quality=[50, 50, 50, 60, 60, 90],
            attributes={"colour": np.array([0, 1, 2, 3, 3, 3])},
            words={"colour": ["red", "grey", "blue", "green"]},
        )  # fmt: skip
        found = entry_of(members_of(SIX), shop, DEFAULTS)
        self.assertAlmostEqual(found.winners_price[0], 0.5)
        self.assertEqual(found.winners_quality[0], 10)
        # 3 of 3 against 0 of 3: p is 1 in 20, which four values tested do not bear.
        self.assertIsNone(found.winners_mark[0])

    def test_a_shared_attribute_is_named_where_chance_does_not_explain_it(self) -> None:
        wide = [0.1] * 9
        codes = np.array([0, 0, 0, 0, 0, 1, 1, 1, 1])
        shop = listings(
            9, {"units": [9] * 5 + [90] * 4}, launched=days_ago(*[900] * 5, *[200] * 4),
            attributes={"colour": codes}, words={"colour": ["red", "green"]},
        )  # fmt: skip
        found = entry_of(members_of(wide), shop, DEFAULTS)
        self.assertIn("4 of 4 launches that worked have colour green", found.winners_mark[0])

    def test_upper_tail_is_fishers_exact_test(self) -> None:
        for x, marked, drawn, whole in ((3, 4, 3, 12), (1, 6, 2, 8), (0, 2, 5, 9)):
            table = [[x, drawn - x], [marked - x, whole - marked - drawn + x]]
            found = upper_tail(*(np.array([v]) for v in (x, marked, drawn, whole)))[0]
            self.assertAlmostEqual(found, stats.fisher_exact(table, "greater").pvalue, 9)


class PressureMade(TestCase):
    def test_prices_that_fall(self) -> None:
        price = np.full((3, 24), 20.0)
        price[0, -1], price[1, -1] = 10, 18
        found = read_pressure(
            members_of([0.4, 0.3, 0.2]), listings(3, {"price": price}), DAY, DEFAULTS
        )
        self.assertAlmostEqual(found.price_change[0], -0.1)
        self.assertAlmostEqual(found.price_falling[0], 2 / 3)

    def test_offers_from_ten_to_twenty_five_with_flat_sales(self) -> None:
        # Common practice, no source: this announces a price war.
        offers = np.full((2, 24), 5.0)
        offers[:, -3:] = 12.5
        shop = listings(2, {"offers": offers, "units": [30, 30]})
        found = read_pressure(members_of([0.5, 0.4]), shop, DAY, DEFAULTS)
        self.assertEqual(
            (found.offers[0], found.offers_change[0], found.units_change[0]), (25, 1.5, 0)
        )
        self.assertAlmostEqual(found.offers_lead[0], 1.5)

    def test_a_history_that_merely_begins_is_no_growth(self) -> None:
        units = np.full((2, 24), 30.0)
        units[1, :15] = np.nan
        old = listings(2, {"units": units}, launched=days_ago(900, 900))
        new = listings(2, {"units": units}, launched=days_ago(900, 240))
        members = members_of([0.5, 0.4])
        self.assertAlmostEqual(read_pressure(members, old, DAY, DEFAULTS).units_change[0], 0)
        self.assertAlmostEqual(read_pressure(members, new, DAY, DEFAULTS).units_change[0], 1)

    def test_lead_offers_that_change_hands(self) -> None:
        lead = np.zeros((2, 24))
        lead[0, ::2] = 1
        found = read_pressure(
            members_of([0.5, 0.4]), listings(2, {"lead_seller": lead}), DAY, DEFAULTS
        )
        self.assertAlmostEqual(found.lead_changes[0], 0.5)


class SalesMade(TestCase):
    def setUp(self) -> None:
        self.members = members_of([0.5, 0.4])
        self.shop = listings(2, {"units": [10, 20], "price": [30.0, 5.0]}, price=[30.0, 5.0])
        self.units, self.revenue = yearly(self.shop)

    def test_a_year_of_units_and_revenue(self) -> None:
        found = read_sales(self.members, self.shop, self.units, self.revenue)
        self.assertEqual((found.units_52w[0], found.revenue_52w[0]), (360, 3600 + 1200))
        self.assertEqual((found.revenue_per_listing[0], found.listing_revenue[0]), (2400, 2400))
        self.assertEqual(found.price_median[0], 17.5)

    def test_sums_without_sponsored_listings(self) -> None:
        shop = replace(self.shop, sponsored=np.array([1.0, 0.0]))
        found = read_sales(self.members, shop, self.units, self.revenue)
        self.assertEqual(
            (found.unsponsored_units_52w[0], found.unsponsored_revenue_52w[0]), (240, 1200)
        )
        # Of all sponsored ones it is nothing; where it is not known of any, nothing is known.
        for flags, wanted in (([1, 1], 0), ([np.nan, 0], 240), ([0, 1], 120)):
            shop = replace(self.shop, sponsored=np.array(flags, dtype=float))
            found = read_sales(self.members, shop, self.units, self.revenue)
            self.assertEqual(found.unsponsored_units_52w[0], wanted, flags)
        for flags in ([np.nan, np.nan], [np.nan, 1]):
            shop = replace(self.shop, sponsored=np.array(flags, dtype=float))
            found = read_sales(self.members, shop, self.units, self.revenue)
            self.assertTrue(np.isnan(found.unsponsored_units_52w[0]), flags)
        offered = listings(2, {"offers": [3, 4]}, sponsored=[1, 0])
        pressure = read_pressure(self.members, offered, DAY, DEFAULTS)
        self.assertEqual((pressure.offers[0], pressure.unsponsored_offers[0]), (7, 4))

    def test_target_income(self) -> None:
        # Common practice, no source: 3,000 units at 10 make 30,000 a year, 10,000 at 50 make 500,000.
        self.assertEqual(units_for(30_000, np.array([10.0]))[0], 3000)
        self.assertEqual(units_for(500_000, np.array([50.0]))[0], 10_000)
        settings = DEFAULTS.with_pairs(["target_income=3000"])
        sales = read_sales(self.members, self.shop, self.units, self.revenue)
        found = read_target(self.members, self.revenue, sales, settings)
        self.assertEqual((found.reaching[0], found.multiple[0]), (0.5, 0.8))

    def test_a_strong_listing_that_is_gone(self) -> None:
        members = members_of([0.5, 0.0], then=[[0.3, 0.6]])
        self.assertAlmostEqual(
            read_sales(members, self.shop, self.units, self.revenue).gone[0], 0.6
        )


class TopQuestions(TestCase):
    def test_at_least_k_of_the_top_n(self) -> None:
        members = members_of(SIX, [0.5])
        reviews = [10, 200, 30, 500, 40, 20, np.nan]
        tables = top_tables(members, listings(7, reviews=reviews), DAY)
        for text, expected in (
            ("2 of 4 reviews < 120", [True, False]), ("3 of 4 reviews < 120", [False, False]),
            ("4 of 10 reviews < 120", [True, False]), ("1 of 2 reviews > 150", [True, False]),
            ("1 of 1 click_share > 0.4", [False, True]),
        ):  # fmt: skip
            question = TopQuestion.parse(text)
            self.assertEqual(str(question), text)
            self.assertEqual(question.answer(tables[question.figure]).tolist(), expected, text)

    def test_what_is_not_a_question_is_refused(self) -> None:
        for text, expected in (
            ("reviews < 120", "write it as"), ("4 of 10 stars < 2", "no figure “stars”"),
            ("5 of 4 reviews < 2", "asks for 5 of 4"), ("4 of 40 reviews < 2", "at most 20"),
        ):  # fmt: skip
            with self.assertRaisesRegex(CoreError, expected):
                TopQuestion.parse(text)
