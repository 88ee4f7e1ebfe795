"""Texts that hold a word one must not sell under. A hint, no legal advice."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Floats

from .words import fold, words_of


@dataclass(frozen=True, slots=True)
class ProtectedWord:
    """A word or phrase. inside: its letters may be part of a longer word; else it stands by itself."""

    word: str
    inside: bool = False


def protected_in(texts: Sequence[str], words: Iterable[ProtectedWord]) -> list[str | None]:
    """For each text the first of the words that it holds, as it was given; None for none, (texts,).

    Small and capital letters, diacritics and what stands between words make no difference; endings do.
    """
    alone: dict[str, str] = {}
    among: dict[str, str] = {}
    for one in words:
        plain = _plain(one.word)
        if plain:
            (among if one.inside or " " in plain else alone).setdefault(
                plain if one.inside else f" {plain} ", one.word
            )
    pattern = re.compile("|".join(map(re.escape, sorted(among, key=len, reverse=True))))
    found: list[str | None] = []
    for text in texts:
        plain = f" {_plain(text)} "
        held = next((alone[key] for w in plain.split() if (key := f" {w} ") in alone), None)
        if held is None and among and (match := pattern.search(plain)):
            held = among[match[0]]
        found.append(held)
    return found


def marks_of(terms: Sequence[str], words: Sequence[ProtectedWord]) -> Floats | None:
    """1 for each term that holds one of the words, else 0, (terms,); None without words."""
    if not words:
        return None
    return np.array([one is not None for one in protected_in(terms, words)], dtype=np.float64)


def _plain(text: str) -> str:
    return " ".join(words_of(fold(text)))
