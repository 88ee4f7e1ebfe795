"""Texts that were written once and came several times: word for word, or with a few words changed."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
from datasketch import MinHash, MinHashLSH

from driftfield.core.base import Ints

ALIKE = 0.7  # Jaccard similarity from which a text is another's copy; our choice.
SHORT = 8  # Words under which two buyers may say the same; our choice.
LONG = 20  # Words from which a few changed words do not make another text; our choice.
RUN = 3  # Words of a shingle.
# Eight bands of four rows propose 98% of the pairs that are alike by 0.8, 89% of those by 0.7, 1% by 0.2.
BANDS, ROWS = 8, 4
_NOT_WORDS = re.compile(r"[\W_]+")
BLOCK = 10_000  # Texts whose sketches are in memory at once.


def plain_words(text: str) -> str:
    """A text as ``copies_of`` compares it: words in small letters, with single spaces between."""
    return " ".join(_NOT_WORDS.sub(" ", text.casefold()).split())


def shingles(text: str) -> set[bytes]:
    """Every run of ``RUN`` words of a text."""
    words = text.split()
    return {" ".join(words[i : i + RUN]).encode() for i in range(max(len(words) - RUN + 1, 1))}


def jaccard(one: set[bytes], other: set[bytes]) -> float:
    """The share of what either has that both have."""
    return len(one & other) / len(one | other)


def copies_of(texts: Sequence[str]) -> Ints:
    """Of each text the earlier one whose copy it is.

    Pairs are proposed by MinHash (Broder 1997, On the resemblance and containment of documents) in bands
    (Leskovec, Rajaraman & Ullman, Mining of Massive Datasets, 3.4) and then compared exactly, so that none is
    held for a copy by an estimate; about one in ten of those that are just alike enough is not proposed.

    Parameters
    ----------
    texts
        In the order in which they came, as ``plain_words`` makes them.

    Returns
    -------
    Ints (texts,)
        The place of the earlier text, which is itself no copy; −1 where there is none.
    """
    first: dict[str, int] = {}
    copy = np.full(len(texts), -1, dtype=np.int64)
    long = []
    for at, text in enumerate(texts):
        words = text.count(" ") + 1
        if words < SHORT:
            continue
        earlier = first.setdefault(text, at)
        if earlier != at:
            copy[at] = earlier
        elif words >= LONG:
            long.append(at)
    near = MinHashLSH(params=(BANDS, ROWS), num_perm=BANDS * ROWS)
    for start in range(0, len(long), BLOCK):
        block = long[start : start + BLOCK]
        drawn = [shingles(texts[at]) for at in block]
        sketches = MinHash.bulk(drawn, num_perm=BANDS * ROWS)
        for at, own, sketch in zip(block, drawn, sketches, strict=True):
            alike = (
                other
                for other in sorted(near.query(sketch))
                if jaccard(own, shingles(texts[other])) >= ALIKE
            )
            earlier = next(alike, -1)
            if earlier < 0:
                near.insert(at, sketch)
            copy[at] = earlier
    # A word-for-word copy of a text that is itself a near copy goes with the one that came first.
    same = copy >= 0
    above = np.where(same, copy[copy], -1)
    return np.where(above >= 0, above, copy)
