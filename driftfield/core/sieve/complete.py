"""What can be typed next: completions of a condition that is being typed."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import islice
from types import MappingProxyType

from driftfield.core.base import CoreError
from driftfield.core.market import FIGURES, FIGURES_BY_KEY, LISTING, NICHE, Figure, FigureType, Kind
from driftfield.core.signals import SIGNALS

from .asked import MONTHS
from .clauses import DECISIONS
from .compared import COMPARED, UNFINISHED
from .names import ALIASES, NUMBER_NAMES, WORD_NAMES, asked, short_name, takes_words, words_of
from .of_kind import own_figure
from .of_listings import HasAttribute
from .parse import MAX_JOINED, parse_clause

MOST = 9
# What is asked most, in this order, before anything is typed.
FIRST = ("shape", "price", "searches", "drift", "reviews", "headroom", "launches", "breadth")


@dataclass(frozen=True, slots=True)
class CategoryName:
    """A category as it is offered: its name, its path from the root and how many niches it holds."""

    name: str
    path: str
    niches: int


@dataclass(frozen=True, slots=True)
class Completion:
    """What can stand in the place of the text that was typed. whole: that it is a condition then."""

    text: str
    label: str
    hint: str = ""
    whole: bool = False


_KEYWORDS = (
    Completion("terms contain ", "terms contain …", "words in the name or a search term"),
    Completion("terms contain exactly ", "terms contain exactly …", "the phrase as it is"),
    Completion("terms start with ", "terms start with …", "the first words of a search term"),
    Completion("terms lack ", "terms lack …", "neither name nor search terms contain it"),
    Completion("term words >= ", "term words …", "how many words a search term has"),
    Completion("top 4 of 10 reviews < 120", "top 4 of 10 reviews < 120", "of the ten most clicked"),
    Completion("peak in ", "peak in …", "months"),
    Completion("category ", "category …", "and those below it"),
    Completion("decided ", "decided …", "kept, parked, passed or undecided"),
    Completion("signal ", "signal …", "raised"),
    Completion("no signal ", "no signal …", "not raised"),
    Completion("order by within 4 weeks", "order by within 4 weeks", "next full season", whole=True),
    Completion("not ", "not …", "the opposite of a condition"),
)  # fmt: skip
_OF_LISTINGS = (
    Completion("made by ", "made by …", "a brand, by its id or name"),
    Completion("sold by ", "sold by …", "a seller, by its id or name"),
    Completion(
        "led by ",
        "led by …",
        "who held its lead offer, for a share of the year: led >= 50% by",
    ),
    Completion("attribute ", "attribute … is …", "as its colour or its material"),
    Completion(
        "sold >= ",
        "sold at least … in 2025-10",
        "its units in a month, in 2025-10 to 2026-02, or at Easter 2026",
    ),
    Completion(
        "ranked <= ",
        "ranked at most … in 2025-10",
        "its best sales rank in a month, in several, or up to a feast",
    ),
)
_UNFINISHED = re.compile(rf"(.+?)\s*(?:[<>]=?|[=≤≥]|(?<=\s)(?:{'|'.join(UNFINISHED)}))\s*")
_OR = re.compile(r"\s+or\s+", re.I)
_NOT = re.compile(r"not\s+", re.I)


def complete(
    text: str,
    categories: Sequence[CategoryName] = (),
    kind: Kind = NICHE,
    attributes: Mapping[str, Sequence[str]] = MappingProxyType({}),
) -> list[Completion]:
    """What to offer for a text that is being typed, best first; at most MOST, months apart.

    ``text`` may hold conditions joined by “or” before the one that is being typed. ``attributes``: of listings,
    with the values that each has.
    """
    text = text.lstrip()
    # The first cut after which something goes on: a list of months holds an “or” of its own.
    cuts = [(0, 0), *(one.span() for one in islice(_OR.finditer(text), MAX_JOINED))]
    found = None
    for before, cut in cuts:
        head, rest = _cut(text, cut)
        found = _attribute(rest, attributes) or _after_keyword(rest, categories)
        if found and _stands(text[:before]):
            break
        found = None
    if not found:
        # Words that are no condition, as in “salt or pepper”, are not cut.
        before, cut = cuts[-1]
        head, rest = _cut(text, cut if _stands(text[:before]) else 0)
        found = list(islice(_unique(_beginning(rest, kind)), MOST))
        found += [one for one in _searched(rest) if one not in found]
    return [replace(one, text=head + one.text) for one in found if one.text.strip() != rest.strip()]


def _cut(text: str, cut: int) -> tuple[str, str]:
    """What stands before the condition that is being typed, its “not” included, and the condition."""
    denied = _NOT.match(text[cut:])
    start = cut + (denied.end() if denied else 0)
    return text[:start], text[start:]


def _stands(head: str) -> bool:
    """Whether what stands before an “or” is a condition; nothing stands there for the first one."""
    return not head or _is_condition(head)


def figure_named(text: str, kind: Kind = NICHE) -> Figure | None:
    """The figure of numbers that a text names with how it compares and not with what: “price over”."""
    found = _UNFINISHED.fullmatch(text.strip().lower())
    key = NUMBER_NAMES.get(found[1]) if found else None
    return own_figure(FIGURES_BY_KEY[key], kind) if key else None


def _unique(found: Iterator[Completion]) -> Iterator[Completion]:
    seen = set()
    for one in found:
        if one.text not in seen:
            seen.add(one.text)
            yield one


def _attribute(text: str, attributes: Mapping[str, Sequence[str]]) -> list[Completion] | None:
    """The attributes that begin with what was typed, or the values of the one that was."""
    found = re.match(r"attribute\s+(\w*)(?:\s+(?:is\s+|=\s*)?(.*))?$", text.lower())
    if found is None or not attributes:
        return None
    if found[2] is None:
        names = [name for name in attributes if name.lower().startswith(found[1])]
        return [Completion(f"attribute {one.lower()} is ", one, "") for one in names[:MOST]]
    named = next((name for name in attributes if name.lower() == found[1]), None)
    values = [] if named is None else attributes[named]
    begun = [one for one in values if one.lower().startswith(found[2])]
    return [
        Completion(HasAttribute(found[1], one).text, one, found[1], whole=True)
        for one in begun[:MOST]
    ]


def _after_keyword(text: str, categories: Sequence[CategoryName]) -> list[Completion] | None:
    """What follows a keyword or a figure of words, as whole conditions; None where neither was typed."""
    low = text.lower()
    if found := re.match(r"peaks? (?:in )?(.*\b(?:or|to)\s+|.*,\s*)?([^ ]*)$", low):
        before, last = found[1] or "", found[2]
        months = [m for m in _not_yet(MONTHS, before) if m.lower().startswith(last)]
        return [Completion(f"peak in {before}{month}", month, "", whole=True) for month in months]
    if found := re.match(r"(?:in )?category (?:is |= ?)?(.*)$", low):
        inside = [one for one in categories if found[1] in one.path.lower()]
        return [
            Completion(f"category {one.name}", one.path, f"{one.niches:,} niches", whole=True)
            for one in inside[:MOST]
        ]
    if found := re.match(r"deci(?:ded|sion) (?:is |= ?)?(.*\bor\s+)?(.*)$", low):
        before, last = found[1] or "", found[2]
        return [
            Completion(f"decided {before}{key}", word, "", whole=True)
            for key, word in DECISIONS.items()
            if key in _not_yet(DECISIONS, before)
            and (key.startswith(last) or word.startswith(last))
        ]
    if found := re.match(r"(no )?signal (?:is )?(.*)$", low):
        return [
            Completion(f"{found[1] or ''}signal {rule.key}", rule.name, rule.tone.value, whole=True)
            for rule in SIGNALS
            if found[2] in rule.name.lower() or rule.key.startswith(found[2])
        ]
    return _values(low)


def _values(low: str) -> list[Completion] | None:
    """The words of a figure that was named, or how it can be compared; None where none was."""
    for name in sorted(WORD_NAMES, key=len, reverse=True):
        found = re.match(
            rf"{re.escape(name)}(?:\s*=\s*|\s+(?:is\s+)?)(.*\bor\s+|.*,\s*)?([^,=<>0-9]*)$", low
        )
        if found is None:
            continue
        figure = FIGURES_BY_KEY[WORD_NAMES[name]]
        before = _as_written(figure, found[1] or "")
        words = [w for w in _not_yet(words_of(figure), before) if w.lower().startswith(found[2])]
        if words:
            offered = [
                Completion(f"{short_name(figure)} = {before}{word}", word, figure.label, whole=True)
                for word in words
            ]
            if name in NUMBER_NAMES and not found[2] and "=" not in low:
                offered.append(_of_figure(FIGURES_BY_KEY[NUMBER_NAMES[name]]))
            return offered
    return None


def _not_yet(words: Iterable[str], before: str) -> list[str]:
    """The words of a list that were not typed before the last one."""
    typed = set(re.split(r"\s*(?:,|\bor\b|\bto\b)\s*", before.lower()))
    return [word for word in words if word.lower() not in typed]


def _as_written(figure: Figure, before: str) -> str:
    """Words that were typed before the last one, as the figure has them."""
    known = {word.lower(): word for word in words_of(figure)}
    words = [w for w in re.split(r"\s*(?:,|\bor\b)\s*", before.strip()) if w]
    return "".join(f"{known.get(word, word)} or " for word in words)


def _beginning(text: str, kind: Kind) -> Iterator[Completion]:
    """Figures, keywords, values and signals that begin with a text, or contain it; then its words."""
    low = text.strip().lower()
    typable = [one for one in FIGURES if asked(one) and kind in one.kinds]
    if not low:
        by_name = {short_name(one): one for one in reversed(typable)}
        yield from (_of_figure(by_name[name]) for name in FIRST if name in by_name)
        yield _KEYWORDS[0]
        return
    # After a number nothing is left to offer, but where it belongs to a name: “last 26 weeks”.
    if re.search(r"[<>=≤≥]|\.\.|[0-9]", low) and not any(
        one.label.lower().startswith(low) for one in typable
    ):
        return
    for figure in sorted(typable, key=lambda one: (not _plainly(one, low), len(one.label))):
        if _plainly(figure, low):
            yield _of_figure(figure)
            if short_name(figure) == low and not takes_words(figure):
                yield Completion(f"{low} <= ", f"{low} at most …", figure.label)
    keywords = (*_KEYWORDS, *(_OF_LISTINGS if kind == LISTING else ()))
    yield from (one for one in keywords if one.label.startswith(low))
    for figure in typable:
        for word in words_of(figure) if figure.choices else ():
            if len(low) > 2 and word.lower().startswith(low):
                name = short_name(figure)
                yield Completion(f"{name} = {word}", f"{name} is {word}", figure.label, whole=True)
    for figure in sorted(typable, key=lambda one: len(one.label)):
        if figure.label.lower().startswith(low):
            yield _of_figure(figure)
    if len(low) > 2:
        yield from (
            Completion(f"signal {rule.key}", rule.name, "signal", whole=True)
            for rule in SIGNALS
            if low in rule.name.lower()
        )
        yield from (_of_figure(one) for one in typable if low in one.label.lower())


def _plainly(figure: Figure, low: str) -> bool:
    """Whether a figure's own short name begins with a text: then it comes before all others."""
    name = short_name(figure)
    return (name in ALIASES and name.startswith(low)) or figure.label.lower() == low


def _of_figure(figure: Figure) -> Completion:
    name = short_name(figure)
    words = takes_words(figure)
    if figure.type is FigureType.FLAG:
        return Completion(f"{name} = yes", name, whole=True)
    hint = figure.label if figure.label.lower() != name else ""
    return Completion(f"{name} = " if words else f"{name} >= ", name, hint)


def _is_condition(text: str) -> bool:
    try:
        parse_clause(text)
    except CoreError:
        return False
    return True


def _searched(text: str) -> Iterator[Completion]:
    """Text search, which comes last and says what it is; none of what is a condition."""
    words = " ".join(text.split())
    if re.search(r"[^\W\d]", words) and not COMPARED.search(words) and not _is_condition(words):
        label = f"search for “{words}”"
        yield Completion(f"terms contain {words}", label, "in names and search terms", whole=True)
