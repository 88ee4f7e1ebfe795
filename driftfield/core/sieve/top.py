"""Reading conditions on the most clicked listings: “reviews below 150 in 5 of the top 10”."""

from __future__ import annotations

import re

from driftfield.core.base import CoreError
from driftfield.core.supply import TopQuestion

from .clauses import Top
from .compared import compared
from .listing_names import TOP_FIGURES, TOP_NAMES

_COUNTED = r"(?:(?:at least|>=)\s+)?([0-9]{1,3})\s+of\s+(?:the\s+)?(?:top\s+)?([0-9]{1,3})"
_COUNTED_FIRST = re.compile(
    rf"(?:top\s+)?{_COUNTED}(?:\s+listings)?\s+(?:have\s+|has\s+|with\s+)?(.+)", re.I
)
_COUNTED_LAST = re.compile(rf"(.+?)\s+(?:in|for|on|of|at)\s+{_COUNTED}(?:\s+listings)?", re.I)
_LISTING_NAME = re.compile(
    rf"({'|'.join(re.escape(n) for n in sorted(TOP_NAMES, key=len, reverse=True))})(?![a-z_])"
)


def top_clause(text: str, currency: str, named: str | None) -> Top | None:
    """A condition on the most clicked listings; None where the text is of something else.

    ``named`` is the figure that the text begins with, if any. Raises CoreError for a question that
    lacks a part.
    """
    if found := _COUNTED_FIRST.fullmatch(text):
        least, of, rest = found.groups()
    elif found := _COUNTED_LAST.fullmatch(text):
        rest, least, of = found.groups()
    elif text.lower().startswith("top ") and named is None:
        raise CoreError(
            f"“{text}” does not say how many of the top listings: write “top 4 of 10 reviews < 120”."
        )
    else:
        return None
    low = rest.lower()
    begins = _LISTING_NAME.match(low)
    if begins is None:
        word = low.split(" ")[0]
        raise CoreError(
            f"Understood: {least} of the top {of}. Listings have no figure “{word}”. "
            f"Known: {', '.join(TOP_FIGURES)}."
        )
    figure = TOP_FIGURES[TOP_NAMES[begins[1]]]
    sign, value = compared(low[begins.end() :].strip(), figure, currency)
    if sign not in {"<", ">", "<=", ">="}:
        raise CoreError(
            f"“{rest}” does not say how {figure.label.lower()} compares: write “{figure.key} < 120”."
        )
    question = TopQuestion(
        int(least), int(of), figure.key, sign[0] == ">", value, inclusive="=" in sign
    )
    return Top(question.checked())
