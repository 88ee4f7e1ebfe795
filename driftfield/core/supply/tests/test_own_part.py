"""Own part: the split is exact, its intervals hold the truth, and what is not known is not told."""

from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.base import Floats, Period, Timeline
from driftfield.core.supply import (
    Against,
    Clicks,
    Comparison,
    History,
    Listings,
    OwnPart,
    OwnVerdict,
    Sources,
    own_total,
    read_own_part,
    read_takers,
)  # fmt: skip
from driftfield.core.supply.own_scatter import Squares, bounded_mean

WEEKS = 156
LINE = Timeline(Period.WEEK, date(2023, 1, 2), WEEKS)
NOW = slice(WEEKS - 13, WEEKS)
THEN = slice(WEEKS - 65, WEEKS - 52)


class Drawn:
    """Niches with a season and a drift, and one's own sales of them, by a share that may change a quarter ago."""

    def __init__(self, seed: int, niches: int = 40, step: float = 1.0, level: float = 30.0) -> None:
        rng = np.random.default_rng(seed)
        weeks = np.arange(52)
        tops = rng.integers(0, 52, niches)[:, None]
        self.season = 1 + 0.6 * np.cos(2 * np.pi * (weeks - tops) / 52)
        base = rng.lognormal(7, 1, niches)
        wander = np.exp(np.cumsum(rng.normal(0, 0.01, (niches, WEEKS)), axis=1))
        self.expected = base[:, None] * self.season[:, LINE.slots] * wander
        self.market = rng.poisson(self.expected * rng.lognormal(-0.005, 0.1, wander.shape)).astype(
            float
        )
        self.share = np.repeat(
            (rng.lognormal(np.log(level), 1, niches) / base)[:, None], WEEKS, axis=1
        )
        self.share[:, NOW] *= step
        wavers = rng.lognormal(-0.02, 0.2, wander.shape)
        self.own = rng.poisson(self.market * self.share * wavers).astype(float)

    def read(self, own: Floats | None = None, market: Floats | None = None) -> OwnPart:
        own, market = self.own if own is None else own, self.market if market is None else market
        sources = Sources(
            LINE, lambda at: market[at], History(LINE, {"units": own.astype(np.float32)})
        )
        found = read_own_part(sources, self.season, np.zeros(len(own), bool), 0.9)
        assert found is not None
        return found


def compared(part: OwnPart, weeks: int, against: Against) -> Comparison:
    return next(one for one in part.comparisons if (one.weeks, one.against) == (weeks, against))


class Split(TestCase):
    def test_it_multiplies_exactly(self) -> None:
        for one in Drawn(1).read().comparisons:
            share = one.own_now / one.market_now / (one.own_then / one.market_then)
            own = one.own_now / one.own_then
            np.testing.assert_allclose(one.share.value, share, rtol=1e-12)
            np.testing.assert_allclose(one.own.value, own, rtol=1e-12)
            np.testing.assert_allclose(
                one.season * one.drift.value * one.share.value, own, rtol=1e-12
            )

    def test_the_same_weeks_of_a_year_have_no_season(self) -> None:
        part = Drawn(2).read()
        np.testing.assert_allclose(compared(part, 13, Against.YEAR).season, 1, rtol=1e-9)
        self.assertGreater(np.ptp(compared(part, 13, Against.BEFORE).season), 0.5)

    def test_intervals_hold_the_truth(self) -> None:
        held: dict[str, list[bool]] = {"share": [], "market": [], "own": []}
        for seed in range(12):
            drawn = Drawn(seed)
            for weeks, against in (
                (13, Against.YEAR),
                (13, Against.BEFORE),
                (26, Against.YEAR),
                (4, Against.YEAR),
            ):
                one = compared(drawn.read(), weeks, against)
                now, then = slice(*one.now), slice(*one.then)
                own, market = drawn.share * drawn.market, drawn.market
                share = own[:, now].sum(1) / market[:, now].sum(1)
                share /= own[:, then].sum(1) / market[:, then].sum(1)
                grown = drawn.expected[:, now].sum(1) / drawn.expected[:, then].sum(1)
                for name, truth in (("share", share), ("market", grown), ("own", share * grown)):
                    ratio = getattr(one, name)
                    held[name] += ((ratio.low <= truth) & (truth <= ratio.high)).tolist()
        for name, inside in held.items():
            self.assertGreaterEqual(np.mean(inside), 0.85, name)
            self.assertLessEqual(np.mean(inside), 0.95, name)

    def test_a_share_that_fell_by_half_is_told_and_one_that_did_not_is_not(self) -> None:
        told = [compared(Drawn(3, step=step).read(), 13, Against.YEAR).share for step in (0.5, 1.0)]
        self.assertGreater(np.mean(told[0].high < 1), 0.9)
        self.assertLess(np.mean((told[1].high < 1) | (told[1].low > 1)), 0.16)

    def test_few_sales_tell_little(self) -> None:
        few, many = (
            compared(Drawn(4, level=level).read(), 13, Against.YEAR).share for level in (2, 300)
        )
        width = [np.nanmedian(np.log(one.high / one.low)) for one in (few, many)]
        self.assertGreater(width[0], 3 * width[1])


class Unknown(TestCase):
    def test_a_week_that_is_not_known_is_left_out_of_both_times(self) -> None:
        drawn = Drawn(5, niches=6)
        own = drawn.own.copy()
        own[0, NOW.start + 2] = np.nan
        one = compared(drawn.read(own), 13, Against.YEAR)
        kept = np.delete(np.arange(13), 2)
        self.assertEqual(one.used[0], 12)
        self.assertEqual(one.own_then[0], drawn.own[0, THEN][kept].sum())
        self.assertEqual(one.market_now[0], drawn.market[0, NOW][kept].sum())
        self.assertEqual(one.used[1], 13)

    def test_a_quarter_missing_is_not_compared(self) -> None:
        drawn = Drawn(5, niches=6)
        own = drawn.own.copy()
        own[0, NOW.start : NOW.start + 4] = np.nan
        part = drawn.read(own)
        one = compared(part, 13, Against.YEAR)
        self.assertTrue(np.isnan([one.own.value[0], one.share.low[0], one.used[0]]).all())
        self.assertIsNone(one.verdict()[0])

    def test_without_a_year_the_weeks_before_are_told(self) -> None:
        drawn = Drawn(6, niches=6)
        own = drawn.own.copy()
        own[:, :-40] = np.nan
        part = drawn.read(own)
        told = {part.comparisons[at].against for at in part.headline() if at is not None}
        self.assertEqual(told, {Against.BEFORE})
        own[:, :-20] = np.nan
        self.assertEqual(drawn.read(own).headline(), [None] * 6)

    def test_nothing_sold_at_one_time_is_no_percentage(self) -> None:
        drawn = Drawn(7, niches=6)
        own = drawn.own.copy()
        own[0, : NOW.start] = 0
        own[1, NOW] = 0
        own[2] = 0
        one = compared(drawn.read(own), 13, Against.YEAR)
        verdicts = one.verdict()
        self.assertEqual(verdicts[:3], [OwnVerdict.NEW, OwnVerdict.ENDED, None])
        self.assertEqual(one.share.value[0], np.inf)
        self.assertGreater(one.share.low[0], 1)
        self.assertEqual((one.own.value[1], one.own.low[1]), (0, 0))
        self.assertLess(one.own.high[1], 0.5)

    def test_of_one_niche_with_too_few_blocks_no_interval_is_told(self) -> None:
        drawn = Drawn(8, niches=1)
        own = drawn.own.copy()
        own[:, :-26] = np.nan
        market = drawn.market.copy()
        market[:, :-26] = np.nan
        one = compared(drawn.read(own, market), 13, Against.BEFORE)
        self.assertFalse(np.isnan(one.share.value[0]))
        self.assertIsInstance(one.verdict()[0], OwnVerdict)

    def test_a_season_that_follows_a_feast_is_not_told_and_its_market_not_judged(self) -> None:
        drawn = Drawn(9, niches=6, step=3.0)
        sources = Sources(
            LINE,
            lambda at: drawn.market[at],
            History(LINE, {"units": drawn.own.astype(np.float32)}),
        )
        part = read_own_part(sources, drawn.season, np.ones(6, bool), 0.9)
        assert part is not None
        one = compared(part, 13, Against.BEFORE)
        self.assertTrue(np.isnan(one.season).all())
        self.assertLessEqual(
            set(one.verdict()), {OwnVerdict.GAINED, OwnVerdict.LOST, OwnVerdict.UNCLEAR}
        )


class OfListings(TestCase):
    """Two niches of which one's own listing is clicked in both, and others in one."""

    def setUp(self) -> None:
        rng = np.random.default_rng(11)
        self.units = rng.poisson(np.array([[40], [90], [60]]), (3, WEEKS)).astype(np.float32)
        self.own = np.full((3, WEEKS), np.nan, dtype=np.float32)
        self.own[0] = rng.poisson(30, WEEKS)
        listings = Listings.unknown(3)
        self.listings = replace(
            listings, history=History(LINE, {"units": self.units}),
            own_sales=History(LINE, {"units": self.own, "revenue": self.own * 10}),
        )  # fmt: skip
        # Terms 0 and 1 are of niche 0, term 2 of niche 1; own clicks come to three quarters from niche 0.
        each = np.arange(WEEKS)
        rows = [(0, 0, 0.3), (0, 1, 0.5), (2, 0, 0.1), (2, 2, 0.6)]
        term, listing, share = (np.repeat([row[i] for row in rows], WEEKS) for i in range(3))
        self.seen = Clicks(
            term.astype(int), np.tile(each, len(rows)), listing.astype(int), share.astype(float)
        )
        self.weight = np.full(len(term), 100.0)

    def sources(self, **changes: object) -> Sources:
        made = Sources(
            timeline=LINE, searches=lambda at: np.full(WEEKS, 1000.0), listings=self.listings, seen=self.seen,
            weight=self.weight, owner=np.array([0, 0, 1])[self.seen.term],
        )  # fmt: skip
        return replace(made, **changes)

    def read(self, **changes: object) -> OwnPart:
        found = read_own_part(
            self.sources(**changes), np.full((2, 52), np.nan), np.zeros(2, bool), 0.9
        )
        assert found is not None
        return found

    def test_a_listing_is_divided_by_the_clicks_that_niches_bring(self) -> None:
        part = self.read()
        self.assertEqual(part.subject.tolist(), [0, 1])
        np.testing.assert_allclose(part.niches[0].units, self.own[0] * 0.75)
        np.testing.assert_allclose(part.niches[1].units, self.own[0] * 0.25)
        np.testing.assert_allclose(part.niches[0].market, self.units[0] * 0.75 + self.units[1])
        np.testing.assert_allclose(part.niches[0].revenue, self.own[0] * 7.5)
        units, revenue, market = part.year()
        self.assertAlmostEqual(units[0], float(self.own[0, -52:].sum()) * 0.75, 3)
        self.assertAlmostEqual(revenue[0] / units[0], 10, 6)
        self.assertAlmostEqual(
            market[1], float(self.units[0, -52:].sum() * 0.25 + self.units[2, -52:].sum()), 2
        )

    def test_what_is_told_of_own_listings_is_held_against_what_was_sold(self) -> None:
        told = self.read().told
        self.assertEqual(told.listings.tolist(), [1, 1])
        year = slice(-52, None)
        ratio = float(self.own[0, year].sum() / self.units[0, year].sum())
        self.assertAlmostEqual(told.ratio[0], ratio, 6)

    def test_own_goods_that_nobody_counted_are_added_to_the_market(self) -> None:
        units = self.units.copy()
        units[0] = np.nan
        part = self.read(listings=replace(self.listings, history=History(LINE, {"units": units})))
        self.assertTrue(part.niches[0].added)
        np.testing.assert_allclose(part.niches[0].market, self.units[1] + self.own[0] * 0.75)

    def test_without_units_the_market_is_its_searches(self) -> None:
        part = self.read(listings=replace(self.listings, history=None))
        self.assertFalse(part.niches[0].by_units)
        np.testing.assert_allclose(part.niches[0].market, 1000)

    def test_units_that_are_known_no_longer_are_not_of_late(self) -> None:
        cut = Timeline(Period.WEEK, LINE.first, WEEKS - 30)
        history = History(cut, {"units": self.units[:, : cut.length]})
        part = self.read(listings=replace(self.listings, history=history))
        self.assertGreater(part.timeline.end, cut.end)
        self.assertFalse(part.niches[0].by_units)
        # Nor are one's own: nothing is compared where they ended long ago.
        own = History(cut, {"units": self.own[:, : cut.length]})
        part = self.read(listings=replace(self.listings, own_sales=own))
        self.assertEqual(part.headline(), [None, None])
        # A few weeks behind is as people import.
        cut = Timeline(Period.WEEK, LINE.first, WEEKS - 4)
        own = History(cut, {"units": self.own[:, : cut.length]})
        part = self.read(listings=replace(self.listings, own_sales=own))
        self.assertEqual(part.timeline.end, cut.end)
        self.assertNotIn(None, part.headline())

    def test_clicks_on_terms_that_nobody_looks_for_bring_nothing(self) -> None:
        self.assertIsNone(
            read_own_part(
                self.sources(weight=np.zeros(len(self.weight))), np.full((2, 52), np.nan),
                np.zeros(2, bool), 0.9,
            )
        )  # fmt: skip

    def test_listings_counted_only_of_late_are_no_growth(self) -> None:
        units = self.units.copy()
        units[1, : NOW.start] = np.nan
        part = self.read(listings=replace(self.listings, history=History(LINE, {"units": units})))
        one = compared(part, 13, Against.YEAR)
        self.assertTrue(np.isnan(one.market.value[0]))
        self.assertFalse(np.isnan(one.market.value[1]))

    def test_a_niche_that_brings_hardly_a_click_is_not_ones_own(self) -> None:
        seen = replace(
            self.seen, share=np.where(self.seen.term == 2, self.seen.share * 0.02, self.seen.share)
        )
        self.assertEqual(self.read(seen=seen).subject.tolist(), [0])

    def test_months_of_ones_own_are_held_against_the_weeks_of_the_market(self) -> None:
        months = Timeline(Period.MONTH, date(2023, 1, 1), 36)
        own = np.full((2, 36), np.nan, dtype=np.float32)
        own[0] = np.arange(36) + 50
        listings = replace(self.listings, own_sales=None)
        part = self.read(listings=listings, own=History(months, {"units": own}))
        self.assertIs(part.timeline.period, Period.MONTH)
        self.assertEqual(part.timeline.first, date(2023, 2, 1))
        self.assertEqual(part.niches[0].units[0], 51)
        mean = self.units[0].mean() * 0.75 + self.units[1].mean()
        self.assertAlmostEqual(np.nanmean(part.niches[0].market) / mean / (365.25 / 12 / 7), 1, 1)

    def test_takers(self) -> None:
        share = self.seen.share.copy()
        late = self.seen.at >= NOW.start
        share[late & (self.seen.term == 0) & (self.seen.listing == 0)] = 0.1
        share[late & (self.seen.term == 0) & (self.seen.listing == 1)] = 0.7
        found = read_takers(
            replace(self.seen, share=share), self.weight, np.array([0, 1]), np.array([True, False, False]),
            (THEN.start, THEN.stop), (NOW.start, NOW.stop), 1.0, np.inf, 0.9, counted=True,
        )  # fmt: skip
        assert found is not None
        self.assertEqual(found.term.tolist(), [0])
        self.assertAlmostEqual(found.whole[0], 0.3)
        self.assertAlmostEqual(found.whole[1], 0.1)
        self.assertAlmostEqual(found.lost[0], 0.2)
        self.assertLess(found.ratio.high[0], 1)
        gained = dict(zip(found.listing.tolist(), found.share_now - found.share_then, strict=True))
        self.assertAlmostEqual(gained[1], 0.2)
        early = (0, 0)
        self.assertIsNone(
            read_takers(
                self.seen, self.weight, np.array([0]), np.zeros(3, bool), early, (NOW.start, NOW.stop), 1.0,
                np.inf, 0.9, counted=True,
            )
        )  # fmt: skip


class Together(TestCase):
    def test_the_whole_is_market_times_share(self) -> None:
        drawn = Drawn(12, niches=6, step=1.4)
        part = drawn.read()
        one = compared(part, 13, Against.YEAR)
        found = own_total(part, one, np.ones(6, bool), 0.9)
        assert found is not None
        self.assertEqual((found.niches, found.own_now), (6, drawn.own[:, NOW].sum()))
        whole = found.own_now / found.own_then
        self.assertAlmostEqual(float(found.market.value[0] * found.share.value[0]), whole, 10)
        for ratio in (found.market, found.share, found.own):
            self.assertLess(ratio.low[0], ratio.value[0])
            self.assertLess(ratio.value[0], ratio.high[0])
        self.assertIsNone(own_total(part, one, np.zeros(6, bool), 0.9))

    def test_a_mean_of_squares_is_not_moved_by_one_step(self) -> None:
        rng = np.random.default_rng(0)
        squares = rng.normal(size=4000) ** 2
        self.assertAlmostEqual(bounded_mean(Squares(squares, np.ones(4000))), 1, 1)
        few = np.append(squares[:24], 80.0)
        self.assertLess(bounded_mean(Squares(few, np.ones(25))), 2.5)
        self.assertTrue(np.isnan(bounded_mean(Squares(np.empty(0), np.empty(0)))))
