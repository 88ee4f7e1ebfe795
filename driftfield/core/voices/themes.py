"""Themes: what is said of goods, praised or complained of, how often, and by which sentences."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, wilson

from .corpus import Corpus, read_corpus
from .tone import COMPLAINT, PRAISE, Tone, tone_of
from .topics import LEAST, Topics, read_topics
from .words import DENIED

LEVEL = 0.9
STEMS = 12  # By as many of its stems a theme is known again.
SURE = 2.0  # Standard errors by which a theme must move ratings its way.
TELLING = 5
YEAR = 364  # Days.
FAINT = 0.01  # Share of the texts under which a theme is not told; our choice.


@dataclass(frozen=True, slots=True)
class Theme:
    """One thing that is praised, or complained of.

    id: by which it is asked for among those of the same texts. name: its leading phrase, as it is mostly
    written, or the one it was given. tone: 1 or −1, 0 for either. stems: those said most, without denial.
    found: whether it was found, and not made by words. texts: places of the texts that say it, once each;
    sentences: of their sentences that do, the most telling first. share: of all texts, with its interval.
    effect: stars by which it moves a rating, all other themes held, NaN for unknown. late, early: share of the
    texts of the last 52 weeks and of the 52 before, NaN where there are none; grown: whether the two are told
    apart, and which way (1, −1, 0).
    """

    id: str
    name: str
    tone: int
    stems: tuple[str, ...]
    found: bool
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
class ReadTexts:
    """Texts that were read: what each sentence is about and how it says it.

    rating, day: (texts,) as ``read_texts`` takes them.
    """

    corpus: Corpus
    topics: Topics
    tone: Tone
    rating: Floats
    day: Floats


@dataclass(frozen=True, slots=True)
class Side:
    """Sentences that make one theme, before it is counted.

    rows: places of the sentences. found: False for one that the researcher made or had a hand in, which is
    told however few say it. The rest is the theme's.
    """

    id: str
    tone: int
    stems: tuple[str, ...]
    rows: Ints
    name: str = ""
    found: bool = True


@dataclass(frozen=True, slots=True)
class Voices:
    """Texts that were read, and their themes."""

    read: ReadTexts
    themes: list[Theme]


def read_voices(
    texts: Sequence[str],
    *,
    rating: Floats,
    lean: Ints,
    day: Floats,
    language: str = "english",
) -> Voices:
    """Find the themes of some texts, those that most texts say first; parameters as of ``read_texts``.

    A theme is a topic in one tone that at least ``LEAST`` texts and ``FAINT`` of them say.
    """
    read = read_texts(texts, rating=rating, lean=lean, day=day, language=language)
    return Voices(read, themes_of(read, sides_of(read)))


def read_texts(
    texts: Sequence[str],
    *,
    rating: Floats,
    lean: Ints,
    day: Floats,
    language: str = "english",
) -> ReadTexts:
    """Read some texts.

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
    """
    corpus = read_corpus(texts, language)
    return ReadTexts(corpus, read_topics(corpus), tone_of(corpus, rating, lean), rating, day)


def sides_of(read: ReadTexts) -> list[Side]:
    """Every topic in each tone in which enough sentences say it."""
    least = max(LEAST, FAINT * read.corpus.texts)
    bare = list(dict.fromkeys(stem.removeprefix(DENIED) for stem in read.corpus.stems))
    made = []
    for topic, leading in enumerate(read.topics.leading):
        stems = tuple(bare[one] for one in leading[:STEMS])
        for tone in (COMPLAINT, PRAISE):
            rows = np.flatnonzero((read.topics.of == topic) & (read.tone.of == tone))
            if len(rows) >= least:
                made.append(Side(found_id(stems, tone), tone, stems, rows))
    return made


def found_id(stems: Sequence[str], tone: int) -> str:
    """What a theme that was found is called: its tone and the two stems said most."""
    side = "complaint" if tone == COMPLAINT else "praise"
    return f"{side}/{'+'.join(stems[:2])}"


def themes_of(read: ReadTexts, sides: Sequence[Side]) -> list[Theme]:
    """Count what was found or made, what most texts say first.

    What was found is left out where too few texts say it, or where it does not surely move ratings its way.
    """
    corpus = read.corpus
    least = max(LEAST, FAINT * corpus.texts)
    said = [np.unique(corpus.text[side.rows]) for side in sides]
    effect, sure = np.full(len(sides), np.nan), None
    if read.tone.learnt:
        effect, sure = _effects(said, read.rating)
    themes = [
        _theme(read, side, said[at], effect[at])
        for at, side in enumerate(sides)
        if not side.found
        or (len(said[at]) >= least and (sure is None or side.tone * sure[at] >= SURE))
    ]
    themes.sort(key=lambda one: (-len(one.texts), one.name, one.id))
    return themes


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


def _theme(read: ReadTexts, side: Side, said: Ints, effect: float) -> Theme:
    every = float(read.corpus.texts)
    share = len(said) / every if every else np.nan
    low, high = wilson(np.array([float(len(said))]), np.array([every]), LEVEL)
    late, early, grown = _growth(said, read.day)
    order = np.lexsort((-read.topics.strength[side.rows], -_leading(read, side)))
    return Theme(
        side.id, side.name or _name(read, side), side.tone, side.stems, side.found, said,
        side.rows[order], share, float(low[0]), float(high[0]), float(effect), late, early, grown,
    )  # fmt: skip


def _leading(read: ReadTexts, side: Side) -> Ints:
    """How many of the two stems said most each sentence of a theme holds, (rows,): one that tells has both."""
    corpus = read.corpus
    wanted = [stem.removeprefix(DENIED) in side.stems[:2] for stem in corpus.stems]
    holds = np.flatnonzero(np.array(wanted, dtype=bool)[corpus.token])
    pairs = np.unique(
        np.stack([corpus.sentence[holds], read.topics.bare[corpus.token[holds]]]), axis=1
    )
    counted: Ints = np.bincount(pairs[0], minlength=len(corpus.text))[side.rows]
    return counted


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


def _name(read: ReadTexts, side: Side) -> str:
    """The two stems of a theme that most of its sentences hold, in the order in which they are said."""
    corpus, bare = read.corpus, read.topics.bare
    inside = np.isin(corpus.sentence, side.rows)
    token = corpus.token[inside]
    own = set(side.stems)
    belongs = np.array([stem.removeprefix(DENIED) in own for stem in corpus.stems], dtype=bool)
    many = np.bincount(token[belongs[token]], minlength=len(corpus.stems))
    leading = [at for at in np.argsort(-many, kind="stable").tolist()[:2] if many[at]]
    if len(leading) == 2 and bare[leading[0]] == bare[leading[1]]:
        leading = leading[:1]
    first_in = _said_first(corpus, leading, inside) if len(leading) == 2 else leading
    said: list[str] = []
    denied = False
    for at in first_in:
        before, denied = denied, corpus.stems[at].startswith(DENIED)
        said += ["not"] if denied and not before else []
        said.append(corpus.shown[at])
    return " ".join(said)


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
