"""A day that was replayed before is taken over where the same was known on it, and replayed where it was not."""

from dataclasses import replace
from datetime import date
from unittest import TestCase

import numpy as np

from driftfield.core.base import DEFAULTS, Floats
from driftfield.core.market import MarketData
from driftfield.core.market.proof import KeptDays, days_to_replay, known_on, track_record, way_of
from driftfield.core.market.proof.kept import pack_then, unpack_then
from driftfield.core.market.proof.known_mark import known_mark
from driftfield.core.market.proof.replay import replay
from driftfield.core.ranking import DEFAULT_LENS
from driftfield.core.signals import SIGNALS

from .markets import past_market
from .test_replay import alike, later_changed

CHANGES = 30


class Store:
    def __init__(self) -> None:
        self.days: dict[date, tuple[str, bytes]] = {}

    def find(self, day: date, mark: str) -> bytes | None:
        kept = self.days.get(day)
        return kept[1] if kept and kept[0] == mark else None

    def keep(self, day: date, mark: str, packed: bytes) -> None:
        self.days[day] = mark, packed


def pages(data: MarketData) -> list[str]:
    return [f"page {one}" for one in range(len(data.listings or ()))]


def kept_in(store: Store, data: MarketData) -> KeptDays:
    return KeptDays(store, way_of(DEFAULTS, DEFAULT_LENS, SIGNALS), data.subjects, pages(data))


def shuffled(data: MarketData, rng: np.random.Generator) -> tuple[MarketData, list[str]]:
    """The same market with its niches and listings in another order, and ids of the listings."""
    seen, listings = data.observed, data.listings
    assert seen is not None
    assert listings is not None
    niches, own = rng.permutation(len(data.subjects)), rng.permutation(len(listings))
    back, page = np.argsort(niches), np.argsort(own)
    rows = rng.permutation(len(seen.at))

    def taken(matrix: Floats | None) -> Floats | None:
        return None if matrix is None else matrix[niches]

    moved = replace(
        data, subjects=[data.subjects[one] for one in niches], searches=data.searches[niches],
        clicks=taken(data.clicks), purchases=taken(data.purchases),
        observed=replace(
            seen, term=back[seen.term][rows], listing=page[seen.listing][rows], at=seen.at[rows],
            share=seen.share[rows],
        ),
        listings=listings.take(own),
    )  # fmt: skip
    return moved, [f"page {one}" for one in own]


class Marks(TestCase):
    def setUp(self) -> None:
        self.data = past_market(12, 31)
        self.day = days_to_replay(self.data.timeline)[4]

    def mark(self, data: MarketData, listings: list[str] | None = None) -> str:
        return known_mark(known_on(data, self.day), listings or pages(data))

    def test_what_comes_later_leaves_the_mark_of_a_day(self) -> None:
        rng = np.random.default_rng(1)
        mark = self.mark(self.data)
        for _ in range(CHANGES):
            self.assertEqual(self.mark(later_changed(self.data, self.day, rng)), mark)

    def test_so_does_the_order_of_niches_and_listings(self) -> None:
        rng = np.random.default_rng(2)
        mark = self.mark(self.data)
        for _ in range(CHANGES):
            self.assertEqual(self.mark(*shuffled(self.data, rng)), mark)

    def test_whatever_was_known_then_and_is_other_now_changes_it(self) -> None:
        data, at = self.data, self.data.timeline.upto(self.day).length - 1
        seen, listings = data.observed, data.listings
        assert seen is not None
        assert listings is not None
        assert listings.history is not None
        assert listings.offers is not None

        def with_cell(matrix: Floats, row: int = 3, by: float = 1) -> Floats:
            changed = matrix.copy()
            changed[row, at] += by
            return changed

        early = int(np.flatnonzero(seen.at <= at)[0])
        share = seen.share.copy()
        share[early] *= 0.99
        units = np.nan_to_num(listings.history.measures["units"])
        launched = listings.launched.copy()
        launched[0] -= 1
        since = listings.offers.since.copy()
        since[since.argmin()] -= 1
        marks = [
            self.mark(one)
            for one in (
                data,
                replace(data, searches=with_cell(data.searches)),
                replace(data, searches=with_cell(data.searches, 4)),
                replace(data, clicks=with_cell(data.searches)),
                replace(data, observed=replace(seen, share=share)),
                replace(data, subjects=["other", *data.subjects[1:]]),
                replace(data, listings=replace(listings, launched=launched)),
                replace(data, listings=replace(listings, weight_g=listings.weight_g + 1)),
                replace(data, listings=replace(listings, brand=np.roll(listings.brand, 1))),
                replace(
                    data,
                    listings=replace(listings, offers=replace(listings.offers, since=since)),
                ),
                replace(
                    data,
                    listings=replace(
                        listings,
                        history=replace(
                            listings.history,
                            measures={**listings.history.measures, "units": with_cell(units)},
                        ),
                    ),
                ),
            )
        ]  # fmt: skip
        self.assertEqual(len(set(marks)), len(marks))


class Kept(TestCase):
    def test_a_day_is_the_same_after_it_was_packed(self) -> None:
        data = past_market(12, 32)
        day = days_to_replay(data.timeline)[6]
        (then,) = replay(data, [day], DEFAULTS, rules=SIGNALS)
        packed = pack_then(then, data.subjects, pages(data))
        self.assertTrue(alike(unpack_then(packed, data.subjects, pages(data)), then))

    def test_of_what_came_since_nothing_was_said(self) -> None:
        data = past_market(12, 32)
        day = days_to_replay(data.timeline)[6]
        (then,) = replay(data, [day], DEFAULTS, rules=SIGNALS)
        packed = pack_then(then, data.subjects, pages(data))
        back = unpack_then(packed, ["new", *data.subjects[::-1][:-1]], pages(data))
        self.assertTrue(np.isnan(back.scale[0]))
        self.assertIsNone(back.figures["shape"][0])
        np.testing.assert_array_equal(back.scale[1:], then.scale[::-1][:-1])
        gone = np.count_nonzero(then.launches.subject == 0)
        self.assertEqual(len(back.launches.subject), len(then.launches.subject) - gone)

    def test_a_record_goes_on_as_if_it_had_been_replayed_whole(self) -> None:
        """A quarter later: the days before are taken over, and nothing is other than without them."""
        data = past_market(20, 33)
        line = data.timeline
        before = data.upto(line.start(line.length - 13))
        store = Store()
        first = kept_in(store, before)
        days = days_to_replay(before.timeline)
        track_record(before, days, DEFAULTS, rules=SIGNALS, memory=first)
        self.assertEqual((first.taken, len(store.days)), (0, len(days)))
        later = days_to_replay(line, through=days[-1])
        self.assertIn(days[-1], later)
        second = kept_in(store, data)
        record = track_record(data, later, DEFAULTS, rules=SIGNALS, memory=second)
        self.assertEqual(second.taken, len(set(days) & set(later)))
        whole = track_record(data, later, DEFAULTS, rules=SIGNALS)
        self.assertTrue(alike(record.lines, whole.lines) or repr(record.lines) == repr(whole.lines))
        self.assertEqual(repr(record.misses), repr(whole.misses))

    def test_a_day_of_which_more_is_known_now_is_replayed_again(self) -> None:
        data = past_market(12, 34)
        days = days_to_replay(data.timeline)
        store = Store()
        track_record(data, days, DEFAULTS, memory=kept_in(store, data))
        searches = data.searches.copy()
        revised = data.timeline.upto(days[3]).length - 2
        searches[0, revised] *= 3
        again = kept_in(store, data)
        track_record(replace(data, searches=searches), days, DEFAULTS, memory=again)
        # The days before it are as they were.
        self.assertEqual(again.taken, 3)

    def test_other_settings_are_another_way(self) -> None:
        data = past_market(12, 34)
        days = days_to_replay(data.timeline)[:2]
        store = Store()
        track_record(data, days, DEFAULTS, memory=kept_in(store, data))
        other = replace(DEFAULTS, interval=0.8)
        memory = KeptDays(store, way_of(other, DEFAULT_LENS, SIGNALS), data.subjects, pages(data))
        track_record(data, days, other, memory=memory)
        self.assertEqual(memory.taken, 0)

    def test_days_lie_whole_steps_from_one_that_was_replayed(self) -> None:
        line = past_market(3, 35).timeline
        for back in (0, 1, 12, 13, 30):
            through = line.start(line.length - back).fromordinal(
                line.start(line.length - back).toordinal() - 1
            )
            days = days_to_replay(line, through=through)
            self.assertIn(through, days)
            self.assertLess((line.end - days[-1]).days, 13 * 7)
