"""Niches from terms."""

from .communities import Resolution
from .group_terms import Grouping, group_terms
from .names import leading_terms, new_ids, niche_name
from .words import LANGUAGES, fold, stems_of

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
