"""Demand, competition and headroom: one composite indicator with its rank and the rank's band.

After the OECD/JRC Handbook on Constructing Composite Indicators (2008): parts are normalised by
percentile within the market (step 5), weighted, and aggregated geometrically (step 6), so that a
weakness in one part cannot be bought with another; competition enters inverted. Robustness is
shown by shaking the weights (step 7).

Rules for what is unknown: an index is taken over the parts that are known, with their weights
scaled up; headroom needs both demand and competition. The rank follows headroom; where nothing of a
niche's competition is known it stands at the middle of the market for the rank alone. In the draws
behind the band an unknown part falls anywhere between the market's ends, so that ignorance widens
the band instead of raising or lowering a niche.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .periods import Bools, Floats, Ints
from .settings import Settings

BINS = 2048  # Resolution of a draw's score distribution where the market is large.
CHUNK = 1024  # Niches whose draws are held in memory at once.


@dataclass(frozen=True, slots=True)
class Part:
    """One part of an index: the figure it reads and its weight.

    more_is_more: a higher figure means more demand, or more competition.
    """

    figure: str
    weight: float
    more_is_more: bool = True


DEMAND_PARTS = (
    Part("searches_52w", 0.5),
    Part("purchases_52w", 0.3),
    Part("drift_rate_year", 0.2),
)
COMPETITION_PARTS = (
    Part("competition_parts.top5_share", 0.35),
    Part("competition_parts.click_breadth", 0.20, more_is_more=False),
    Part("competition_parts.top_brand_share", 0.20),
    Part("review_barrier", 0.25),
)


@dataclass(frozen=True, slots=True)
class Headroom:
    """Indices 0–100 and ranks, (subjects,); NaN or 0 ranks where unknown.

    frontier: no other niche has both more demand and less competition.
    """

    demand: Floats
    competition: Floats
    headroom: Floats
    rank: Ints
    rank_low: Ints
    rank_high: Ints
    frontier: Bools


def percentile(values: Floats) -> Floats:
    """Mid-rank percentile within the market, 0–1 open at both ends; NaN stays NaN.

    (rank − ½) / n with ties at their mean rank, so no part is ever exactly 0.
    """
    known = ~np.isnan(values)
    out = np.full(values.shape, np.nan)
    n = int(known.sum())
    if n:
        _, place, count = np.unique(values[known], return_inverse=True, return_counts=True)
        out[known] = (np.cumsum(count) - count / 2)[place] / n
    return out


def _index(normalised: Floats, weights: Floats) -> Floats:
    """Weighted geometric mean of the known parts, (subjects,); NaN where none is known."""
    known = ~np.isnan(normalised)
    used = np.where(known, weights, 0)
    total = used.sum(axis=1)
    logs = np.log(np.where(known, normalised, 1))
    mean = (logs * used).sum(axis=1) / np.where(total > 0, total, 1)
    return np.where(total > 0, np.exp(mean), np.nan)


def rank_of(score: Floats) -> Ints:
    """Competition ranking, best first: 1 + how many score higher; equal scores share a rank.

    NaN has no rank (0).
    """
    known = ~np.isnan(score)
    rank = np.zeros(len(score), dtype=np.int64)
    _, place, count = np.unique(-score[known], return_inverse=True, return_counts=True)
    rank[known] = (np.cumsum(count) - count + 1)[place]
    return rank


def frontier(demand: Floats, competition: Floats) -> Bools:
    """The efficient frontier, (subjects,): no other niche is at least as good on both and better on one.

    Better is more ``demand`` and less ``competition``; NaN on either is never on it.
    """
    out = np.zeros(len(demand), dtype=bool)
    known = np.flatnonzero(~np.isnan(demand) & ~np.isnan(competition))
    if not known.size:
        return out
    order = known[np.lexsort((-demand[known], competition[known]))]
    level, height = competition[order], demand[order]
    starts = np.searchsorted(level, level)  # first place of each level of competition
    reached = np.concatenate([[-np.inf], np.maximum.accumulate(height)])
    # The first of a level is its highest; it must also top every lower level.
    out[order] = (height == height[starts]) & (height > reached[starts])
    return out


def rank_band(
    logs: Floats, unknown: Bools, weights: Floats, settings: Settings, seed: int = 0
) -> tuple[Ints, Ints]:
    """5th and 95th percentile of each rank over draws of shaken weights, (subjects,) each.

    ``logs`` is (subjects, parts): logarithms of normalised parts, 0.5 where ``unknown``. Weights
    are multiplied by log-normal factors and scaled back to their sum. In a market of over ``BINS``
    niches the rank within a draw is read from the draw's score histogram, to within one bin.
    """
    n, parts = logs.shape
    draws = int(settings.rank_draws)
    rng = np.random.default_rng(seed)
    shaken = weights * np.exp(rng.normal(0, settings.weight_spread, (draws, parts)))
    shaken *= weights.sum() / shaken.sum(axis=1, keepdims=True)
    shaken32 = shaken.T.astype(np.float32)
    base = logs.astype(np.float32)
    gaps: Bools = np.asarray(unknown.any(axis=1))

    def scores(rows: slice) -> NDArray[np.float32]:
        got = base[rows] @ shaken32
        which = np.flatnonzero(gaps[rows])
        if which.size:
            # Own stream a chunk, so that the result does not depend on the order of the work.
            own = np.random.default_rng((seed, rows.start))
            for part in range(parts):
                absent = which[unknown[rows][which, part]]
                if absent.size:
                    anywhere = np.log(own.uniform(0.005, 1, (absent.size, draws)))
                    got[absent] += (anywhere - np.log(0.5)).astype(np.float32) * shaken32[part]
        return got

    chunks = [slice(i, min(i + CHUNK, n)) for i in range(0, n, CHUNK)]
    edges = np.linspace(0.05, 0.95, 2)
    if n <= BINS:
        from scipy.stats import rankdata  # a second to import, which only few niches can spare

        everything = np.concatenate([scores(rows) for rows in chunks])
        ranks = rankdata(-everything, axis=0, method="min")
        low, high = np.quantile(ranks, edges, axis=1, method="nearest")
        return low.astype(np.int64), high.astype(np.int64)

    floor = np.float32(logs.min() * weights.sum() * 1.5 - 1)
    scale = np.float32((BINS - 1) / -floor)

    columns = np.arange(draws)

    def places(rows: slice) -> NDArray[np.intp]:
        """Place of each score in a table of (bins, draws): neighbouring draws lie side by side."""
        got = scores(rows)
        got *= -scale
        np.clip(got, 0, BINS - 1, out=got)
        flat = got.astype(np.intp)
        flat *= draws
        flat += columns
        return flat

    def histogram(rows: slice) -> NDArray[np.int64]:
        return np.bincount(places(rows).ravel(), minlength=draws * BINS).reshape(BINS, draws)

    with ThreadPoolExecutor(2) as pool:
        # Eight chunks are sample enough for a distribution over thousands of niches.
        sample = chunks if len(chunks) < 16 else chunks[:: len(chunks) // 8]
        seen = sum(rows.stop - rows.start for rows in sample)
        counts = sum(pool.map(histogram, sample))
        above = np.cumsum(counts, axis=0) - counts
        table = (above * (n / seen) + 1).astype(np.float32).ravel()
        ends = [round(edge * (draws - 1)) for edge in edges]

        def band(rows: slice) -> NDArray[np.float32]:
            ranks: NDArray[np.float32] = table.take(places(rows), mode="clip")
            # A whole sort, which is vectorised, is faster here than a partition, which is not.
            ranks.sort(axis=1)
            return np.asarray(ranks[:, ends])

        found = np.concatenate(list(pool.map(band, chunks)))
    return found[:, 0].astype(np.int64), found[:, 1].astype(np.int64)


def read_headroom(figures: dict[str, Floats], settings: Settings) -> Headroom:
    """Indices and ranks of one market from figures by key, each (subjects,), NaN for unknown.

    A niche is ranked when its demand is known. Ties share the better rank.
    """
    normalised = {
        part.figure: percentile(figures[part.figure] * (1 if part.more_is_more else -1))
        for part in (*DEMAND_PARTS, *COMPETITION_PARTS)
    }
    want = np.stack([normalised[p.figure] for p in DEMAND_PARTS], axis=1)
    hard = np.stack([normalised[p.figure] for p in COMPETITION_PARTS], axis=1)
    want_weights = np.array([p.weight for p in DEMAND_PARTS])
    hard_weights = np.array([p.weight for p in COMPETITION_PARTS])
    # Searches are the ground of demand: without them no other part speaks for it.
    want[np.isnan(want[:, 0])] = np.nan
    demand = _index(want, want_weights)
    openness = _index(1 - hard, hard_weights)
    headroom = np.sqrt(demand * openness)

    parts = np.concatenate([want, 1 - hard], axis=1)
    weights = np.concatenate([want_weights, hard_weights]) / 2
    unknown = np.isnan(parts)
    logs = np.log(np.where(unknown, 0.5, parts))
    score = np.where(np.isnan(demand), np.nan, demand * np.where(np.isnan(openness), 0.5, openness))
    rounded: np.ndarray = score.round(12)  # so that rounding error breaks no tie
    rank = rank_of(rounded)
    ranked = np.flatnonzero(rank)
    low = np.zeros_like(rank)
    high = np.zeros_like(rank)
    if ranked.size:
        # A part nobody in the market has is left out, or it would widen every band alike.
        used = ~unknown[ranked].all(axis=0)
        found = rank_band(logs[ranked][:, used], unknown[ranked][:, used], weights[used], settings)
        low[ranked] = np.minimum(found[0], rank[ranked])
        high[ranked] = np.maximum(found[1], rank[ranked])
    return Headroom(
        demand=demand * 100,
        competition=(1 - openness) * 100,
        headroom=headroom * 100,
        rank=rank,
        rank_low=low,
        rank_high=high,
        frontier=frontier(demand, 1 - openness),
    )
