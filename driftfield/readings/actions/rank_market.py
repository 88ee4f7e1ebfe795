"""Rank a market anew under another lens, from what its run has kept."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import CoreError, Ints, Settings
from driftfield.core.ranking import Bands, Lens, Ranking, rank_bands, rank_niches, renormalise
from driftfield.readings.matrices import PARTS, normalised_of, order_of, read_matrix
from driftfield.readings.models import Run


@dataclass(frozen=True, slots=True)
class Ranked:
    """A ranking of niches by their keys; ``order``: places of the ranked ones, best first."""

    niches: Ints
    ranking: Ranking
    bands: Bands | None
    order: Ints


def rank_market(
    run: Run, lens: Lens, *, population: Collection[int] | None = None, bands: bool = False
) -> Ranked:
    """Rank the niches of a run, or those of a population within itself, by their keys.

    Raises CoreError when the run ranked nothing.
    """
    niches, rows = order_of(run), read_matrix(run, PARTS)
    if rows is None:
        raise CoreError(f"{run.market.name} holds no counts, so its niches have no rank.")
    normalised = normalised_of(rows)
    if population is not None:
        inside = np.isin(niches, np.fromiter(population, np.int64, len(population)))
        normalised = renormalise(normalised, inside)
    ranking = rank_niches(normalised, lens)
    ranked = np.flatnonzero(ranking.rank)
    # Equal ranks stand in the order of the run, so that a page never depends on chance.
    order = ranked[np.argsort(ranking.rank[ranked], kind="stable")]
    settings = Settings.from_dict(run.settings)
    found = rank_bands(normalised, ranking, lens, settings) if bands else None
    return Ranked(niches, ranking, found, order)
