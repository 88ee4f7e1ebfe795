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
DRAWS = 3  # Pairs of draws to compare.
MANY = 5_000  # Terms on which the resolution is chosen; of more it is random ones with all around them.
EQUAL = 0.01  # Stability within which resolutions are equally stable; the middle one is taken.
ITERATIONS = 5  # Rounds of Leiden's method; two are enough to compare draws.


@dataclass(frozen=True, slots=True)
class Resolution:
    """How fine communities are. value: mean cosine from which terms make one. stability: 0–1, how
    much is grouped and stays so, see ``choose_resolution``; of every one that was tried in ``tried``."""

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
    return _communities(_graph(links, terms), resolution, seed, ITERATIONS)


def _graph(links: Links, terms: int) -> igraph.Graph:
    edges = np.column_stack([links.first, links.second])
    return igraph.Graph(n=terms, edges=edges, edge_attrs={"strength": links.strength.tolist()})


def _communities(graph: igraph.Graph, resolution: float, seed: int, rounds: int) -> Ints:
    igraph.set_random_number_generator(random.Random(seed))
    try:
        found = graph.community_leiden(
            objective_function="CPM", weights="strength", resolution=resolution, n_iterations=rounds
        )
    finally:
        igraph.set_random_number_generator(random)
    return np.array(found.membership, dtype=np.int64)


def choose_resolution(links: Links, terms: int, *, seed: int = 1) -> Resolution:
    """The resolution at which most is grouped and stays so when terms are missing; of equals the middle one.

    Two random nine tenths of the terms are grouped at each. Their agreement is the share of pairs that are
    in one community in both, of those that are in either (Ben-Hur, Elisseeff & Guyon 2002, with Jaccard's
    coefficient), times the share of the terms that are with others at all: where little is grouped, as at
    a resolution that is too fine, the little there is agrees easily.
    """
    rng = np.random.default_rng(seed)
    if terms > MANY:
        region = _region(links, terms, rng)
        links, terms = links.among(region), int(region.sum())
    graph = _graph(links, terms)
    found: dict[float, list[float]] = {value: [] for value in RESOLUTIONS}
    for _ in range(DRAWS):
        halves = [np.flatnonzero(rng.random(terms) < KEPT) for _ in range(2)]
        graphs = [graph.induced_subgraph(half.tolist()) for half in halves]
        for value in RESOLUTIONS:
            found[value].append(_stays(graphs, halves, terms, value, seed))
    tried = {value: float(np.mean(stays)) for value, stays in found.items()}
    best = max(tried.values())
    equal = [value for value, stays in tried.items() if stays >= best - EQUAL]
    value = equal[(len(equal) - 1) // 2]
    return Resolution(value, tried[value], tried)


def _region(links: Links, terms: int, rng: np.random.Generator) -> Bools:
    """Random terms with those they are linked with, and these with theirs, about MANY of them, (terms,)."""
    region = np.zeros(terms, dtype=bool)
    degree = 2 * len(links.first) / terms + 1
    region[rng.choice(terms, int(MANY / degree) + 1, replace=False)] = True
    while True:
        beside = region.copy()
        beside[links.second[region[links.first]]] = True
        beside[links.first[region[links.second]]] = True
        if (beside == region).all() or beside.sum() > MANY:
            return region if region.sum() > MANY / 2 else beside
        region = beside


def _stays(
    graphs: list[igraph.Graph], halves: list[Ints], terms: int, resolution: float, seed: int
) -> float:
    groups, grouped = [], []
    for number, (graph, half) in enumerate(zip(graphs, halves, strict=True)):
        inside = _communities(graph, resolution, seed + number, rounds=2)
        grouped.append(float(np.mean(np.bincount(inside)[inside] > 1)) if inside.size else 0.0)
        group = np.full(terms, -1, dtype=np.int64)
        group[half] = inside
        groups.append(group)
    both = (groups[0] >= 0) & (groups[1] >= 0)
    return agreement(groups[0][both], groups[1][both]) * float(np.mean(grouped))


def agreement(one: Ints, other: Ints) -> float:
    """Jaccard's coefficient of the pairs that two groupings put together, 0–1; 1 where neither has any."""
    together = _pairs(one * (int(other.max(initial=0)) + 1) + other)
    either = _pairs(one) + _pairs(other) - together
    return together / either if either else 1.0


def _pairs(group: Ints) -> int:
    size = np.unique(group, return_counts=True)[1]
    return int((size * (size - 1) // 2).sum())
