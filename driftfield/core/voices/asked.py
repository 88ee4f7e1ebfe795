"""What buyers ask and wish for, by the words they share, and what they sent back against what was promised."""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints
from driftfield.core.market.words import stem_of

from .corpus import Corpus
from .patterns import BROKEN, WISH_WORDS, WISHES, Promise
from .words import DENIED

LEAST = 2  # Texts that ask for the same before it is told as one thing.
COMMON = (
    0.5  # Share of differing sentences from which a word says nothing of what is asked; our choice.
)
DIFFERING = 5  # Differing sentences from which that can be told.
BESIDE = (
    0.5  # Share of a group's sentences from which a second word is part of its name; our choice.
)


@dataclass(frozen=True, slots=True)
class Asked:
    """What several texts ask, or wish, in the same words.

    name: the word they share, with the one that most often goes with it. stems: their stems. texts, sentences:
    places of the texts and of the sentences. helpful: how often readers found the texts helpful, NaN where
    that is unknown of all.
    """

    name: str
    stems: tuple[str, ...]
    texts: Ints
    sentences: Ints
    helpful: float


def wishes(corpus: Corpus, texts: Sequence[str], language: str) -> Ints:
    """Places of the sentences that wish for something, by how the language words wishes; none of others."""
    if language not in WISHES:
        return np.zeros(0, dtype=np.int64)
    pattern = re.compile("|".join(WISHES[language]), re.IGNORECASE)
    return np.array(
        [at for at, said in enumerate(sentences_of(corpus, texts)) if pattern.search(said)],
        dtype=np.int64,
    )


def questions(corpus: Corpus, texts: Sequence[str], asks: Bools) -> Ints:
    """Places of the sentences that ask.

    ``asks``: (texts,) those that are questions by what they are; of these every sentence counts where none ends
    with a question mark.
    """
    marked = np.array(
        [
            texts[text][end : end + 1] == "?"
            for text, end in zip(corpus.text.tolist(), corpus.end.tolist(), strict=True)
        ],
        dtype=bool,
    )
    has_mark = np.zeros(corpus.texts, dtype=bool)
    has_mark[corpus.text[marked]] = True
    return np.flatnonzero(marked | (asks & ~has_mark)[corpus.text])


def sentences_of(corpus: Corpus, texts: Sequence[str]) -> list[str]:
    """Every sentence as it is written."""
    spans = zip(corpus.text.tolist(), corpus.begin.tolist(), corpus.end.tolist(), strict=True)
    return [texts[text][begin:end].strip() for text, begin, end in spans]


def wish_stems(language: str) -> set[str]:
    """Stems of the words by which a language wishes, which say nothing of what for."""
    return {stem_of(word, language) for word in WISH_WORDS.get(language, "").split()}


def gather(
    corpus: Corpus, rows: Ints, helpful: Floats, *, without: Collection[str] = ()
) -> list[Asked]:
    """Gather sentences by the words they share, what most texts ask first.

    The word that most texts hold takes all that hold it, then the next one of the rest, down to ``LEAST``
    texts; words of over ``COMMON`` of the sentences that differ say nothing here, as the name of the goods.
    rows: places of the sentences. helpful: (texts,). without: stems that say nothing here either.
    """
    inside = np.isin(corpus.sentence, rows)
    token, sentence = corpus.token[inside], corpus.sentence[inside]
    if not token.size:
        return []
    pairs = np.unique(np.stack([token, sentence]), axis=1)
    stems = len(corpus.stems)
    silent = np.array([stem.removeprefix(DENIED) in without for stem in corpus.stems], dtype=bool)
    pairs = pairs[:, ~(silent | _usual(pairs, stems))[pairs[0]]]
    left, made = pairs, []
    while left.size:
        told = np.unique(np.stack([left[0], corpus.text[left[1]]]), axis=1)[0]
        often = np.bincount(told, minlength=stems)
        word = int(often.argmax())
        if often[word] < LEAST:
            break
        own = left[1][left[0] == word]
        texts = np.unique(corpus.text[own])
        beside = pairs[0][np.isin(pairs[1], own) & (pairs[0] != word)]
        counts = np.bincount(beside, minlength=stems)
        second = int(counts.argmax()) if beside.size else word
        named = [word, second] if counts[second] >= max(BESIDE * len(own), LEAST) else [word]
        found = helpful[texts]
        known = found[~np.isnan(found)]
        made.append(
            Asked(
                " ".join(corpus.shown[one] for one in _in_order(corpus, named, own)),
                tuple(corpus.stems[one] for one in named),
                texts,
                own,
                float(known.sum()) if known.size else np.nan,
            )
        )
        left = left[:, ~np.isin(left[1], own)]
    made.sort(key=lambda one: (-len(one.texts), -np.nan_to_num(one.helpful), one.name))
    return made


def _usual(pairs: Ints, stems: int) -> Bools:
    """Words that most sentences have, those that say the same counted once, (stems,)."""
    forms = {tuple(one.tolist()) for one in np.split(
        pairs[0][np.argsort(pairs[1], kind="stable")],
        np.cumsum(np.unique(pairs[1], return_counts=True)[1])[:-1],
    )}  # fmt: skip
    often = np.bincount([word for form in forms for word in form], minlength=stems)
    return often > COMMON * len(forms) if len(forms) >= DIFFERING else np.zeros(stems, dtype=bool)


def _in_order(corpus: Corpus, pair: list[int], rows: Ints) -> list[int]:
    """Words in the order in which the sentences mostly say them."""
    if len(pair) < 2:
        return pair
    inside = np.flatnonzero(np.isin(corpus.sentence, rows))
    first = [
        dict(zip(corpus.sentence[at][::-1].tolist(), at[::-1].tolist(), strict=True))
        for at in (inside[corpus.token[inside] == one] for one in pair)
    ]
    both = first[0].keys() & first[1].keys()
    ahead = sum(first[0][one] < first[1][one] for one in both)
    return pair if 2 * ahead >= len(both) else pair[::-1]


def broken_promises(sentences: Sequence[str], language: str) -> dict[Promise, Ints]:
    """Places of the sentences that say a promise was not kept, by promise, by how the language words it."""
    found = {}
    for promise, sources in BROKEN.get(language, {}).items():
        pattern = re.compile("|".join(sources), re.IGNORECASE)
        found[promise] = np.array(
            [at for at, said in enumerate(sentences) if pattern.search(said)], dtype=np.int64
        )
    return found
