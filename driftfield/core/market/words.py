"""Words of terms, folded so that spellings of one wish are one."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from functools import cache, lru_cache

import Stemmer

from driftfield.core.base import CoreError

# Languages with a stemmer; “porter” is an older one of English.
LANGUAGES: tuple[str, ...] = tuple(sorted({*Stemmer.algorithms()} - {"porter"}))
LANGUAGE = "english"  # The usual one.
_WORD = re.compile(r"\w+")


@lru_cache(maxsize=200_000)
def fold(text: str) -> str:
    """A text in small letters without diacritics (Unicode NFKD, combining marks taken out).

    >>> fold("Crème Brûlée TORCH")
    'creme brulee torch'
    """
    if text.isascii():
        return text.lower()
    apart = unicodedata.normalize("NFKD", text.lower())
    return "".join(letter for letter in apart if not unicodedata.combining(letter))


def words_of(text: str) -> list[str]:
    """The words of a text in small letters, in their order."""
    return _WORD.findall(text.lower())


@cache
def _stemmer(language: str) -> Stemmer.Stemmer:
    if language not in LANGUAGES:
        raise CoreError(f"There is no stemmer for “{language}”. Languages: {', '.join(LANGUAGES)}.")
    return Stemmer.Stemmer(language)


@lru_cache(maxsize=200_000)
def stem_of(word: str, language: str = "english") -> str:
    """The folded stem of a word in small letters: “forcers” and “forcer” are one wish.

    A word is stemmed as its language writes it, then folded; a size or a model number has no ending.
    Raises CoreError for a language without a stemmer. Snowball stemmers (Porter 2001,
    https://snowballstem.org).
    """
    stemmer = _stemmer(language)
    return fold(word if any(map(str.isdigit, word)) else stemmer.stemWord(word))


def stems_of(terms: Sequence[str], language: str = "english") -> list[list[str]]:
    """Stems of each term's words, each once and in their order; see ``stem_of``."""
    return [
        list(dict.fromkeys(stem_of(word, language) for word in words_of(term))) for term in terms
    ]
