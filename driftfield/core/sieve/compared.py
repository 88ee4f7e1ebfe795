"""How a figure compares, as people say it: “over 8k”, “£15–£40”, “at most 40%”, “15 or more”."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from itertools import count

from driftfield.core.market import FigureType

from .quantities import AMOUNT, CURRENCIES, AskedBackError, Measured, quantity, unit_of

# Phrases by the sign they stand for; of two that begin alike the longer one is found.
PHRASES = {
    ">=": ("at least", "no less than", "not less than", "not under", "not below", "no fewer than", "minimum",
           "min", "from", "starting at", "upwards of", "≥", "=>"),
    "<=": ("at most", "no more than", "not more than", "not over", "not above", "maximum", "max", "up to",
           "≤", "=<"),
    ">": ("more than", "greater than", "higher than", "bigger than", "larger than", "heavier than",
          "longer than", "older than", "over", "above", "exceeding", "exceeds", "beyond"),
    "<": ("less than", "fewer than", "lower than", "smaller than", "lighter than", "shorter than",
          "cheaper than", "younger than", "under", "below", "beneath"),
}  # fmt: skip
_SIGN_OF = {phrase: sign for sign, phrases in PHRASES.items() for phrase in phrases}
_ANY = "|".join(re.escape(one) for one in sorted(_SIGN_OF, key=len, reverse=True))
_BEFORE = re.compile(rf"(?<![a-z])({_ANY})\s*(?={AMOUNT})", re.I)
# What a text may end with that does not say yet with what a figure is compared.
UNFINISHED = (*(one for one in _SIGN_OF if one.isascii() and one[0].isalpha()), "between", "is")
_UP = r"(?:or|and) (?:more|above|over|higher|up|upwards|older|heavier)|upwards|plus|\+"
_DOWN = r"(?:or|and) (?:less|fewer|below|under|lower|down|cheaper|lighter|younger)|at most|max(?:imum)?|tops"
_AFTER = [(re.compile(rf"({AMOUNT})\s*(?:{words})(?![a-z0-9])", re.I), sign)
          for words, sign in ((_UP, ">="), (_DOWN, "<="))]  # fmt: skip
_IS = r"(?:(?:is|are|was|has|have|of|:)\s+|:\s*|=\s*(?=[^=<>]))?"
_SIGNS = r"(?:>=|<=|>|<|==|=)"
_TO = r"(?:\.\.|…|to|and|until|[-–—])"
_BETWEEN = re.compile(
    rf"{_IS}(?:between\s+|>=\s*)?({AMOUNT})?\s*{_TO}\s*(?:<=\s*)?({AMOUNT})?", re.I
)
_ONE = re.compile(rf"{_IS}({_SIGNS})\s*({AMOUNT})", re.I)
_TWO = re.compile(rf"{_IS}({_SIGNS})\s*({AMOUNT})\s*(?:and|but|,)?\s*({_SIGNS})\s*({AMOUNT})", re.I)
_ALONE = re.compile(rf"{_IS}({AMOUNT})", re.I)
_ABOUT = re.compile(rf"{_IS}(?:about|around|roughly|near|ca\.?|~|≈)\s*({AMOUNT})", re.I)
OF_SIGN = {"positive": (0.0, None), "negative": (None, 0.0)}
# What shows that something was to be compared, and no words looked for.
COMPARED = re.compile(rf"[<>=≤≥{CURRENCIES}]|\.\.|(?<![a-z])(?:{_ANY}|between)\s+[0-9]", re.I)
THOUSANDS = {"k", "m", "thousand", "million", "mio"}
ABOUT = 0.1  # What “about 20” offers to either side, as a part of it.


def spelt_out(text: str) -> str:
    """A text in which “20 or more” is a sign and a number, so that “or” joins conditions alone."""
    if re.match(r"(?:terms?|names?|search terms?)\b", text, re.I) or re.search(r"[“”\"]", text):
        return text
    for pattern, sign in _AFTER:
        text = pattern.sub(rf"{sign} \1", text)
    return text


def sign_first(text: str) -> str:
    """A text that begins with a phrase as one that begins with the sign it stands for."""
    found = _BEFORE.match(text)
    return f"{_SIGN_OF[found[1].lower()]} {text[found.end() :]}" if found else text


def _with_signs(text: str) -> str:
    for pattern, sign in _AFTER:
        text = pattern.sub(rf"{sign} \1", text)
    return _BEFORE.sub(lambda found: f"{_SIGN_OF[found[1].lower()]} ", text)


def compared(rest: str, figure: Measured, currency: str) -> tuple[str, float]:
    """The sign and the value of a comparison with one bound; an empty sign where it is none."""
    found = _ONE.fullmatch(_with_signs(rest))
    return (found[1], quantity(found[2], figure, currency)) if found else ("", math.nan)


def bounds_of(
    rest: str,
    figure: Measured,
    currency: str,
    offered: Callable[[float | None, float | None], str],
    text: str,
) -> tuple[float | None, float | None]:
    """The bounds that a text sets to a figure, either of which may be open; ``text`` is all that was typed.

    Raises CoreError where it sets none, AskedBackError with what it may mean: ``offered`` writes a
    condition of two bounds.
    """
    try:
        return _bounds(rest, figure, currency, None, offered, text)
    except AskedBackError as asked:
        if asked.offers or not asked.values:
            raise
        meant = [
            offered(*_bounds(rest, figure, currency, k, offered, text))
            for k, _ in zip(count(), asked.values, strict=False)
        ]
        raise AskedBackError(str(asked), offers=tuple(meant)) from None


def _bounds(
    rest: str,
    figure: Measured,
    currency: str,
    meant: int | None,
    offered: Callable[[float | None, float | None], str],
    text: str,
) -> tuple[float | None, float | None]:
    rest = _with_signs(rest)

    def read(amount: str, unit: str = "") -> float:
        return quantity(f"{amount}{unit}", figure, currency, meant=meant)

    if (found := OF_SIGN.get(rest.lower())) is not None:
        return found
    if (between := _BETWEEN.fullmatch(rest)) and (between[1] or between[2]):
        first, last = between.groups()
        # In “15-40%” and “4 to 8 weeks” the unit is that of both.
        units = [unit_of(one) if one else "" for one in between.groups()]
        shared = units[1] if not units[0] else units[0] if units == ["%", ""] else ""
        low = read(first, "" if units[0] else shared) if first else None
        high = read(last, "" if units[1] else shared) if last else None
        if shared in THOUSANDS and low is not None and high is not None and low > high:
            low = read(first)  # “500 to 2k”
        return _ordered(low, high)
    if two := _TWO.fullmatch(rest):
        low, high = _side(two[1], read(two[2]), figure)
        second = _side(two[3], read(two[4]), figure)
        if (low is None) != (second[0] is None):
            return _ordered(
                low if low is not None else second[0], high if high is not None else second[1]
            )
    if one := _ONE.fullmatch(rest):
        return _side(one[1], read(one[2]), figure)
    if about := _ABOUT.fullmatch(rest):
        value = read(about[1])
        # To three digits: what is meant roughly has no more of them.
        low, high = _ordered(*(float(f"{value * f:.3g}") for f in (1 - ABOUT, 1 + ABOUT)))
        raise AskedBackError(
            f"How near is “{rest}”? Write it as a range.", offers=(offered(low, high),)
        )
    if alone := _ALONE.fullmatch(rest):
        value = read(alone[1])
        raise AskedBackError(
            f"“{text}” does not say how {figure.label.lower()} compares: at least or at most "
            f"{alone[1].strip()}? For a range write two numbers, as in “12..45”.",
            offers=(offered(value, None), offered(None, value)),
        )
    left = f" “{rest}” is not understood:" if rest else ""
    raise AskedBackError(
        f"“{text}” does not say how {figure.label.lower()} compares.{left} write “>= 12”, “<= 45” or "
        "“12..45”."
    )


def _side(sign: str, value: float, figure: Measured) -> tuple[float | None, float | None]:
    if figure.type is FigureType.COUNT:
        # Of what is counted, more than three is four or more.
        value = (
            math.floor(value) + 1 if sign == ">" else math.ceil(value) - 1 if sign == "<" else value
        )
    low = value if sign in {">", ">=", "=", "=="} else None
    high = value if sign in {"<", "<=", "=", "=="} else None
    return low, high


def _ordered(low: float | None, high: float | None) -> tuple[float | None, float | None]:
    """“45 to 12” can only mean the same as “12 to 45”."""
    if low is not None and high is not None and low > high:
        return high, low
    return low, high
