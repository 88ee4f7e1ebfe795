"""The rank's band: how far a rank moves when the weights behind it are shaken.

OECD/JRC Handbook on Constructing Composite Indicators (2008), step 7 (uncertainty analysis).
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from driftfield.core.base import Bools, Floats, Ints, Settings, low_ranks

BINS = 2048  # Resolution of a draw's score distribution where the market is large.
CHUNK = 1024  # Niches whose draws are held in memory at once.
TOP = 10
LOWEST = 0.005  # An unknown part is drawn no lower than this percentile.
ROWS = 1024  # Rows of draws for unknown parts; each niche's part takes one of them at random.


@dataclass(frozen=True, slots=True)
class RankBand:
    """low, high: 5th and 95th percentile of each rank over the draws, (subjects,). top_ten: share of
    the draws in which the rank is ten or better."""

    low: Ints
    high: Ints
    top_ten: Floats


class _Draws:
    """Scores of subjects under shaken weights.

    Weights are multiplied by log-normal factors and scaled back to their sum.
    """

    def __init__(
        self, logs: Floats, unknown: Bools, weights: Floats, settings: Settings, seed: int
    ) -> None:
        rng = np.random.default_rng(seed)
        self.count, self.seed = int(settings.rank_draws), seed
        shaken = weights * np.exp(rng.normal(0, settings.weight_spread, (self.count, len(weights))))
        shaken *= weights.sum() / shaken.sum(axis=1, keepdims=True)
        self.shaken = shaken.T.astype(np.float32)
        self.base = logs.astype(np.float32)
        self.unknown = unknown
        self.gaps: Bools = np.asarray(unknown.any(axis=1))
        if self.gaps.any():
            # Drawing afresh for every unknown part would take half of the time of a large market.
            size = (ROWS, self.count)
            self.anywhere = np.log(rng.uniform(LOWEST, 1, size) / 0.5).astype(np.float32)

    def scores(self, rows: Ints) -> NDArray[np.float32]:
        """Scores of some subjects, (rows, draws); unknown parts fall anywhere."""
        got: NDArray[np.float32] = self.base[rows] @ self.shaken
        which = np.flatnonzero(self.gaps[rows])
        if which.size:
            # Own stream a chunk, so that the result does not depend on the order of the work.
            own = np.random.default_rng((self.seed, int(rows[0])))
            for part in range(self.unknown.shape[1]):
                absent = which[self.unknown[rows][which, part]]
                if absent.size:
                    drawn = self.anywhere[own.integers(len(self.anywhere), size=absent.size)]
                    drawn *= self.shaken[part]
                    got[absent] += drawn
        return got


def rank_band(
    logs: Floats, unknown: Bools, weights: Floats, settings: Settings, seed: int = 0
) -> RankBand:
    """Band of each rank over draws of shaken weights.

    ``logs`` is (subjects, parts): logarithms of normalised parts, that of 0.5 where ``unknown``. In
    a market of over ``BINS`` niches the rank within a draw is read from the draw's score histogram,
    to within one bin, and the top ten from the niches whose band reaches highest.
    """
    draws = _Draws(logs, unknown, weights, settings, seed)
    edges = np.linspace(0.05, 0.95, 2)
    if len(logs) <= BINS:
        everything = np.concatenate([draws.scores(rows) for rows in _chunks(len(logs))])
        ranks = low_ranks(-everything.T)
        low, high = np.quantile(ranks, edges, axis=0, method="nearest")
        return RankBand(low.astype(np.int64), high.astype(np.int64), (ranks <= TOP).mean(axis=0))
    floor = np.float32(logs.min() * weights.sum() * 1.5 - 1)
    low, high = _from_histograms(draws, len(logs), floor, edges)
    return RankBand(low, high, _top_ten(draws, low))


def _chunks(n: int) -> list[Ints]:
    return [np.arange(i, min(i + CHUNK, n)) for i in range(0, n, CHUNK)]


def _from_histograms(draws: _Draws, n: int, floor: np.float32, edges: Floats) -> tuple[Ints, Ints]:
    """Ends of the bands, ranks read from each draw's histogram of scores from ``floor`` to 0."""
    scale = np.float32((BINS - 1) / -floor)
    columns = np.arange(draws.count)

    def places(rows: Ints) -> NDArray[np.intp]:
        """Place of each score in a table of (bins, draws): neighbouring draws lie side by side."""
        got = draws.scores(rows)
        got *= -scale
        np.clip(got, 0, BINS - 1, out=got)
        flat = got.astype(np.intp)
        flat *= draws.count
        flat += columns
        return flat

    def histogram(rows: Ints) -> NDArray[np.int64]:
        size = draws.count * BINS
        return np.bincount(places(rows).ravel(), minlength=size).reshape(BINS, draws.count)

    chunks = _chunks(n)
    with ThreadPoolExecutor(2) as pool:
        # Eight chunks are sample enough for a distribution over thousands of niches.
        sample = chunks if len(chunks) < 16 else chunks[:: len(chunks) // 8]
        seen = sum(len(rows) for rows in sample)
        counts = sum(pool.map(histogram, sample))
        above = np.cumsum(counts, axis=0) - counts
        table = (above * (n / seen) + 1).astype(np.float32).ravel()
        ends = [round(edge * (draws.count - 1)) for edge in edges]

        def band(rows: Ints) -> NDArray[np.float32]:
            ranks: NDArray[np.float32] = table.take(places(rows), mode="clip")
            # A whole sort, which is vectorised, is faster here than a partition, which is not.
            ranks.sort(axis=1)
            return np.asarray(ranks[:, ends])

        found = np.concatenate(list(pool.map(band, chunks)))
    return found[:, 0].astype(np.int64), found[:, 1].astype(np.int64)


def _top_ten(draws: _Draws, low: Ints) -> Floats:
    """Share of draws in the top ten, among the niches whose bands reach highest."""
    out = np.zeros(len(low))
    rows = np.sort(np.argpartition(low, CHUNK)[:CHUNK])
    scores = draws.scores(rows)
    bar = -np.partition(-scores, TOP - 1, axis=0)[TOP - 1]
    out[rows] = (scores >= bar).mean(axis=1)
    return out
