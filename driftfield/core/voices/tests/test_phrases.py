"""Phrases that set one group of texts apart: planted ones are told, chance is not."""

from unittest import TestCase

import numpy as np

from driftfield.core.voices import (
    contrasts_of,
    elsewhere,
    phrase_counts,
    read_corpus,
    read_texts,
    told_apart,
    written_as,
)
from driftfield.core.voices.contrast import contrast

from .made import BELLS, STOVES, made
from .test_decided import made_read


class Phrases(TestCase):
    def test_each_text_counts_once_and_only_words_in_a_row_of_a_sentence(self) -> None:
        corpus = read_corpus(
            ["Lid cracked. Lid cracked again. Frost.", "The lid cracked; frost split it", "A lid"],
            "english",
        )
        found = phrase_counts(corpus)
        self.assertEqual(found["lid",], 3)
        self.assertEqual(found["lid", "crack"], 2)
        self.assertNotIn(("crack", "frost"), found)  # Of two sentences.
        self.assertNotIn(("frost", "split"), found)  # Of one text alone.
        self.assertEqual(phrase_counts(corpus, np.array([True, False, True])), {("lid",): 2})
        self.assertEqual(elsewhere({("a",): 3, ("b",): 2}, {("a",): 3, ("b",): 1}), {("b",): 1})

    def test_what_grew_and_what_angers_is_told(self) -> None:
        found = contrasts_of(made_read(51, 3_000))
        now = " ".join(one.words for one in found["now"])
        self.assertIn("lid", now)  # Planted to be said 2.2 times as often in the last year.
        for one in found["now"]:
            self.assertGreater(one.own / one.of, one.other / one.other_of)
        low = " ".join(one.words for one in found["low"])
        for word in ("cracked", "small", "broken"):
            self.assertIn(word, low)
        self.assertNotIn("sweet", low)  # Most who say it praise.

    def test_of_two_halves_by_chance_hardly_anything_is_told(self) -> None:
        read, rng = made_read(52, 2_000), np.random.default_rng(3)
        shown, told = written_as(read.corpus), 0
        for _ in range(20):
            half = rng.random(read.corpus.texts) < 0.5
            counts = [phrase_counts(read.corpus, texts) for texts in (half, ~half)]
            told += len(
                told_apart(counts[0], int(half.sum()), counts[1], int((~half).sum()), shown)
            )
        self.assertLessEqual(told, 3)

    def test_the_figures_are_those_of_the_published_contrast(self) -> None:
        bells, stoves = made_read(53), made_read(54, recipe=STOVES)
        own, other = (phrase_counts(one.corpus) for one in (bells, stoves))
        every = sorted({*own, *other})
        wanted = contrast(
            np.array([own.get(one, 0) for one in every], dtype=float),
            np.array([other.get(one, 0) for one in every], dtype=float),
        )
        z = {" ".join(one): wanted.z[at] for at, one in enumerate(every)}
        shown = {stem: stem for stem in bells.corpus.stems}
        for one in told_apart(own, 1_200, other, 1_200, shown):
            self.assertAlmostEqual(one.z, z[one.words])
        silent = told_apart(own, 1_200, other, 1_200, shown, without=["lid", "not_size"])
        self.assertFalse({"lid", "size"} & set(" ".join(one.words for one in silent).split()))

    def test_too_few_texts_tell_nothing(self) -> None:
        one = made(BELLS, 60, 1)
        read = read_texts(
            one.texts, rating=one.rating, lean=np.zeros(60, dtype=np.int64), day=one.day
        )
        self.assertEqual(contrasts_of(read), {})
        self.assertEqual(told_apart({("a",): 40}, 49, {}, 900, {}), [])
