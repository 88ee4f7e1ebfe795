"""Niches from terms."""

from driftfield.core.market.words import LANGUAGES, fold, stems_of

from .communities import Resolution
from .group_terms import Grouping, group_terms
from .names import leading_terms, new_ids, niche_name

__all__ = [
    "LANGUAGES",
    "Grouping",
    "Resolution",
    "fold",
    "group_terms",
    "leading_terms",
    "new_ids",
    "niche_name",
    "stems_of",
]
