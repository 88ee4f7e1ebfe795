"""Themes of made-up texts of which it is known what they say, by two recipes without a word in common."""

from unittest import TestCase

import numpy as np
from sklearn.metrics import adjusted_rand_score

from driftfield.core.base import CoreError
from driftfield.core.voices import COMPLAINT, PRAISE, Theme, Voices, read_corpus, read_voices

from .made import BELLS, STOVES, Made, Recipe, made

MANY = 3_000
OFTEN = 0.015  # Share of the texts from which a planted thing must be found.


def voices_of(one: Made) -> Voices:
    nothing = np.zeros(len(one.texts), dtype=np.int64)
    return read_voices(one.texts, rating=one.rating, lean=nothing, day=one.day)


def overlap(theme: Theme, said: set[int]) -> int:
    return len(said.intersection(theme.texts.tolist()))


class Planted(TestCase):
    """Seeds that the method was not tried on while it was made."""

    def check(self, recipe: Recipe, seed: int) -> tuple[int, int, int, int]:
        """How many planted things there are, how many are found, how many themes, and how many invented."""
        one = made(recipe, MANY, seed)
        voices = voices_of(one)
        topic, tone = np.array(one.topic), np.array(one.tone)
        said = topic >= 0
        self.assertEqual(len(voices.read.corpus.text), len(topic))
        self.assertGreaterEqual(adjusted_rand_score(topic[said], voices.read.topics.of[said]), 0.8)
        right = voices.read.tone.of == tone
        self.assertGreaterEqual(right[said].mean(), 0.95)
        denies = np.array(
            [
                " not " in f" {text} " or "never" in text or "No " in text
                for text in sentences(voices, one)
            ]
        )
        self.denied += right[said & denies].tolist()
        often = {key: texts for key, texts in one.said.items() if len(texts) >= OFTEN * MANY}
        found = sum(
            any(
                theme.tone == side and overlap(theme, texts) >= len(texts) / 2
                for theme in voices.themes
            )
            for (_, side), texts in often.items()
        )
        invented = 0
        for theme in voices.themes:
            planted = set().union(
                *(texts for (_, side), texts in one.said.items() if side == theme.tone)
            )
            invented += overlap(theme, planted) < len(theme.texts) / 2
        return len(often), found, len(voices.themes), invented

    def test_what_is_planted_is_found_and_hardly_anything_else(self) -> None:
        self.denied: list[bool] = []
        counts = np.array(
            [self.check(recipe, seed) for recipe in (BELLS, STOVES) for seed in (21, 22, 23)]
        )
        planted, found, themes, invented = counts.sum(axis=0)
        self.assertGreaterEqual(found, 0.9 * planted)
        self.assertLessEqual(invented, 0.05 * themes)
        self.assertGreaterEqual(np.mean(self.denied), 0.9)


def sentences(voices: Voices, one: Made) -> list[str]:
    corpus = voices.read.corpus
    spans = zip(corpus.text.tolist(), corpus.begin.tolist(), corpus.end.tolist(), strict=True)
    return [one.texts[text][begin:end] for text, begin, end in spans]


class Themes(TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.made = made(BELLS, MANY, 31)
        cls.voices = voices_of(cls.made)

    def of(self, tone: int, word: str) -> Theme:
        return next(one for one in self.voices.themes if one.tone == tone and word in one.name)

    def test_a_theme_is_named_by_what_most_say_of_it_in_the_order_in_which_they_do(self) -> None:
        self.assertEqual(self.of(COMPLAINT, "lid").name, "lid frost")
        self.assertEqual(self.of(PRAISE, "lid").name, "lid not crack")

    def test_its_share_lies_within_its_interval_and_it_moves_the_rating(self) -> None:
        theme = self.of(COMPLAINT, "lid")
        true = len(self.made.said["lid", -1]) / MANY
        self.assertTrue(theme.low <= true <= theme.high, (theme.low, true, theme.high))
        self.assertLess(theme.effect, -0.5)
        self.assertGreater(self.of(PRAISE, "stalks").effect, 0.5)

    def test_what_is_said_more_often_than_a_year_ago_is_told(self) -> None:
        # The lid cracks twice as often in the second year; sweet stalks are praised alike.
        theme = self.of(COMPLAINT, "lid")
        self.assertEqual(theme.grown, 1)
        self.assertGreater(theme.late, 1.5 * theme.early)
        self.assertEqual(self.of(PRAISE, "stalks").grown, 0)

    def test_its_first_sentences_say_it(self) -> None:
        corpus, theme = self.voices.read.corpus, self.of(COMPLAINT, "lid")
        for at in theme.sentences[:5].tolist():
            text = self.made.texts[corpus.text[at]][corpus.begin[at] : corpus.end[at]]
            self.assertRegex(text.lower(), "lid|frost")


class Odd(TestCase):
    def read(self, texts: list[str], rating: list[float], lean: int = 0) -> Voices:
        many = len(texts)
        return read_voices(
            texts,
            rating=np.array(rating, dtype=float),
            lean=np.full(many, lean),
            day=np.full(many, np.nan),
        )

    def test_nothing_and_next_to_nothing(self) -> None:
        for texts in ([], [""], ["   ", "!!!"], ["the and of"], ["lid"], ["lid cracked"] * 3):
            self.assertEqual(self.read(texts, [1.0] * len(texts)).themes, [], texts)

    def test_notes_on_returns_complain_by_what_they_are(self) -> None:
        notes = [f"lid cracked in the frost {word}" for word in ("again", "already", "sadly")] * 20
        notes += [f"arrived too late {word}" for word in ("for Easter", "for us", "by days")] * 20
        found = self.read(notes, [np.nan] * len(notes), lean=COMPLAINT).themes
        self.assertEqual({one.tone for one in found}, {COMPLAINT})
        self.assertTrue(np.isnan(found[0].effect))
        # Without a rating or a lean nobody knows whether it is praise.
        self.assertEqual(self.read(notes, [np.nan] * len(notes)).themes, [])

    def test_a_language_without_a_stemmer(self) -> None:
        with self.assertRaisesRegex(CoreError, "There is no stemmer"):
            read_corpus(["lid"], "klingon")


class Sentences(TestCase):
    def stems(self, text: str, language: str = "english") -> list[str]:
        corpus = read_corpus([text], language)
        return [corpus.stems[code] for code in corpus.token.tolist()]

    def test_what_is_denied_is_told_apart_up_to_a_turn(self) -> None:
        self.assertEqual(self.stems("The lid doesn’t leak."), ["lid", "not_leak"])
        self.assertEqual(self.stems("Never cracked, but heavy"), ["not_crack", "heavi"])
        self.assertEqual(self.stems("It leaks. No crack"), ["leak", "not_crack"])
        self.assertEqual(
            self.stems("not one of the best big heavy pots I saw"),
            ["not_best", "not_big", "not_heavi", "not_pot", "saw"],
        )
        self.assertEqual(
            self.stems("Der Deckel ist nicht gerissen", "german"), ["deckel", "not_geriss"]
        )

    def test_sentences_are_found_where_they_stand(self) -> None:
        text = "Good pot!  The lid cracked; sad"
        corpus = read_corpus(["", text], "english")
        spans = zip(corpus.begin.tolist(), corpus.end.tolist(), strict=True)
        self.assertEqual([text[a:b] for a, b in spans], ["Good pot", "The lid cracked", "sad"])
        self.assertEqual(corpus.text.tolist(), [1, 1, 1])
