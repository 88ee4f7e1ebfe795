"""How strongly terms belong together: by the listings their buyers click, or by the words they share."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import sparse

from driftfield.core.base import Bools, Floats, Ints
from driftfield.core.market.vectors import Vectors

MOST = 30  # Strongest links that are looked for from each term.
LEAST = 0.05  # Cosine under which two terms are not linked.
# What more terms than this have in common links none of them by itself: a listing under every term, a
# word such as “large”. It would cost the square of that number of pairs.
COMMON = 2_000
BLOCK = 4_096  # Terms whose links are sought at once.


@dataclass(frozen=True, slots=True)
class Links:
    """Pairs of terms, each once and in order.

    first, second: (links,) places of the two terms, first < second. strength: (links,) their cosine, 0–1.
    """

    first: Ints
    second: Ints
    strength: Floats

    def among(self, chosen: Bools) -> Links:
        """The links between chosen terms, which are numbered anew; ``chosen`` is (terms,)."""
        inside = chosen[self.first] & chosen[self.second]
        place = np.cumsum(chosen) - 1
        return Links(
            place[self.first[inside]], place[self.second[inside]], self.strength[inside]
        )  # fmt: skip

    def of(self, rows: Bools) -> Links:
        """Some of the links; ``rows`` is (links,)."""
        return Links(self.first[rows], self.second[rows], self.strength[rows])


def strongest_links(vectors: Vectors, *, most: int = MOST, least: float = LEAST) -> Links:
    """Each term's ``most`` strongest links of a cosine of ``least`` or more.

    ``vectors`` is (terms, features), rows of length 1. Sought are pairs that are that near by features
    which at most COMMON terms have; in the strength all of their features count.
    """
    found = [
        _of_block(vectors, _rare(vectors), begin, most, least)
        for begin in range(0, vectors.shape[0], BLOCK)
    ]
    none = np.empty(0, dtype=np.int64)
    row, column = (np.concatenate([none, *(one[i] for one in found)]) for i in (0, 1))
    key = np.unique(np.minimum(row, column) * vectors.shape[0] + np.maximum(row, column))
    first, second = np.divmod(key, max(vectors.shape[0], 1))
    strength = np.minimum(paired(vectors, first, second), 1)
    kept = strength >= least
    return Links(first[kept], second[kept], strength[kept])


def paired(vectors: Vectors, first: Ints, second: Ints) -> Floats:
    """Cosine of each pair of rows, (pairs,)."""
    parts = [
        np.asarray(vectors[a].multiply(vectors[b]).sum(axis=1)).ravel()
        for a, b in zip(_parts(first), _parts(second), strict=True)
    ]
    return np.concatenate([np.empty(0), *parts])


def _parts(places: Ints) -> list[Ints]:
    return [places[i : i + 100_000] for i in range(0, len(places), 100_000)]


def _rare(vectors: Vectors) -> Vectors:
    """The features that few enough terms have."""
    counts = np.bincount(vectors.indices, minlength=vectors.shape[1])
    if counts.max(initial=0) <= COMMON:
        return vectors
    return sparse.csr_array(vectors @ sparse.diags_array((counts <= COMMON).astype(np.float64)))


def _of_block(
    vectors: Vectors, rare: Vectors, begin: int, most: int, least: float
) -> tuple[Ints, Ints]:
    """The strongest of a block of terms among those that share something rare."""
    block = sparse.csr_array(rare[begin : begin + BLOCK] @ rare.T)
    rows = np.repeat(np.arange(block.shape[0]), np.diff(block.indptr)) + begin
    other = (rows != block.indices) & (block.data >= least)
    rows, columns, strength = rows[other], block.indices[other], block.data[other]
    order = np.lexsort((columns, -strength, rows))
    rows, columns, strength = rows[order], columns[order], strength[order]
    start = np.searchsorted(rows, rows)
    kept = np.arange(len(rows)) - start < most
    return rows[kept], columns[kept]
