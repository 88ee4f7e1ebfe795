"""What is said of something that holds a protected word."""

from __future__ import annotations

from driftfield.core.base import format_share


def protected_sentence(word: str | None, share: float | None = None) -> str | None:
    """A hint at the word a name holds, or at the ``share`` of its searches that hold one; None for neither."""
    if word is not None:
        return f"Holds “{word}”, a protected word: a hint, no legal advice."
    if share:
        part = format_share(share)
        return f"{part} of its searches hold a protected word: a hint, no legal advice."
    return None
