"""What is told of what buyers write about a niche."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import Any

from driftfield.core.voices import COMPLAINT, PRAISE
from driftfield.desk.models import Pin

TONES = {COMPLAINT: "complaint", PRAISE: "praise", 0: "either"}


@dataclass(frozen=True, slots=True)
class Sentence:
    """A sentence as a buyer wrote it. marks: where the words of its theme stand. pinned: the key of its pin."""

    voice_id: str
    said: str
    marks: list[tuple[int, int]]
    kind: str
    rating: float | None
    day: date | None
    listing_id: str | None
    title: str | None
    pinned: int | None


@dataclass(frozen=True, slots=True)
class OfLeader:
    """A listing of which a theme is said most: by how many texts, of how many."""

    listing_id: str
    title: str
    own: int
    whole: int


@dataclass(frozen=True, slots=True, kw_only=True)
class ToldTheme:
    """A theme as it is shown.

    stars: by which it moves a rating. late, early: share of the last 52 weeks' texts and of the 52 before;
    grown: “more” or “less” where the two are told apart. sharing, lacking: how many of the leaders have it and
    how many surely lack it; it is not known of the others. notes: notes on returns that say
    it; returned: their share of all notes, with its interval; spared: that, times the niche's return rate.
    merged: names of the themes that went into it. remedy: what a better product would do."""

    id: str
    name: str
    tone: str
    found: bool
    hidden: bool
    words: list[str]
    texts: int
    share: float | None
    low: float | None
    high: float | None
    stars: float | None
    late: float | None
    early: float | None
    grown: str | None
    listings: int
    most: list[OfLeader]
    sharing: int
    lacking: int
    notes: int
    returned: float | None
    returned_low: float | None
    returned_high: float | None
    spared: float | None
    spared_low: float | None
    spared_high: float | None
    merged: list[str]
    remedy: str
    sentences: list[Sentence]


@dataclass(frozen=True, slots=True)
class ToldAsked:
    """What is asked or wished for. pages: how many of the leaders' pages have its words; of: of how many."""

    name: str
    texts: int
    helpful: float | None
    pages: int
    of: int
    sentences: list[Sentence]


@dataclass(frozen=True, slots=True)
class Promised:
    """What one page promises: the name of an attribute and its value."""

    listing_id: str
    title: str
    attribute: str
    value: str


@dataclass(frozen=True, slots=True)
class BrokenPromise:
    """What notes on returns say was not as promised: how many, their share of all notes with its interval, of
    how many listings, and what the pages of these promise."""

    promise: str
    notes: int
    share: float
    low: float
    high: float
    listings: int
    promised: list[Promised]
    sentences: list[Sentence]


@dataclass(frozen=True, slots=True)
class Made:
    """A decision on a theme that holds. idle: its theme is not found at present."""

    key: int
    act: str
    theme: str
    name: str
    words: list[str]
    into: str
    tone: str
    text: str
    day: date
    idle: bool


@dataclass(frozen=True, slots=True)
class Spoken:
    """A language in which something is written about the niche. read: whether it can be read."""

    language: str
    texts: int
    read: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class NicheThemes:
    """Everything that is told of what a niche's buyers write.

    texts: without copies and questions; kinds: how many of each kind, questions among them. leaders: how many
    of the most clicked listings anything is written about, of how many. return_rate: the niche's. contrasts:
    phrases said more here than in the rest of the category (or market), by those who rate low, and lately.
    """

    languages: list[Spoken]
    language: str
    return_rate: float | None
    pins: list[Pin]
    texts: int = 0
    copies: int = 0
    kinds: dict[str, int] = field(default_factory=dict)
    since: date | None = None
    until: date | None = None
    learnt: bool = False
    leaders: int = 0
    leaders_of: int = 0
    themes: list[ToldTheme] = field(default_factory=list)
    questions: list[ToldAsked] = field(default_factory=list)
    wishes: list[ToldAsked] = field(default_factory=list)
    promises: list[BrokenPromise] = field(default_factory=list)
    contrasts: dict[str, list[dict[str, Any]]] = field(default_factory=dict)
    decisions: list[Made] = field(default_factory=list)
