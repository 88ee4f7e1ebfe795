"""Texts that came several times are recognised, and texts that are merely alike are left."""

import random
from itertools import combinations
from unittest import TestCase

from datasketch import MinHash

from driftfield.core.voices.copies import ALIKE, LONG, SHORT, copies_of, jaccard, shingles

WORDS = [f"w{number}" for number in range(400)]


def drawn(source: random.Random, many: int) -> list[str]:
    return source.choices(WORDS, k=many)


def changed(source: random.Random, words: list[str], times: int) -> list[str]:
    words = list(words)
    for at in source.sample(range(len(words)), times):
        words[at] = source.choice(WORDS)
    return words


class Copies(TestCase):
    def test_word_for_word(self) -> None:
        text, other = " ".join(WORDS[:SHORT]), " ".join(WORDS[1 : SHORT + 1])
        self.assertEqual(copies_of([text, other, text, text]).tolist(), [-1, -1, 0, 0])
        # Two buyers may well say the same few words.
        short = " ".join(WORDS[: SHORT - 1])
        self.assertEqual(copies_of([short, short]).tolist(), [-1, -1])
        self.assertEqual(copies_of([]).tolist(), [])
        self.assertEqual(copies_of(["", ""]).tolist(), [-1, -1])

    def test_a_few_words_changed(self) -> None:
        source = random.Random(1)
        texts = [drawn(source, 60) for _ in range(300)]
        came = [" ".join(one) for one in texts + [changed(source, one, 2) for one in texts]]
        found = copies_of(came)
        self.assertTrue((found[:300] == -1).all(), "texts of their own are left")
        right = sum(found[300 + at] == at for at in range(300))
        self.assertGreaterEqual(right, 0.95 * 300)
        self.assertTrue(all(found[300 + at] in {at, -1} for at in range(300)))

    def test_every_copy_is_alike_by_an_exact_count(self) -> None:
        source = random.Random(2)
        texts = [drawn(source, source.randint(LONG - 5, 40)) for _ in range(60)]
        came = [" ".join(changed(source, one, times)) for one in texts for times in (0, 1, 3, 6, 0)]
        found = copies_of(came)
        for at, earlier in enumerate(found.tolist()):
            if earlier >= 0:
                self.assertLess(earlier, at)
                self.assertEqual(found[earlier], -1, "what it is a copy of is none")
                alike = jaccard(shingles(came[at]), shingles(came[earlier]))
                self.assertGreaterEqual(alike, ALIKE)
        # And what is left is alike to nothing that is left, but for the few that were not proposed.
        left = [shingles(came[at]) for at in range(len(came)) if found[at] < 0]
        long = [one for one in left if len(one) >= LONG - 2]
        missed = sum(jaccard(*pair) >= ALIKE for pair in combinations(long, 2))
        self.assertLessEqual(missed, 0.1 * len(long))

    def test_texts_of_the_same_sentences_are_no_copies(self) -> None:
        """Half of what two buyers say is alike where both have the same complaint."""
        source = random.Random(3)
        common = " ".join(drawn(source, 20))
        texts = [f"{common} {' '.join(drawn(source, 20))}" for _ in range(50)]
        self.assertEqual(copies_of(texts).tolist(), [-1] * 50)

    def test_the_estimate_agrees_with_exact_jaccard(self) -> None:
        """Broder 1997: the share of equal minima is similarity, within its standard error."""
        source = random.Random(4)
        errors = []
        for times in range(0, 20, 2):
            one = drawn(source, 80)
            sets = [shingles(" ".join(text)) for text in (one, changed(source, one, times))]
            sketches = MinHash.bulk(sets, num_perm=512)
            exact = jaccard(*sets)
            self.assertEqual(exact, len(sets[0] & sets[1]) / len(sets[0] | sets[1]))
            errors.append(sketches[0].jaccard(sketches[1]) - exact)
        self.assertLess(max(map(abs, errors)), 4 * 0.5 / 512**0.5)
