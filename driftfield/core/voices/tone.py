"""Whether a sentence praises or complains, learnt from the ratings of the texts that have one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import sparse

from driftfield.core.base import Floats, Ints

from .corpus import Corpus
from .words import DENIED

LOW, HIGH = (
    2.0,
    4.0,
)  # Ratings up to and from which a text complains or praises; common practice, no source.
LEAST = 20  # Texts of each that must be there to learn from.
NEUTRAL = 0.5  # Part of all sentences that is taken to do neither, to begin with; our choice.
SURE = 0.95  # Of the toned sentences of a text, the part that is taken to be as its rating; our choice.
STRENGTH = 100.0  # Words that the prior of a tone's words weighs as; our choice.
ROUNDS = 6
DENY = 5.0  # Sentences; our choice.
OFTEN = 5  # Times that two words must be said one after the other to count as one.
LENGTH = 1.5  # What the words of a sentence count together, by the root of how many there are; our choice.
COMPLAINT, NEITHER, PRAISE = -1, 0, 1


@dataclass(frozen=True, slots=True)
class Tone:
    """How sentences say what they say, (sentences,).

    of: praise (1), complaint (−1), neither (0). learnt: whether words told it; else it is that of the text.
    """

    of: Ints
    learnt: bool


def tone_of(corpus: Corpus, rating: Floats, lean: Ints) -> Tone:
    """Say of each sentence whether it praises or complains.

    Parameters
    ----------
    corpus : Corpus
        The texts.
    rating : array (texts,)
        1–5, NaN for none.
    lean : array (texts,)
        −1 for a text that complains by what it is, as a note on a return; 1, or 0 for none.

    Returns
    -------
    Tone
        A mixture of three kinds of sentences, each with words and pairs of words of its own, fitted by
        expectation and maximisation; of what kind a sentence is depends on its words and, before any is read,
        on the rating of its text (or its lean). Where under ``LEAST`` texts of one side are rated, it is that
        of the text.

    References
    ----------
    Naive Bayes with expectation maximisation: Nigam, McCallum, Thrun & Mitchell (2000), Machine Learning 39.
    """
    side = np.where(rating <= LOW, COMPLAINT, np.where(rating >= HIGH, PRAISE, NEITHER))
    side = np.where(side == NEITHER, lean, side)[corpus.text].astype(np.int64)
    low, high = (rating <= LOW).sum(), (rating >= HIGH).sum()
    if min(low, high) < LEAST:
        return Tone(side, learnt=False)
    toned = 1 - NEUTRAL
    begun = {
        COMPLAINT: (toned * SURE, NEUTRAL, toned * (1 - SURE)),
        PRAISE: (toned * (1 - SURE), NEUTRAL, toned * SURE),
        NEITHER: (toned / 2, NEUTRAL, toned / 2),
    }
    before = np.array([begun[one] for one in (COMPLAINT, NEITHER, PRAISE)])[side + 1]
    kind = _fitted(_words_of(corpus), before, _denials(corpus))
    return Tone(kind.argmax(axis=1) - 1, learnt=True)


def _words_of(corpus: Corpus) -> sparse.csr_array:
    """What each sentence has, (sentences, words and pairs of words), each once.

    Words are said in company: so that ten that go together do not count as ten, all of a sentence count by the
    root of how many there are.
    """
    many, words = len(corpus.text), len(corpus.stems)
    follows = np.flatnonzero(corpus.sentence[1:] == corpus.sentence[:-1])
    pair = corpus.token[follows] * words + corpus.token[follows + 1]
    _, code, often = np.unique(pair, return_inverse=True, return_counts=True)
    kept = often[code] >= OFTEN
    row = np.concatenate([corpus.sentence, corpus.sentence[follows][kept]])
    column = np.concatenate([corpus.token, words + code[kept]])
    width = words + len(often)
    row, column = np.divmod(np.unique(row * width + column), width)
    size = np.bincount(row, minlength=many)
    weight = LENGTH / np.sqrt(np.maximum(size, 1))
    return sparse.csr_array((weight[row], (row, column)), shape=(many, width))


def _denials(corpus: Corpus) -> tuple[Ints, Ints]:
    """The words that are denied somewhere and said plainly elsewhere: the denied one, and the plain one."""
    place = {stem: at for at, stem in enumerate(corpus.stems)}
    pairs = [
        (at, place[stem.removeprefix(DENIED)])
        for stem, at in place.items()
        if stem.startswith(DENIED) and stem.removeprefix(DENIED) in place
    ]
    found = np.array(pairs, dtype=np.int64).reshape(-1, 2)
    return found[:, 0], found[:, 1]


def _fitted(words: sparse.csr_array, before: Floats, denials: tuple[Ints, Ints]) -> Floats:
    """Chance of each sentence to be of each kind, (sentences, kinds); ``before`` is that without its words.

    What is denied is taken to say the opposite of what is said plainly, as much as ``DENY`` sentences would.
    """
    denied, plain = denials
    every = np.asarray(words.sum(axis=0)).ravel()
    words = sparse.csr_array(words[:, every > 0])
    usual = every[every > 0] / every.sum()
    kind = before
    for _ in range(ROUNDS):
        said = np.asarray(words.T @ kind)
        if len(denied):
            each = said[plain] + usual[plain, None]
            said[denied] += DENY * (each / each.sum(axis=1, keepdims=True))[:, ::-1]
        of_kind = (said + STRENGTH * usual[:, None]) / (said.sum(axis=0) + STRENGTH)
        score = np.log(before) + words @ np.log(of_kind / usual[:, None])
        score -= score.max(axis=1, keepdims=True)
        kind = np.exp(score)
        kind /= kind.sum(axis=1, keepdims=True)
    return kind
