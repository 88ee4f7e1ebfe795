"""What is asked, wished for and not as promised; and whom a theme concerns."""

from unittest import TestCase

import numpy as np

from driftfield.core.base import wilson
from driftfield.core.voices import (
    Promise,
    broken_promises,
    concern_of,
    gather,
    joined,
    marked_words,
    questions,
    read_corpus,
    sentences_of,
    wish_stems,
    wishes,
)

UNKNOWN = np.nan


class Asked(TestCase):
    TEXTS = (
        "Does it fit a narrow boat? I like the rope.",
        "will a wide boat fit under it",  # A question by what it is, without a mark.
        "Which boat fits?",
        "Is the rope waxed?",
        "The rope is fine.",
    )

    def test_what_several_ask_in_the_same_words_is_one_thing(self) -> None:
        corpus = read_corpus(self.TEXTS, "english")
        asks = np.array([False, True, True, True, False])
        rows = questions(corpus, self.TEXTS, asks)
        said = sentences_of(corpus, self.TEXTS)
        self.assertEqual(
            [said[at] for at in rows],
            ["Does it fit a narrow boat", "will a wide boat fit under it", "Which boat fits", "Is the rope waxed"],
        )  # fmt: skip
        (one,) = gather(corpus, rows, np.array([UNKNOWN, 4, 1, 2, 50]))
        self.assertEqual((set(one.stems), one.texts.tolist()), ({"boat", "fit"}, [0, 1, 2]))
        self.assertEqual(one.helpful, 5)

    def test_a_word_that_all_of_them_have_says_nothing(self) -> None:
        texts = [
            f"Is the kettle {word}?"
            for word in ("green", "green", "heavy", "heavy", "loud", "flat", "old")
        ]
        corpus = read_corpus(texts, "english")
        found = gather(corpus, np.arange(len(corpus.text)), np.full(len(texts), UNKNOWN))
        self.assertEqual(
            [(one.name, len(one.texts)) for one in found], [("green", 2), ("heavy", 2)]
        )
        self.assertTrue(np.isnan(found[0].helpful))

    def test_wishes_by_how_they_are_worded(self) -> None:
        for language, wish, no_wish in (
            ("english", "I wish it had a lid", "The lid is a wish come true"),
            ("english", "It would be much better with a lid", "It is better with a lid"),
            ("english", "Could do with a longer cord", "I could not do it"),
            ("german", "Ich hätte gern einen Deckel", "Der Deckel hat gern geklemmt"),
            ("german", "Ein Deckel wäre schön", "Der Deckel ist schön"),
            ("swedish", "", "Jag önskar ett lock"),
        ):
            with self.subTest(wish=wish or no_wish):
                texts = [one for one in (wish, no_wish) if one]
                corpus = read_corpus(texts, language)
                self.assertEqual(wishes(corpus, texts, language).tolist(), [0] if wish else [])

    def test_a_wish_is_named_by_what_is_wished_for(self) -> None:
        texts = ["I wish it had a bag", "A bag would be nice with it", "Wish there was a bag"]
        corpus = read_corpus(texts, "english")
        rows = wishes(corpus, texts, "english")
        found = gather(corpus, rows, np.full(3, UNKNOWN), without=wish_stems("english"))
        self.assertEqual([(one.name, len(one.texts)) for one in found], [("bag", 3)])


class Promises(TestCase):
    def test_notes_say_what_was_not_as_promised(self) -> None:
        for language, said, wanted in (
            ("english", "Much smaller than it looks", Promise.SIZE),
            ("english", "It doesn't fit", Promise.SIZE),
            ("english", "a completely different colour", Promise.COLOUR),
            ("english", "two screws were missing", Promise.PARTS),
            ("english", "Plastic instead of steel", Promise.MATERIAL),
            ("english", "not as described", Promise.PICTURE),
            ("english", "changed my mind", None),
            ("english", "no longer needed, delivery took longer than said", None),
            ("english", "Good size, lovely colour", None),
            ("german", "viel zu klein", Promise.SIZE),
            ("german", "Sieht anders aus als abgebildet", Promise.PICTURE),
            ("german", "Schrauben fehlen", Promise.PARTS),
        ):
            with self.subTest(said):
                found = broken_promises([said], language)
                kept = [one for one, rows in found.items() if rows.size]
                self.assertEqual(kept, [] if wanted is None else [wanted])


class Concerns(TestCase):
    def test_a_listing_without_enough_texts_is_not_said_to_lack_it(self) -> None:
        # Of 0 every fifth of 50 says it, of 1 one of 2, of 2 nobody of 50, of 3 nobody of 2; 4 has no text.
        groups = np.repeat([0, 1, 2, 3, -1], [50, 2, 50, 2, 6])
        says = np.concatenate([np.arange(0, 50, 5), [50], [104, 105]])
        found = concern_of(says, groups, 5, 0.2)
        self.assertEqual(found.own.tolist(), [10, 1, 0, 0, 0])
        self.assertEqual(found.whole.tolist(), [50, 2, 50, 2, 0])
        self.assertEqual(found.has.tolist(), [True, False, False, False, False])
        self.assertEqual(found.lacks.tolist(), [False, False, True, False, False])
        _, high = wilson(np.array([0.0]), np.array([50.0]), 0.9)
        self.assertLess(high[0], 0.1)


class Corpora(TestCase):
    def test_two_corpora_read_as_one(self) -> None:
        first, second = ["The lid cracked. Not tight."], ["Is the lid tight?", "Any gold?"]
        both = joined(read_corpus(first, "english"), read_corpus(second, "english"))
        whole = read_corpus([*first, *second], "english")
        self.assertEqual((both.stems, both.shown, both.texts), (whole.stems, whole.shown, 3))
        for name in ("token", "sentence", "text", "begin", "end"):
            self.assertEqual(getattr(both, name).tolist(), getattr(whole, name).tolist(), name)

    def test_words_of_a_theme_are_found_in_a_sentence(self) -> None:
        said = "The lids’ cracks: it cracked!"
        found = marked_words(said, ["lid", "crack"], "english")
        self.assertEqual([said[a:b] for a, b in found], ["lids", "cracks", "cracked"])

    def test_degrees_of_an_adjective_are_one_word(self) -> None:
        for language, one, other in (
            ("english", "small", "smaller"), ("english", "heavy", "heaviest"), ("english", "big", "bigger"),
            ("english", "loose", "looser"), ("english", "weak", "weaker"), ("german", "klein", "kleiner"),
            ("german", "groß", "größere"), ("german", "leise", "leiser"),
        ):  # fmt: skip
            with self.subTest(other):
                corpus = read_corpus([f"{one} {other}"], language)
                self.assertEqual(len(set(corpus.token.tolist())), 1)
                self.assertEqual(marked_words(other, corpus.stems, language), [(0, len(other))])
        # Words that only look like one are words of their own.
        for word, like in (("corner", "corn"), ("letter", "lett"), ("hammer", "ham")):
            self.assertEqual(len(read_corpus([f"{word} {like}"], "english").stems), 2)
