"""Themes: what is said of goods, praised or complained of, how often, and by which sentences."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, wilson

from .corpus import Corpus, read_corpus
from .tone import COMPLAINT, PRAISE, Tone, tone_of
from .topics import LEAST, Topics, read_topics

LEVEL = 0.9
SURE = 2.0  # Standard errors by which a theme must move ratings its way.
TELLING = 5
YEAR = 364  # Days.
FAINT = 0.01  # Share of the texts under which a theme is not told; our choice.


@dataclass(frozen=True, slots=True)
class Theme:
    """One thing that is praised, or complained of.

    name: its leading phrase, as it is mostly written. tone: 1 or −1. texts: places of the texts that say it,
    once each; sentences: of their sentences that do, the most telling first. share: of all texts, with its
    interval. effect: stars by which it moves a rating, all other themes held, NaN for unknown. late, early:
    share of the texts of the last 52 weeks and of the 52 before, NaN where there are none; grown: whether the
    two are told apart, and which way (1, −1, 0).
    """

    name: str
    tone: int
    texts: Ints
    sentences: Ints
    share: float
    low: float
    high: float
    effect: float
    late: float
    early: float
    grown: int


@dataclass(frozen=True, slots=True)
class Voices:
    """Texts that were read: the corpus, what each sentence is about and how it says it, and the themes."""

    corpus: Corpus
    topics: Topics
    tone: Tone
    themes: list[Theme]


def read_voices(
    texts: Sequence[str],
    *,
    rating: Floats,
    lean: Ints,
    day: Floats,
    language: str = "english",
) -> Voices:
    """Find the themes of some texts, those that most texts say first.

    Parameters
    ----------
    texts : sequence of str
        Each counts once; leave copies out before.
    rating : array (texts,)
        1–5, NaN for none.
    lean : array (texts,)
        −1 for what complains by what it is, as notes on returns do; else 0.
    day : array (texts,)
        Ordinal of the day each was written, NaN for unknown.
    language : str
        By whose rules words are stemmed.

    Returns
    -------
    Voices
        A theme is a topic in one tone that at least ``LEAST`` texts and ``FAINT`` of them say.
    """
    corpus = read_corpus(texts, language)
    topics = read_topics(corpus)
    tone = tone_of(corpus, rating, lean)
    least = max(LEAST, FAINT * corpus.texts)
    sides = [
        (topic, side, rows)
        for topic in range(len(topics.leading))
        for side in (COMPLAINT, PRAISE)
        if len(rows := np.flatnonzero((topics.of == topic) & (tone.of == side))) >= least
    ]
    said = [np.unique(corpus.text[rows]) for _, _, rows in sides]
    effect, sure = _effects(said, rating) if tone.learnt else (np.full(len(sides), np.nan), None)
    themes = [
        _theme(corpus, topics, topic, rows, said[at], side, effect[at], day)
        for at, (topic, side, rows) in enumerate(sides)
        if len(said[at]) >= least and (sure is None or side * sure[at] >= SURE)
    ]
    themes.sort(key=lambda one: (-len(one.texts), one.name))
    return Voices(corpus, topics, tone, themes)


def _effects(said: list[Ints], rating: Floats) -> tuple[Floats, Floats]:
    """By how many stars each thing that is said moves the rating of a text, all others held, and its z.

    Least squares of the ratings on what is said. What praise and complaint say alike moves nothing: who is
    pleased and who is not bought it in March.
    """
    rated = np.flatnonzero(~np.isnan(rating))
    given = np.zeros((len(rating), len(said) + 1))
    given[:, 0] = 1
    for at, texts in enumerate(said):
        given[texts, at + 1] = 1
    x, y = given[rated], rating[rated]
    inverse = np.linalg.pinv(x.T @ x)
    slope = inverse @ x.T @ y
    left = y - x @ slope
    error = np.sqrt(np.diag(inverse) * (left @ left) / max(len(y) - x.shape[1], 1))
    with np.errstate(divide="ignore", invalid="ignore"):
        return slope[1:], np.where(error[1:] > 0, slope[1:] / error[1:], 0)


def _theme(
    corpus: Corpus,
    topics: Topics,
    topic: int,
    rows: Ints,
    said: Ints,
    side: int,
    effect: float,
    day: Floats,
) -> Theme:
    many = np.array([float(len(said))])
    low, high = wilson(many, np.array([float(corpus.texts)]), LEVEL)
    late, early, grown = _growth(said, day)
    order = np.argsort(-topics.strength[rows], kind="stable")
    return Theme(
        _name(corpus, topics, topic, rows), side, said, rows[order], len(said) / corpus.texts, float(low[0]),
        float(high[0]), float(effect), late, early, grown,
    )  # fmt: skip


def _growth(said: Ints, day: Floats) -> tuple[float, float, int]:
    """Share of the last 52 weeks' texts, of the 52 before, and which way they are told apart."""
    last = np.nanmax(day) if (~np.isnan(day)).any() else np.nan
    ago = last - day
    windows = [(ago < YEAR), (ago >= YEAR) & (ago < 2 * YEAR)]
    whole = np.array([float(window.sum()) for window in windows])
    own = np.array([float(window[said].sum()) for window in windows])
    if not whole.all():
        shares = np.where(whole > 0, own / np.maximum(whole, 1), np.nan)
        return float(shares[0]), float(shares[1]), 0
    low, high = wilson(own, whole, LEVEL)
    grown = int(low[0] > high[1]) - int(high[0] < low[1])
    return float(own[0] / whole[0]), float(own[1] / whole[1]), grown


def _name(corpus: Corpus, topics: Topics, topic: int, rows: Ints) -> str:
    """The two stems of the topic that most of its sentences hold, in the order in which they are said."""
    inside = np.isin(corpus.sentence, rows)
    token = corpus.token[inside]
    own = topics.stem[topics.bare[token]] == topic
    many = np.bincount(token[own], minlength=len(corpus.stems))
    leading = [at for at in np.argsort(-many, kind="stable").tolist()[:2] if many[at]]
    if len(leading) == 2 and topics.bare[leading[0]] == topics.bare[leading[1]]:
        leading = leading[:1]
    place = {at: np.flatnonzero(token == at).mean() for at in leading}
    first_in = _said_first(corpus, leading, inside) if len(leading) == 2 else leading
    denied = {at: "not " if corpus.stems[at].startswith("not_") else "" for at in place}
    return " ".join(f"{denied[at]}{corpus.shown[at]}" for at in first_in)


def _said_first(corpus: Corpus, pair: list[int], inside: Bools) -> list[int]:
    """Two stems in the order in which sentences that hold both mostly say them."""
    token, sentence = corpus.token[inside], corpus.sentence[inside]
    first: dict[int, dict[int, int]] = {one: {} for one in pair}
    for at, (code, where) in enumerate(zip(token.tolist(), sentence.tolist(), strict=True)):
        if code in first:
            first[code].setdefault(where, at)
    one, other = (first[code] for code in pair)
    both = [where for where in one if where in other]
    ahead = sum(one[where] < other[where] for where in both)
    return pair if 2 * ahead >= len(both) else pair[::-1]
