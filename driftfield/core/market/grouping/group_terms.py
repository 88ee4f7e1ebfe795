"""Niches from terms: whose buyers click the same listings, or who share words where clicks are unknown."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints
from driftfield.core.market.data import MarketData
from driftfield.core.market.vectors import Vectors, market_clicks, word_vectors
from driftfield.core.market.words import stems_of

from .communities import Resolution, choose_resolution, communities
from .links import Links, paired, strongest_links


@dataclass(frozen=True, slots=True)
class Grouping:
    """Groups of a market's terms.

    group: (terms,) each term's, numbered from 0. by_words: (terms,) terms that were placed by their
    words, for their clicks are not known. quality: (groups,) −1 to 1, see ``quality_of``; NaN for a
    group of one term. clicks, words: how fine the communities of each are; None where there were none.
    """

    group: Ints
    by_words: Bools
    quality: Floats
    clicks: Resolution | None
    words: Resolution | None


def group_terms(
    data: MarketData, terms: Sequence[str], known: Ints | None = None, *,
    language: str = "english", seed: int = 1,
) -> Grouping:  # fmt: skip
    """Group the terms of a market into niches.

    Terms with clicks are communities of the graph of clicks. A term without joins the group of those
    it shares words with, or makes one with others like it.

    ``terms`` (terms,) are their texts. ``known`` (terms,) are numbers of groups that stand already, −1
    for a term without one; of these a free term joins the one it is linked with most. None: all are free.
    """
    count = len(terms)
    by_click = market_clicks(data)
    by_word = word_vectors(stems_of(terms, language))
    clicked: Bools = np.diff(by_click.indptr) > 0

    links = strongest_links(by_click)
    fine = (
        choose_resolution(links.among(clicked), int(clicked.sum()), seed=seed)
        if clicked.any()
        else None
    )
    group = np.full(count, -1, dtype=np.int64)
    if fine is not None:
        group[clicked] = communities(
            links.among(clicked), int(clicked.sum()), fine.value, seed=seed
        )
    coarse = None
    if not clicked.all():
        # Words of all terms, for a few of them would not tell which words are rare.
        shared = strongest_links(by_word)
        coarse = choose_resolution(shared, count, seed=seed)
        alike = communities(shared, count, coarse.value, seed=seed)
        links = _both(links, shared, clicked)
        group = _placed_by_words(group, alike, shared)
    if known is not None:
        group = _joined(group, known, links)
    group = np.unique(group, return_inverse=True)[1].astype(np.int64)
    return Grouping(
        group, ~clicked, quality_of(group, links, by_click, by_word, clicked), fine, coarse
    )  # fmt: skip


def _both(links: Links, shared: Links, clicked: Bools) -> Links:
    """Links by clicks between terms with clicks, and by words where one has none."""
    other = ~(clicked[shared.first] & clicked[shared.second])
    return Links(
        np.concatenate([links.first, shared.first[other]]),
        np.concatenate([links.second, shared.second[other]]),
        np.concatenate([links.strength, shared.strength[other]]),
    )


def _placed_by_words(group: Ints, alike: Ints, shared: Links) -> Ints:
    """Groups by clicks, with every term that has none (−1) put to the group it shares most words with
    among those of its community by words; where that has none with clicks, the community is a group."""
    inside = alike[shared.first] == alike[shared.second]
    placed = _strongest(group, shared.of(inside))
    free = placed < 0
    placed[free] = int(group.max(initial=-1)) + 1 + alike[free]
    return placed


def _joined(group: Ints, known: Ints, links: Links) -> Ints:
    """Groups that stand, and every free term put to the one it is linked with most in its own group."""
    inside = group[links.first] == group[links.second]
    joined = _strongest(known, links.of(inside))
    free = joined < 0
    joined[free] = int(known.max(initial=-1)) + 1 + group[free]
    return joined


def _strongest(group: Ints, links: Links) -> Ints:
    """Each term's group; for one without (−1) that with the greatest sum of its links, −1 for no link."""
    found = group.copy()
    term = np.concatenate([links.first, links.second])
    other = np.concatenate([links.second, links.first])
    strength = np.concatenate([links.strength, links.strength])
    use = (group[term] < 0) & (group[other] >= 0)
    if not use.any():
        return found
    groups = int(group.max()) + 1
    key, place = np.unique(term[use] * groups + group[other[use]], return_inverse=True)
    total = np.bincount(place, weights=strength[use])
    # The last one written stands: of a term's groups that with the greatest sum.
    order = np.argsort(total, kind="stable")
    found[key[order] // groups] = key[order] % groups
    return found


def quality_of(
    group: Ints, links: Links, by_click: Vectors, by_word: Vectors, clicked: Bools
) -> Floats:
    """How far each group stands out, (groups,), −1 to 1; NaN for a group of one term.

    A silhouette of groups (after Rousseeuw 1987): (a − b) ÷ the larger of both, where a is the mean
    cosine of its pairs and b that of its terms with those of the other group nearest to it. By clicks
    where two or more of its terms have them, else by words.
    """
    groups = int(group.max(initial=-1)) + 1
    found = np.full(groups, np.nan)
    size = np.bincount(group[clicked], minlength=groups)
    for vectors, of in ((by_click, clicked), (by_word, np.ones(len(group), dtype=bool))):
        rows = np.flatnonzero(of)
        count = np.bincount(group[rows], minlength=groups)
        rated = (count > 1) & ((size > 1) == (vectors is by_click))
        sums = _summed(vectors, rows, group, groups)
        square = np.asarray(sums.multiply(sums).sum(axis=1)).ravel()
        own = np.asarray(vectors.multiply(vectors).sum(axis=1)).ravel()
        length = np.bincount(group[rows], weights=own[rows], minlength=groups)
        with np.errstate(invalid="ignore", divide="ignore"):
            inside = (square - length) / (count * (count - 1.0))
        outside = _nearest(sums, count, group, links)
        a, b = inside[rated], outside[rated]
        larger = np.maximum(a, b)
        found[rated] = np.where(larger > 0, (a - b) / np.where(larger > 0, larger, 1), 0.0)
    return found


def _summed(vectors: Vectors, rows: Ints, group: Ints, groups: int) -> Vectors:
    """The sum of the vectors of each group's terms, (groups, features)."""
    ones = np.ones(len(rows))
    member = Vectors((ones, (group[rows], rows)), shape=(groups, vectors.shape[0]))
    return Vectors(member @ vectors)


def _nearest(sums: Vectors, count: Ints, group: Ints, links: Links) -> Floats:
    """The mean cosine of each group's terms with those of the nearest other one it is linked with."""
    nearest = np.zeros(len(count))
    one, other = group[links.first], group[links.second]
    apart = one != other
    pairs = np.unique(
        np.column_stack([np.minimum(one, other)[apart], np.maximum(one, other)[apart]]), axis=0
    )
    if len(pairs):
        one, other = pairs.T
        mean = paired(sums, one, other) / np.maximum(count[one] * count[other], 1)
        np.maximum.at(nearest, one, mean)
        np.maximum.at(nearest, other, mean)
    return nearest
