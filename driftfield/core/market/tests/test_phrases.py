"""Recurring words and mistypings of terms."""

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from rapidfuzz.distance import OSA

from driftfield.core.market.phrases import likely_misspelt, recurring_words, stem
from driftfield.core.market.terms import wanted_not_served


class RecurringWordsTest(TestCase):
    def test_features_are_told_and_the_niches_own_words_are_not(self) -> None:
        terms = [
            "rain gauge",
            "copper rain gauge",
            "rain gauge copper large",
            "large rain gauges",
            "tall gauge",
        ]
        words = recurring_words(terms, np.array([500.0, 200, 100, 100, 5]))
        self.assertEqual(
            [(one.word, one.terms) for one in words], [("copper", (1, 2)), ("large", (2, 3))]
        )
        self.assertAlmostEqual(words[0].share, 300 / 905)

    def test_plural_and_singular_are_one_wish_shown_as_it_is_typed_most(self) -> None:
        terms = ["net", "net with peg", "net with pegs", "net with pegs short"]
        (pegs, _short) = recurring_words(terms, np.array([900.0, 20, 60, 40]))
        self.assertEqual((pegs.word, pegs.terms), ("pegs", (1, 2, 3)))

    def test_without_searches_nothing_is_told(self) -> None:
        self.assertEqual(recurring_words(["a peg", "b peg"], np.array([np.nan, 0])), [])


class MisspeltTest(TestCase):
    def check(self, wrong: str, right: str, *, slip: bool, times: float = 10) -> None:
        with self.subTest(wrong=wrong, right=right):
            found = likely_misspelt([right, wrong], np.array([times * 100, 100]))
            self.assertEqual(found, [None, 0 if slip else None])

    def test_the_four_slips_of_a_finger(self) -> None:
        # Damerau (1964), Communications of the ACM 7: one letter wrong, missing, extra, or two swapped.
        for wrong in ("rhubatb forcer", "rhubrb forcer", "rhubarrb forcer", "rhubrab forcer"):
            self.check(wrong, "rhubarb forcer", slip=True)

    def test_what_is_no_slip(self) -> None:
        self.check("rhubarb forcers", "rhubarb forcer", slip=False)  # a plural
        self.check("moon map", "moon mat", slip=False)  # short words mean something each
        self.check("rhubarb forcer tall", "rhubarb forcer", slip=False)
        self.check("seed tray 250mm", "seed tray 200mm", slip=False)
        self.check("rhubrab farcer", "rhubarb forcer", slip=False)  # two words wrong

    def test_two_spellings_typed_alike_are_both_right(self) -> None:
        self.check("colour wheel", "colours wheel", slip=False, times=1)
        self.check("fibre disk", "fibre disc", slip=False, times=3)


class UnservedTest(TestCase):
    def test_much_searched_and_clearly_less_bought(self) -> None:
        searches = np.array([900.0, 800, 700, 10, np.nan])
        high = np.array([0.039, 0.041, 0.09, 0.001, np.nan])
        found = wanted_not_served(searches, high, 0.05)
        # 0.039 × 1.25 lies under 0.05, 0.041 × 1.25 does not; the fourth is hardly searched.
        self.assertEqual(found.tolist(), [True, False, False, False, False])
        self.assertFalse(wanted_not_served(searches, high, None).any())


def plainly(terms: list[str], searches: np.ndarray) -> list[bool]:
    """Whether each is mistyped, by a look at every pair of terms and words; OSA of rapidfuzz."""
    split = [term.split() for term in terms]
    typed: dict[str, float] = {}
    for words, many in zip(split, searches, strict=True):
        for word in set(words):
            typed[word] = typed.get(word, 0) + many

    def slip(place: int, other: int) -> bool:
        one, right = split[place], split[other]
        apart = [pair for pair in zip(one, right, strict=False) if pair[0] != pair[1]]
        if len(one) != len(right) or len(apart) != 1:
            return False
        a, b = apart[0]
        return (
            min(len(a), len(b)) >= 5
            and OSA.distance(a, b) == 1
            and stem(a) != stem(b)
            and searches[other] >= 4 * searches[place]
            and typed[b] >= 4 * typed[a]
        )

    every = range(len(terms))
    return [any(slip(place, other) for other in every) for place in every]


class Slips(TestCase):
    @settings(max_examples=200, deadline=None)
    @given(
        st.lists(
            st.lists(st.text("abs", min_size=4, max_size=7), min_size=1, max_size=2).map(" ".join),
            min_size=2, max_size=14, unique=True,
        ),
        st.integers(0, 2**32 - 1),
    )  # fmt: skip
    def test_a_search_by_letters_left_out_finds_what_a_look_at_every_pair_does(
        self, terms: list[str], seed: int
    ) -> None:
        searches = np.random.default_rng(seed).choice([10.0, 50, 400, 2_000], len(terms))
        found = likely_misspelt(terms, searches)
        self.assertEqual([one is not None for one in found], plainly(terms, searches))

    def test_a_word_that_is_typed_in_many_others_is_no_slip(self) -> None:
        terms = ["brass candle stand", "brass handle stand", "spade handle", "axe handle"]
        searches = np.array([900.0, 100, 800, 700])
        self.assertEqual(likely_misspelt(terms, searches), [None] * 4)
        self.assertEqual(likely_misspelt(terms[:2], searches[:2]), [None, 0])

    def test_a_term_is_held_against_its_own_niche_and_one_alone_against_all(self) -> None:
        terms = ["swarm lure", "swram lure", "swarn lure", "bee veil"]
        searches = np.array([900.0, 50, 40, 90])
        self.assertEqual(
            likely_misspelt(terms, searches, np.array([0, 1, 2, 1])), [None, None, 0, None]
        )
        self.assertEqual(
            likely_misspelt(terms, searches, np.array([0, 0, 1, 1])), [None, 0, None, None]
        )
