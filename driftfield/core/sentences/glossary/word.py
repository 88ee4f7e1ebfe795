"""A word of the glossary."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True, kw_only=True)
class Word:
    """A word that is explained where it stands.

    short: in a sentence, for hover, focus and touch. more: what else there is to know. figures: keys of
    figures that it is about.
    """

    key: str
    word: str
    short: str
    more: str = ""
    figures: tuple[str, ...] = ()
