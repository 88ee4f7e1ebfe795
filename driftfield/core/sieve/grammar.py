"""The grammar of conditions as one regular expression (ECMA-262 and Python read it alike).

Every text it matches is a condition. What is typed may be freer (“price 12 to 45”, “over”, several blanks):
``parse_clause`` reads that too, and says the condition in this form.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from driftfield.core.market import FIGURES_BY_KEY, FigureType
from driftfield.core.signals import SIGNALS_BY_KEY
from driftfield.core.supply import LISTING_KEYS, TOP_LISTINGS_KEPT

from .clauses import HOW, MONTHS
from .names import NAMES
from .parse import CHOICES, MAX_CORNERS

_NUMBER = r"-?[0-9]{1,8}(\.[0-9]{1,6})?[km%]?"
_SHARE = r"(0(\.[0-9]{1,9})?|1|([0-9]{1,2}(\.[0-9]{1,9})?|100)%)"
# A word at least, and no quotation mark before it.
_WORDS = r"[^\s\"'“”\u0000\u001c-\u001f\u0085][^\u0000]{0,199}"


def any_of(words: Iterable[str]) -> str:
    """One of some words, as they are."""
    return f"({'|'.join(plain(word) for word in words)})"


def plain(word: str) -> str:
    """A word that stands for itself; ECMA-262 knows no other escapes than these."""
    return re.sub(r"([\\^$.*+?()[\]{}|])", r"\\\1", word)


def clause_pattern() -> str:
    """The whole grammar, anchored at both ends."""
    return f"^({'|'.join([*_figures(), *_others()])})$"


def condition_pattern() -> str:
    """The same, with a leading ~ before a condition that is off."""
    return clause_pattern().replace("^", "^~?", 1)


def _figures() -> list[str]:
    """Conditions on a figure: a range, or one of its words."""
    numbers: list[str] = []
    shares: list[str] = []
    forms: list[str] = []
    for name, key in NAMES.items():
        figure = FIGURES_BY_KEY[key]
        if figure.type is FigureType.FLAG or figure.choices:
            words = any_of(("no", "yes") if figure.type is FigureType.FLAG else figure.choices)
            forms.append(f"{plain(name)} = {words}( or {words}){{0,9}}")
        else:
            (shares if figure.type is FigureType.SHARE else numbers).append(name)
    for names, value in ((numbers, _NUMBER), (shares, _SHARE)):
        compared = rf"(>=|<=|>|<|=) {value}|({value}\.\.({value})?|\.\.{value})"
        forms.append(f"{any_of(names)} ({compared})")
    return forms


def _others() -> list[str]:
    months, choices = any_of(MONTHS), any_of(CHOICES)
    number = r"-?[0-9]{1,12}(\.[0-9]{1,6})?"
    across = r"(100|[0-9]{1,2}(\.[0-9]{1,4})?)"
    up = r"(100|[1-9][0-9]?(\.[0-9]{1,4})?|0\.[0-9]{0,3}[1-9])"
    # No more of them than are looked at.
    tops = "|".join(
        f"{k} of {any_of(map(str, range(k, TOP_LISTINGS_KEPT + 1)))}"
        for k in range(1, TOP_LISTINGS_KEPT + 1)
    )
    return [
        f"peak in {months}( or {months}){{0,11}}",
        f"(no )?signal {any_of(SIGNALS_BY_KEY)}",
        f"terms {any_of(HOW)} {_WORDS}",
        "term words ((>=|>|<=|=) [1-9][0-9]?|< [2-9]|[1-9][0-9]?\\.\\.([1-9][0-9]?)?)",
        f"category {_WORDS}",
        f"decided {choices}( or {choices}){{0,3}}",
        f"drawn( {across}:{up}){{3,{MAX_CORNERS}}}",
        f"top ({tops}) {any_of(LISTING_KEYS)} [<>] {number}",
    ]
