"""Terms related to one: by clicks and words against scikit-learn's cosine, by season against numpy's correlation."""

from unittest import TestCase

import numpy as np
from sklearn.feature_extraction.text import TfidfVectorizer
from sklearn.metrics.pairwise import cosine_similarity

from driftfield.core.market.related import LEAST, SEASON, alike, by_clicks_or_words, of_one_season
from driftfield.core.market.seeds import TermIndex
from driftfield.core.market.vectors import Vectors, unit_rows

RNG = np.random.default_rng(18)
TERMS = ["rhubarb forcer", "rhubarb forcers", "blanching bell", "onion hoe", "bell for rhubarb"]
# Buyers of the first three click two listings, those of the fourth another; of the fifth nothing is known.
CLICKS = unit_rows(
    Vectors(np.array([[0.6, 0.4, 0], [0.5, 0.5, 0], [0.7, 0.2, 0.1], [0, 0, 1.0], [0, 0, 0]]))
)


class Alike(TestCase):
    def test_strength_is_the_cosine(self) -> None:
        dense = RNG.random((40, 12)) * (RNG.random((40, 12)) < 0.3)
        vectors, expected = unit_rows(Vectors(dense)), cosine_similarity(dense)
        for place in range(40):
            found = alike(vectors, place, most=40)
            own = np.where(np.arange(40) == place, 0, expected[place])
            self.assertEqual({one.place for one in found}, set(np.flatnonzero(own >= LEAST)))
            for one in found:
                self.assertAlmostEqual(one.strength, own[one.place])
                both = (dense[place] > 0) & (dense[one.place] > 0)
                self.assertEqual(one.shared, both.sum())
            strengths = [one.strength for one in found]
            self.assertEqual(strengths, sorted(strengths, reverse=True))

    def test_words_count_by_their_rarity(self) -> None:
        """TfidfVectorizer without its smoothing adds 1 to each weight; taken off it is the same measure."""
        terms = ["copper rose", "brass rose", "brass tap", "oak barrel tap", "rose"]
        tfidf = TfidfVectorizer(smooth_idf=False, norm=None).fit(terms)
        weights = tfidf.transform(terms).toarray()
        weights = np.where(weights > 0, weights - 1, 0)
        np.testing.assert_allclose(
            (TermIndex(terms).vectors @ TermIndex(terms).vectors.T).toarray(),
            cosine_similarity(weights),
            atol=1e-12,
        )

    def test_other_words_for_the_same_thing(self) -> None:
        index = TermIndex(TERMS)
        by, found = by_clicks_or_words(CLICKS, index, 0)
        self.assertEqual((by, [TERMS[one.place] for one in found]), ("clicks", ["blanching bell"]))
        _, found = by_clicks_or_words(CLICKS, index, 0, apart=False)
        self.assertEqual([TERMS[one.place] for one in found], ["rhubarb forcers", "blanching bell"])

    def test_without_clicks_words_are_all_there_is(self) -> None:
        by, found = by_clicks_or_words(CLICKS, TermIndex(TERMS), 4)
        self.assertEqual(by, "words")
        self.assertEqual(TERMS[found[0].place], "blanching bell")
        self.assertNotIn("onion hoe", [TERMS[one.place] for one in found])
        # “for” asks for nothing, and makes no two terms alike.
        sharing = TermIndex(["bell for rhubarb", "hoe for onions"]).sharing(0)
        self.assertEqual(sharing.tolist(), [True, False])


class OneSeason(TestCase):
    def test_alike_is_the_correlation_of_two_years(self) -> None:
        weeks = np.arange(52)
        years = np.array([1 + np.cos((weeks - peak) / 52 * 2 * np.pi) for peak in (0, 2, 5, 26)])
        years = np.vstack([years, np.full((1, 52), np.nan), np.ones((1, 52))])
        found = of_one_season(years, 0)
        expected = np.corrcoef(years[:4])[0]
        self.assertEqual([one.place for one in found], [1, 2])
        for one in found:
            self.assertAlmostEqual(one.strength, expected[one.place])
            self.assertGreaterEqual(one.strength, SEASON)
        self.assertEqual(of_one_season(years, 4), [])
        self.assertEqual([one.place for one in of_one_season(years, 0, among=weeks[:6] == 2)], [2])
