"""Demand, competition and headroom: composites, ranks and rank bands under a lens."""

from .headroom import (
    LASTING,
    Bands,
    Normalised,
    Ranking,
    normalise,
    rank_bands,
    rank_niches,
    renormalise,
)
from .lens import COMPETITION, DEFAULT_LENS, DEMAND, HEAVIEST, PARTS, Lens

__all__ = [
    "COMPETITION",
    "DEFAULT_LENS",
    "DEMAND",
    "HEAVIEST",
    "LASTING",
    "PARTS",
    "Bands",
    "Lens",
    "Normalised",
    "Ranking",
    "normalise",
    "rank_bands",
    "rank_niches",
    "renormalise",
]
