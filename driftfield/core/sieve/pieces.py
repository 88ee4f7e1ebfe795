"""The pieces that conditions are made of: words, months, phrases, areas."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable

from driftfield.core.base import CoreError

from .asked import HOW, MONTHS, joins, listed
from .clauses import Drawn, Terms, TermWords

MAX_CORNERS = 60
_MONTHS = {m.lower(): at for at, m in enumerate(MONTHS, 1)} | {
    m[:3].lower(): at for at, m in enumerate(MONTHS, 1)
}
_MONTHS |= {"sept": 9}
# What terms do with words, as it is typed.
HOW_TYPED = {
    **{how: how for how in HOW}, "contains": "contain", "contains exactly": "contain exactly",
    "starts with": "start with", "hold": "contain", "hold exactly": "contain exactly",
    "include": "contain", "includes": "contain", "lacks": "lack", "do not contain": "lack",
    "does not contain": "lack", "without": "lack",
}  # fmt: skip


def among(known: Iterable[str], most: int = 12) -> str:
    return f"Known, among others: {', '.join(sorted(set(known))[:most])}."


def unquoted(text: str) -> str:
    return text.strip(" “”\"'")


def words_looked_for(text: str) -> str:
    """Words as they are looked for: small, and without quotation marks round them, or anywhere where words
    that join conditions are among them (then a condition has quotation marks of its own)."""
    plain = " ".join(unquoted(text).lower().split())
    if joins(plain):
        plain = " ".join(re.sub(r"[“”\"]", "", plain).split())
    return unquoted(plain)


def name_looked_for(text: str) -> str:
    """A name as a condition has it: without quotation marks round it, or inside where words that join
    conditions are among it."""
    name = " ".join(unquoted(text).split())
    return " ".join(re.sub(r"[“”\"]", "", name).split()) if joins(name) else name


def known_word(word: str, known: Collection[str], what: str) -> str:
    """The known word that one means; the beginning of one is enough where no other begins so."""
    low = word.lower()
    begins = [one for one in known if one.lower().startswith(low)]
    for one in known:
        if one.lower() == low:
            return one
    if len(begins) == 1 and len(low) > 2:
        return begins[0]
    raise CoreError(f"There is no {what} “{word}”. Known: {', '.join(known)}.")


def listed_words(text: str, what: str, known: Collection[str]) -> list[str]:
    """Words joined by “or”, commas or strokes."""
    words = [w for w in re.split(r"\s*(?:,|\||/|\bor\b)\s*", unquoted(text), flags=re.I) if w]
    if not words:
        raise CoreError(f"Name a {what}: {listed(list(known))}.")
    return words


def month_named(word: str) -> int:
    if (found := _MONTHS.get(word.lower())) is not None:
        return found
    return MONTHS.index(known_word(word, MONTHS, "month")) + 1


def terms_clause(how: str, words: str) -> Terms:
    found = words_looked_for(words)
    if not found:
        raise CoreError(f"Write what the terms do with which words: terms {listed(HOW)} WORDS.")
    return Terms(HOW_TYPED[how.lower()], found)


def term_words_clause(rest: str, text: str) -> TermWords:
    between = re.fullmatch(r"=?\s*([0-9]{1,2})?\s*(?:\.\.|to|–|-)\s*([0-9]{1,2})?", rest)
    one = re.fullmatch(r"(>=|≥|>|<=|≤|<|=)?\s*([0-9]{1,2})", rest)
    low, high = 1, None
    if between and (between[1] or between[2]):
        low, high = int(between[1] or 1), int(between[2]) if between[2] else None
    elif one:
        many, sign = int(one[2]), one[1] or "="
        low = {">=": many, "≥": many, ">": many + 1, "=": many}.get(sign, 1)
        high = {"<=": many, "≤": many, "<": many - 1, "=": many}.get(sign)
    else:
        raise CoreError(
            f"“{text}” does not say how many: write “term words >= 3” or “term words 2..4”."
        )
    if high is not None and 1 <= high < low:
        low, high = high, low
    if low < 1 or (high is not None and high < low):
        raise CoreError(f"“{text}” asks for a number of words that no term has.")
    return TermWords(low, high)


def drawn_clause(text: str) -> Drawn:
    corners = []
    for pair in text.split():
        found = re.fullmatch(r"([0-9]{1,3}(?:\.[0-9]{1,9})?):([0-9]{1,3}(?:\.[0-9]{1,9})?)", pair)
        if not found or not 0 <= float(found[1]) <= 100 or not 0 < float(found[2]) <= 100:
            raise CoreError(
                f"“{pair}” is not a corner: write competition:demand, both up to 100, as in 20:60."
            )
        corners.append((float(found[1]), float(found[2])))
    if not 3 <= len(corners) <= MAX_CORNERS:
        raise CoreError(f"An area has 3 to {MAX_CORNERS} corners; got {len(corners)}.")
    return Drawn(tuple(corners))
