"""What sentences are about: stems that are said in the same company."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import sparse

from driftfield.core.base import Floats, Ints
from driftfield.core.market.grouping.communities import choose_resolution, communities
from driftfield.core.market.grouping.links import strongest_links
from driftfield.core.market.vectors import Vectors, unit_rows

from .corpus import Corpus
from .words import DENIED

LEAST = 5  # Texts that must have a stem, and a topic.
COMMON = 0.6  # Share of the sentences from which a stem is of no topic; our choice.
BESIDE = 0.5  # Log of observed over expected from which two stems go together; our choice.
ALIKE = 0.06  # Stability within which the coarser topics are taken: one fault has many words; our choice.
CLEAR = 0.5  # Part of a sentence's weight that must be of its topic; our choice.


@dataclass(frozen=True, slots=True)
class Topics:
    """What sentences are about.

    of: (sentences,) the topic of each, −1 for none; strength: (sentences,) how much of it is said in each.
    stem: (bare stems,) the topic of each, −1 for none; bare: (stems,) the bare stem of each. leading: the bare
    stems of each topic, those said most first.
    """

    of: Ints
    strength: Floats
    stem: Ints
    bare: Ints
    leading: list[list[int]]


def read_topics(corpus: Corpus, *, seed: int = 1) -> Topics:
    """Find what sentences are about.

    A stem counts as the same whether it is denied or not. Two go together as often as they are said in one
    sentence beyond what their use alone explains (pointwise mutual information, Church & Hanks 1990, above
    ``BESIDE``); stems are alike where they go together with the same ones, so that two words for one thing
    are found though nobody says both. Communities of that likeness are topics (Leiden, Traag et al. 2019),
    as coarse as they stay the same when stems are missing. A sentence is about the topic that has most of
    its weight, which is the rarity of its stems, where that is at least ``CLEAR`` of it.
    """
    bare = bare_of(corpus.stems)
    sentences, stems = len(corpus.text), int(bare.max(initial=-1)) + 1
    pairs = np.unique(corpus.sentence * max(stems, 1) + bare[corpus.token])
    row, column = np.divmod(pairs, max(stems, 1))
    said = sparse.csr_array((np.ones(len(pairs)), (row, column)), shape=(sentences, stems))
    often = np.bincount(column, minlength=stems)
    used = np.flatnonzero((often >= LEAST) & (often <= max(COMMON * sentences, LEAST)))
    stem_topic = np.full(stems, -1, dtype=np.int64)
    if used.size > 1:
        group = _grouped(sparse.csr_array(said[:, used]), often[used], sentences, seed)
        size = np.bincount(group)
        stem_topic[used] = np.where(size[group] > 1, group, -1)
    weight = np.where(stem_topic >= 0, np.log(max(sentences, 1) / np.maximum(often, 1)), 0.0)
    topics = int(stem_topic.max(initial=-1)) + 1
    belongs = sparse.csr_array(
        (weight[stem_topic >= 0], (np.flatnonzero(stem_topic >= 0), stem_topic[stem_topic >= 0])),
        shape=(stems, topics),
    )
    each = sparse.csr_array(said @ belongs).toarray() if topics else np.zeros((sentences, 0))
    best = each.argmax(axis=1) if topics else np.full(sentences, -1)
    most = each.max(axis=1, initial=0)
    whole = each.sum(axis=1)
    clear = (most > 0) & (most >= CLEAR * whole)
    leading = [
        sorted(np.flatnonzero(stem_topic == topic).tolist(), key=lambda one: -often[one])
        for topic in range(topics)
    ]
    return Topics(np.where(clear, best, -1), most, stem_topic, bare, leading)


def bare_of(stems: Sequence[str]) -> Ints:
    """The number of each stem without denial, (stems,), counted in the order in which they first come."""
    place: dict[str, int] = {}
    return np.array(
        [place.setdefault(stem.removeprefix(DENIED), len(place)) for stem in stems], dtype=np.int64
    )


def _grouped(said: sparse.csr_array, often: Ints, sentences: int, seed: int) -> Ints:
    """The community of each stem, (stems,)."""
    both = sparse.coo_array(said.T @ said)
    expected = often[both.row].astype(float) * often[both.col] / sentences
    beyond = np.log(both.data / expected)
    # Two that are said together once may be so by chance.
    kept = (beyond >= BESIDE) & (both.data >= 2) | (both.row == both.col)
    company = sparse.csr_array(
        (np.where(both.row == both.col, 1.0, beyond)[kept], (both.row[kept], both.col[kept])),
        shape=both.shape,
    )
    vectors: Vectors = unit_rows(company)
    links = strongest_links(vectors)
    if not len(links.first):
        return np.arange(len(often))
    tried = choose_resolution(links, len(often), seed=seed).tried
    stable = [value for value, stays in tried.items() if stays >= max(tried.values()) - ALIKE]
    return communities(links, len(often), min(stable), seed=seed)
