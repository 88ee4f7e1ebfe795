"""Conditions whose values are words of their own: months of a peak, categories, decisions, signals."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection

from driftfield.core.base import CoreError
from driftfield.core.signals import SIGNALS_BY_KEY

from .asked import MONTHS, ROLES, listed
from .clauses import DECISIONS, Atom, Decided, InCategory, Peak, SignalIs
from .joined import Not, deny
from .names import alike
from .of_listings import Whose
from .pieces import among, known_word, listed_words, month_named, name_looked_for, unquoted
from .quantities import AskedBackError

CHOICES = tuple(DECISIONS)
# What people call the decisions.
DECIDED = {**{word: key for key, word in DECISIONS.items()}, "none": "open", "nothing": "open",
           "no decision": "open", "rejected": "pass"}  # fmt: skip
SIGNAL_NAMES = {one.name.lower(): one.key for one in SIGNALS_BY_KEY.values()} | {
    key: key for key in SIGNALS_BY_KEY
}
NOT_AFTER = re.compile(r"\s*(?:(?:is|are|=)\s+)?(?:not|isn[’']t|aren[’']t|!=|≠)\s*(.+)", re.I)


def denied_or(text: str, make: Callable[[str], Atom]) -> Atom | Not:
    """A condition made of a text; denied where it begins with “is not” or its like."""
    if found := NOT_AFTER.fullmatch(text):
        return deny(make(found[1]))
    return make(text)


def peak_clause(text: str) -> Atom | Not:
    """A peak in months, as “May or June” and “November to January”. Raises CoreError for what is no month."""
    return denied_or(text, _peak)


def _peak(text: str) -> Peak:
    months: list[int] = []
    for part in listed_words(re.sub(r"^in\s+", "", text), "month", MONTHS):
        between = re.fullmatch(r"(\w+)(?:\s+(?:to|until)\s+|\s*(?:-|–|\.\.)\s*)(\w+)", part, re.I)
        ends = [month_named(word) for word in (between.groups() if between else (part,))]
        first, last = ends[0], ends[-1]
        months += [(first - 1 + k) % 12 + 1 for k in range((last - first) % 12 + 1)]
    return Peak(tuple(dict.fromkeys(months)))


def category_clause(text: str, categories: Collection[str] | None) -> Atom | Not:
    """A category by id or name; ``categories``: those there are, None for any. Raises CoreError for no such."""
    return denied_or(text, lambda name: _category(name, categories))


def _category(text: str, categories: Collection[str] | None) -> InCategory:
    name = name_looked_for(text)
    if not name:
        raise CoreError("Name a category, as in “category Growing”.")
    if categories is not None and name.lower() not in {c.lower() for c in categories}:
        near = alike(name, categories)
        known = f"Did you mean {listed(near)}?" if near else among(categories)
        raise AskedBackError(
            f"There is no category “{name}”. {known}",
            offers=tuple(InCategory(one).text for one in near),
        )
    return InCategory(name)


def whose_clause(role: str, text: str) -> Atom | Not:
    """A brand or a seller by id or name. Raises CoreError where none is named."""

    def made(text: str) -> Atom:
        name = name_looked_for(text)
        if not name:
            raise CoreError(f"Name a {role}, as in “{ROLES[role]} skephithe”.")
        return Whose(role, name)

    return denied_or(text, made)


def decided_clause(text: str) -> Atom | Not:
    """What was decided, as “keep or open”. Raises CoreError for what is no decision."""
    return denied_or(text, lambda words: Decided(_choices(words)))


def _choices(text: str) -> tuple[str, ...]:
    return tuple(
        dict.fromkeys(
            DECIDED.get(word.lower()) or known_word(word, CHOICES, "decision")
            for word in listed_words(text, "decision", CHOICES)
        )
    )


def signal_clause(text: str) -> SignalIs:
    """A signal by its key or name, or the beginning of one. Raises CoreError for none or several."""
    wanted = unquoted(text).lower()
    found = [k for name, k in SIGNAL_NAMES.items() if wanted and name.startswith(wanted)]
    if wanted in SIGNAL_NAMES or len(set(found)) == 1:
        return SignalIs(SIGNAL_NAMES.get(wanted) or found[0])
    if found:
        raise AskedBackError(
            f"{len(found)} signals begin with “{text}”: {listed([SIGNALS_BY_KEY[k].name for k in found])}.",
            offers=tuple(SignalIs(key).text for key in found),
        )
    near = alike(wanted, SIGNAL_NAMES)
    keys = tuple(dict.fromkeys(SIGNAL_NAMES[one] for one in near))
    raise AskedBackError(
        f"There is no signal “{text}”. Known: {', '.join(SIGNALS_BY_KEY)}.",
        offers=tuple(SignalIs(key).text for key in keys),
    )
