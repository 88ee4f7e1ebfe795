"""What holds a protected word: against a plain look at every word, and what is counted apart."""

from datetime import date
from itertools import pairwise
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from driftfield.core.base import Period, Timeline
from driftfield.core.market import MarketData, compute_figures
from driftfield.core.market.protected import ProtectedWord, marks_of, protected_in

WORDS = [ProtectedWord("tarnhook"), ProtectedWord("Lodé", inside=True), ProtectedWord("frost bell")]
TEXT = st.lists(
    st.sampled_from(["tarnhook", "Tarnhooks", "LODELOCK", "lode", "frost", "bell", "frost-bell", "é", "rope"]),
    max_size=4,
).map(" ".join)  # fmt: skip


class Held(TestCase):
    def test_by_itself_inside_and_as_a_phrase(self) -> None:
        for text, held in {
            "tarnhook straps": "tarnhook", "Tarn-Hook": None, "tarnhooks": None, "lodelock brush": "Lodé",
            "explode": "Lodé", "Frost-bell, tall": "frost bell", "bell frost": None, "frosty bell": None,
            "TARNHÓOK": "tarnhook", "": None,
        }.items():  # fmt: skip
            self.assertEqual(protected_in([text], WORDS), [held], text)

    @given(TEXT)
    def test_as_a_plain_look_finds_it(self, text: str) -> None:
        words = text.lower().replace("-", " ").split()
        pairs = list(pairwise(words))
        plain = "tarnhook" in words or ("frost", "bell") in pairs or any("lode" in w for w in words)
        self.assertEqual(protected_in([text], WORDS) != [None], plain)

    def test_signs_of_patterns_are_letters_like_others(self) -> None:
        words = [ProtectedWord("a.c", inside=True), ProtectedWord("(x", inside=True)]
        self.assertEqual(protected_in(["abc", "a c", "x"], words), [None, "a.c", "(x"])

    def test_without_a_list_nothing_is_known(self) -> None:
        self.assertIsNone(marks_of(["tarnhook"], []))
        self.assertEqual(marks_of(["tarnhook", "rope"], WORDS).tolist(), [1, 0])  # type: ignore[union-attr]


class CountedApart(TestCase):
    def test_searches_with_brand_and_protected_words_are_counted_once(self) -> None:
        """Of 100 searches a week 20 name a brand, 30 hold a protected word, 10 of them both: 60 are open."""
        data = MarketData(
            timeline=Timeline(Period.WEEK, date(2024, 1, 1), 104),
            subjects=["n"], term_subject=np.zeros(4, dtype=np.int64),
            searches=np.repeat([[60.0], [10.0], [20.0], [10.0]], 104, axis=1),
            branded=np.array([0, 1, 0, 1.0]), protected=np.array([0, 0, 1, 1.0]),
        )  # fmt: skip
        figures = compute_figures(data)
        self.assertAlmostEqual(figures["branded_share"][0], 0.2)
        self.assertAlmostEqual(figures["protected_share"][0], 0.3)
        self.assertAlmostEqual(figures["open_searches_52w"][0], 52 * 60)
