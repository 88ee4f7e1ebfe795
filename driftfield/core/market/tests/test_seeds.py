"""Searches from a seed: what is found, and how buyers go on."""

import unicodedata
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from driftfield.core.base import CoreError
from driftfield.core.market.seeds import DIGIT, HOW, OTHER, Seed, TermIndex
from driftfield.core.market.words import stem_of

NAN = float("nan")
TERMS = [
    "rhubarb forcer", "rhubarb forcers", "tall rhubarb forcer", "forcer for rhubarb", "sea kale forcer",
    "crème brûlée torch", "creme brulee torches", "rhubarb", "rhubarb 2 litre pot", "éclair rhubarb forcer ä",
]  # fmt: skip
WORD = st.sampled_from(
    ["bee", "bees", "suit", "suits", "café", "cafe", "veil", "be", "3", "bee-veil"]
)
PHRASE = st.lists(WORD, min_size=1, max_size=4).map(" ".join)


def plain(text: str) -> str:
    """Letters without marks, by another way than the code's."""
    return "".join(
        c for c in unicodedata.normalize("NFD", text.lower()) if unicodedata.category(c) != "Mn"
    )


def scan(terms: list[str], seed: Seed) -> list[str]:
    """Every term looked at by itself, as slowly and plainly as can be."""

    def words(text: str) -> list[str]:
        split = text.lower().replace("-", " ").split()
        return split if seed.exact else [stem_of(word) for word in split]

    def letters(text: str) -> str:
        joined = " ".join(text.lower().replace("-", " ").split())
        return joined if seed.exact else plain(joined)

    wanted, found = words(seed.text), []
    for term in terms:
        own = words(term)
        spans = [own[i : i + len(wanted)] for i in range(len(own))]
        fits = {
            "all": all(word in own for word in wanted),
            "any": any(word in own for word in wanted),
            "phrase": wanted in spans,
            "begins": letters(term).startswith(letters(seed.text)),
            "ends": letters(term).endswith(letters(seed.text)),
            "inside": letters(seed.text) in letters(term),
        }[seed.how]
        if fits and not any(word in own for word in words(seed.without)):
            found.append(term)
    return found


class Found(TestCase):
    def test_words_that_must_be_there_as_well_narrow_any_way(self) -> None:
        index = TermIndex(TERMS)
        for how, text, also, found in (
            ("any", "kale torch", "sea", [4]), ("begins", "rhub", "forcers pot", []), ("inside", "hubar", "tall", [2]),
            ("phrase", "rhubarb forcer", "talls", [2]), ("all", "rhubarb", "nowhere", []),
        ):  # fmt: skip
            with self.subTest(how=how):
                seed = Seed.read(text, how, also=also)
                self.assertEqual(np.flatnonzero(index.find(seed)).tolist(), found)

    @given(
        st.lists(PHRASE, max_size=12),
        PHRASE,
        st.sampled_from(HOW),
        st.one_of(st.just(""), WORD),
        st.booleans(),
    )
    def test_as_a_plain_scan_of_all_terms_finds(self, terms, text, how, without, exact) -> None:
        seed = Seed.read(text, how, without, exact=exact)
        found = TermIndex(terms).find(seed)
        self.assertEqual(
            [term for term, yes in zip(terms, found, strict=True) if yes], scan(terms, seed)
        )

    def found(
        self, text: str, how: str = "all", without: str = "", *, exact: bool = False
    ) -> list[int]:
        seed = Seed.read(text, how, without, exact=exact)
        return np.flatnonzero(TermIndex(TERMS).find(seed)).tolist()

    def test_each_way(self) -> None:
        self.assertEqual(self.found("forcers rhubarb"), [0, 1, 2, 3, 9])
        self.assertEqual(self.found("forcers rhubarb", exact=True), [1])
        self.assertEqual(self.found("kale torch", "any"), [4, 5, 6])
        self.assertEqual(self.found("Rhubarb  forcer", "phrase"), [0, 1, 2, 9])
        self.assertEqual(self.found("CREME brul", "begins"), [5, 6])
        self.assertEqual(self.found("forcers", "ends"), [1])
        self.assertEqual(self.found("hubar", "inside", "tall pot"), [0, 1, 3, 7, 9])
        self.assertEqual(self.found("creme", exact=True), [6])
        self.assertEqual(self.found("parsnip"), [])

    def test_what_is_no_seed_is_refused(self) -> None:
        for text, how, words in (
            (" – ", "all", "a word or a phrase"), ("bee", "like", "Choose one of all, any, phrase"),
            ("b" * 300, "all", "at most 200"),
        ):  # fmt: skip
            with self.subTest(text=text[:9]), self.assertRaisesRegex(CoreError, words):
                Seed.read(text, how)

    def test_another_language_has_other_endings(self) -> None:
        terms = ["Imkeranzüge", "imkeranzug", "imkerschleier"]
        found = TermIndex(terms, "german").find(Seed.read("imkeranzug"))
        self.assertEqual(found.tolist(), [True, True, False])


class GoingOn(TestCase):
    SEARCHES = np.array([500.0, 300, 90, NAN, 70, 60, 40, 1000, 20, 10])
    BEFORE = np.array([400.0, 300, 100, 50, NAN, 60, 0, 800, 20, NAN])

    def onward(self, text: str, how: str = "all"):
        return TermIndex(TERMS).onward(Seed.read(text, how), self.SEARCHES, self.BEFORE)

    def test_by_hand(self) -> None:
        """Of seven terms six are known, 1,920 searches; five of them in both years, 1,910 after 1,620."""
        found = self.onward("rhubarb")
        self.assertEqual((found.whole.terms, found.whole.searches), (7, 1920))
        self.assertAlmostEqual(found.whole.growth, 1910 / 1620 - 1)
        self.assertEqual(
            [(one.name, one.volume.terms, one.volume.searches, one.first) for one in found.after],
            [("f", 4, 900, "rhubarb forcer"), (DIGIT, 1, 20, "rhubarb 2 litre pot")],
        )
        self.assertEqual(
            [(one.name, one.first) for one in found.before],
            [
                ("e", "éclair rhubarb forcer ä"),
                ("f", "forcer for rhubarb"),
                ("t", "tall rhubarb forcer"),
            ],
        )
        # In the form that is searched most; without “for” and “ä”, which is folded to “a”, and without the seed.
        beside = {one.name: one.volume for one in found.beside}
        self.assertEqual(list(beside), ["forcer", "tall", "2", "litre", "pot", "éclair"])
        self.assertEqual((beside["forcer"].terms, beside["forcer"].searches), (5, 900))
        self.assertAlmostEqual(beside["forcer"].growth, 890 / 800 - 1)

    def test_what_is_not_known_is_not_nought(self) -> None:
        found = self.onward("for")
        self.assertEqual(found.whole.terms, 1)
        self.assertTrue(np.isnan(found.whole.searches) and np.isnan(found.whole.growth))
        self.assertTrue(np.isnan(self.onward("torches", "ends").whole.growth))  # From none.

    def test_the_phrase_is_what_is_gone_on_from(self) -> None:
        found = self.onward("rhubarb forcer")
        self.assertEqual(found.whole.terms, 5)
        self.assertEqual([(one.name, one.first) for one in found.after], [("a", TERMS[9])])
        self.assertEqual([one.name for one in found.before], ["e", "t"])

    def test_letters_of_other_alphabets_come_last(self) -> None:
        index = TermIndex(["tea 茶", "tea øl", "tea z"])
        found = index.onward(Seed.read("tea"), np.ones(3), np.ones(3))
        self.assertEqual([one.name for one in found.after], ["z", OTHER])
        self.assertEqual(found.after[1].volume.terms, 2)
        self.assertEqual(index.find(Seed.read("tea", after=OTHER)).tolist(), [True, True, False])

    def test_letter_after_letter(self) -> None:
        index = TermIndex([*TERMS, "rhubarb frost cloche", "rhubarb fork"])
        searches = np.append(self.SEARCHES, [5.0, 8])

        def onward(**letters: str):
            found = index.onward(Seed.read("rhubarb", **letters), searches, searches)
            return (
                found.whole.terms,
                [one.name for one in found.after],
                [one.name for one in found.before],
            )

        self.assertEqual(onward(after="f"), (6, ["fo", "fr"], ["e", "t"]))
        self.assertEqual(onward(after="fo"), (5, ["for"], ["e", "t"]))
        self.assertEqual(onward(after="fork"), (1, [], []))
        self.assertEqual(onward(before="É"), (1, ["f"], ["ec"]))
        self.assertEqual(onward(before="t", after="f"), (1, ["fo"], ["ta"]))
        self.assertEqual(onward(after=DIGIT)[0], 1)
        self.assertEqual(onward(after="q"), (0, [], []))

    def test_only_among_what_passes(self) -> None:
        among = np.zeros(len(TERMS), dtype=bool)
        among[[0, 7]] = True
        index = TermIndex(TERMS)
        found = index.onward(Seed.read("rhubarb"), self.SEARCHES, self.BEFORE, among=among)
        self.assertEqual((found.whole.terms, found.whole.searches), (2, 1500))
        self.assertEqual([one.name for one in found.after], ["f"])


class Drawn(TestCase):
    def test_the_likelier_the_more_terms_contain_it_and_the_same_for_the_same_number(self) -> None:
        index = TermIndex(["bee suit", "bee veil", "bee 3", "for the bee"])
        drawn = [index.draw(number) for number in range(2_000)]
        self.assertEqual(set(drawn), {"bee", "suit", "veil"})
        # Four in six; the standard error is 0.011.
        self.assertAlmostEqual(drawn.count("bee") / 2_000, 4 / 6, delta=0.045)
        turned = TermIndex(["for the bee", "bee 3", "bee veil", "bee suit"])
        self.assertEqual([index.draw(n) for n in range(40)], [turned.draw(n) for n in range(40)])

    def test_where_there_is_none(self) -> None:
        with self.assertRaisesRegex(CoreError, "No term has a word to draw"):
            TermIndex(["3 4", "for"]).draw(1)
        self.assertEqual(TermIndex([]).find(Seed.read("bee")).tolist(), [])
        for wordless in ([], ["🐝", "…"]):
            none = np.full(len(wordless), 3.0)
            found = TermIndex(wordless).onward(Seed.read("bee", after="s"), none, none)
            self.assertEqual((found.whole.terms, found.after, found.beside), (0, [], []))
