"""Words of terms, folded so that spellings of one wish are one."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from functools import cache

import snowballstemmer

from driftfield.core.base import CoreError

LANGUAGES: tuple[str, ...] = tuple(sorted(snowballstemmer.algorithms()))
_WORD = re.compile(r"\w+")


def fold(text: str) -> str:
    """A text in small letters without diacritics (Unicode NFKD, combining marks taken out).

    >>> fold("Crème Brûlée TORCH")
    'creme brulee torch'
    """
    apart = unicodedata.normalize("NFKD", text.lower())
    return "".join(letter for letter in apart if not unicodedata.combining(letter))


@cache
def _stemmer(language: str) -> snowballstemmer.stemmer:
    if language not in LANGUAGES:
        raise CoreError(f"There is no stemmer for “{language}”. Languages: {', '.join(LANGUAGES)}.")
    return snowballstemmer.stemmer(language)


def stems_of(terms: Sequence[str], language: str = "english") -> list[list[str]]:
    """Stems of each term's words, each once and in their order.

    A word is stemmed as its language writes it, then folded. Raises CoreError for a language without a
    stemmer. Snowball stemmers (Porter 2001, https://snowballstem.org).
    """
    split = [_WORD.findall(term.lower()) for term in terms]
    stem = _stemmer(language).stemWord
    # Sizes and model numbers have no ending.
    known = {
        word: fold(word if any(map(str.isdigit, word)) else stem(word))
        for word in {word for words in split for word in words}
    }
    return [list(dict.fromkeys(known[word] for word in words)) for words in split]
