"""Families: niches that one brand could serve together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import sparse
from scipy.sparse.csgraph import connected_components
from scipy.stats import hypergeom

from driftfield.core.base import Bools, Floats, Ints
from driftfield.core.supply import Listings, Members

from .grouping.communities import Resolution, choose_resolution, communities
from .grouping.links import Links, strongest_links
from .phrases import LINKS as EMPTY_WORDS
from .vectors import Vectors, unit_rows, word_vectors
from .words import stems_of

FALSE = 0.05  # False discoveries among pairs of niches that are said to be carried together.
PAIRS = 20_000_000  # Pairs of niches that are looked at for what they share.
SAME = 0.8  # Cosine of clicks from which two niches are one good under two names. Our choice.
EVIDENCE = ("brands", "sellers", "buyers", "words")


@dataclass(frozen=True, slots=True)
class Carried:
    """Who carries which niche: (pairs,) places of the niche and of the brand or seller, each pair once."""

    niche: Ints
    holder: Ints
    niches: int
    holders: int

    @classmethod
    def of(cls, niche: Ints, holder: Ints, niches: int) -> Carried:
        """From pairs that may come several times; a negative holder is unknown and left out."""
        known = holder >= 0
        codes, holder = np.unique(holder[known], return_inverse=True)
        many = max(len(codes), 1)
        key = np.unique(niche[known].astype(np.int64) * many + holder)
        return cls(key // many, key % many, niches, len(codes))

    @property
    def sizes(self) -> Ints:
        """How many carry each niche, (niches,)."""
        return np.bincount(self.niche, minlength=self.niches)


@dataclass(frozen=True, slots=True)
class Families:
    """Families of a market's niches.

    family: (niches,) each one's, numbered from 0 by the family's first niche; −1 for a niche by itself.
    ties: for each of EVIDENCE (niches,) whether it ties the niche to another of its family. fine: how fine
    the communities are; None where no two niches belong together.
    """

    family: Ints
    ties: dict[str, Bools]
    fine: Resolution | None


def beyond_chance(carried: Carried, rate: float = FALSE) -> Links:
    """Pairs of niches that the same ones carry more often than chance, and how wholly.

    Chance is that each niche's brands (sellers) were drawn at random from all that the market has: the
    hypergeometric distribution of how many two niches share. Of all pairs in the market those are taken
    among which at most ``rate`` are false discoveries (Benjamini & Hochberg 1995). Strength: those shared ÷
    those of the niche with fewer. The most common ones make no pairs by themselves where there would be more
    than PAIRS of them.
    """
    table = sparse.csr_array(
        (np.ones(len(carried.niche)), (carried.niche, carried.holder)),
        shape=(carried.niches, max(carried.holders, 1)),
    )
    many = np.bincount(carried.holder, minlength=max(carried.holders, 1)).astype(np.float64)
    order = np.argsort(many, kind="stable")
    rare = order[np.cumsum(many[order] ** 2) <= PAIRS]
    part = sparse.csr_array(table[:, np.sort(rare)])
    shared = sparse.triu(sparse.csr_array(part @ part.T), k=1).tocoo()
    first, second = shared.row.astype(np.int64), shared.col.astype(np.int64)
    both, sizes = shared.data, carried.sizes
    chance = np.asarray(hypergeom.sf(both - 1, carried.holders, sizes[first], sizes[second]))
    pairs = carried.niches * (carried.niches - 1) // 2
    order = np.argsort(chance, kind="stable")
    passes = chance[order] <= rate * np.arange(1, len(order) + 1) / max(pairs, 1)
    kept = np.sort(order[: int(passes.nonzero()[0].max(initial=-1)) + 1])
    strength = both[kept] / np.minimum(sizes[first[kept]], sizes[second[kept]])
    return Links(first[kept], second[kept], strength)


def carried_brands(members: Members, listings: Listings) -> Carried:
    """The brands of the listings clicked now."""
    niche, listing = members.subject[members.now], members.listing[members.now]
    return Carried.of(niche, listings.brand[listing], members.subjects)


def carried_sellers(members: Members, listings: Listings, day: int) -> Carried:
    """The sellers whose offers on the listings clicked now stand on a day, given by its ordinal."""
    niche, listing = members.subject[members.now], members.listing[members.now]
    if listings.offers is None:
        return Carried.of(niche, listings.seller[listing], members.subjects)
    standing = listings.offers.standing(day)
    offer, seller = listings.offers.listing[standing], listings.offers.seller[standing]
    order = np.argsort(offer, kind="stable")
    begin = np.searchsorted(offer[order], listing, side="left")
    many = np.searchsorted(offer[order], listing, side="right") - begin
    at = np.repeat(begin - np.concatenate([[0], np.cumsum(many)[:-1]]), many) + np.arange(
        many.sum()
    )
    return Carried.of(np.repeat(niche, many), seller[order][at], members.subjects)


def find_families(
    names: Sequence[str], searches: Floats, members: Members | None, listings: Listings | None,
    category: Ints | None, day: int, *, language: str = "english", seed: int = 1,
) -> Families:  # fmt: skip
    """Families of niches: carried by the same brands and sellers beyond chance, clicked by the same buyers, or
    called by the same words in one category.

    ``names`` and ``searches`` of a year (niches,), NaN for unknown. ``category`` (niches,), −1 for none.
    ``day``: ordinal of the as-of. Of niches whose buyers click the same listings, as terms that have no
    niche yet, the most searched one stands for all, and the brands of these listings are no tie between
    them. Two niches are linked by 1 − Π(1 − strength) over what ties them; families are communities of
    these links, as fine as they are stable.
    """
    count = len(names)
    found = {"words": _by_words(names, category, language)}
    if members is not None and listings is not None:
        found["brands"] = beyond_chance(carried_brands(members, listings))
        found["sellers"] = beyond_chance(carried_sellers(members, listings, day))
        now = members.now
        clicks = sparse.csr_array(
            (members.share[now, 0], (members.subject[now], members.listing[now])),
            shape=(count, max(len(listings), 1)),
        )
        buyers = found["buyers"] = strongest_links(unit_rows(Vectors(clicks)))
        for kind in ("brands", "sellers"):
            found[kind] = _without(found[kind], buyers, count)
        alone = _leading(buyers, np.nan_to_num(searches), count)
        found = {
            kind: some.of(alone[some.first] & alone[some.second]) for kind, some in found.items()
        }
    links = _together(list(found.values()), count)
    family = np.full(count, -1, dtype=np.int64)
    ties = {kind: np.zeros(count, dtype=bool) for kind in EVIDENCE}
    if not len(links.first):
        return Families(family, ties, None)
    fine = choose_resolution(links, count, seed=seed)
    group = communities(links, count, fine.value, seed=seed)
    _, first, inverse, size = np.unique(
        group, return_index=True, return_inverse=True, return_counts=True
    )
    # Numbered by their first niches, so that the same families have the same numbers.
    place = np.empty(len(first), dtype=np.int64)
    several = np.flatnonzero(size > 1)
    place[several[np.argsort(first[several])]] = np.arange(len(several))
    grouped = size[inverse] > 1
    family[grouped] = place[inverse[grouped]]
    for kind, some in found.items():
        inside = some.of((family[some.first] == family[some.second]) & (family[some.first] >= 0))
        ties[kind][inside.first] = ties[kind][inside.second] = True
    return Families(family, ties, fine)


def _by_words(names: Sequence[str], category: Ints | None, language: str) -> Links:
    """Niches of one category whose names share words; words that name half the market tell little."""
    stems = stems_of(names, language)
    vectors = word_vectors([[stem for stem in one if stem not in EMPTY_WORDS] for one in stems])
    links = strongest_links(vectors)
    if category is None:
        return links.of(np.zeros(len(links.first), dtype=bool))
    return links.of(
        (category[links.first] == category[links.second]) & (category[links.first] >= 0)
    )


def _without(links: Links, others: Links, count: int) -> Links:
    """Links of pairs that others do not link."""
    known = np.isin(links.first * count + links.second, others.first * count + others.second)
    return links.of(~known)


def _leading(buyers: Links, searches: Floats, count: int) -> Bools:
    """Niches that stand for themselves, (niches,): the most searched of those that are one good."""
    same = buyers.of(buyers.strength >= SAME)
    graph = sparse.csr_array(
        (np.ones(len(same.first)), (same.first, same.second)), shape=(count, count)
    )
    good = connected_components(graph, directed=False)[1]
    order = np.lexsort((np.arange(count), -searches))
    first = order[np.unique(good[order], return_index=True)[1]]
    leading = np.zeros(count, dtype=bool)
    leading[first] = True
    return leading


def _together(several: Sequence[Links], count: int) -> Links:
    """All links of some pairs as one of 1 − Π(1 − strength)."""
    none = np.empty(0, dtype=np.int64)
    first, second = (
        np.concatenate([none, *(getattr(one, end) for one in several)])
        for end in ("first", "second")
    )
    strength = np.concatenate([np.empty(0), *(one.strength for one in several)])
    key, inverse = np.unique(first * count + second, return_inverse=True)
    left = np.zeros(len(key))
    np.add.at(left, inverse, np.log1p(-np.minimum(strength, 1 - 1e-9)))
    return Links(key // count, key % count, -np.expm1(left))
