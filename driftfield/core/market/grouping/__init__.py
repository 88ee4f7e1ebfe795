"""Niches from terms."""

from driftfield.core.market.words import LANGUAGES, fold, stems_of

from .categories import leading_categories
from .communities import Resolution
from .group_terms import Grouping, group_terms
from .names import leading_terms, new_ids, niche_name
from .proposal import ProposedNiches, kept_ids, propose_niches

__all__ = [
    "LANGUAGES",
    "Grouping",
    "ProposedNiches",
    "Resolution",
    "fold",
    "group_terms",
    "kept_ids",
    "leading_categories",
    "leading_terms",
    "new_ids",
    "niche_name",
    "propose_niches",
    "stems_of",
]
