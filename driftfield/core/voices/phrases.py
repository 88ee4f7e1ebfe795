"""Phrases that one group of texts says more than another: here, lately, or in anger."""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, wilson

from .contrast import contrast
from .corpus import Corpus
from .themes import LEVEL, YEAR, ReadTexts
from .tone import HIGH, LOW
from .words import DENIED

LONGEST = 3  # Words of a phrase.
LEAST = 5  # Texts that must say a phrase on its own side.
MOST = 12  # Phrases that are told of a contrast.
ENOUGH = 50  # Texts that each side must have.
SAME = (
    0.8  # Part of a longer phrase's texts from which the shorter one says nothing more; our choice.
)

Counts = Mapping[tuple[str, ...], int]


@dataclass(frozen=True, slots=True)
class Phrase:
    """A phrase that is said more by one group of texts.

    own, other: texts of each group that say it; of, other_of: how many each has. z: difference of the log-odds
    over its standard error.
    """

    words: str
    own: int
    of: int
    other: int
    other_of: int
    z: float


def phrase_counts(corpus: Corpus, texts: Bools | None = None) -> Counter[tuple[str, ...]]:
    """In how many texts each phrase of one to ``LONGEST`` stems in a row stands, by its stems.

    ``texts``: (texts,) those that count, None for all. Only phrases of at least two texts are kept.
    """
    found: Counter[tuple[str, ...]] = Counter()
    many = max(len(corpus.stems), 1)
    of = corpus.text[corpus.sentence] if len(corpus.sentence) else corpus.sentence
    for length in range(1, LONGEST + 1):
        starts = np.arange(max(len(corpus.token) - length + 1, 0))
        inside = corpus.sentence[starts] == corpus.sentence[starts + length - 1]
        if texts is not None:
            inside &= texts[of[starts]]
        starts = starts[inside]
        if not starts.size:
            continue
        code = np.zeros(len(starts), dtype=np.int64)
        for at in range(length):
            code = code * many + corpus.token[starts + at]
        codes, place = np.unique(code, return_inverse=True)
        pairs = np.unique(place * corpus.texts + of[starts])
        often = np.bincount(pairs // corpus.texts, minlength=len(codes))
        for at in np.flatnonzero(often >= 2).tolist():
            left, stems = int(codes[at]), []
            for _ in range(length):
                left, last = divmod(left, many)
                stems.append(corpus.stems[last])
            found[tuple(stems[::-1])] = int(often[at])
    return found


def told_apart(
    own: Counts,
    of: int,
    other: Counts,
    other_of: int,
    shown: Mapping[str, str],
    without: Collection[str] = (),
) -> list[Phrase]:
    """Phrases that the first group says more often, the surest first, at most ``MOST``.

    By the log-odds with an informative prior (``contrast``) over texts that say them, with the false discovery
    rate held over all phrases that either group says, where the intervals of the shares of texts lie apart as
    well. A shorter phrase that is hardly said without a longer one
    gives way to it; phrases around or within one that is told are left out. of, other_of: texts of each group.
    shown: how stems are mostly written. without: stems whose phrases are not told. Nothing is told where a
    group has under ``ENOUGH`` texts.
    """
    if min(of, other_of) < ENOUGH:
        return []
    silent = {stem.removeprefix(DENIED) for stem in without}
    known = [
        one for one in {*own, *other} if not silent & {stem.removeprefix(DENIED) for stem in one}
    ]
    known.sort()
    first = np.array([own.get(one, 0) for one in known], dtype=float)
    second = np.array([other.get(one, 0) for one in known], dtype=float)
    found = contrast(first, second)
    # Log-odds are of all that is said; what is told must hold of the texts, too.
    low, _ = wilson(first, np.full(len(known), float(of)), LEVEL)
    _, high = wilson(second, np.full(len(known), float(other_of)), LEVEL)
    more = np.flatnonzero(found.told & (found.z > 0) & (first >= LEAST) & (low > high))
    told: list[Phrase] = []
    kept: list[tuple[str, ...]] = []
    for at in sorted(more.tolist(), key=lambda one: (-found.z[one], known[one])):
        phrase = known[at]
        longer = [one for one in more.tolist() if len(known[one]) > len(phrase)]
        around = [one for one in longer if _within(phrase, known[one])]
        best = max(around, key=lambda one: (first[one], len(known[one])), default=at)
        if first[best] >= SAME * first[at]:
            at, phrase = best, known[best]
        if any(_within(phrase, one) or _within(one, phrase) for one in kept):
            continue
        kept.append(phrase)
        words = " ".join(_written(stem, shown) for stem in phrase)
        told.append(
            Phrase(words, int(first[at]), of, int(second[at]), other_of, float(found.z[at]))
        )
        if len(told) == MOST:
            break
    return told


def _within(short: tuple[str, ...], long: tuple[str, ...]) -> bool:
    """Whether one phrase stands in another."""
    spans = range(len(long) - len(short) + 1)
    return any(long[at : at + len(short)] == short for at in spans)


def _written(stem: str, shown: Mapping[str, str]) -> str:
    word = shown.get(stem, stem.removeprefix(DENIED))
    return f"not {word}" if stem.startswith(DENIED) else word


def written_as(corpus: Corpus) -> dict[str, str]:
    """How each stem is mostly written."""
    return dict(zip(corpus.stems, corpus.shown, strict=True))


def contrasts_of(read: ReadTexts) -> dict[str, list[Phrase]]:
    """Phrases that set texts of a niche apart from each other, by what tells the two groups.

    ``low``: texts rated low against those rated high; ``now``: those of the last 52 weeks against the 52
    before. One that has too few texts on a side is left out.
    """
    corpus, shown = read.corpus, written_as(read.corpus)
    last = np.nanmax(read.day) if (~np.isnan(read.day)).any() else np.nan
    ago = last - read.day
    groups: dict[str, tuple[Bools, Bools]] = {
        "low": (read.rating <= LOW, read.rating >= HIGH),
        "now": (ago < YEAR, (ago >= YEAR) & (ago < 2 * YEAR)),
    }
    found: dict[str, list[Phrase]] = {}
    for name, (own, other) in groups.items():
        many: list[int] = [int(own.sum()), int(other.sum())]
        if min(many) >= ENOUGH:
            first, second = (phrase_counts(corpus, texts) for texts in (own, other))
            found[name] = told_apart(first, many[0], second, many[1], shown)
    return found


def elsewhere(whole: Counts, own: Counts) -> dict[tuple[str, ...], int]:
    """What all say without what one group says."""
    return {one: left for one, many in whole.items() if (left := many - own.get(one, 0)) > 0}
