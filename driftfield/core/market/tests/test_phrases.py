"""Recurring words and mistypings of terms."""

from unittest import TestCase

import numpy as np

from driftfield.core.market.phrases import likely_misspelt, recurring_words
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
