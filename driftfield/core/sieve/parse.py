"""Reading conditions: as they are typed, and as they stand in an address."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection
from dataclasses import dataclass, replace

from driftfield.core.base import CoreError
from driftfield.core.market import FIGURES_BY_KEY, NICHE, Figure, FigureType, Kind

from .asked import HOW, listed
from .clauses import Atom, Decided, InCategory, OneOf, Peak, Range, SignalIs, Terms
from .compared import COMPARED, OF_SIGN, bounds_of, sign_first, spelt_out
from .dated import dated_clause
from .in_time import IN_TIME, time_clause
from .joined import Clause, Not, deny, either, parts_of
from .listing_texts import HAS, LED, attribute_clause, led_clause
from .names import (
    NUMBER_NAMES,
    SEVERAL,
    WORD_NAMES,
    figures_alike,
    name_at_end,
    name_at_start,
    words_of,
)
from .of_kind import for_kind
from .of_listings import HasAttribute, LedBy, Whose
from .pieces import (
    HOW_TYPED,
    drawn_clause,
    known_word,
    listed_words,
    name_looked_for,
    term_words_clause,
    terms_clause,
    words_looked_for,
)
from .quantities import AMOUNT, CURRENCIES, AskedBackError
from .top import top_clause
from .word_clauses import (
    DECIDED,
    NOT_AFTER,
    SIGNAL_NAMES,
    category_clause,
    decided_clause,
    denied_or,
    peak_clause,
    signal_clause,
    whose_clause,
)

MAX_JOINED = 12  # Clauses that “or” joins in one condition.
MAX_LENGTH = 1_000  # Characters of a condition; an area of sixty corners takes most.
# What people call the words a figure can be.
SYNONYMS = {
    "drift": {"growing": "Rising", "up": "Rising", "rise": "Rising", "flat": "Holding", "steady": "Holding",
              "stable": "Holding", "unchanged": "Holding", "falling": "Easing", "declining": "Easing",
              "shrinking": "Easing", "down": "Easing"},
    "shape": {"all year": "Evergreen", "all-year": "Evergreen", "occasional": "Occasion",
              "season": "Seasonal"},
    "field": {"open": "Opening", "close": "Closing"},
}  # fmt: skip
_HOW_ANY = "|".join(sorted(HOW_TYPED, key=len, reverse=True))
_WHOSE = r"(?:name or )?(?:search )?(?:terms?|names?)"
_TERMS = re.compile(rf"(?:{_WHOSE}\s+)?({_HOW_ANY})\s+(.+)", re.I | re.S)
_DENIED = re.compile(r"(?:not|no|without)\s+", re.I)
_BARE = tuple(FIGURES_BY_KEY[k] for k in ("shape", "drift", "field", "life", "feast"))


@dataclass(frozen=True, slots=True)
class Typed:
    """What was made of a text. searched: that no condition was found in it, and its words are looked for."""

    clause: Clause
    searched: bool = False


def read_typed(text: str, currency: str = "", categories: Collection[str] | None = None) -> Typed:
    """What a person typed as a condition; words that are none are looked for in names and terms.

    Raises CoreError as ``parse_clause`` does; text search comes last.
    """
    try:
        return Typed(parse_clause(text, currency, categories))
    except _NoConditionError:
        words = words_looked_for(text)
        nothing = not re.search(r"\w", words) or re.fullmatch(AMOUNT, words.lower())
        if nothing or COMPARED.search(words.lower()):
            raise
        return Typed(Terms("contain", words), searched=True)


def read_condition(
    text: str,
    currency: str = "",
    categories: Collection[str] | None = None,
    kind: Kind = NICHE,
) -> dict[str, object]:
    """What was made of a text, as plain values: its ``condition`` and ``sentence``, or its ``problem``.

    ``search`` is there and true where its words are looked for; ``offers`` are conditions that may be meant.
    """
    try:
        typed = read_typed(text, currency, categories)
        typed = replace(typed, clause=for_kind(typed.clause, kind))
    except CoreError as error:
        offers = error.offers if isinstance(error, AskedBackError) else ()
        return {"text": text, "problem": str(error), "offers": list(offers)}
    found: dict[str, object] = {
        "text": text,
        "condition": typed.clause.text,
        "sentence": typed.clause.sentence(currency),
    }
    return found | ({"search": True} if typed.searched else {})


def parse_clause(
    text: str, currency: str = "", categories: Collection[str] | None = None
) -> Clause:
    """A condition from its text; raises CoreError that says what was understood and how to write it.

    As in “price 12..45”, “price £12 to £45”, “searches over 8k”, “brand <= 40%”, “shape is Seasonal or
    Occasion”, “not seasonal”, “peak in May or June”, “no signal one_brand”, “terms contain glass”, “order by
    within 4 weeks”, “category Growing”, “decided keep or open”, “top 4 of 10 reviews < 120”, “reviews below 150
    in 5 of the top 10”, “price under 20 or drift rising”, “drawn 20:60 40:60 30:90”.

    ``currency``: ISO 4217 code of the market's, which amounts with a sign must be in. ``categories``: ids
    and names that there are; None for any.
    """
    text = " ".join(text.split())
    if len(text) > MAX_LENGTH:
        raise CoreError(f"A condition has at most {MAX_LENGTH} characters. Write it shorter.")
    read = _Reader(currency, categories)
    pieces = _pieces(spelt_out(text))
    clauses: list[Atom | Not] = []
    for piece in pieces:
        clauses.append(read.next(piece, clauses[-1] if clauses else None))
        if len(clauses) > 1 and isinstance(clauses[-2], Not) and isinstance(clauses[-1], Not):
            first, second = clauses[-2].clause, clauses[-1].clause
            merged = either([first, second])
            # “not Seasonal or Occasion” denies both.
            if read.continued and not isinstance(merged, Not) and len(parts_of(merged)) == 1:
                clauses[-2:] = [Not(parts_of(merged)[0])]
    clause = either(clauses)
    if len(parts_of(clause)) > MAX_JOINED:
        raise CoreError(f"“or” joins at most {MAX_JOINED} conditions. Write fewer.")
    return clause


def _pieces(text: str) -> list[str]:
    """A text cut at each “or” that does not stand between quotation marks."""
    pieces = [""]
    inside = False
    for word in re.split(r"(\s+)", text):
        if not inside and word.lower() in {"or", "|"} and pieces[-1].strip():
            pieces.append("")
            continue
        marks = sum(word.count(mark) for mark in '“”"')
        inside ^= marks % 2 == 1
        pieces[-1] += word
    return [piece.strip() for piece in pieces if piece.strip()] or [""]


class _NoConditionError(AskedBackError):
    """Nothing in a text is known of conditions."""


class _Reader:
    """Reads the parts of one condition, each after the one before it."""

    def __init__(self, currency: str, categories: Collection[str] | None) -> None:
        self.currency, self.categories = currency, categories
        self.continued = False

    def next(self, piece: str, last: Atom | Not | None) -> Atom | Not:
        """A part; one that goes on where the last one began is read with its beginning."""
        self.continued = False
        if last is not None and (found := self._goes_on(piece, last)) is not None:
            self.continued = True
            return found
        return self._read(piece)

    def _goes_on(self, piece: str, last: Atom | Not) -> Atom | Not | None:
        atom = last.clause if isinstance(last, Not) else last
        denied = isinstance(last, Not)
        made: Atom | Not | None = None
        words = isinstance(atom, OneOf | Peak | Decided)
        if not words and self._is_condition(piece):
            return None
        try:
            if isinstance(atom, OneOf):
                made = self._one_of(FIGURES_BY_KEY[atom.figure], piece)
            elif isinstance(atom, Peak):
                made = peak_clause(piece)
            elif isinstance(atom, Decided):
                made = decided_clause(piece)
            elif isinstance(atom, Range):
                made = self._range(FIGURES_BY_KEY[atom.figure], piece, piece)
            elif isinstance(atom, Terms):
                made = terms_clause(atom.how, piece)
            elif isinstance(atom, InCategory):
                made = category_clause(piece, self.categories)
            elif isinstance(atom, Whose):
                made = whose_clause(atom.role, piece)
            elif isinstance(atom, HasAttribute):
                made = HasAttribute(atom.attribute, name_looked_for(piece))
            elif isinstance(atom, LedBy):
                made = LedBy(name_looked_for(piece), atom.least)
        except CoreError:
            return None
        if made is None or isinstance(made, Not):
            return made
        return Not(made) if denied else made

    def _is_condition(self, piece: str) -> bool:
        try:
            _Reader(self.currency, self.categories)._read(piece)
        except _NoConditionError:
            return False
        except CoreError:
            return True
        return True

    def _read(self, text: str) -> Atom | Not:
        low = text.lower()
        if low.startswith("no signal "):
            return deny(signal_clause(text[10:]))
        text = sign_first(text)
        if denied := _DENIED.match(text):
            try:
                found = self._read(text[denied.end() :].strip())
            except _NoConditionError:
                raise self._none(text) from None
            return found.clause if isinstance(found, Not) else deny(found)
        return self._atom(text)

    def _atom(self, text: str) -> Atom | Not:
        low = text.lower()
        if (signal := SIGNAL_NAMES.get(low)) is not None:
            return SignalIs(signal)
        named = name_at_start(low)
        if found := IN_TIME.fullmatch(text):
            return time_clause(found, text, self.currency)
        if found := HAS.fullmatch(text):
            return attribute_clause(found, text)
        if found := LED.fullmatch(text):
            return led_clause(found, text)
        if low.startswith(("drawn ", "drawn:")):
            return drawn_clause(text[6:])
        if low.startswith("term words"):
            return term_words_clause(low[10:].strip(), text)
        if (top := top_clause(text, self.currency, named)) is not None:
            return top
        if re.match(r"signals?\b", low) and named is None:
            return signal_clause(re.sub(r"^signals?\s*(?:is|=|:)?\s*", "", text, flags=re.I))
        if (found := _TERMS.fullmatch(text)) and (named is None or low.startswith("term")):
            return terms_clause(found[1], found[2])
        if low.startswith("terms ") and named is None:
            raise CoreError(f"Write what the terms do with which words: terms {listed(HOW)} WORDS.")
        for keyword, make in _KEYWORDS:
            if (found := keyword.match(low)) and (named is None or found.end() > len(named)):
                return make(text[found.end() :].strip(), self.categories)
        if soon := dated_clause(low):
            return soon
        if low.startswith(("order by", "open until")):
            raise CoreError(
                f"Dates are asked for by how near they are: write “{low[:10].split()[0]} "
                f"{low.split()[1]} within 4 weeks”; got “{text}”."
            )
        if named is not None:
            return self._figure(text, low, named)
        return self._without_a_name(text, low)

    def _figure(self, text: str, low: str, named: str) -> Atom | Not:
        rest = text[len(named) :].strip()
        if named in SEVERAL and named not in NUMBER_NAMES:
            raise AskedBackError(
                f"“{named}” can be {listed(SEVERAL[named])}. Write which.",
                offers=tuple(
                    offer
                    for name in SEVERAL[named]
                    if rest and (offer := self._offered(f"{name} {rest}"))
                ),
            )
        in_words, in_numbers = WORD_NAMES.get(named), NUMBER_NAMES.get(named)
        # “drift” is a figure of numbers and one of words: what follows says which is meant.
        in_figures = rest.lower() in OF_SIGN or re.search(r"[0-9]", rest)
        if in_words and not (in_numbers and in_figures):
            figure = FIGURES_BY_KEY[in_words]
            return denied_or(rest, lambda words: self._one_of(figure, words))
        assert in_numbers is not None
        figure = FIGURES_BY_KEY[in_numbers]
        # “is not over 45” is a comparison, and no denial of one.
        rest = sign_first(re.sub(r"^(?:is|are)\s+", "", rest, flags=re.I))
        if found := NOT_AFTER.fullmatch(rest):
            return deny(self._range(figure, found[1], text))
        return self._range(figure, rest, text)

    def _one_of(self, figure: Figure, text: str) -> OneOf:
        words = re.sub(r"^(?:=|:|is\b|are\b)\s*", "", text, flags=re.I)
        known = words_of(figure)
        also = SYNONYMS.get(figure.key, {})
        if figure.type is FigureType.FLAG and not words:
            return OneOf(figure.key, ("yes",))
        if not words:
            raise AskedBackError(
                f"{figure.label} is {listed(known)}: write which.",
                offers=tuple(OneOf(figure.key, (word,)).text for word in known),
            )
        found = []
        for word in listed_words(words, f"value of {figure.label}", known):
            plain = word.lower()
            found.append(also.get(plain) or known_word(word, known, f"value of {figure.label}"))
        return OneOf(figure.key, tuple(dict.fromkeys(found)))

    def _range(self, figure: Figure, rest: str, text: str) -> Range:
        def offered(low: float | None, high: float | None) -> str:
            return Range(figure.key, low, high).text

        low, high = bounds_of(rest, figure, self.currency, offered, text)
        return Range(figure.key, low, high)

    def _without_a_name(self, text: str, low: str) -> Atom | Not:
        """A condition that does not begin with what it is on: “under 150 reviews”, “£15 to £40”, “seasonal”."""
        if named := name_at_end(low):
            before = text[: len(text) - len(named)].strip()
            if re.search(r"[0-9]", before) and (key := NUMBER_NAMES.get(named)):
                return self._range(FIGURES_BY_KEY[key], re.sub(r"\s+(?:in|of)$", "", before), text)
        if re.search(f"[{CURRENCIES}]", low):
            return self._range(FIGURES_BY_KEY["sales.price_median"], text, text)
        if low in DECIDED and low not in {"none", "nothing"}:
            return Decided((DECIDED[low],))
        for figure in _BARE:
            known = {word.lower(): word for word in words_of(figure)} | SYNONYMS.get(figure.key, {})
            # One everyday word alone is rather looked for.
            if low in known and low in {w.lower() for w in words_of(figure)} | {
                "growing",
                "falling",
            }:
                return OneOf(figure.key, (known[low],))
        raise self._none(text)

    def _none(self, text: str) -> _NoConditionError:
        found = re.match(f"[^0-9<>=≤≥:{CURRENCIES}]+", text)
        word = (
            re.sub(r"\s+(?:is|over|under|above|below|at|between)?\s*$", "", found[0].strip())
            if found
            else ""
        )
        near = figures_alike(word) if word else []
        if re.fullmatch(rf"{AMOUNT}", text.lower()):
            hint = "It is a number: say of which figure, as in “price over 15”."
        elif near:
            hint = f"Did you mean {listed(near)}?"
        else:
            hint = (
                "Begin with a figure, as in “price 12 to 45”, or with terms, top, signal, category, peak in "
                "or decided."
            )
        rest = text[len(found[0]) :].strip() if found else ""
        offers = [offer for name in near if rest and (offer := self._offered(f"{name} {rest}"))]
        return _NoConditionError(f"“{text}” is not a condition. {hint}", offers=tuple(offers))

    def _offered(self, text: str) -> str:
        """A condition as it is kept; empty where the text is none."""
        try:
            return self._read(text).text
        except CoreError:
            return ""


# What a condition may begin with besides a figure, and what reads on from there.
_KEYWORDS: tuple[
    tuple[re.Pattern[str], Callable[[str, Collection[str] | None], Atom | Not]], ...
] = (
    (
        re.compile(r"(?:the )?(?:season )?peaks?\s*(?:is |falls? |=|:)?\s*(?:in\b|is\b|=|:)?\s*"),
        lambda text, _: peak_clause(text),
    ),
    (re.compile(r"peaking (?:in )?"), lambda text, _: peak_clause(text)),
    (re.compile(r"(?:in )?category\s*(?:is |=|:)?\s*"), category_clause),
    (re.compile(r"(?:made by|of brand)\s*"), lambda text, _: whose_clause("brand", text)),
    (re.compile(r"(?:sold by|of seller)\s*"), lambda text, _: whose_clause("seller", text)),
    (
        re.compile(r"(?:decid(?:ed|e)|decision)\s*(?:is |=|:)?\s*"),
        lambda text, _: decided_clause(text),
    ),
)
