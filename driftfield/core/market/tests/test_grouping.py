"""Niches made of terms: links, communities and what they are called."""

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import sparse
from sklearn.metrics import adjusted_rand_score
from sklearn.metrics.cluster import contingency_matrix, pair_confusion_matrix
from sklearn.metrics.pairwise import cosine_similarity

from driftfield.core.base import CoreError, Period, Timeline
from driftfield.core.market import MarketData
from driftfield.core.market.grouping import (
    Grouping,
    group_terms,
    kept_ids,
    leading_categories,
    leading_terms,
    new_ids,
    niche_name,
    stems_of,
)
from driftfield.core.market.grouping import links as links_module
from driftfield.core.market.grouping.communities import agreement, choose_resolution
from driftfield.core.market.grouping.links import strongest_links
from driftfield.core.market.vectors import Vectors, unit_rows, word_vectors
from driftfield.core.supply import Clicks
from driftfield.core.supply.tests.shops import listings as bare_listings

WEEKS = 60
TIMELINE = Timeline(Period.WEEK, Period.WEEK.start(2_800), WEEKS)


def market(shares: np.ndarray, searches: np.ndarray | None = None) -> MarketData:
    """A market whose terms gave listings these shares of their clicks, (terms, listings)."""
    term, listing = np.nonzero(shares)
    return MarketData(
        timeline=TIMELINE,
        subjects=["all"],
        term_subject=np.zeros(len(shares), dtype=np.int64),
        searches=np.full((len(shares), WEEKS), 100.0) if searches is None else searches,
        observed=Clicks(term, np.full(len(term), WEEKS - 1), listing, shares[term, listing]),
        listings=bare_listings(shares.shape[1]),
    )


def planted(
    rng: np.random.Generator, niches: int, *, terms: int = 8, listings: int = 15, leak: float = 0.0
) -> tuple[np.ndarray, np.ndarray]:
    """Shares of clicks of terms whose niches are known, and these; ``leak``: share of the clicks that go to
    the listings of the next niche."""
    truth = np.repeat(np.arange(niches), terms)
    shares = np.zeros((len(truth), niches * listings))
    for row, niche in enumerate(truth):
        for of, part in ((niche, 1 - leak), ((niche + 1) % niches, leak)):
            split = rng.dirichlet(np.linspace(2, 0.2, listings)) * part * 0.9
            shares[row, of * listings : (of + 1) * listings] += split
    return np.where(shares > 0.004, shares, 0), truth


def texts(count: int) -> list[str]:
    return [f"thing {place}" for place in range(count)]


class Links(TestCase):
    @settings(max_examples=60)
    @given(st.integers(0, 2**32 - 1), st.integers(1, 40), st.integers(1, 12))
    def test_strength_is_the_cosine_and_the_strongest_are_found(self, seed, terms, most) -> None:
        """Against scikit-learn's cosines of the whole matrix."""
        rng = np.random.default_rng(seed)
        dense = np.where(rng.random((terms, 9)) < 0.4, rng.random((terms, 9)), 0)
        found = strongest_links(unit_rows(sparse.csr_array(dense)), most=most, least=0.2)
        cosine = np.triu(cosine_similarity(dense), 1)
        np.testing.assert_allclose(found.strength, cosine[found.first, found.second], atol=1e-12)
        self.assertTrue((found.first < found.second).all())
        # What is left out is weaker than ``most`` others of both of its terms.
        full = cosine + cosine.T
        kept = np.zeros_like(cosine, dtype=bool)
        kept[found.first, found.second] = True
        for one, other in zip(*np.nonzero((cosine >= 0.2) & ~kept), strict=True):
            for term in (one, other):
                better = (full[term] > cosine[one, other] - 1e-12).sum()
                self.assertGreater(better, most)

    def test_what_every_term_has_finds_no_pair_but_counts_in_its_strength(self) -> None:
        rows = np.array([[1.0, 1, 0], [1, 1, 0], [1, 0, 1], [1, 0, 1]])
        common, links_module.COMMON = links_module.COMMON, 3
        self.addCleanup(setattr, links_module, "COMMON", common)
        found = strongest_links(unit_rows(sparse.csr_array(rows)))
        self.assertEqual(list(zip(found.first, found.second, strict=True)), [(0, 1), (2, 3)])
        np.testing.assert_allclose(found.strength, 1)

    def test_a_rare_word_weighs_more_than_a_common_one(self) -> None:
        found = strongest_links(word_vectors([["a", "x"], ["a", "y"], ["a", "z"], ["b", "x"]]))
        strength = dict(
            zip(zip(found.first, found.second, strict=True), found.strength, strict=True)
        )
        # ln(4/3) for a and ln 4 for y and z; ln 2 for x, ln 4 for b (Spärck Jones 1972, by hand).
        a, x, y = np.log([4 / 3, 2, 4])
        self.assertAlmostEqual(strength[0, 3], x * x / (np.hypot(a, x) * np.hypot(y, x)))
        self.assertAlmostEqual(strength[0, 1], a * a / (np.hypot(a, x) * np.hypot(a, y)))


class Fineness(TestCase):
    @settings(max_examples=60)
    @given(st.lists(st.tuples(st.integers(0, 4), st.integers(0, 4)), min_size=2, max_size=40))
    def test_agreement_is_jaccards_of_pairs(self, pairs) -> None:
        """Against scikit-learn's table of pairs."""
        one, other = np.array(pairs).T
        (_, only_other), (only_one, both) = pair_confusion_matrix(one, other)
        either = both + only_one + only_other
        self.assertAlmostEqual(agreement(one, other), both / either if either else 1.0)

    def test_what_stays_together_is_chosen_over_what_is_finer(self) -> None:
        """Of few clicks a fine grouping is pairs with one listing in common, which stay together easily."""
        rng = np.random.default_rng(4)
        shares, truth = planted(rng, 60)
        thin = np.where(rng.random(shares.shape) < 0.3, shares, 0)
        links = strongest_links(unit_rows(sparse.csr_array(thin)))
        found = choose_resolution(links, len(truth))
        self.assertLessEqual(found.value, 0.3)
        self.assertEqual(found.stability, found.tried[found.value])
        self.assertGreater(found.stability, found.tried[0.8] + 0.2)


class Groups(TestCase):
    def score(self, found: Grouping, truth: np.ndarray) -> float:
        return float(adjusted_rand_score(truth, found.group))

    def test_planted_niches_are_found_by_clicks_alone(self) -> None:
        for seed, leak in ((1, 0.0), (2, 0.1), (3, 0.25)):
            with self.subTest(leak=leak):
                shares, truth = planted(np.random.default_rng(seed), 80, leak=leak)
                found = group_terms(market(shares), texts(len(shares)))
                self.assertGreaterEqual(self.score(found, truth), 0.99)
                self.assertFalse(found.by_words.any())
                self.assertIsNone(found.words)

    def test_a_tenth_of_the_clicks_lost_changes_little(self) -> None:
        rng = np.random.default_rng(5)
        shares, truth = planted(rng, 80, leak=0.1)
        whole = group_terms(market(shares), texts(len(shares)))
        less = np.where(rng.random(shares.shape) < 0.9, shares, 0)
        found = group_terms(market(less), texts(len(shares)))
        self.assertGreaterEqual(float(adjusted_rand_score(whole.group, found.group)), 0.9)
        self.assertGreaterEqual(self.score(found, truth), 0.95)

    def test_the_order_of_the_terms_does_not_matter_and_the_same_seed_gives_the_same(self) -> None:
        rng = np.random.default_rng(6)
        shares, truth = planted(rng, 30, leak=0.1)
        order = rng.permutation(len(truth))
        names = texts(len(truth))
        one = group_terms(market(shares), names)
        again = group_terms(market(shares), names)
        other = group_terms(market(shares[order]), [names[i] for i in order])
        np.testing.assert_array_equal(one.group, again.group)
        self.assertEqual(float(adjusted_rand_score(one.group[order], other.group)), 1.0)

    def test_terms_without_clicks_go_to_those_they_share_words_with(self) -> None:
        names = [
            "rhubarb forcer", "terracotta rhubarb forcer", "tall rhubarb forcers",
            "bee smoker", "copper bee smoker", "bee smokers large",
            "rhubarb forcer lid", "canal windlass", "steel canal windlass",
        ]  # fmt: skip
        shares = np.zeros((9, 6))
        shares[:3, :3] = [[0.5, 0.3, 0.1], [0.4, 0.3, 0.2], [0.5, 0.2, 0.2]]
        shares[3:6, 3:] = [[0.5, 0.3, 0.1], [0.4, 0.3, 0.2], [0.5, 0.2, 0.2]]
        found = group_terms(market(shares), names)
        self.assertEqual(adjusted_rand_score([0, 0, 0, 1, 1, 1, 0, 2, 2], found.group), 1.0)
        self.assertEqual(found.by_words.tolist(), [False] * 6 + [True] * 3)

    def test_without_clicks_words_group_and_plurals_and_accents_are_one(self) -> None:
        names = [
            "crème brûlée torch",
            "creme brulee torches",
            "pocket sundial",
            "pocket sundials brass",
        ]
        found = group_terms(market(np.zeros((4, 1))), names, language="english")
        self.assertEqual(adjusted_rand_score([0, 0, 1, 1], found.group), 1.0)
        self.assertTrue(found.by_words.all())
        self.assertIsNone(found.clicks)

    @settings(max_examples=25, deadline=None)
    @given(st.integers(0, 2**32 - 1))
    def test_niches_that_stand_are_never_changed(self, seed) -> None:
        rng = np.random.default_rng(seed)
        shares, truth = planted(rng, 10, terms=5, leak=0.2)
        known = np.where(rng.random(len(truth)) < 0.4, rng.integers(0, 6, len(truth)), -1)
        found = group_terms(market(shares), texts(len(truth)), known)
        stands = known >= 0
        self.assertEqual(
            adjusted_rand_score(known[stands], found.group[stands]) if stands.any() else 1.0, 1.0
        )

    def test_a_free_term_joins_the_niche_of_those_its_buyers_share_listings_with(self) -> None:
        shares, truth = planted(np.random.default_rng(7), 12)
        known = truth.copy()
        known[::4] = -1
        # A niche nobody defined stays one of its own.
        known[truth == 11] = -1
        found = group_terms(market(shares), texts(len(truth)), known)
        self.assertEqual(self.score(found, truth), 1.0)

    def test_quality_by_hand(self) -> None:
        """Two groups of two terms each. Inside the cosine is 1; between the groups, 0.5 for all four pairs:
        (1 − 0.5) ÷ 1. A term of its own has none."""
        half = np.sqrt(0.75)
        shares = np.array(
            [[1, 0, 0, 0], [1, 0, 0, 0], [0.5, half, 0, 0], [0.5, half, 0, 0], [0, 0, 0, 1]]
        )
        known = np.array([0, 0, 1, 1, 2])
        found = group_terms(market(shares * 0.7), texts(5), known)
        np.testing.assert_allclose(found.quality, [0.5, 0.5, np.nan], atol=1e-12)


class Names(TestCase):
    def test_most_searched_term_without_a_brand(self) -> None:
        group = np.array([0, 0, 0, 1, 1, 2])
        searches = np.array([900.0, 300, 400, np.nan, 5, np.nan])
        branded = np.array([1.0, 0, np.nan, 0, 0, 1])
        self.assertEqual(leading_terms(group, searches, branded).tolist(), [2, 4, 5])
        self.assertEqual(leading_terms(group, searches, None).tolist(), [0, 4, 5])
        self.assertEqual(niche_name("élevage queen cages"), "Élevage queen cages")

    def test_ids_are_never_given_twice(self) -> None:
        made = new_ids(["Bee suits", "bee  suits!", "…", "…"], {"north-bee-suits"}, "north-")
        self.assertEqual(
            made, ["north-bee-suits-2", "north-bee-suits-3", "north-niche", "north-niche-2"]
        )

    def test_stems_of_the_published_sample(self) -> None:
        """Words and stems of the sample vocabulary of the English stemmer (snowballstem.org, Porter 2001;
        from memory)."""
        sample = {
            "consign": "consign", "consigned": "consign", "consigning": "consign",
            "consignment": "consign", "consist": "consist", "consistency": "consist",
            "consistently": "consist", "consolation": "consol", "consolatory": "consolatori",
            "console": "consol", "knack": "knack", "knackeries": "knackeri", "knaves": "knave",
            "knavish": "knavish", "kneaded": "knead", "kneel": "kneel",
        }  # fmt: skip
        self.assertEqual(stems_of(list(sample)), [[stem] for stem in sample.values()])

    def test_an_unknown_language_is_refused_with_those_there_are(self) -> None:
        with self.assertRaisesRegex(CoreError, "no stemmer for “klingon”.*english.*german"):
            stems_of(["bee suit"], "klingon")
        self.assertEqual(stems_of(["Imkeranzüge"], "german"), stems_of(["imkeranzug"], "german"))


class Identities(TestCase):
    def test_a_group_goes_on_as_the_niche_it_shares_most_terms_with(self) -> None:
        """Worked by hand: b has three of its four terms in group 1, and a the rest of what there is."""
        group = np.array([0, 0, 0, 1, 1, 1, 1, 2])
        before = ["a", "a", "b", "b", "b", "b", "a", None]
        searches = np.array([9.0, 9, 900, 1, 1, 1, 900, 5])
        self.assertEqual(kept_ids(group, before, searches), {1: "b", 0: "a"})

    def test_of_equals_the_one_that_was_decided_on_then_the_more_searched(self) -> None:
        group, searches = np.array([0, 0]), np.array([1.0, 5])
        self.assertEqual(kept_ids(group, ["a", "b"], searches), {0: "b"})
        self.assertEqual(kept_ids(group, ["a", "b"], searches, ["a"]), {0: "a"})

    def test_overlaps_are_those_of_a_contingency_table(self) -> None:
        """scikit-learn's contingency matrix: the largest cell is always one of the pairs."""
        rng = np.random.default_rng(3)
        for _ in range(20):
            group, before = rng.integers(0, 6, 80), rng.integers(0, 5, 80)
            found = kept_ids(group, [str(one) for one in before], np.ones(80))
            table = contingency_matrix(group, before)
            self.assertLessEqual(len(found), min(table.shape))
            self.assertEqual(len(set(found.values())), len(found))
            most = max(table[one, int(niche)] for one, niche in found.items())
            self.assertEqual(most, table.max())

    def test_the_category_is_that_of_more_than_half_of_the_clicks(self) -> None:
        clicks = Vectors(np.array([[3.0, 1, 0], [0, 2, 2], [0, 0, 0], [1, 0, 0]]))
        # Term 0: 75% in category 0; term 1: half in 1, half in a listing without one.
        category = np.array([0, 1, -1])
        found = leading_categories(clicks, category, np.array([0, 1, 2, -1]), 3)
        self.assertEqual(found.tolist(), [0, -1, -1])
        together = leading_categories(clicks, category, np.array([0, 1, 1, 0]), 2)
        self.assertEqual(together.tolist(), [0, -1])
