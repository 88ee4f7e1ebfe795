"""Estimates from ranks against own sales: which way and how far they miss, and their correction."""

from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np
from scipy import stats

from driftfield.core.base import Groups, Period, Timeline
from driftfield.core.supply.listings import History, Listings, Offers
from driftfield.core.supply.own_check import LEAST_OWN, own_year, sold_alone
from driftfield.core.supply.ranks import RankLines, estimate_units

from .shops import DAY, MONTHS, listings
from .test_ranks import sold

ONE = Groups(np.zeros(60, dtype=np.int64), 1)


def shop(
    rng: np.random.Generator,
    *,
    own: int = 8,
    above: float = 1.4,
    scatter: float = 0.3,
    **more: object,
) -> tuple[Listings, np.ndarray]:
    """Listings of one category by months: the first ``own`` have a rank and own sales alone, ``above`` times
    what others of their rank sell; also what each sells in truth."""
    log_rank, units = sold(rng, 60, scatter)
    units[:own] *= above
    counted = np.repeat(units[:, None] / 12, 24, axis=1)
    mine = np.where(np.arange(60)[:, None] < own, counted, np.nan)
    counted[:own] = np.nan
    made = listings(
        60, {"units": counted, "sales_rank": np.exp(log_rank), "offers": np.ones(60), **more}
    )
    history = History(MONTHS, {"units": mine.astype(np.float32)})
    return replace(made, own_sales=history), units


class Missed(TestCase):
    def test_the_ratio_and_its_interval_are_those_of_students_t(self) -> None:
        made, units = shop(np.random.default_rng(2))
        lines = RankLines.of(made, ONE, np.arange(60))
        says = estimate_units(lines.fit, np.zeros(60, dtype=np.int64), lines.log_rank).units
        logs = np.log(units[:8] / says[:8])
        low, high = stats.t.interval(0.8, 7, loc=logs.mean(), scale=stats.sem(logs))
        np.testing.assert_allclose(lines.own.ratio[:8], np.exp(logs.mean()), rtol=1e-5)
        found = lines.own.ends()
        np.testing.assert_allclose(found[0][0], np.exp(low), rtol=1e-5)
        np.testing.assert_allclose(found[1][0], np.exp(high), rtol=1e-5)
        self.assertEqual(lines.own.told(lines.own.listings)[30], 8)

    def test_a_listing_that_was_fitted_is_compared_with_the_line_without_it(self) -> None:
        made, units = shop(np.random.default_rng(4), own=0)
        mine = np.full((60, 24), np.nan, dtype=np.float32)
        mine[:6] = 10
        made = replace(made, own_sales=History(MONTHS, {"units": mine}))
        lines = RankLines.of(made, ONE, np.arange(60))
        log_rank = lines.log_rank
        for one in range(6):
            rest = np.arange(60) != one
            slope, level = np.polyfit(log_rank[rest], np.log(units[rest]), 1)
            expected = np.log(120) - level - slope * log_rank[one]
            np.testing.assert_allclose(lines.own.missed[one], expected, rtol=1e-4)

    def test_few_own_listings_tell_nothing_and_those_below_tell_above(self) -> None:
        rng = np.random.default_rng(5)
        made, _ = shop(rng, own=LEAST_OWN - 1)
        self.assertTrue(np.isnan(RankLines.of(made, ONE, np.arange(60)).own.ratio).all())
        # Two categories below a third: three and three of one's own tell together, above both.
        own = np.arange(60) % 2 + 1
        lineage = (np.array([0, 1, 1, 2, 2]), np.array([0, 1, 0, 2, 0]))
        made, _ = shop(rng, own=6)
        lines = RankLines.of(made, Groups(own, 3, lineage), np.arange(60))
        self.assertEqual(set(lines.own.group.tolist()), {0})
        self.assertEqual(lines.own.told(lines.own.listings)[0], 6)

    def test_what_others_sell_as_well_does_not_count_and_what_is_unknown_is_assumed(self) -> None:
        made, _ = shop(np.random.default_rng(6), offers=np.where(np.arange(60) < 2, 3, 1))
        lines = RankLines.of(made, ONE, np.arange(60))
        self.assertTrue(np.isnan(lines.own.missed[:2]).all())
        self.assertFalse(np.isnan(lines.own.missed[2:8]).any())
        self.assertEqual(lines.own.told(lines.own.unsure)[0], 0)
        made, _ = shop(np.random.default_rng(6), offers=np.full(60, np.nan))
        lines = RankLines.of(made, ONE, np.arange(60))
        self.assertEqual(lines.own.told(lines.own.unsure)[0], 8)

    def test_offers_of_two_sellers_within_the_year_are_seen(self) -> None:
        made, _ = shop(np.random.default_rng(6), offers=np.full(60, np.nan))
        held = Offers(
            np.array([0, 0, 1, 2, 2]), np.array([4, 5, 4, 4, 5]), np.full(5, DAY - 900.0),
            np.array([np.inf, DAY - 300, np.inf, np.inf, DAY - 500]),
        )  # fmt: skip
        alone = sold_alone(replace(made, offers=held), DAY)
        self.assertEqual(alone[:3].tolist(), [0, 1, 1])
        self.assertTrue(np.isnan(alone[3:]).all())


class Year(TestCase):
    def test_own_sales_must_be_of_the_year_that_the_ranks_are_of(self) -> None:
        made, units = shop(np.random.default_rng(7))
        np.testing.assert_allclose(own_year(made)[:8], units[:8], rtol=1e-5)
        mine = made.own_sales.measures["units"]
        holes = mine.copy()
        holes[0, -3:] = np.nan
        holes[1, -1:] = np.nan
        found = own_year(replace(made, own_sales=History(MONTHS, {"units": holes})))
        self.assertTrue(np.isnan(found[0]))
        self.assertAlmostEqual(float(found[1]), units[1] * 11 / 12, delta=0.01)
        old = Timeline(Period.MONTH, date(2024, 1, 1), 24)  # Ends four months before the ranks do.
        self.assertTrue(
            np.isnan(own_year(replace(made, own_sales=History(old, {"units": mine})))).all()
        )
        # What was sold after the ranks end is no part of it.
        later = Timeline(Period.MONTH, date(2024, 8, 1), 24)
        step = np.where(np.isnan(mine), np.nan, np.arange(24)).astype(np.float32)
        found = own_year(replace(made, own_sales=History(later, {"units": step})))
        self.assertEqual(found[0], np.arange(9, 21).sum())

    def test_without_own_sales_or_ranks_nothing_is_said(self) -> None:
        made, _ = shop(np.random.default_rng(8))
        for other in (replace(made, own_sales=None), replace(made, history=None)):
            lines = RankLines.of(other, ONE, np.arange(60), correct=True)
            self.assertTrue(np.isnan(lines.own.ratio).all())
            self.assertFalse(lines.moved.any())


class Corrected(TestCase):
    def test_estimates_are_moved_only_where_that_is_wanted(self) -> None:
        made, _ = shop(np.random.default_rng(9))
        plain = RankLines.of(made, ONE, np.arange(60))
        moved = RankLines.of(made, ONE, np.arange(60), correct=True)
        self.assertFalse(plain.moved.any())
        ratio = moved.own.ratio[0]
        np.testing.assert_allclose(moved.units.units[:8] / plain.units.units[:8], ratio)
        curves = [lines.curves(made.history)[1] for lines in (plain, moved)]
        np.testing.assert_allclose(curves[1] / curves[0], ratio)
        wide = [np.log(one.units.high / one.units.low)[0] for one in (plain, moved)]
        self.assertGreater(wide[1], wide[0])

    def test_the_corrected_interval_holds_what_it_says(self) -> None:
        # As the bar of the estimates: an 80% interval covers 75 to 85% of what is held out.
        rng = np.random.default_rng(11)
        groups, each, own = 240, 60, 12
        at = np.repeat(np.arange(groups), each)
        log_rank, units = sold(rng, groups * each)
        place = np.tile(np.arange(each), groups)
        truth = units * 1.5  # What is counted is two thirds of what is sold.
        mine, hidden = place < own, (place >= own) & (place < 2 * own)
        counted = np.where(mine | hidden, np.nan, units)
        made = listings(
            len(at),
            {
                "units": np.repeat(counted[:, None] / 12, 24, axis=1), "sales_rank": np.exp(log_rank),
                "offers": np.ones(len(at)),
            },
        )  # fmt: skip
        sales = np.where(mine, truth, np.nan)
        history = History(
            MONTHS, {"units": np.repeat(sales[:, None] / 12, 24, axis=1).astype("f4")}
        )
        made = replace(made, own_sales=history)
        lines = RankLines.of(made, Groups(at, groups), np.arange(len(at)), correct=True)
        found = lines.units
        inside = (found.low <= truth) & (truth <= found.high)
        self.assertTrue(0.75 <= inside[hidden].mean() <= 0.85, inside[hidden].mean())
        bias = np.log(found.units[hidden] / truth[hidden]).mean()
        self.assertLess(abs(bias), 0.05)
