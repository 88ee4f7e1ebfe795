"""Reading conditions on an attribute of listings and on who held their lead offers."""

from __future__ import annotations

import re

from driftfield.core.base import CoreError

from .clauses import Atom
from .joined import Not, deny
from .of_listings import HasAttribute, LedBy
from .pieces import name_looked_for

HAS = re.compile(
    r"attribute\s+(\w{1,100})\s*(?:(is\s+not\b|isn[’']t\b|not\b|!=|≠)\s*|(?:is\b|=|:)\s*)?(.*)",
    re.I | re.S,
)
LED = re.compile(
    r"led(?:\s*(?:for\s+)?(?:>=|≥|>|at least|over)?\s*([0-9]{1,3}(?:\.[0-9]+)?)\s*%(?:\s+of [a-z ]+?)?)?"
    r"\s+by\s+(.*)",
    re.I | re.S,
)


def attribute_clause(found: re.Match[str], text: str) -> Atom | Not:
    """The condition that a match of HAS is, or its denial. Raises CoreError without a value."""
    value = name_looked_for(found[3])
    if not value:
        raise CoreError(f"“{text}” names no value: write it as in “attribute colour is green”.")
    clause = HasAttribute(found[1].lower(), value)
    return deny(clause) if found[2] else clause


def led_clause(found: re.Match[str], text: str) -> LedBy:
    """The condition that a match of LED is. Raises CoreError without a seller, or for more than all."""
    seller, share = name_looked_for(found[2]), float(found[1] or 0)
    if not seller:
        raise CoreError(f"“{text}” names no seller: write it as in “led >= 50% by s014”.")
    if share > 100:
        raise CoreError(f"“{text}”: nobody holds a lead offer for more than 100% of the time.")
    return LedBy(seller, share / 100)
