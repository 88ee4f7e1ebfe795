"""Nothing later touches what was known on a day, and replaying it says what an analysis of that day said."""

from dataclasses import fields, is_dataclass, replace
from datetime import date, timedelta
from itertools import pairwise
from typing import Any
from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS, CoreError, Period, Timeline
from driftfield.core.market import MarketData, run_market
from driftfield.core.market.proof import days_to_replay, known_on, replay
from driftfield.core.signals import SIGNALS
from driftfield.core.supply import Clicks

from .markets import past_market

CHANGES = 200


def alike(first: Any, second: Any) -> bool:
    """Whether two values are the same, bit for bit, down to their arrays."""
    if isinstance(first, np.ndarray):
        if first.dtype.kind == "O":
            return first.tolist() == second.tolist()
        return first.shape == second.shape and np.array_equal(
            first, second, equal_nan=first.dtype.kind == "f"
        )
    if isinstance(first, dict):
        return first.keys() == second.keys() and all(
            alike(first[key], second[key]) for key in first
        )
    if is_dataclass(first) and not isinstance(first, type):
        return type(first) is type(second) and all(
            alike(getattr(first, one.name), getattr(second, one.name)) for one in fields(first)
        )
    return bool(first == second)


def later_changed(data: MarketData, day: date, rng: np.random.Generator) -> MarketData:
    """The same market with other figures after a day, and with whatever no table dates."""
    known = data.timeline.upto(day).length
    seen, listings = data.observed, data.listings
    for one in (seen, listings, data.clicks, data.purchases):
        assert one is not None

    def other(matrix: np.ndarray, at: int) -> np.ndarray:
        changed = matrix.copy()
        block = changed[:, at:]
        changed[:, at:] = block * rng.lognormal(0, 2, block.shape)
        changed[:, at:][rng.random(block.shape) < 0.1] = np.nan
        return changed

    kept = np.flatnonzero((seen.at < known) | (rng.random(len(seen.at)) < 0.5))
    share = np.where(seen.at < known, seen.share, rng.random(len(seen.at)))
    end = day.toordinal()
    n = len(listings)
    offers = listings.offers
    late = offers.since > end
    changed = replace(
        listings,
        price=rng.random(n), reviews=rng.random(n), rating=rng.random(n), quality=rng.random(n),
        sponsored=rng.random(n), return_rate=rng.random(n), seller=rng.integers(0, 9, n),
        launched=np.where(listings.launched > end, end + rng.integers(1, 900, n), listings.launched),
        brand_since=np.where(listings.brand_since > end, np.nan, listings.brand_since),
        seller_since=np.where(listings.seller_since > end, end + 5.0, listings.seller_since),
        history=replace(
            listings.history,
            measures={key: other(one, known) for key, one in listings.history.measures.items()},
        ),
        offers=replace(
            offers,
            since=np.where(late, end + rng.integers(1, 500, len(late)), offers.since),
            until=np.where(offers.until > end, end + rng.integers(1, 900, len(late)), offers.until),
        ),
    )  # fmt: skip
    return replace(
        data, searches=other(data.searches, known), clicks=other(data.clicks, known),
        purchases=other(data.purchases, known), listings=changed,
        observed=Clicks(seen.term[kept], seen.at[kept], seen.listing[kept], share[kept]),
    )  # fmt: skip


class NothingLater(TestCase):
    data = past_market(12, 1)

    def test_touches_what_was_known_whatever_it_is(self) -> None:
        rng = np.random.default_rng(2)
        days = days_to_replay(self.data.timeline)[:-1]
        then = {day: known_on(self.data, day) for day in days}
        for _ in range(CHANGES):
            day = days[rng.integers(len(days))]
            with self.subTest(day=day):
                self.assertTrue(alike(then[day], known_on(later_changed(self.data, day, rng), day)))

    def test_touches_any_figure_or_rank(self) -> None:
        rng = np.random.default_rng(3)
        day = days_to_replay(self.data.timeline)[5]
        first, second = (
            next(iter(replay(data, [day], DEFAULTS, rules=SIGNALS)))
            for data in (self.data, later_changed(self.data, day, rng))
        )
        self.assertTrue(alike(first, second))

    def test_would_be_seen_if_it_did(self) -> None:
        """The check itself: a day later something of it is known."""
        day = days_to_replay(self.data.timeline)[5]
        changed = later_changed(self.data, day, np.random.default_rng(4))
        after = day + timedelta(weeks=1)
        self.assertFalse(alike(known_on(self.data, after), known_on(changed, after)))


class Then(TestCase):
    data = past_market(12, 5)

    def test_what_is_dated_says_what_an_analysis_of_that_day_says(self) -> None:
        """Of curves and clicks; what no table dates is unknown on it."""
        day = days_to_replay(self.data.timeline)[4]
        then = next(iter(replay(self.data, [day], DEFAULTS)))
        work = run_market(self.data, DEFAULTS, as_of=day)
        for key in (
            "shape",
            "drift_rate_year",
            "searches_52w",
            "demand",
            "competition",
            "headroom",
        ):
            self.assertTrue(alike(then.figures[key], work.figures[key]), key)
        np.testing.assert_allclose(
            np.nansum(then.coming, axis=1), work.figures["forecast_52w.value"], rtol=1e-5
        )

    def test_an_offer_that_was_to_end_was_not_known_to(self) -> None:
        day = days_to_replay(self.data.timeline)[4]
        listings = known_on(self.data, day).listings
        assert listings is not None
        assert listings.offers is not None
        self.assertTrue(np.isinf(listings.offers.until).all())
        self.assertTrue((listings.offers.since <= day.toordinal()).all())
        self.assertTrue(np.isnan(listings.rating).all())
        self.assertTrue((listings.seller == -1).all())


class Days(TestCase):
    def test_are_those_of_three_years_a_quarter_apart(self) -> None:
        line = Timeline(Period.WEEK, date(2020, 1, 6), 320)
        days = days_to_replay(line)
        self.assertEqual(len(days), 13)
        self.assertEqual(days[-1], line.end)
        self.assertEqual({(b - a).days for a, b in pairwise(days)}, {91})

    def test_have_two_years_before_them(self) -> None:
        line = Timeline(Period.WEEK, date(2020, 1, 6), 150)
        self.assertEqual(len(days_to_replay(line)), 4)  # at 150, 137, 124 and 111 weeks
        self.assertEqual(len(days_to_replay(line, since=line.end - timedelta(days=100))), 2)

    def test_months_go_by_quarters(self) -> None:
        line = Timeline(Period.MONTH, date(2020, 1, 1), 60)
        self.assertEqual(days_to_replay(line)[-2:], [date(2024, 9, 30), date(2024, 12, 31)])

    def test_a_record_too_short_is_refused(self) -> None:
        for length, every in ((104, 13), (400, 0), (400, -13)):
            with self.subTest(length=length, every=every), self.assertRaises(CoreError):
                days_to_replay(Timeline(Period.WEEK, date(2020, 1, 6), length), every=every)
