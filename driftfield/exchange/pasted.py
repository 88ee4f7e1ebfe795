"""Ids as they are pasted: a column, a line with commas, addresses with the id inside."""

from __future__ import annotations

import re
from collections.abc import Container
from dataclasses import dataclass
from urllib.parse import unquote

_LISTED = re.compile(r"[,;\t]")
_INSIDE = re.compile(r"[/?&=#]+")
_QUOTES = "\"'“”‘’ "


@dataclass(frozen=True, slots=True)
class Pasted:
    """Ids that are known, each once as they came, and pieces of the text that hold none."""

    ids: list[str]
    unknown: list[str]


def pasted_ids(text: str, known: Container[str]) -> Pasted:
    """Find the ids in a text.

    Parameters
    ----------
    text : str
        Ids in lines, or with commas, semicolons, tabs or spaces between them, in quotes or not; or addresses
        that have an id as a part of their path or as a value.
    known : container of str
        All ids there are. Since an id may itself hold spaces or commas, the longest piece that is one counts.

    Returns
    -------
    Pasted
        What was found, and what was not.
    """
    ids: dict[str, None] = {}
    unknown: dict[str, None] = {}

    def take(piece: str) -> bool:
        """Note the id that a piece is or holds; whether there is nothing else in it."""
        word = piece.strip(_QUOTES)
        if not word or word in known:
            if word:
                ids[word] = None
            return True
        if len(word.split()) == 1 and any(mark in word for mark in "/?="):
            # A path comes before what is asked of it, and what is most particular in it stands last.
            path, _, asked = word.partition("?")
            for parts in (_INSIDE.split(path), _INSIDE.split(asked)):
                found = [one for part in parts if (one := unquote(part)) in known]
                if found:
                    ids[found[-1]] = None
                    return True
        return False

    for line in text.splitlines():
        if take(line):
            continue
        for piece in _LISTED.split(line):
            if take(piece):
                continue
            words = piece.split()
            # A piece of which no word is known is told whole, as it may be a name.
            rest = [word for word in words if not take(word)]
            unknown.update(dict.fromkeys([piece.strip(_QUOTES)] if rest == words else rest))
    return Pasted(list(ids), list(unknown))
