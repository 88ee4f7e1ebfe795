"""What a researcher decided on themes, laid over those that are found: whatever is imported later, it holds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

import numpy as np

from driftfield.core.base import CoreError, Ints

from .corpus import Corpus, read_corpus
from .themes import ReadTexts, Side, sides_of
from .words import DENIED

SAME = 0.4  # Likeness of two lists of stems from which they are of one theme; our choice.


class Act(StrEnum):
    """What can be decided on a theme."""

    RENAME = "rename"
    MERGE = "merge"
    SPLIT = "split"
    TONE = "tone"
    HIDE = "hide"
    OWN = "own"
    REMEDY = "remedy"


@dataclass(frozen=True, slots=True)
class Named:
    """The theme a decision is about: found, by its stems and tone, or made, by its id."""

    id: str
    tone: int = 0
    stems: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Decided:
    """One decision on a theme.

    id: what the theme is called that a split, or words of one's own, make. of: the theme it is about. name: the
    new name. words: the phrases that split off, or make, a theme. into: the theme to merge with. tone: the new
    one. text: what a better product would do.
    """

    id: str
    act: Act
    of: Named | None = None
    name: str = ""
    words: tuple[str, ...] = ()
    into: Named | None = None
    tone: int = 0
    text: str = ""


@dataclass(frozen=True, slots=True)
class Applied:
    """Themes after the decisions.

    sides: those to be counted. hidden: ids of those that are hidden. remedies: what a better product would do,
    by id. merged: names of the themes that went into each, by its id. idle: ids of decisions whose theme is not
    found at present; they wait.
    """

    sides: list[Side]
    hidden: set[str] = field(default_factory=set)
    remedies: dict[str, str] = field(default_factory=dict)
    merged: dict[str, list[str]] = field(default_factory=dict)
    idle: list[str] = field(default_factory=list)


def likeness(one: Sequence[str], other: Sequence[str]) -> float:
    """How much two lists of stems, said most first, have in common, 0–1; those said most weigh most."""
    first, second = _weights(one), _weights(other)
    return sum(min(weight, second.get(stem, 0.0)) for stem, weight in first.items())


def _weights(stems: Sequence[str]) -> dict[str, float]:
    whole = sum(1 / (at + 1) for at in range(len(stems)))
    return {stem: 1 / (at + 1) / whole for at, stem in enumerate(stems)}


def apply_decisions(read: ReadTexts, decisions: Sequence[Decided], language: str) -> Applied:
    """Lay decisions over the themes that are found, in the order in which they were made.

    A theme that was found is known again by its stems (``likeness`` from ``SAME`` on, the likest first), so
    that it keeps its name when other texts come; a decision whose theme is not found waits. What one decision
    made can be what a later one is about.
    """
    sides = {side.id: side for side in sides_of(read)}
    found = list(sides.values())
    made = Applied([])
    gone: dict[str, str] = {}  # A theme that went into another one: that one.

    def known(named: Named | None) -> str | None:
        if named is None:
            return None
        at = named.id if not named.stems else _known_again(named, found)
        while at in gone:
            at = gone[at]
        return at if at in sides else None

    for one in decisions:
        at = known(one.of)
        if one.act is not Act.OWN and at is None:
            made.idle.append(one.id)
            continue
        if one.act is Act.OWN:
            rows = sentences_with(read.corpus, one.words, language)
            sides[one.id] = Side(
                one.id, one.tone, stems_of(one.words, language), rows, one.name, False
            )
            continue
        assert at is not None
        side = sides[at]
        if one.act is Act.RENAME:
            sides[at] = replace(side, name=one.name, found=False)
        elif one.act is Act.TONE:
            sides[at] = replace(side, tone=one.tone, found=False)
        elif one.act is Act.HIDE:
            made.hidden.add(at)
        elif one.act is Act.REMEDY:
            made.remedies[at] = one.text
            sides[at] = replace(side, found=False)
        elif one.act is Act.SPLIT:
            away = np.isin(side.rows, sentences_with(read.corpus, one.words, language))
            sides[at] = replace(side, rows=side.rows[~away], found=False)
            sides[one.id] = Side(
                one.id, side.tone, stems_of(one.words, language), side.rows[away], one.name, False
            )
        elif one.act is Act.MERGE:
            into = known(one.into)
            if into is None:
                made.idle.append(one.id)
            elif into != at:
                rows = np.union1d(sides[into].rows, side.rows)
                sides[into] = replace(sides[into], rows=rows, found=False)
                gone[at] = into
                del sides[at]
                called = side.name or " ".join(side.stems[:2])
                made.merged.setdefault(into, []).extend([called, *made.merged.pop(at, [])])
    made.sides.extend(sides.values())
    return made


def _known_again(named: Named, found: Sequence[Side]) -> str:
    """The theme among those found now that is likest to one that was found once; empty for none."""
    alike = [
        (likeness(named.stems, side.stems), side.id == named.id, side.id)
        for side in found
        if side.tone == named.tone
    ]
    best = max(alike, default=(0.0, False, ""))
    return best[2] if best[0] >= SAME else ""


def stems_of(phrases: Sequence[str], language: str) -> tuple[str, ...]:
    """The stems of some phrases without denial, each once, in their order.

    Raises CoreError for a phrase of which nothing is left to look for.
    """
    return tuple(
        dict.fromkeys(
            stem.removeprefix(DENIED)
            for phrase in phrases
            for stem in _read_phrase(phrase, language)
        )
    )


def sentences_with(corpus: Corpus, phrases: Sequence[str], language: str) -> Ints:
    """Places of the sentences that have all words of at least one of the phrases.

    Words are compared by their stems, and as they are meant: “fits” is not found in “does not fit”, which “does
    not fit” finds. Raises CoreError as ``stems_of`` does.
    """
    place = {stem: at for at, stem in enumerate(corpus.stems)}
    found = np.zeros(len(corpus.text), dtype=bool)
    for phrase in phrases:
        stems = _read_phrase(phrase, language)
        if any(stem not in place for stem in stems):
            continue
        whole = np.ones(len(corpus.text), dtype=bool)
        for stem in stems:
            has = np.zeros(len(corpus.text), dtype=bool)
            has[corpus.sentence[corpus.token == place[stem]]] = True
            whole &= has
        found |= whole
    return np.flatnonzero(found)


def _read_phrase(phrase: str, language: str) -> list[str]:
    stems = list(dict.fromkeys(read_corpus([phrase], language).stems))
    if not stems:
        raise CoreError(
            f"“{phrase}” has no word to look for. Give one that says what it is about, as “too small”."
        )
    return stems
