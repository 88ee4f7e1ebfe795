"""Demand, competition and headroom: one composite indicator, its rank and what it is made of.

After the OECD/JRC Handbook on Constructing Composite Indicators (2008): parts are normalised by
percentile within the chosen population (step 5), weighted, and aggregated geometrically (step 6), so
that a weakness in one part cannot be bought with another; competition enters inverted. Robustness is
shown by shaking the weights (step 7, in ``rank_band``).

Rules for what is unknown: an index is taken over the parts that are known, with their weights
scaled up, and ``known`` says how much of the lens that is; headroom needs both demand and
competition. The rank follows headroom; where nothing of a niche's competition is known it stands at
the middle of the market for the rank alone. In the draws behind the band an unknown part falls
anywhere between the market's ends, so that ignorance widens the band instead of raising or lowering
a niche.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings

from .lens import READY_LENSES, Lens
from .parts import DEMAND, GROUND, PARTS, SIDE
from .rank_band import rank_band

LASTING = "lasting_share"
TENTH_AT_LEAST = 10  # Ranks that are high in a market however small.


@dataclass(frozen=True, slots=True)
class Normalised:
    """Percentiles of every part, kept so that another lens needs no more than a product.

    logs: (niches, parts) their logarithms, in favour of the entrant, 0 where unknown. known:
    (niches, parts). A niche without searches, or outside the population, has no part known.
    """

    logs: Floats
    known: Bools


@dataclass(frozen=True, slots=True)
class Ranking:
    """Indices 0–100 and ranks, (niches,); NaN or 0 ranks where unknown.

    frontier: no other niche has both more demand and less competition. contributions: (niches,
    parts), the natural logarithm by which each part lifts headroom above the middle of the market,
    50, or lowers it; they add up to ln(headroom / 50). NaN for unknown parts. known: share of the
    lens's weight whose parts are known, 0–1.
    """

    demand: Floats
    competition: Floats
    headroom: Floats
    rank: Ints
    frontier: Bools
    contributions: Floats
    known: Floats


@dataclass(frozen=True, slots=True)
class Bands:
    """5th and 95th percentile of the rank over the draws and the share of draws in the top ten."""

    rank_low: Ints
    rank_high: Ints
    top_ten: Floats


def percentile(values: Floats, population: Bools | None = None) -> Floats:
    """Compute the mid-rank percentile within a population.

    (rank − ½) / n with ties at their mean rank, so no part is ever exactly 0. Values that agree to SAME
    significant digits tie: beyond those a sum differs by the order in which it was added up.

    Parameters
    ----------
    values : array (subjects,)
        Figures in any unit, NaN where unknown.
    population : bool array (subjects,), optional
        Who is ranked among whom; by default all.

    Returns
    -------
    array (subjects,)
        Percentiles, 0–1 open at both ends; NaN where unknown or outside the population.
    """
    known = ~np.isnan(values)
    if population is not None:
        known &= population
    out = np.full(values.shape, np.nan)
    n = int(known.sum())
    if n:
        told = _to_digits(values[known])
        _, place, count = np.unique(told, return_inverse=True, return_counts=True)
        out[known] = (np.cumsum(count) - count / 2)[place] / n
    return out


SAME = 6


def _to_digits(values: Floats) -> Floats:
    """Values rounded to SAME significant digits."""
    size = np.abs(values)
    whole = np.floor(np.log10(np.where(size > 0, size, 1)))
    # Within what a power of ten can be: figures are far from its ends.
    scale = 10.0 ** np.clip(SAME - 1 - whole, -300, 300)
    rounded: Floats = np.round(values * scale) / scale
    return rounded


def rank_of(score: Floats) -> Ints:
    """Rank scores, best first: 1 + how many score higher.

    Parameters
    ----------
    score : array (subjects,)
        Scores, the higher the better, NaN where unknown.

    Returns
    -------
    int array (subjects,)
        Competition ranks: equal scores share one; 0 where the score is unknown.
    """
    known = ~np.isnan(score)
    rank = np.zeros(len(score), dtype=np.int64)
    _, place, count = np.unique(-score[known], return_inverse=True, return_counts=True)
    rank[known] = (np.cumsum(count) - count + 1)[place]
    return rank


def frontier(demand: Floats, competition: Floats) -> Bools:
    """Find the efficient frontier: no other niche is at least as good on both and better on one.

    Parameters
    ----------
    demand, competition : array (subjects,)
        Indices, 0–100; more demand and less competition are better.

    Returns
    -------
    bool array (subjects,)
        Who is on it; where either is unknown, nobody is.
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


def normalise(figures: dict[str, Floats], population: Bools | None = None) -> Normalised:
    """Percentiles of the parts of niches from figures by key, each (niches,), NaN for unknown.

    Besides the parts' own figures ``lasting_share`` is needed.
    """
    n = len(figures[PARTS[GROUND].figure])
    values = np.empty((n, len(PARTS)))
    for column, part in enumerate(PARTS):
        up = part.more_is_more == (part.side == DEMAND)
        given = figures[part.figure] * (figures[LASTING] if part.lasting else 1)
        values[:, column] = percentile(given * (1 if up else -1), population)
    values[np.isnan(values[:, GROUND])] = np.nan
    known = ~np.isnan(values)
    return Normalised(np.log(np.where(known, values, 1)), known)


def renormalise(normalised: Normalised, population: Bools) -> Normalised:
    """Percentiles within a population, (niches,), from those within the market.

    Percentiles keep the order of what they were made from, so nothing else is needed.
    """
    known = normalised.known & population[:, None]
    values = np.where(known, normalised.logs, np.nan)
    for column in range(values.shape[1]):
        values[:, column] = percentile(values[:, column], population)
    return Normalised(np.log(np.where(known, values, 1)), known)


def _index(logs: Floats, known: Bools, weights: Floats) -> tuple[Floats, Floats]:
    """Weighted mean of the known logarithms and the weight that is known, (niches,) each."""
    used = known @ weights
    # Unknown logarithms are 0 and so add nothing.
    return np.where(used > 0, logs @ weights / np.where(used > 0, used, 1), np.nan), used


def rank_niches(normalised: Normalised, lens: Lens) -> Ranking:
    """Indices, ranks and contributions under a lens. Ties share the better rank.

    A niche is ranked when its searches are known.
    """
    weights = lens.scaled()
    logs, known = normalised.logs, normalised.known
    sides, used = [], []
    for side in (SIDE, ~SIDE):
        mean, weight = _index(logs, known, np.where(side, weights, 0))
        sides.append(mean)
        used.append(weight)
    demand, openness = np.exp(sides[0]), np.exp(sides[1])
    headroom = np.exp(lens.balance * sides[0] + (1 - lens.balance) * sides[1])
    share = np.where(SIDE, lens.balance, 1 - lens.balance) * weights
    whole = np.where(SIDE, used[0][:, None], used[1][:, None])
    contributions = np.where(
        known, share / np.where(whole > 0, whole, 1) * (logs - np.log(0.5)), np.nan
    )
    open_or_middle = np.where(np.isnan(openness), np.log(0.5), sides[1])
    score = lens.balance * sides[0] + (1 - lens.balance) * open_or_middle
    rounded: np.ndarray = score.round(12)  # so that rounding error breaks no tie
    return Ranking(
        demand=demand * 100,
        competition=(1 - openness) * 100,
        headroom=headroom * 100,
        rank=rank_of(rounded),
        frontier=frontier(demand, 1 - openness),
        contributions=contributions,
        known=np.where(known.any(axis=1), used[0] + used[1], np.nan),
    )


def high_under_all(normalised: Normalised) -> Bools:
    """Find who ranks in the best tenth, ten at least, under every ready lens, (niches,).

    A lens of which not half of the weight is known for a niche says nothing of it, and then it is not
    high under all.
    """
    high = np.ones(len(normalised.logs), dtype=bool)
    for lens in READY_LENSES:
        found = rank_niches(normalised, lens)
        tenth = max(TENTH_AT_LEAST, int((found.rank > 0).sum()) // 10)
        with np.errstate(invalid="ignore"):
            high &= (found.rank > 0) & (found.rank <= tenth) & (found.known >= 0.5)
    return high


def rank_bands(normalised: Normalised, ranking: Ranking, lens: Lens, settings: Settings) -> Bands:
    """How far the ranks move when the lens's weights are shaken."""
    rank = ranking.rank
    ranked = np.flatnonzero(rank)
    low, high = np.zeros_like(rank), np.zeros_like(rank)
    top_ten = np.full(len(rank), np.nan)
    if ranked.size:
        weights = lens.scaled()
        unknown = ~normalised.known[ranked]
        # A part nobody in the market has is left out, or it would widen every band alike.
        used = ~unknown.all(axis=0) & (weights > 0)
        logs = np.where(unknown, np.log(0.5), normalised.logs[ranked])
        found = rank_band(logs[:, used], unknown[:, used], weights[used], settings)
        low[ranked] = np.minimum(found.low, rank[ranked])
        high[ranked] = np.maximum(found.high, rank[ranked])
        top_ten[ranked] = found.top_ten
    return Bands(low, high, top_ten)
