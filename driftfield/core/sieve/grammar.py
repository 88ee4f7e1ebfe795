"""The grammar of conditions as one regular expression (ECMA-262 and Python read it alike).

Every text it matches is a condition. What is typed may be freer (“price 12 to 45”, “over”, several blanks):
``parse_clause`` reads that too, and says the condition in this form.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from driftfield.core.market import FIGURES_BY_KEY, FigureType
from driftfield.core.signals import SIGNALS_BY_KEY
from driftfield.core.supply import TOP_LISTINGS_KEPT

from .asked import HOW, MONTHS, ROLES
from .listing_names import TOP_FIGURES
from .names import ALSO, NUMBER_NAMES, WORD_NAMES, words_of
from .pieces import MAX_CORNERS
from .word_clauses import CHOICES

_NUMBER = r"-?[0-9]{1,8}(\.[0-9]{1,6})?[km]?"
_SHARE = r"(0(\.[0-9]{1,9})?|1|([0-9]{1,2}(\.[0-9]{1,9})?|100)%)"
# From as much again on in percent alone.
_CHANGE = r"-?(0(\.[0-9]{1,9})?|[0-9]{1,6}(\.[0-9]{1,6})?%)"
# A word that is neither “or” nor begins with a quotation mark; of blanks it holds none.
_BLANK = r"\s\u0000\u001c-\u001f\u0085"
_LETTER = rf"[^{_BLANK}\"'“”|]"
_WORD = (
    rf"([^{_BLANK}\"'“”|oO]{_LETTER}*|[oO]|[oO][^{_BLANK}\"'“”|rR]{_LETTER}*|[oO][rR]{_LETTER}+)"
)
_WORDS = rf"{_WORD}( {_WORD}){{0,20}}"


def any_of(words: Iterable[str]) -> str:
    """One of some words, as they are."""
    return f"({'|'.join(plain(word) for word in words)})"


def plain(word: str) -> str:
    """A word that stands for itself; ECMA-262 knows no other escapes than these."""
    return re.sub(r"([\\^$.*+?()[\]{}|])", r"\\\1", word)


def clause_pattern() -> str:
    """The whole grammar, anchored at both ends."""
    one = f"(not )?({'|'.join([*_figures(), *_others()])})"
    return f"^{one}( or {one}){{0,3}}$"


def condition_pattern() -> str:
    """The same, with a leading ~ before a condition that is off."""
    return clause_pattern().replace("^", "^~?", 1)


def _figures() -> list[str]:
    """Conditions on a figure: a range, or one of its words."""
    forms = [
        f"{plain(name)} = {words}( or {words}){{0,9}}"
        for name, key in _written(WORD_NAMES).items()
        for words in [any_of(words_of(FIGURES_BY_KEY[key]))]
    ]
    for value, of_type in (
        (_SHARE, FigureType.SHARE),
        (_CHANGE, FigureType.CHANGE),
        (_NUMBER, None),
    ):
        names = [
            name
            for name, key in _written(NUMBER_NAMES).items()
            if (FIGURES_BY_KEY[key].type is of_type)
            or (
                of_type is None
                and FIGURES_BY_KEY[key].type not in {FigureType.SHARE, FigureType.CHANGE}
            )
        ]
        compared = rf"(>=|<=|>|<|=) {value}|({value}\.\.({value})?|\.\.{value})"
        forms.append(f"{any_of(names)} ({compared})")
    return forms


def _written(names: dict[str, str]) -> dict[str, str]:
    """Names that conditions are written with; what is read besides stands in no address."""
    return {name: key for name, key in names.items() if name not in ALSO}


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
    shares = [key for key, one in TOP_FIGURES.items() if one.type is FigureType.SHARE]
    plain_ones = [key for key in TOP_FIGURES if key not in shares]
    return [
        f"peak in {months}( or {months}){{0,11}}",
        f"(no )?signal {any_of(SIGNALS_BY_KEY)}",
        f"terms {any_of(HOW)} {_WORDS}",
        "term words ((>=|>|<=|=) [1-9][0-9]?|< [2-9]|[1-9][0-9]?\\.\\.([1-9][0-9]?)?)",
        f"category {_WORDS}",
        f"{any_of(ROLES.values())} {_WORDS}",
        f"decided {choices}( or {choices}){{0,3}}",
        f"drawn( {across}:{up}){{3,{MAX_CORNERS}}}",
        f"top ({tops}) ({any_of(plain_ones)} [<>]=? {number}|{any_of(shares)} [<>]=? {_SHARE})",
    ]
