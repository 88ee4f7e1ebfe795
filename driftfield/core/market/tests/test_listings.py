"""Listings as a kind, and sleepers on made listings whose truth is known."""

from dataclasses import dataclass, replace
from datetime import date
from functools import cache
from unittest import TestCase

import numpy as np

from driftfield.core.base import CoreError, Period, Timeline
from driftfield.core.curves import months_of_weeks
from driftfield.core.curves.tests.synthetic import TIMELINE, hump
from driftfield.core.market import MarketData, Workings, run_listings, run_market, with_sleepers
from driftfield.core.market.tree import CategoryTree
from driftfield.core.sentences.listings import asleep_sentence
from driftfield.core.supply import WHY, Clicks, History, Listings

# Weeks of the year around which the niches' seasons lie; the rest of the niches sell all year.
SEASONS = (3, 9, 15, 22, 28, 33, 38, 44, 49)
LEVEL, LISTED = 4, 30  # Niches without a season; listings of each niche.
# What listings can be, the first four being sleepers by their reasons.
ASLEEP = ("season", "no stock", "no rank", "price")
SORTS = (*ASLEEP, "faded", "all year", "small", "young")


@dataclass(frozen=True)
class Made:
    """A market with the truth of its listings: what each is, the season of each, and the workings."""

    niches: Workings
    work: Workings
    sort: np.ndarray
    week: np.ndarray


def season_of(week: float, timeline: Timeline) -> np.ndarray:
    """Share of the year's mean in each period of a season that lasts about four months."""
    weekly = 0.04 + hump(week, 5.0, replace(TIMELINE))[:52]
    weekly = weekly / weekly.mean()
    slots = TIMELINE.slots[:52]
    by_slot = np.empty(52)
    by_slot[slots] = weekly
    if timeline.period is Period.WEEK:
        return by_slot[timeline.slots]
    return months_of_weeks(by_slot[None])[0][timeline.slots]


@cache
def made(period: Period, seed: int = 11) -> Made:
    """Searches of five years by weeks, and listings of two and a half by weeks or months."""
    rng = np.random.default_rng(seed)
    weeks = [*SEASONS, *[-1] * LEVEL]
    shapes = [season_of(w, TIMELINE) if w >= 0 else np.ones(TIMELINE.length) for w in weeks]
    searches = np.array([rng.poisson(900 * shape) for shape in shapes], dtype=float)
    first = date(2023, 11, 27) if period is Period.WEEK else date(2023, 12, 1)
    end = period.number(TIMELINE.end) - period.number(first) + (period is Period.WEEK)
    timeline = Timeline(period, first, end)
    n = len(weeks) * LISTED
    niche = np.repeat(np.arange(len(weeks)), LISTED)
    sort = np.array([SORTS[i % len(SORTS)] for i in range(n)], dtype=object)
    week = np.array(weeks)[niche]
    year = timeline.period.per_year
    scale = year / 52
    level = rng.uniform(250, 2500, n) / scale / 13  # A year's units over those of its mean week.
    level[sort == "small"] = 0.3
    units = np.array(
        [
            rng.poisson(level[i] * scale * season_of(week[i], timeline))
            if week[i] >= 0 and sort[i] != "all year"
            else rng.poisson(np.full(timeline.length, level[i] * scale))
            for i in range(n)
        ],
        dtype=np.float32,
    )  # fmt: skip
    price = np.full((n, timeline.length), 20, dtype=np.float32)
    stock = np.ones((n, timeline.length), dtype=np.float32)
    late = timeline.length - timeline.period.span(13)
    for i in range(n):
        if sort[i] == "no stock":
            units[i, late:], stock[i, late:] = 0, 0.05
        elif sort[i] == "no rank":
            units[i, late:] = 0
        elif sort[i] == "price":
            units[i, late:], price[i, late:] = units[i, late:] // 8, 31
        elif sort[i] == "faded":
            units[i, late - year // 3 :] = 0
        elif sort[i] == "young":
            units[i, : late + timeline.period.span(8)] = np.nan
    ranks = np.where(units > 0, 400_000 / (1 + units), 400_000).astype(np.float32)
    ranks[sort == "no rank", late:] = np.nan
    ranks[np.isnan(units)] = np.nan
    history = History(
        timeline, {"units": units, "price": price, "in_stock": stock, "sales_rank": ranks}
    )
    known = Listings.unknown(n)
    listings = replace(
        known, history=history, price=price[:, -1].astype(float), category=niche.copy(),
        launched=np.where(sort == "young", TIMELINE.end.toordinal() - 40.0, np.nan),
    )  # fmt: skip
    at = np.repeat(np.arange(TIMELINE.length - 52, TIMELINE.length), n)
    page = np.tile(np.arange(n), 52)
    clicks = Clicks(niche[page], at, page, np.full(len(page), 0.9 / LISTED))
    tree = CategoryTree.of((f"c{i}", f"c{i}", None) for i in range(len(weeks)))
    data = MarketData(
        timeline=TIMELINE, subjects=[f"n{i}" for i in range(len(weeks))], term_subject=np.arange(len(weeks)),
        searches=searches, observed=clicks, listings=listings, category=np.arange(len(weeks)), tree=tree,
    )  # fmt: skip
    niches = run_market(data)
    work = run_listings(niches, [f"l{i}" for i in range(n)])
    assert work is not None
    return Made(niches, work, sort, week)


class Found(TestCase):
    def asleep(self, market: Made) -> np.ndarray:
        return np.asarray(market.work.figures["sleep.state"] == "Asleep")

    def planted(self, market: Made) -> tuple[np.ndarray, np.ndarray]:
        """Those that sleep in truth, and those that do not; what the calendar decides by a hair is neither."""
        left = np.array([self.left_of(week, market.work.timeline) for week in market.week])
        seasonal = (market.week >= 0) & np.isin(market.sort, ASLEEP)
        by_season = market.sort == "season"
        asleep = seasonal & (~by_season | (left < 0.2))
        return asleep, ~asleep & ~(by_season & (left >= 0.2) & (left < 0.3))

    def left_of(self, week: int, timeline: Timeline) -> float:
        """What the calendar leaves in the last four weeks of the best quarter's sales."""
        if week < 0:
            return 1.0
        season = season_of(week, timeline)
        span = timeline.period.span(13)
        best = max(season[at : at + span].mean() for at in range(len(season) - span))
        return float(season[-timeline.period.span(4) :].mean() / best)

    def test_those_planted_are_found_and_hardly_others(self) -> None:
        for period in Period:
            for seed in (11, 12):
                with self.subTest(period=period, seed=seed):
                    market = made(period, seed)
                    asleep, (planted, others) = self.asleep(market), self.planted(market)
                    self.assertGreaterEqual(asleep[planted].mean(), 0.95)
                    self.assertLessEqual(asleep[others].mean(), 0.02)

    def test_each_is_told_by_its_reason(self) -> None:
        market = made(Period.WEEK)
        told = {
            why: market.work.figures[key] == "yes"
            for why, key in zip(
                WHY,
                ("sleep.by_season", "sleep.out_of_stock", "sleep.unranked", "sleep.dearer"),
                strict=True,
            )
        }
        for why in ASLEEP:
            rows = self.asleep(market) & (market.sort == why)
            self.assertGreaterEqual(told[why][rows].mean(), 0.95, why)
            for other in set(ASLEEP) - {why, "season"}:
                self.assertFalse((told[other] & rows).any(), (why, other))

    def test_the_season_starts_when_it_does(self) -> None:
        for period in Period:
            market = made(period)
            rows = np.flatnonzero(self.asleep(market))
            gaps = []
            for row in rows:
                rise = date.fromisoformat(market.work.figures["sleep.rise"][row])
                season = season_of(market.week[row], TIMELINE)[:52]
                slots = TIMELINE.slots[:52]
                peak = int(np.argmax(season[np.argsort(slots)]))
                by_slot = season[np.argsort(slots)]
                start = peak
                while by_slot[(start - 1) % 52] > 1:
                    start -= 1
                days = [
                    abs((date.fromisocalendar(year, start % 52 + 1, 1) - rise).days)
                    for year in range(rise.year - 1, rise.year + 2)
                ]
                gaps.append(min(days))
            self.assertGreaterEqual(np.mean(np.array(gaps) <= 14), 0.9, period)

    def test_what_is_expected_comes(self) -> None:
        """The interval of what is expected holds the truth of the coming season for nine in ten."""
        market = made(Period.WEEK)
        rows = self.asleep(market)
        figures = market.work.figures
        strong = figures["sleep.strong_4w"][rows]
        low, high = figures["sleep.expected_low"][rows], figures["sleep.expected_high"][rows]
        again = np.random.default_rng(5).poisson(strong * 13 / 4) * 4 / 13
        self.assertGreaterEqual(np.mean((low <= again) & (again <= high)), 0.9)

    def test_strong_in_a_month(self) -> None:
        market = made(Period.WEEK)
        october = with_sleepers(market.niches, market.work, date(2025, 10, 1), date(2025, 10, 31))
        asleep = october.figures["sleep.state"] == "Asleep"
        for week in set(market.week[asleep].tolist()):
            # Of the niches whose season reaches into October, and no others.
            self.assertGreater(season_of(week, TIMELINE)[TIMELINE.slots == 41].mean(), 0.1)
        self.assertIn(44, market.week[asleep])
        with self.assertRaisesRegex(CoreError, "Listings are known from"):
            with_sleepers(market.niches, market.work, date(2019, 10, 1), date(2019, 10, 31))

    def test_what_sells_for_its_season_alone_is_told(self) -> None:
        market = made(Period.WEEK)
        on = market.work.figures["sleep.state"] == "In season"
        self.assertTrue(on.any())
        for week in set(market.week[on].tolist()):
            self.assertGreater(season_of(week, TIMELINE)[-1], 0.5)


class Read(TestCase):
    def test_what_is_unknown_stays_unknown(self) -> None:
        """Without a history there are facts, and nothing that would need one."""
        market = made(Period.WEEK)
        data = replace(
            market.niches.data, listings=replace(market.niches.data.listings, history=None)
        )
        work = run_listings(run_market(data), [f"l{i}" for i in range(market.work.count)])
        assert work is not None
        np.testing.assert_array_equal(
            work.figures["listing.price"], market.work.figures["listing.price"]
        )
        self.assertTrue(all(state is None for state in work.figures["sleep.state"]))
        for key in (
            "sales.units_52w",
            "listing.price_floor",
            "listing.in_stock",
            "sleep.strong_4w",
        ):
            self.assertTrue(np.isnan(work.figures[key]).all(), key)
        self.assertEqual(set(work.figures["shape"]), {"Unsettled"})

    def test_ranks_alone_make_a_curve(self) -> None:
        """Units that are taken away are estimated from the ranks, and said to be."""
        market = made(Period.WEEK)
        history = market.niches.data.listings.history
        units = history.measures["units"].copy()
        hidden = np.flatnonzero((market.sort == "season") & (np.arange(market.work.count) % 3 == 0))
        units[hidden] = np.nan
        cut = History(history.timeline, {**history.measures, "units": units})
        data = replace(
            market.niches.data, listings=replace(market.niches.data.listings, history=cut)
        )
        work = run_listings(run_market(data), [f"l{i}" for i in range(market.work.count)])
        assert work is not None
        basis = work.figures["basis"]
        self.assertEqual(set(basis[hidden]), {"ranks"})
        self.assertEqual(set(np.delete(basis, hidden)), {"counts"})
        truth = market.work.figures["sales.units_52w"][hidden]
        low, high = (work.figures[f"listing.estimated_{end}"][hidden] for end in ("low", "high"))
        self.assertGreaterEqual(np.mean((low <= truth) & (truth <= high)), 0.75)
        self.assertTrue(np.isnan(work.figures["sales.units_52w"][hidden]).all())
        # What they come to next season has no interval that would hold; nothing is told of it.
        asleep = work.figures["sleep.state"] == "Asleep"
        self.assertTrue(asleep[hidden].any())
        self.assertTrue(np.isnan(work.figures["sleep.expected_4w"][hidden]).all())
        self.assertFalse(
            np.isnan(work.figures["sleep.expected_4w"][asleep & (basis == "counts")]).all()
        )
        row = int(hidden[asleep[hidden]][0])
        told = {key: values[row] for key, values in work.figures.items()}
        known = {
            key: None if isinstance(v, float) and np.isnan(v) else v for key, v in told.items()
        }
        sentence = asleep_sentence(known)
        self.assertIn("estimated from its sales rank", sentence or "")
        self.assertNotIn("unknown", sentence or "")

    def test_a_planning_date_moves_dates_and_nothing_else(self) -> None:
        market = made(Period.WEEK)
        ids = [f"l{i}" for i in range(market.work.count)]
        planning = date(2026, 9, 1)
        niches = run_market(market.niches.data, planning=planning)
        later = run_listings(niches, ids, planning=planning)
        assert later is not None
        dated = (
            "planning_date",
            "seasons",
            "act.",
            "order_",
            "sleep.rise",
            "sleep.order",
            "sleep.caught",
        )
        for key, values in later.figures.items():
            if not key.startswith(dated):
                before = market.work.figures[key]
                same = (
                    values == before
                    if values.dtype == object
                    else np.isclose(values, before, equal_nan=True)
                )
                self.assertTrue(np.all(same), key)
        self.assertTrue((later.figures["sleep.rise"] != market.work.figures["sleep.rise"]).any())
