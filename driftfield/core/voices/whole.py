"""Everything that is written about one niche in one language, read at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints

from .asked import broken_promises, questions, sentences_of, wishes
from .copies import copies_of, plain_words
from .corpus import Corpus, joined, read_corpus
from .themes import ReadTexts, read_texts
from .tone import COMPLAINT

REVIEW, RETURN, COMMENT, QUESTION = KINDS = ("review", "return", "comment", "question")


@dataclass(frozen=True, slots=True)
class WholeTexts:
    """Texts about a niche in one language.

    kept: (texts,) places of those that count among all that came, the questions last and each as it came;
    copies are left out. read: all but the questions, themes are counted in it. asked: the questions; nothing of
    their topics or tone is told. kinds: (texts,) by the place in KINDS. asks, wishes: which sentences ask and
    which wish, (sentences,), those of ``read`` first. broken: (sentences,) which promises a sentence of a note
    on a return says were not kept, a bit each in the order of Promise.
    """

    kept: Ints
    read: ReadTexts
    asked: Corpus
    kinds: Ints
    asks: Bools
    wishes: Bools
    broken: Ints

    @property
    def all(self) -> Corpus:
        """All texts together, in the order of ``kept``."""
        return joined(self.read.corpus, self.asked)

    @property
    def told(self) -> int:
        """How many texts are no questions; they come first."""
        return self.read.corpus.texts

    @property
    def notes(self) -> Ints:
        """Places of the notes on returns."""
        return np.flatnonzero(self.kinds == KINDS.index(RETURN))

    @property
    def wishing(self) -> int:
        """How many texts wish for something."""
        return len(np.unique(self.all.text[self.wishes]))


def read_whole(
    texts: Sequence[str], kinds: Sequence[str], rating: Floats, day: Floats, language: str
) -> WholeTexts:
    """Read texts of every kind.

    Parameters
    ----------
    texts, kinds : sequences (texts,)
        As they came; kinds are of KINDS.
    rating, day : array (texts,)
        As ``read_texts`` takes them.
    language : str
        By whose rules words are stemmed and wishes are worded.

    Returns
    -------
    WholeTexts
        Of a text and its copies (``copies_of``) the first.
    """
    copies = copies_of([plain_words(text) for text in texts])
    code = np.array([KINDS.index(kind) for kind in kinds], dtype=np.int64)
    first = np.flatnonzero(copies < 0)
    kept = first[np.argsort(code[first] == KINDS.index(QUESTION), kind="stable")]
    own, kind = [texts[at] for at in kept.tolist()], code[kept]
    told = int((kind != KINDS.index(QUESTION)).sum())
    read = read_texts(
        own[:told],
        rating=rating[kept[:told]],
        lean=np.where(kind[:told] == KINDS.index(RETURN), COMPLAINT, 0),
        day=day[kept[:told]],
        language=language,
    )
    asked = read_corpus(own[told:], language)
    whole = joined(read.corpus, asked)
    wishing = np.zeros(len(whole.text), dtype=bool)
    wishing[wishes(whole, own, language)] = True
    asking = np.zeros(len(whole.text), dtype=bool)
    asking[questions(whole, own, kind == KINDS.index(QUESTION))] = True
    broken = np.zeros(len(whole.text), dtype=np.int64)
    notes = np.flatnonzero(kind[whole.text] == KINDS.index(RETURN))
    said = sentences_of(whole, own)
    for bit, found in enumerate(broken_promises([said[at] for at in notes], language).values()):
        broken[notes[found]] |= 1 << bit
    return WholeTexts(kept, read, asked, kind, asking & ~wishing, wishing, broken)
