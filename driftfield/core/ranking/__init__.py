"""Demand, competition and headroom: composites, ranks and rank bands under a lens."""

from .headroom import (
    LASTING,
    Bands,
    Normalised,
    Ranking,
    high_under_all,
    normalise,
    rank_bands,
    rank_niches,
    renormalise,
)
from .index import OPENNESS, SETTLEDNESS, Index, IndexPart, read_index
from .lens import (
    COMPETITION,
    DEFAULT_LENS,
    DEMAND,
    HEAVIEST,
    PARTS,
    READY_LENSES,
    Lens,
    lens_named,
)

__all__ = [
    "COMPETITION",
    "DEFAULT_LENS",
    "DEMAND",
    "HEAVIEST",
    "LASTING",
    "OPENNESS",
    "PARTS",
    "READY_LENSES",
    "SETTLEDNESS",
    "Bands",
    "Index",
    "IndexPart",
    "Lens",
    "Normalised",
    "Ranking",
    "high_under_all",
    "lens_named",
    "normalise",
    "rank_bands",
    "rank_niches",
    "read_index",
    "renormalise",
]
