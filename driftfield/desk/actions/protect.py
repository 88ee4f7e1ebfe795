"""Keep the list of words one must not sell under; what holds one is marked at once."""

from __future__ import annotations

from driftfield.core.base import CoreError
from driftfield.core.market.words import words_of
from driftfield.desk.write_queue import writing
from driftfield.market.models import ProtectedWord
from driftfield.readings.actions import mark_protected

MATCHES = ("exact", "contains")


def protect(word: str, match: str = "exact", note: str = "") -> ProtectedWord:
    """Put a word on the list, or change what is said of it. Raises CoreError for none, or another match."""
    word = " ".join(word.split())
    if not words_of(word):
        raise CoreError("A protected word has letters or digits. Write one.")
    if match not in MATCHES:
        raise CoreError(f"“{match}” is no match. Choose {' or '.join(MATCHES)}.")
    with writing():
        made, _ = ProtectedWord.objects.update_or_create(
            word=word, defaults={"match": match, "note": note.strip() or None}
        )
        mark_protected()
    return made


def release(word: str) -> None:
    """Take a word off the list. Raises CoreError where it is not on it."""
    with writing():
        many, _ = ProtectedWord.objects.filter(word=word).delete()
        if not many:
            raise CoreError(f"“{word}” is not on the list of protected words.")
        mark_protected()
