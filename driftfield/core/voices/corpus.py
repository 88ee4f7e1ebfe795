"""Texts as sentences of stems, with what is denied told apart."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Ints
from driftfield.core.market.words import stem_of

from .words import DENIED, REACH, language_of

_SENTENCE = re.compile(r"[^.!?\n;]+")
_WORD = re.compile(r"[^\W_]+(?:['’][^\W_]+)*")
CLAUSE = ","


@dataclass(frozen=True, slots=True)
class Corpus:
    """Texts cut into sentences and these into stems.

    stems: what the codes stand for; one that is denied begins with ``DENIED``. shown: how each is mostly
    written. token: (tokens,) code of each; sentence: (tokens,) the sentence that it is in. text: (sentences,)
    the text of each sentence; begin, end: (sentences,) where it stands in it. texts: how many there are.
    """

    stems: list[str]
    shown: list[str]
    token: Ints
    sentence: Ints
    text: Ints
    begin: Ints
    end: Ints
    texts: int

    @property
    def denied(self) -> Bools:
        """Which of the stems are denied, (stems,)."""
        return np.array([stem.startswith(DENIED) for stem in self.stems], dtype=bool)

    def words_in(self, sentence: int) -> list[int]:
        """The codes of a sentence, in their order."""
        # Tokens come sentence by sentence.
        begin, end = np.searchsorted(self.sentence, [sentence, sentence + 1]).tolist()
        found: list[int] = self.token[begin:end].tolist()
        return found


def words_of(text: str) -> list[tuple[str, int, int]]:
    """The words of a text in small letters, with where each begins and ends."""
    return [
        (found[0].lower().replace("’", "'"), found.start(), found.end())
        for found in _WORD.finditer(text)
    ]


def joined(one: Corpus, other: Corpus) -> Corpus:
    """Two corpora as one, the second one's texts and sentences behind the first one's."""
    place = {stem: at for at, stem in enumerate(one.stems)}
    code = np.array([place.setdefault(stem, len(place)) for stem in other.stems], dtype=np.int64)
    new = [at for at, stem in enumerate(other.stems) if code[at] >= len(one.stems)]
    return Corpus(
        list(place),
        one.shown + [other.shown[at] for at in new],
        np.concatenate([one.token, code[other.token]]),
        np.concatenate([one.sentence, other.sentence + len(one.text)]),
        np.concatenate([one.text, other.text + one.texts]),
        np.concatenate([one.begin, other.begin]),
        np.concatenate([one.end, other.end]),
        one.texts + other.texts,
    )


def read_corpus(texts: Sequence[str], language: str) -> Corpus:
    """Cut texts into sentences of stems, without the words that say nothing by themselves.

    A word within ``REACH`` words after one that denies, and before a clause that turns, is denied: “does not
    leak” has the stem “not_leak”. Raises CoreError for a language without a stemmer.
    """
    words = language_of(language)
    place: dict[str, int] = {}
    written: list[Counter[str]] = []
    token: list[int] = []
    sentence: list[int] = []
    of: list[int] = []
    begin: list[int] = []
    end: list[int] = []
    known: dict[tuple[str, bool], int] = {}
    for number, text in enumerate(texts):
        for found in _SENTENCE.finditer(text):
            left, before = 0, len(token)
            for low, _, _ in words_of(found[0]):
                if low in words.negators:
                    left = REACH + 1
                    continue
                if low in words.ends:
                    left = 0
                    continue
                left = max(left - 1, 0)
                if low in words.stop:
                    left += left > 0  # What says nothing takes up no reach.
                    continue
                key = low, left > 0
                code = known.get(key)
                if code is None:
                    plain = low.removesuffix("'s")
                    stem = stem_of(words.graded.get(plain, plain), language)
                    named = f"{DENIED}{stem}" if left else stem
                    code = place.setdefault(named, len(place))
                    if code == len(written):
                        written.append(Counter())
                    known[key] = code
                written[code][low] += 1
                token.append(code)
                sentence.append(len(of))
            if len(token) > before:
                of.append(number)
                begin.append(found.start() + len(found[0]) - len(found[0].lstrip()))
                end.append(found.end())
    shown = [min(each, key=lambda one: (-each[one], one)) for each in written]
    tokens, within, texts_of, begins, ends = (
        np.array(one, dtype=np.int64) for one in (token, sentence, of, begin, end)
    )
    return Corpus(list(place), shown, tokens, within, texts_of, begins, ends, len(texts))
