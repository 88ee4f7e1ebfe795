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

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings, Tally, to_digits

from .lens import READY_LENSES, Lens
from .parts import DEMAND, GROUND, PARTS, SIDE
from .rank_band import RankBand, Shaken, rank_band

LASTING = "lasting_share"
TENTH_AT_LEAST = 10  # Ranks that are high in a market however small.
SCORE_DIGITS = 6  # Decimals of a score; beyond them niches tie, so that counts by score stay small.


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
    told = _within(values, population)
    return Tally.of(told).percentile(told)


def _within(values: Floats, population: Bools | None) -> Floats:
    """Values as they are ranked: rounded, NaN outside the population."""
    told = to_digits(values)
    return told if population is None else np.where(population, told, np.nan)


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
    return Tally.of(score).rank(score)


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


def part_values(figures: dict[str, Floats], population: Bools | None = None) -> Floats:
    """The parts of niches as they are ranked, (niches, parts), the more the better for the entrant.

    Made from figures by key, each (niches,), NaN for unknown; besides the parts' own ``lasting_share`` is
    needed.
    """
    columns = []
    for part in PARTS:
        up = part.more_is_more == (part.side == DEMAND)
        given = figures[part.figure] * (figures[LASTING] if part.lasting else 1)
        columns.append(_within(given * (1 if up else -1), population))
    return np.stack(columns, axis=1)


def tallies_of(values: Floats) -> list[Tally]:
    """How often each value of each part occurs; ``values`` as of ``part_values``."""
    return [Tally.of(column) for column in values.T]


def normalised_by(values: Floats, tallies: Sequence[Tally]) -> Normalised:
    """Percentiles of the parts in a market of which ``tallies`` tell; ``values`` are some of its niches'."""
    found = np.stack(
        [one.percentile(column) for one, column in zip(tallies, values.T, strict=True)], axis=1
    )
    found[np.isnan(found[:, GROUND])] = np.nan
    known = ~np.isnan(found)
    return Normalised(np.log(np.where(known, found, 1)), known)


def normalise(figures: dict[str, Floats], population: Bools | None = None) -> Normalised:
    """Percentiles of the parts of all niches of a market; arguments as of ``part_values``."""
    values = part_values(figures, population)
    return normalised_by(values, tallies_of(values))


def renormalise(normalised: Normalised, population: Bools) -> Normalised:
    """Percentiles within a population, (niches,), from those within the market.

    Percentiles keep the order of what they were made from, so nothing else is needed.
    """
    known = normalised.known & population[:, None]
    values = np.where(known, normalised.logs, np.nan)
    for column in range(values.shape[1]):
        values[:, column] = percentile(values[:, column], population)
    return Normalised(np.log(np.where(known, values, 1)), known)


def _weighted(values: Floats, weights: Floats) -> Floats:
    """Weighted sums of rows, added up column by column, so that a row's does not depend on the others."""
    out = np.zeros(len(values))
    for column, weight in zip(values.T, weights, strict=True):
        out += column * weight
    return out


def _index(logs: Floats, known: Bools, weights: Floats) -> tuple[Floats, Floats]:
    """Weighted mean of the known logarithms and the weight that is known, (niches,) each."""
    used = _weighted(known.astype(np.float64), weights)
    # Unknown logarithms are 0 and so add nothing.
    return np.where(used > 0, _weighted(logs, weights) / np.where(used > 0, used, 1), np.nan), used


@dataclass(frozen=True, slots=True)
class Scores:
    """What niches come to by themselves under a lens, before they have ranks, (niches,).

    score: what is ranked, the higher the better, NaN for unknown. The rest as of ``Ranking``.
    """

    demand: Floats
    competition: Floats
    headroom: Floats
    score: Floats
    contributions: Floats
    known: Floats

    @property
    def front(self) -> Front:
        """Who is on the frontier among these."""
        on = frontier(self.demand, self.competition)
        return Front(np.unique(np.stack([self.demand[on], self.competition[on]], axis=1), axis=0))


@dataclass(frozen=True, slots=True)
class Front:
    """The pairs of demand and competition on the efficient frontier, (pairs, 2)."""

    pairs: Floats

    @classmethod
    def together(cls, fronts: Iterable[Front]) -> Front:
        """The frontier of all of whom several are the frontiers."""
        pairs = np.unique(np.concatenate([one.pairs for one in fronts]), axis=0)
        return cls(pairs[frontier(pairs[:, 0], pairs[:, 1])])

    def has(self, scores: Scores) -> Bools:
        """Which niches are on it, (niches,)."""
        out = np.zeros(len(scores.demand), dtype=bool)
        for demand, competition in self.pairs.tolist():
            out |= (scores.demand == demand) & (scores.competition == competition)
        return out


def score_niches(normalised: Normalised, lens: Lens) -> Scores:
    """What niches come to under a lens. A niche is ranked when its searches are known."""
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
    score: Floats = lens.balance * sides[0] + (1 - lens.balance) * open_or_middle
    return Scores(
        demand=demand * 100,
        competition=(1 - openness) * 100,
        headroom=headroom * 100,
        score=score.round(SCORE_DIGITS),
        contributions=contributions,
        known=np.where(known.any(axis=1), used[0] + used[1], np.nan),
    )


def ranking_of(scores: Scores, tally: Tally, front: Front) -> Ranking:
    """Ranks in a market of whose scores ``tally`` tells, and ``front`` of its frontier.

    Ties share the better rank. ``scores`` are of some of its niches.
    """
    return Ranking(
        demand=scores.demand, competition=scores.competition, headroom=scores.headroom,
        rank=tally.rank(scores.score), frontier=front.has(scores), contributions=scores.contributions,
        known=scores.known,
    )  # fmt: skip


def rank_niches(normalised: Normalised, lens: Lens) -> Ranking:
    """Indices, ranks and contributions of all niches of a market under a lens; see ``ranking_of``."""
    scores = score_niches(normalised, lens)
    return ranking_of(scores, Tally.of(scores.score), scores.front)


def score_under_all(normalised: Normalised) -> list[Scores]:
    """What niches come to under every ready lens."""
    return [score_niches(normalised, lens) for lens in READY_LENSES]


def high_among(under: Sequence[Scores], tallies: Sequence[Tally]) -> Bools:
    """Find who ranks in the best tenth, ten at least, under every ready lens, (niches,).

    ``under`` are the scores of some niches of a market, of all of whose scores ``tallies`` tell. A lens of
    which not half of the weight is known for a niche says nothing of it, and then it is not high under all.
    """
    high = np.ones(len(under[0].score), dtype=bool)
    for scores, tally in zip(under, tallies, strict=True):
        rank, tenth = tally.rank(scores.score), max(TENTH_AT_LEAST, tally.total // 10)
        with np.errstate(invalid="ignore"):
            high &= (rank > 0) & (rank <= tenth) & (scores.known >= 0.5)
    return high


def high_under_all(normalised: Normalised) -> Bools:
    """Who ranks high under every ready lens among all niches of a market; see ``high_among``."""
    under = score_under_all(normalised)
    return high_among(under, [Tally.of(scores.score) for scores in under])


def known_parts(normalised: Normalised, ranked: Bools) -> Bools:
    """Which parts are known of any ranked niche, (parts,)."""
    return np.asarray(normalised.known[ranked].any(axis=0))


def shaken_of(normalised: Normalised, ranked: Bools, used: Bools) -> Shaken:
    """What is drawn for the ranked niches, by the parts that are ``used``."""
    unknown = ~normalised.known[ranked]
    logs = np.where(unknown, np.log(0.5), normalised.logs[ranked])
    return Shaken(logs[:, used], unknown[:, used])


def bands_of(rank: Ints, found: RankBand) -> Bands:
    """The bands of niches; ``found`` is of the ranked ones."""
    ranked = np.flatnonzero(rank)
    low, high = np.zeros_like(rank), np.zeros_like(rank)
    top_ten = np.full(len(rank), np.nan)
    low[ranked] = np.minimum(found.low, rank[ranked])
    high[ranked] = np.maximum(found.high, rank[ranked])
    top_ten[ranked] = found.top_ten
    return Bands(low, high, top_ten)


def rank_bands(normalised: Normalised, ranking: Ranking, lens: Lens, settings: Settings) -> Bands:
    """How far the ranks of all niches of a market move when the lens's weights are shaken."""
    weights = lens.scaled()
    # A part nobody in the market has is left out, or it would widen every band alike.
    used = known_parts(normalised, ranking.rank > 0) & (weights > 0)
    shaken = shaken_of(normalised, ranking.rank > 0, used)
    if not len(shaken):
        nobody = np.empty(0, dtype=np.int64)
        return bands_of(ranking.rank, RankBand(nobody, nobody, np.empty(0)))
    found = rank_band(shaken.logs, shaken.unknown, weights[used], settings)
    return bands_of(ranking.rank, found)
