"""Demand, competition and headroom: composites, ranks and rank bands under a lens."""

from .headroom import (
    LASTING,
    Bands,
    Normalised,
    Ranking,
    high_under_all,
    normalise,
    percentile,
    rank_bands,
    rank_niches,
    renormalise,
)
from .index import Index, read_index
from .lens import (
    DEFAULT_LENS,
    HEAVIEST,
    READY_FOR_CATEGORIES,
    READY_LENSES,
    Lens,
    lens_named,
    lens_of_settings,
)
from .parts import (
    COMPETITION,
    DEMAND,
    OF_CATEGORIES,
    OPENNESS,
    PARTS,
    SETTLEDNESS,
    Part,
)

__all__ = [
    "COMPETITION",
    "DEFAULT_LENS",
    "DEMAND",
    "HEAVIEST",
    "LASTING",
    "OF_CATEGORIES",
    "OPENNESS",
    "PARTS",
    "READY_FOR_CATEGORIES",
    "READY_LENSES",
    "SETTLEDNESS",
    "Bands",
    "Index",
    "Lens",
    "Normalised",
    "Part",
    "Ranking",
    "high_under_all",
    "lens_named",
    "lens_of_settings",
    "normalise",
    "percentile",
    "rank_bands",
    "rank_niches",
    "read_index",
    "renormalise",
]
