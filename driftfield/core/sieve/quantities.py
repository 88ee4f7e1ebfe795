"""Numbers as people type them: with signs, units, thousands and either decimal mark."""

from __future__ import annotations

import re
from typing import Protocol

from driftfield.core.base import CURRENCY_SIGNS, MINUS, CoreError, format_number, plain_number
from driftfield.core.market import FigureType

LARGEST = 1e15  # A bound that no figure comes near.
SIGNS = {sign: code for code, sign in CURRENCY_SIGNS.items()}
CURRENCIES = "".join(SIGNS)  # For a class of a pattern.
CODES = {code.lower(): code for code in SIGNS.values()}
_SIGN = "[+−-]"
_GAP = " '’\u2009\u202f\u00a0"  # What may stand between thousands.
_DIGITS = (
    rf"(?:[0-9]{{1,3}}(?:[{_GAP}][0-9]{{3}})+(?![0-9])|[0-9]{{1,20}}(?:[.,][0-9]{{1,12}}){{0,6}}"
    r"|[.,][0-9]{1,12})"
)
_UNIT = (
    r"(?:%|percent|per cent|pct|k|thousand|m|mio|million|kg|g|grams?|mm|cm|metres?|days?|weeks?|months?|"
    r"stars?|reviews?|searches|units|clicks|listings|purchases|points|words?|sellers|brands|launches|offers|x|×)"
)
# An amount: its sign, its currency, its digits, its unit, and “a year” after it.
AMOUNT = (
    rf"{_SIGN}?\s*(?:[{CURRENCIES}]|(?:{'|'.join(CODES)})\b)?\s*{_DIGITS}(?:\s*{_UNIT}(?![a-z0-9]))*"
    rf"(?:\s*(?:[{CURRENCIES}]|(?:{'|'.join(CODES)})\b))?(?:\s*(?:a|per|/)\s*(?:year|month|week)\b)?"
)
_PARTS = re.compile(
    rf"(?P<sign>{_SIGN}?)\s*(?P<before>[{CURRENCIES}]|(?:{'|'.join(CODES)})\b)?\s*(?P<digits>{_DIGITS})"
    rf"\s*(?P<units>(?:\s*{_UNIT}(?![a-z0-9]))*)\s*(?P<after>[{CURRENCIES}]|(?:{'|'.join(CODES)})\b)?"
    r"\s*(?:(?:a|per|/)\s*(?P<span>year|month|week)\b)?"
)
PERCENT = {"%", "percent", "per cent", "pct"}
_TIMES = {"k": 1e3, "thousand": 1e3, "m": 1e6, "mio": 1e6, "million": 1e6}
_LENGTHS = {"mm": 1, "cm": 10, "m": 1000, "metre": 1000, "metres": 1000}
_WEIGHTS = {"g": 1, "gram": 1, "grams": 1, "kg": 1000}
_DAYS = {"day": 1, "week": 7, "month": 30}
_WEEKS_A_YEAR = {"month": 12, "week": 52}


class Measured(Protocol):
    """What can be compared: a figure of the registry, or one of a listing."""

    @property
    def key(self) -> str: ...

    @property
    def label(self) -> str: ...

    @property
    def unit(self) -> str: ...

    @property
    def type(self) -> FigureType: ...

    @property
    def is_money(self) -> bool: ...


class AskedBackError(CoreError):
    """What was typed can mean several things, or nothing. values: what a number may mean. offers: the
    conditions that say one thing each."""

    def __init__(
        self, message: str, *, values: tuple[float, ...] = (), offers: tuple[str, ...] = ()
    ) -> None:
        super().__init__(message)
        self.values, self.offers = values, offers


def digits(text: str) -> float:
    """A number from its digits; a comma is a decimal mark where no three digits follow it."""
    plain = re.sub(rf"[{_GAP}]", "", text)
    last = max(plain.rfind(","), plain.rfind("."))
    marks = [c for c in plain if c in ",."]
    if not marks:
        return float(plain)
    head, tail = plain[:last], plain[last + 1 :]
    groups = re.split(r"[.,]", head)
    if len(set(marks)) == 2:
        # 1,234.56 or 1.234,56: the mark that stands last, and once, is the decimal one.
        if marks.count(plain[last]) > 1 or not _thousands(groups):
            raise _no_number(text)
        return float("".join(groups) + "." + (tail or "0"))
    grouped = _thousands([*groups, tail])
    if plain[last] == "," and grouped:
        return float("".join([*groups, tail]))
    if len(marks) > 1:
        if not grouped:
            raise _no_number(text)
        return float("".join([*groups, tail]))
    return float(f"{head or '0'}.{tail or '0'}")


def _thousands(groups: list[str]) -> bool:
    first, *rest = groups
    return 1 <= len(first) <= 3 and first[0] != "0" and all(len(one) == 3 for one in rest)


def _no_number(text: str) -> CoreError:
    return CoreError(f"“{text}” is not a number. Write it as 1234.5 or 1,234.5.")


def _units(text: str) -> list[str]:
    return re.findall(_UNIT, text or "")


def unit_of(text: str) -> str:
    """The unit that an amount is written with; empty for none."""
    found = _PARTS.fullmatch(text.strip().lower())
    return " ".join(_units(found["units"])) if found else ""


def quantity(text: str, figure: Measured, currency: str = "", *, meant: int | None = None) -> float:
    """An amount as a bound of a figure; ``meant``: which of the values it is, where it may be several.

    Raises CoreError for an amount that the figure cannot be, AskedBackError where it may mean two.
    """
    found = _PARTS.fullmatch(text.strip().lower())
    if found is None:
        raise _no_number(text.strip())
    value = digits(found["digits"])
    if found["sign"] in {"-", MINUS}:
        value = -value
    _check_money(found["before"] or found["after"], figure, currency, text)
    scaled = False
    for unit in _units(found["units"]):
        value, by_unit = _in_unit(value, unit, figure, text)
        scaled = scaled or by_unit
    span = found["span"]
    if span in _WEEKS_A_YEAR and ("year" in figure.unit or "year" in figure.label.lower()):
        yearly = format_number(value * _WEEKS_A_YEAR[span])
        raise CoreError(f"{figure.label} is counted over a year: write {yearly}.")
    value = round(value, 10)
    if abs(value) > LARGEST:
        raise CoreError(f"{text.strip()} is larger than any figure. Write a smaller number.")
    try:
        return _checked(value, scaled, figure, text.strip())
    except AskedBackError as asked:
        if meant is None or not asked.values:
            raise
        return asked.values[min(meant, len(asked.values) - 1)]


def _check_money(sign: str | None, figure: Measured, currency: str, text: str) -> None:
    if not sign:
        return
    code = SIGNS.get(sign) or CODES[sign]
    if not figure.is_money:
        raise CoreError(
            f"{figure.label} is no amount of money; got “{text.strip()}”. Write the number alone."
        )
    if currency and code != currency:
        raise CoreError(
            f"Prices of this market are in {currency}; got “{text.strip()}”. Write the number alone."
        )


def _in_unit(value: float, unit: str, figure: Measured, text: str) -> tuple[float, bool]:
    """A value in one of the units after it, and whether the unit sets the scale of a share."""
    if unit in PERCENT:
        if figure.type not in {FigureType.SHARE, FigureType.CHANGE}:
            raise CoreError(f"{figure.label} is not in percent; got “{text.strip()}”.")
        return value / 100, True
    own = figure.unit.split(",")[0].split(" ")[0]
    if own == "mm" and unit in _LENGTHS:
        return value * _LENGTHS[unit], True
    if own == "g" and unit in _WEIGHTS:
        return value * _WEIGHTS[unit], True
    if unit in _TIMES:
        return value * _TIMES[unit], False
    singular = unit.removesuffix("s")
    if own == "days" and singular in _DAYS:
        return value * _DAYS[singular], True
    known = f"{figure.unit} {figure.label} {figure.key}".lower()
    if unit in {"x", "×"} and own in {"×", "factor"}:
        return value, True
    if singular in known or (singular == "searche" and "search" in known):
        return value, False
    raise CoreError(f"{figure.label} is not counted in {unit}; got “{text.strip()}”.")


def _checked(value: float, scaled: bool, figure: Measured, text: str) -> float:
    """A bound that its figure can be."""
    if figure.type is FigureType.SHARE and not 0 <= value <= 1:
        percent = not scaled and 0 < value <= 100
        raise AskedBackError(
            f"{figure.label} is a share from 0% to 100%; got “{text}”."
            + (f" Write {plain_number(value)}%." if percent else ""),
            values=(value / 100,) if percent else (),
        )
    if figure.type is FigureType.CHANGE and not scaled and abs(value) >= 1:
        readings = f"{value:g}% or {value * 100:g}%".replace("-", MINUS)
        raise AskedBackError(
            f"{readings}? {figure.label} is a change; got “{text}”. Write {readings}.",
            values=(value / 100, value),
        )
    return value
