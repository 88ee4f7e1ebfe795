"""Reading conditions as they are typed and as they stand in an address."""

from __future__ import annotations

import re

from driftfield.core.base import CoreError
from driftfield.core.market import FIGURES_BY_KEY, Figure, FigureType
from driftfield.core.signals import SIGNALS_BY_KEY
from driftfield.core.supply import TopQuestion

from .clauses import (
    HOW,
    MONTHS,
    Clause,
    Decided,
    Drawn,
    InCategory,
    OneOf,
    Peak,
    Range,
    SignalIs,
    Terms,
    TermWords,
    Top,
    listed,
)
from .names import NAMES

MAX_CORNERS = 60
CHOICES = ("keep", "park", "pass", "open")
MAX_LENGTH = 1_000  # Characters of a condition; an area of sixty corners takes most.
LARGEST = 1e15  # A bound that no figure comes near.
_NUMBER = r"[+\-−]?[0-9][0-9,]{0,19}(?:\.[0-9]{1,12})?\s*[%km]?"
_SCALE = {"%": 0.01, "k": 1_000.0, "m": 1_000_000.0}

# Dates that lie within so many days from the planning date on, by the figure of those days.
_DATED = {"order by": "order_in_days", "open until": "act.open_days"}
_WITHIN = re.compile(
    rf"({'|'.join(_DATED)})\s+(?:with)?in\s+(?:the next\s+)?([0-9]{{1,4}})\s*(day|week)s?"
)

# The longest name first, so that of two that begin alike the longer one is found.
_NAMED = re.compile(
    rf"({'|'.join(re.escape(name) for name in sorted(NAMES, key=len, reverse=True))})(?=[\s=<>≤≥:]|$)"
)


def parse_clause(text: str) -> Clause:
    """A condition from its text; raises CoreError that says what is wrong and how to write it.

    As in “price 12..45”, “searches >= 8k”, “brand <= 40%”, “shape = Seasonal or Occasion”, “peak in
    May or June”, “signal few_reviews”, “no signal one_brand”, “terms hold glass”, “terms start with
    copper”, “order by within 4 weeks”, “category Growing”, “decided keep or open”, “top 4 of 10 reviews < 120”,
    “drawn 20:60 40:60 30:90”.
    """
    text = " ".join(text.split())
    if len(text) > MAX_LENGTH:
        raise CoreError(f"A condition has at most {MAX_LENGTH} characters. Write it shorter.")
    low = text.lower()
    named = _figure_named(low)
    if re.match(r"top [0-9]+ of ", low) or (low.startswith("top ") and named is None):
        return Top(TopQuestion.parse(text[4:]))
    for start, raised in (("no signal ", False), ("signal ", True)):
        if low.startswith(start):
            return SignalIs(_one(text[len(start) :], SIGNALS_BY_KEY, "signal"), raised)
    # Some figures begin with these words too.
    if low.startswith("terms ") and (named is None or low[6:].startswith(HOW)):
        return _terms(text[6:])
    if low.startswith("term words"):
        return _term_words(low[10:].strip(), text)
    if low.startswith("category "):
        return InCategory(text[9:].strip())
    if low.startswith("drawn "):
        return _drawn(text[6:])
    if low.startswith("decided "):
        return Decided(_some(text[8:], CHOICES, "decision"))
    if low.startswith("peak in "):
        words = _some(text[8:], MONTHS, "month")
        return Peak(tuple(MONTHS.index(word) + 1 for word in words))
    if soon := _WITHIN.fullmatch(low):
        return Range(_DATED[soon[1]], None, float(soon[2]) * (7 if soon[3] == "week" else 1))
    return _figure_clause(text, named)


def _figure_named(low: str) -> str | None:
    """The longest name of a figure that a text in lower case begins with; None for none."""
    found = _NAMED.match(low)
    return found and found[1]


def _one(text: str, known: object, what: str) -> str:
    word = text.strip()
    assert hasattr(known, "__iter__")
    for one in known:
        if str(one).lower() == word.lower():
            return str(one)
    raise CoreError(f"There is no {what} “{word}”. Known: {', '.join(known)}.")


def _some(text: str, known: tuple[str, ...], what: str) -> tuple[str, ...]:
    """Words joined by “or” or commas, each one of the known."""
    words = [w for w in re.split(r"\s*(?:,|\||\bor\b)\s*", text.strip(), flags=re.I) if w]
    if not words:
        raise CoreError(f"Name a {what}: {listed(known)}.")
    return tuple(dict.fromkeys(_one(word, known, what) for word in words))


def _terms(text: str) -> Terms:
    for how in sorted(HOW, key=len, reverse=True):
        if text.lower().startswith(f"{how} "):
            words = text[len(how) :].strip().strip("“”\"'").lower()
            if words:
                return Terms(how, words)
    raise CoreError(f"Say what the terms do with which words: terms {listed(HOW)} WORDS.")


def _term_words(rest: str, text: str) -> TermWords:
    between = re.fullmatch(r"=?\s*([0-9]{1,2})?\s*(\.\.|to|–)\s*([0-9]{1,2})?", rest)
    one = re.fullmatch(r"(>=|≥|>|<=|≤|<|=)?\s*([0-9]{1,2})", rest)
    low, high = 1, None
    if between and (between[1] or between[3]):
        low, high = int(between[1] or 1), int(between[3]) if between[3] else None
    elif one:
        many, sign = int(one[2]), one[1] or "="
        low = {">=": many, "≥": many, ">": many + 1, "=": many}.get(sign, 1)
        high = {"<=": many, "≤": many, "<": many - 1, "=": many}.get(sign)
    else:
        raise CoreError(
            f"“{text}” does not say how many: write “term words >= 3” or “term words 2..4”."
        )
    if high is not None and 1 <= high < low:
        low, high = high, low
    if low < 1 or (high is not None and high < low):
        raise CoreError(f"“{text}” asks for a number of words that no term has.")
    return TermWords(low, high)


def _drawn(text: str) -> Drawn:
    corners = []
    for pair in text.split():
        found = re.fullmatch(r"([0-9]{1,3}(?:\.[0-9]{1,9})?):([0-9]{1,3}(?:\.[0-9]{1,9})?)", pair)
        if not found or not 0 <= float(found[1]) <= 100 or not 0 < float(found[2]) <= 100:
            raise CoreError(
                f"“{pair}” is no corner: write competition:demand, both up to 100, as in 20:60."
            )
        corners.append((float(found[1]), float(found[2])))
    if not 3 <= len(corners) <= MAX_CORNERS:
        raise CoreError(f"An area has 3 to {MAX_CORNERS} corners; {len(corners)} came.")
    return Drawn(tuple(corners))


def _figure_clause(text: str, name: str | None) -> Range | OneOf:
    if name is None:
        raise CoreError(
            f"“{text}” is not a condition: begin with a figure, as in “price 12..45”, or with terms, top, "
            "signal, category, peak in, drawn or decided."
        )
    figure, rest = FIGURES_BY_KEY[NAMES[name]], text[len(name) :].strip()
    if figure.type is FigureType.FLAG or figure.choices:
        words = re.sub(r"^(=|:|is\b)\s*", "", rest)
        choices = ("no", "yes") if figure.type is FigureType.FLAG else figure.choices
        return OneOf(figure.key, _some(words, choices, f"value of {figure.label}"))
    return _range(figure, rest, text)


def _range(figure: Figure, rest: str, text: str) -> Range:
    between = re.fullmatch(
        rf"(?:between|=|:)?\s*({_NUMBER})?\s*(?:\.\.|to|–|and)\s*({_NUMBER})?", rest, re.I
    )
    one = re.fullmatch(rf"(>=|<=|≥|≤|>|<|=|over|under)\s*({_NUMBER})", rest, re.I)
    if between and (between[1] or between[2]):
        low, high = (_number(v, figure) if v else None for v in between.groups())
    elif one:
        value = _number(one[2], figure)
        sign = one[1].lower()
        low = value if sign in {">=", "≥", ">", "over", "="} else None
        high = value if sign in {"<=", "≤", "<", "under", "="} else None
    else:
        raise CoreError(
            f"“{text}” does not say how {figure.label.lower()} compares: write “>= 12”, “<= 45” or “12..45”."
        )
    if low is not None and high is not None and low > high:
        low, high = high, low  # “45 to 12” can only mean the same as “12 to 45”.
    return Range(figure.key, low, high)


def _number(text: str, figure: Figure) -> float:
    plain = text.replace(",", "").replace("−", "-").strip().lower()
    scale = _SCALE.get(plain[-1], 1.0)
    value = round(float(plain.rstrip("%km").strip()) * scale, 10)
    if abs(value) > LARGEST:
        raise CoreError(f"{text.strip()} is larger than any figure. Write a smaller number.")
    if figure.type is FigureType.SHARE and not 0 <= value <= 1:
        raise CoreError(
            f"{figure.label} is a share from 0% to 100%; {text.strip()} came. Write {text.strip('%km ')}%."
        )
    return value
