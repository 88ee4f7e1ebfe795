"""Sieves: sets of conditions, what passes them, what each alone removes and what nearly passes."""

from .asked import Columns
from .clauses import InCategory, Peak, Range, Top
from .complete import CategoryName, Completion, complete, figure_named
from .grammar import any_of, clause_pattern, condition_pattern
from .joined import Clause
from .names import NUMBERS, asked, short_name
from .of_kind import NotOfKindError, check_kind
from .parse import MAX_LENGTH, Typed, parse_clause, read_condition, read_typed
from .quantities import AskedBackError
from .sift import (
    MAX_CONDITIONS,
    Blocked,
    Condition,
    Sifted,
    Way,
    holds_for,
    kind_of_sieve,
    parse_sieve,
    sift,
    why_nothing,
)

__all__ = [
    "MAX_CONDITIONS",
    "MAX_LENGTH",
    "NUMBERS",
    "AskedBackError",
    "Blocked",
    "CategoryName",
    "Clause",
    "Columns",
    "Completion",
    "Condition",
    "InCategory",
    "NotOfKindError",
    "Peak",
    "Range",
    "Sifted",
    "Top",
    "Typed",
    "Way",
    "any_of",
    "asked",
    "check_kind",
    "clause_pattern",
    "complete",
    "condition_pattern",
    "figure_named",
    "holds_for",
    "kind_of_sieve",
    "parse_clause",
    "parse_sieve",
    "read_condition",
    "read_typed",
    "short_name",
    "sift",
    "why_nothing",
]
