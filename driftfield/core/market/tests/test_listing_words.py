"""Words for a listing: what can be reached, who uses it, and what fits."""

from itertools import combinations
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from driftfield.core.market.listing_words import fit_words, listing_words, reach_of

TERMS = [
    "bee smoker",
    "bee smokers copper",
    "skep bee smoker",
    "coper bee smoker",
    "smoker for bees",
]


class Reach(TestCase):
    def test_what_the_leaders_leave_without_brands_and_with_mistypings_where_they_belong(
        self,
    ) -> None:
        """By hand: 1,000 × 0.4 = 400; 400 × 0.5 + 50 × 0.5 = 225; a brand's 0; unknown 200 × (1 − 0.5)."""
        found = reach_of(
            np.array([1_000.0, 400, 300, 50, 200]), np.array([0.6, 0.5, 0.1, np.nan, np.nan]), 0.5,
            np.array([False, False, True, False, False]), [None, None, None, 1, None],
        )  # fmt: skip
        np.testing.assert_allclose(found, [400, 225, 0, 0, 100])

    def test_without_clicks_all_searches_count(self) -> None:
        found = reach_of(
            np.array([10.0, np.nan]),
            np.full(2, np.nan),
            np.nan,
            np.zeros(2, dtype=bool),
            [None, None],
        )
        self.assertEqual(found.tolist(), [10, 0])


class Words(TestCase):
    def test_words_of_one_stem_are_one_and_leaders_are_counted(self) -> None:
        found = listing_words(
            TERMS,
            np.array([400.0, 225, 0, 0, 100]),
            ["Smoker, large", "Bee smokers of tin", "Hive tool"],
        )
        rows = {one.word: (one.reach, one.terms, one.leaders) for one in found}
        self.assertEqual(rows["smoker"], (725, 3, 2))
        self.assertEqual(rows["bee"], (725, 3, 1))
        self.assertEqual(rows["copper"], (225, 1, 0))
        self.assertNotIn("for", rows)
        self.assertNotIn("skep", rows)

    def test_a_picked_list_fits_and_repeats_nothing(self) -> None:
        made = fit_words(TERMS, np.array([400.0, 225, 0, 0, 100]), 17)
        self.assertEqual(made.text, "bee smoker copper")
        self.assertEqual(made.covered, 1)
        short = fit_words(TERMS, np.array([400.0, 225, 0, 0, 100]), 16)
        self.assertEqual(short.text, "bee smoker")
        self.assertAlmostEqual(short.covered, 500 / 725)
        self.assertEqual(fit_words(TERMS, np.zeros(5), 40).words, [])
        own = fit_words(TERMS, np.array([400.0, 225, 0, 0, 100]), 40, first=["Hearthclay"])
        self.assertEqual(own.words[0], "hearthclay")

    @settings(max_examples=60, deadline=None)
    @given(
        st.lists(
            st.lists(st.sampled_from(["oak", "brass", "tin", "lid", "jar"]), min_size=1, max_size=3).map(" ".join),
            min_size=1, max_size=6, unique=True,
        ),
        st.lists(st.integers(1, 500), min_size=6, max_size=6),
        st.integers(0, 25),
    )  # fmt: skip
    def test_it_keeps_to_the_length_and_comes_near_the_best_of_all_choices(
        self, terms: list[str], reach: list[int], length: int
    ) -> None:
        """Against every subset of terms: never better than the best, and never worse than the one term that
        brings most for its letters."""
        values = np.array(reach[: len(terms)], dtype=float)
        made = fit_words(terms, values, length)
        self.assertLessEqual(len(made.text), length)
        self.assertEqual(len(made.words), len(set(made.words)))

        def covers(chosen: tuple[int, ...]) -> float:
            words = {word for at in chosen for word in terms[at].split()}
            if sum(map(len, words)) + max(0, len(words) - 1) > length:
                return -1
            return sum(v for t, v in zip(terms, values, strict=True) if set(t.split()) <= words)

        places = range(len(terms))
        best = max(covers(c) for many in range(len(terms) + 1) for c in combinations(places, many))
        found = made.covered * values.sum()
        self.assertLessEqual(found, best + 1e-9)
        fits = [at for at in places if covers((at,)) > 0]
        if fits:
            self.assertGreater(found, 0)
