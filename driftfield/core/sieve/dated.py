"""Dates that lie near, as they are typed: “order by within 4 weeks”."""

from __future__ import annotations

import re

from .clauses import Range

# The figure of the days to each date.
_DAYS_TO = {"order by": "order_in_days", "order": "order_in_days", "open until": "act.open_days"}
_FEW = {"a": 1, "one": 1, "two": 2, "three": 3, "four": 4, "six": 6}
_DAYS = {"day": 1, "week": 7, "month": 30}
_WITHIN = re.compile(
    rf"({'|'.join(_DAYS_TO)})\s+(?:is\s+)?(?:with)?in\s+(?:the\s+)?(?:next\s+)?([0-9]{{1,4}}|{'|'.join(_FEW)})\s*"
    rf"({'|'.join(_DAYS)})s?"
)


def dated_clause(low: str) -> Range | None:
    """A condition on a date from the planning date on, from a text in small letters; None where it is none."""
    if not (soon := _WITHIN.fullmatch(low)):
        return None
    many = _FEW.get(soon[2]) or int(soon[2])
    return Range(_DAYS_TO[soon[1]], None, float(many * _DAYS[soon[3]]))
