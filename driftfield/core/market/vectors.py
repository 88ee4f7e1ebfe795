"""Terms as rows of length 1: by the listings their buyers click, or by the words they have."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy import sparse

from driftfield.core.base import Floats, Ints
from driftfield.core.supply import Clicks, part_weights

from .data import MarketData

CLICK_WEEKS = 52  # Weeks of clicks that say which listings a term's buyers click.

Vectors = sparse.csr_array


def market_clicks(data: MarketData) -> Vectors:
    """``click_vectors`` of a market's terms; of no listing where no clicks are known."""
    if data.observed is None or data.listings is None:
        return Vectors((len(data.term_subject), 0))
    return click_vectors(
        data.observed, data.searches, data.clicks, len(data.listings.brand),
        periods=data.timeline.period.span(CLICK_WEEKS),
    )  # fmt: skip


def click_vectors(
    seen: Clicks, searches: Floats, clicks: Floats | None, listings: int, *, periods: int
) -> Vectors:
    """Shares of clicks each term gave each listing in the latest ``periods``, (terms, listings), rows
    of length 1; an empty row for a term whose clicks are not known.

    ``searches`` and ``clicks`` are (terms, length); a period counts by its clicks.
    """
    recent = seen.of(seen.at > seen.at.max(initial=-1) - periods)
    weight = recent.share * part_weights(recent, searches, clicks)
    shape = (len(searches), listings)
    return unit_rows(sparse.csr_array((weight, (recent.term, recent.listing)), shape=shape))


def word_vectors(words: Sequence[Sequence[str]]) -> Vectors:
    """Words of each term weighted by their rarity, (terms, words), rows of length 1.

    ``words`` holds each term's, each once. A word's weight is its inverse document frequency, the
    logarithm of all terms over those that have it (Spärck Jones 1972); a word of all terms has none.
    """
    place: dict[str, int] = {}
    columns = [place.setdefault(word, len(place)) for one in words for word in one]
    rows = np.repeat(np.arange(len(words)), [len(one) for one in words])
    return rarity_vectors(rows, np.array(columns, dtype=np.int64), len(words), len(place))


def rarity_vectors(term: Ints, word: Ints, terms: int, words: int) -> Vectors:
    """The same of pairs of a term and a word, each once and numbered from 0; (pairs,) both."""
    frequency = np.bincount(word, minlength=words)
    weight = np.log(terms / np.maximum(frequency, 1))
    return unit_rows(sparse.csr_array((weight[word], (term, word)), shape=(terms, words)))


def unit_rows(matrix: Vectors) -> Vectors:
    """Rows scaled to a Euclidean length of 1; empty ones stay empty."""
    matrix.sum_duplicates()
    matrix.eliminate_zeros()
    length = np.sqrt(np.asarray(matrix.multiply(matrix).sum(axis=1)).ravel())
    return sparse.csr_array(sparse.diags_array(1 / np.where(length > 0, length, 1)) @ matrix)
