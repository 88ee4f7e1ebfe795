"""Decisions on themes as a file: JSON lines, one decision each, in the order in which they were made."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from driftfield.core.base import CoreError
from driftfield.core.voices import Act, Decided, Named, ReadTexts, sides_of, stems_of, themes_of

_TEXTS = ("niche_id", "language", "act", "theme", "name", "into", "tone", "text")
_TONES = {"complaint": -1, "praise": 1, "either": 0}
# What each act takes besides the theme it is about.
_TAKES = {
    Act.RENAME: ("theme", "name"),
    Act.MERGE: ("theme", "into"),
    Act.SPLIT: ("theme", "name", "words"),
    Act.TONE: ("theme", "tone"),
    Act.HIDE: ("theme",),
    Act.OWN: ("name", "words"),
    Act.REMEDY: ("theme", "text"),
}


@dataclass(frozen=True, slots=True)
class ThemeLine:
    """One line: what is decided on which theme of which niche.

    line: its number in the file. A theme is named as it is called at that point; niche_id and language left out
    hold for all.
    """

    line: int
    act: Act
    niche_id: str = ""
    language: str = ""
    theme: str = ""
    name: str = ""
    into: str = ""
    tone: str = ""
    text: str = ""
    words: tuple[str, ...] = ()

    def about(self, niche: str, language: str) -> bool:
        """Whether it is about a niche's texts in a language."""
        return self.niche_id in ("", niche) and self.language in ("", language)


def read_theme_lines(path: Path) -> list[ThemeLine]:
    """Decisions of a file. Raises CoreError with the line and the remedy for one that is none."""
    found = []
    for number, text in enumerate(path.read_text("utf-8-sig").splitlines(), start=1):
        if text.strip():
            found.append(_line(path.name, number, text))
    return found


def _line(name: str, number: int, text: str) -> ThemeLine:
    where = f"{name}, line {number}"
    try:
        given = json.loads(text)
    except ValueError as error:
        raise CoreError(
            f"{where}: expected a JSON object, as {{“act”: “hide”, “theme”: “lid”}}."
        ) from error
    if not isinstance(given, dict) or given.get("act") not in list(Act):
        raise CoreError(f"{where}: act is {', '.join(Act)}; got “{_act_of(given)}”.")
    act = Act(given["act"])
    unknown = sorted(set(given) - {*_TEXTS, "words"})
    if unknown:
        raise CoreError(
            f"{where}: there is no {unknown[0]}. Known: {', '.join((*_TEXTS, 'words'))}."
        )
    for key in _TEXTS:
        if not isinstance(given.get(key, ""), str):
            raise CoreError(f"{where}: {key} is a text; got {given[key]!r}.")
    words = given.get("words", [])
    if not isinstance(words, list) or not all(isinstance(one, str) for one in words):
        raise CoreError(f"{where}: words is a list of phrases, as [“too small”]; got {words!r}.")
    lacking = [key for key in _TAKES[act] if not given.get(key)]
    if lacking:
        raise CoreError(
            f"{where}: {act.value} takes {', '.join(_TAKES[act])}; {lacking[0]} is missing."
        )
    if given.get("tone", "either") not in _TONES:
        raise CoreError(f"{where}: tone is {', '.join(_TONES)}; got “{given['tone']}”.")
    return ThemeLine(number, act, words=tuple(words), **{key: given[key] for key in _TEXTS[:2] if key in given},
                     **{key: given[key] for key in _TEXTS[3:] if key in given})  # fmt: skip


def _act_of(given: Any) -> str:
    return str(given.get("act", "")) if isinstance(given, dict) else str(given)


def decided(lines: Sequence[ThemeLine], read: ReadTexts, language: str) -> list[Decided]:
    """Decisions as the core takes them; one on a theme that is not among those of the texts waits there.

    Raises CoreError with the line for phrases of which nothing is left to look for.
    """
    named: dict[str, Named] = {}
    for side in sides_of(read):
        named[side.id] = Named(side.id, side.tone, side.stems)
    for theme in themes_of(read, sides_of(read)):
        named.setdefault(theme.name, named[theme.id])
    made = []
    for one in lines:
        key = f"own/{one.line}"
        try:
            stems_of(one.words, language)
        except CoreError as error:
            raise CoreError(f"Decisions, line {one.line}: {error}") from error
        of = named.get(one.theme, Named(one.theme)) if one.act is not Act.OWN else None
        into = named.get(one.into, Named(one.into)) if one.into else None
        made.append(
            Decided(
                key, one.act, of, one.name, one.words, into, _TONES[one.tone or "either"], one.text
            )
        )
        if one.act in (Act.OWN, Act.SPLIT):
            named[one.name] = Named(key)
        elif one.act is Act.RENAME and of is not None:
            named[one.name] = of
    return made
