"""Packed curves: what goes in comes out, and revisions win."""

from datetime import date
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from driftfield.core.base import Period, Timeline
from driftfield.market.curves import Packed, matrix, merge, pack, spanning, unpack

curve = st.lists(st.one_of(st.just(np.nan), st.integers(0, 100_000)), min_size=1, max_size=40)


def row(packed: Packed, first: int, length: int) -> np.ndarray:
    line = Timeline(Period.WEEK, Period.WEEK.start(first), length)
    return matrix([(0, packed.first, packed.values)], 1, line)[0]


class Packing(TestCase):
    @given(curve, st.integers(-30, 30))
    def test_comes_back_as_it_went_in(self, values: list[float], shift: int) -> None:
        given_ = np.array(values, dtype=float)
        packed = pack(given_, 100_000)
        if packed is None:
            self.assertTrue(np.isnan(given_).all())
            return
        np.testing.assert_array_equal(row(packed, 100_000, len(given_)), given_)
        # On another stretch of time: what lies outside is cut, what is not known is absent.
        other = row(packed, 100_000 + shift, 50)
        for i, value in enumerate(other):
            place = i + shift
            inside = 0 <= place < len(given_)
            np.testing.assert_equal(value, given_[place] if inside else np.nan)

    @given(curve, curve, st.integers(0, 50))
    def test_a_revision_replaces_and_extends(
        self, old: list[float], new: list[float], later: int
    ) -> None:
        first, second = pack(np.array(old, float), 0), pack(np.array(new, float), later)
        if first is None or second is None:
            return
        both = row(merge(first, second), 0, 100)
        before, after = row(first, 0, 100), row(second, 0, 100)
        np.testing.assert_array_equal(both, np.where(np.isnan(after), before, after))

    def test_is_little_endian_float32_without_absent_ends(self) -> None:
        packed = pack(np.array([np.nan, 1.0, np.nan, 2.0, np.nan]), 7)
        assert packed is not None
        self.assertEqual(packed.first, 8)
        self.assertEqual(packed.values, b"\x00\x00\x80?\x00\x00\xc0\x7f\x00\x00\x00@")
        np.testing.assert_array_equal(unpack(packed.values), [1, np.nan, 2])

    def test_the_shortest_timeline_that_holds_all(self) -> None:
        first = Period.MONTH.number(date(2024, 2, 1))
        line = spanning(Period.MONTH, [(first, 3), (first - 2, 1), (first + 6, 2)])
        self.assertEqual((line.first, line.length), (date(2023, 12, 1), 10))
