"""Sieves: sets of conditions, what passes them, what each alone removes and what nearly passes."""

from .clauses import Clause, Columns, Peak, Range
from .grammar import any_of, clause_pattern, condition_pattern
from .names import asked, short_name
from .parse import MAX_LENGTH, parse_clause
from .sift import MAX_CONDITIONS, Condition, NotOfKindError, Sifted, check_kind, parse_sieve, sift

__all__ = [
    "MAX_CONDITIONS",
    "MAX_LENGTH",
    "Clause",
    "Columns",
    "Condition",
    "NotOfKindError",
    "Peak",
    "Range",
    "Sifted",
    "any_of",
    "asked",
    "check_kind",
    "clause_pattern",
    "condition_pattern",
    "parse_clause",
    "parse_sieve",
    "short_name",
    "sift",
]
