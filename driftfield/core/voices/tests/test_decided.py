"""What a researcher decided on themes holds whatever is imported later."""

from unittest import TestCase

import numpy as np

from driftfield.core.base import CoreError
from driftfield.core.voices import (
    COMPLAINT,
    PRAISE,
    Act,
    Applied,
    Decided,
    Named,
    ReadTexts,
    Theme,
    apply_decisions,
    likeness,
    read_corpus,
    read_texts,
    sentences_with,
    sides_of,
    themes_of,
)

from .made import BELLS, STOVES, Made, Recipe, made

ENGLISH = "english"


def read_made(one: Made) -> ReadTexts:
    nothing = np.zeros(len(one.texts), dtype=np.int64)
    return read_texts(one.texts, rating=one.rating, lean=nothing, day=one.day)


def made_read(seed: int, many: int = 1_200, recipe: Recipe = BELLS) -> ReadTexts:
    return read_made(made(recipe, many, seed))


class OnBells(TestCase):
    read: ReadTexts

    @classmethod
    def setUpClass(cls) -> None:
        cls.read = made_read(41)

    def named(self, word: str, tone: int = COMPLAINT) -> Named:
        """A theme as it was found then, by one of its leading stems."""
        side = next(one for one in sides_of(self.read) if one.tone == tone and word in one.stems)
        return Named(side.id, side.tone, side.stems)

    def after(
        self, *decisions: Decided, read: ReadTexts | None = None
    ) -> tuple[Applied, dict[str, Theme]]:
        applied = apply_decisions(read or self.read, decisions, ENGLISH)
        return applied, {one.id: one for one in themes_of(read or self.read, applied.sides)}

    def test_a_name_is_kept_when_other_texts_come(self) -> None:
        lid = self.named("lid")
        later = made_read(42, 1_500)
        applied, themes = self.after(
            Decided("own/1", Act.RENAME, lid, name="Frost cracks the lid"), read=later
        )
        self.assertEqual(applied.idle, [])
        (one,) = [theme for theme in themes.values() if theme.name == "Frost cracks the lid"]
        self.assertEqual((one.tone, one.found), (COMPLAINT, False))
        self.assertIn("lid", one.stems[:3])

    def test_a_decision_whose_theme_is_not_found_waits(self) -> None:
        lid = self.named("lid")
        applied, themes = self.after(
            Decided("own/1", Act.RENAME, lid, name="X"),
            Decided("own/2", Act.HIDE, lid),
            read=made_read(43, recipe=STOVES),
        )
        self.assertEqual(applied.idle, ["own/1", "own/2"])
        self.assertEqual(applied.hidden, set())
        self.assertNotIn("X", [one.name for one in themes.values()])

    def test_merged_themes_count_each_text_once(self) -> None:
        lid, size = self.named("lid"), self.named("small")
        _, before = self.after()
        applied, themes = self.after(
            Decided("own/1", Act.MERGE, size, into=lid),
            Decided(
                "own/2", Act.RENAME, size, name="both"
            ),  # What went into another one is that one.
        )
        self.assertNotIn(size.id, themes)
        wanted = set(before[lid.id].texts) | set(before[size.id].texts)
        self.assertEqual(set(themes[lid.id].texts), wanted)
        self.assertEqual(themes[lid.id].share, len(wanted) / self.read.corpus.texts)
        self.assertEqual(themes[lid.id].name, "both")
        self.assertEqual(applied.merged, {lid.id: [" ".join(size.stems[:2])]})

    def test_themes_that_are_merged_both_ways_are_one(self) -> None:
        lid, size = self.named("lid"), self.named("small")
        _, themes = self.after(
            Decided("own/1", Act.MERGE, size, into=lid), Decided("own/2", Act.MERGE, lid, into=size)
        )
        self.assertEqual([one for one in (lid.id, size.id) if one in themes], [lid.id])

    def test_what_is_split_off_is_no_longer_in_the_theme(self) -> None:
        lid = self.named("lid")
        _, before = self.after()
        _, themes = self.after(Decided("own/9", Act.SPLIT, lid, name="frost", words=("frost",)))
        off, left = themes["own/9"], themes[lid.id]
        rows = sentences_with(self.read.corpus, ["frost"], ENGLISH)
        self.assertEqual(set(off.sentences), set(rows) & set(before[lid.id].sentences))
        self.assertEqual(set(left.sentences), set(before[lid.id].sentences) - set(rows))
        self.assertEqual((off.name, off.tone), ("frost", COMPLAINT))
        self.assertTrue(len(off.texts) and len(left.texts))

    def test_a_later_decision_may_be_about_what_an_earlier_one_made(self) -> None:
        lid = self.named("lid")
        made_by = Named("own/9")
        applied, themes = self.after(
            Decided("own/9", Act.SPLIT, lid, name="frost", words=("frost",)),
            Decided("own/10", Act.TONE, made_by, tone=PRAISE),
            Decided("own/11", Act.REMEDY, made_by, text="Fired at 1,200 °C"),
            Decided("own/12", Act.HIDE, made_by),
        )
        self.assertEqual(themes["own/9"].tone, PRAISE)
        self.assertEqual(applied.remedies, {"own/9": "Fired at 1,200 °C"})
        self.assertEqual(applied.hidden, {"own/9"})
        # Without the split there is nothing that the others could be about.
        left, _ = self.after(Decided("own/10", Act.TONE, made_by, tone=PRAISE))
        self.assertEqual(left.idle, ["own/10"])

    def test_a_theme_by_words_is_counted_however_few_say_it(self) -> None:
        _, themes = self.after(
            Decided("own/1", Act.OWN, name="mine", words=("too small", "outgrew"))
        )
        corpus, own = self.read.corpus, themes["own/1"]
        stems = [
            {corpus.stems[code] for code in corpus.token[corpus.sentence == at]}
            for at in range(len(corpus.text))
        ]
        wanted = {
            corpus.text[at] for at, has in enumerate(stems) if {"too", "small"} <= has or "outgrew" in has
        }  # fmt: skip
        self.assertEqual(set(own.texts), wanted)
        self.assertTrue(own.low < own.share < own.high)
        _, themes = self.after(Decided("own/1", Act.OWN, name="none", words=("zeppelin",)))
        self.assertEqual((len(themes["own/1"].texts), themes["own/1"].share), (0, 0.0))


class Words(TestCase):
    def test_what_is_denied_is_not_what_is_said(self) -> None:
        corpus = read_corpus(["It fits well.", "It does not fit at all.", "Never fitted."], ENGLISH)
        self.assertEqual(sentences_with(corpus, ["fits"], ENGLISH).tolist(), [0])
        self.assertEqual(sentences_with(corpus, ["does not fit"], ENGLISH).tolist(), [1, 2])
        with self.assertRaisesRegex(CoreError, "“the of” has no word to look for"):
            sentences_with(corpus, ["the of"], ENGLISH)

    def test_likeness_by_hand(self) -> None:
        # Weights of three stems: 6/11, 3/11, 2/11; of two: 2/3, 1/3.
        self.assertAlmostEqual(likeness(["a", "b", "c"], ["a", "b"]), 6 / 11 + 3 / 11)
        self.assertAlmostEqual(likeness(["a", "b"], ["b", "a"]), 1 / 3 + 1 / 3)
        self.assertEqual(likeness(["a"], ["b"]), 0)
        self.assertEqual(likeness([], ["b"]), 0)
