"""Communities of linked terms, as fine as they stay the same when terms are missing."""

from __future__ import annotations

import random
from dataclasses import dataclass

import igraph
import numpy as np

from driftfield.core.base import Bools, Ints

from .links import Links

# Mean cosine from which terms make a community; what is stable among these is chosen.
RESOLUTIONS = (0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8)
KEPT = 0.9  # Share of the terms that a draw keeps.
DRAWS = 3  # Pairs of draws to compare, for up to MANY terms; one for more.
MANY = 20_000
EQUAL = 0.01  # Stability within which resolutions are equally stable; the middle one is taken.
ITERATIONS = 5  # Rounds of Leiden's method.


@dataclass(frozen=True, slots=True)
class Resolution:
    """How fine communities are. value: mean cosine from which terms make one. stability: 0–1, see
    ``stability``; of every one that was tried in ``tried``."""

    value: float
    stability: float
    tried: dict[float, float]


def communities(links: Links, terms: int, resolution: float, *, seed: int = 1) -> Ints:
    """The community of each term, (terms,), numbered from 0.

    Leiden's method (Traag, Waltman & van Eck 2019) on the constant Potts model (Traag, Van Dooren &
    Nesterov 2011): terms of one community are linked by more than ``resolution`` in the mean, those of
    two by less. Unlike modularity it finds small communities in large markets too. The same seed gives
    the same communities.
    """
    graph = igraph.Graph(n=terms, edges=np.column_stack([links.first, links.second]))
    igraph.set_random_number_generator(random.Random(seed))
    try:
        found = graph.community_leiden(
            objective_function="CPM", weights=links.strength.tolist(), resolution=resolution,
            n_iterations=ITERATIONS,
        )  # fmt: skip
    finally:
        igraph.set_random_number_generator(random)
    return np.array(found.membership, dtype=np.int64)


def choose_resolution(links: Links, terms: int, *, seed: int = 1) -> Resolution:
    """The resolution whose communities change least when terms are missing; of equals the middle one."""
    draws = DRAWS if terms <= MANY else 1
    tried = {value: stability(links, terms, value, draws=draws, seed=seed) for value in RESOLUTIONS}
    best = max(tried.values())
    equal = [value for value, found in tried.items() if found >= best - EQUAL]
    value = equal[(len(equal) - 1) // 2]
    return Resolution(value, tried[value], tried)


def stability(links: Links, terms: int, resolution: float, *, draws: int, seed: int = 1) -> float:
    """How much is grouped and stays so, 0–1, the mean of ``draws``.

    Two random nine tenths of the terms are grouped. Their agreement is the share of pairs that are in one
    community in both, of those that are in either (Ben-Hur, Elisseeff & Guyon 2002, with Jaccard's
    coefficient), times the share of the terms that are with others at all: where little is grouped, as at
    a resolution that is too fine, the little there is agrees easily.
    """
    rng = np.random.default_rng(seed)
    found = []
    for draw in range(draws):
        halves, grouped = [], []
        for half in range(2):
            chosen: Bools = rng.random(terms) < KEPT
            inside = communities(
                links.among(chosen), int(chosen.sum()), resolution, seed=seed + 2 * draw + half
            )
            size = np.bincount(inside)
            grouped.append(float(np.mean(size[inside] > 1)) if inside.size else 0.0)
            group = np.full(terms, -1, dtype=np.int64)
            group[chosen] = inside
            halves.append(group)
        both = (halves[0] >= 0) & (halves[1] >= 0)
        found.append(agreement(halves[0][both], halves[1][both]) * float(np.mean(grouped)))
    return float(np.mean(found))


def agreement(one: Ints, other: Ints) -> float:
    """Jaccard's coefficient of the pairs that two groupings put together, 0–1; 1 where neither has any."""
    together = _pairs(one * (int(other.max(initial=0)) + 1) + other)
    either = _pairs(one) + _pairs(other) - together
    return together / either if either else 1.0


def _pairs(group: Ints) -> int:
    size = np.unique(group, return_counts=True)[1]
    return int((size * (size - 1) // 2).sum())
