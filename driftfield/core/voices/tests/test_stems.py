"""Stems against the samples that Snowball publishes with each language (https://snowballstem.org, from memory)."""

from unittest import TestCase

from driftfield.core.market.words import stem_of

SAMPLES = {
    "english": {
        "consign": "consign consigned consigning consignment", "consist": "consist consistency consistent consistently",
        "consol": "consolation console consoled", "knack": "knack", "knackeri": "knackeries", "knave": "knaves",
        "knavish": "knavish", "knead": "kneaded", "kneel": "kneel", "knot": "knots",
    },
    "german": {
        "aufeinand": "aufeinander", "aufeinanderfolg": "aufeinanderfolge", "aufenthalt": "aufenthalt aufenthalte",
        "auffahr": "auffahren", "aufgegess": "aufgegessen", "kategori": "kategorie", "kat": "kater katers",
    },
}  # fmt: skip


class Samples(TestCase):
    def test_words_have_the_stems_that_are_published(self) -> None:
        for language, stems in SAMPLES.items():
            for stem, words in stems.items():
                for word in words.split():
                    self.assertEqual(stem_of(word, language), stem, word)
