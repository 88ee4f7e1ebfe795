"""Reading conditions on what a listing did in a month: “sold at least 100 in October 2025”."""

from __future__ import annotations

import re
from dataclasses import dataclass

from driftfield.core.base import CoreError, plain_number
from driftfield.core.market import FigureType

from .asked import DONE
from .compared import bounds_of
from .monthly import InMonth
from .pieces import month_named

IN_MONTH = re.compile(
    rf"({'|'.join(DONE)})(?:\s+|(?=[<>=≤≥]))(?!by\b)(.+?)\s+in\s+([\w\s/-]+)", re.I
)
_ISO = re.compile(r"([0-9]{4})[-/]([0-9]{1,2})")
_NAMED = re.compile(r"([a-z]+)\s+([0-9]{4})", re.I)


@dataclass(frozen=True, slots=True)
class _Counted:
    """What is counted in a month, as bounds are read."""

    key: str
    label: str
    unit: str
    type: FigureType = FigureType.COUNT
    is_money: bool = False


_COUNTED = {
    "sold": _Counted("units", "units in that month", "units"),
    "ranked": _Counted("sales_rank", "best rank in that month", "place"),
}


def month_clause(found: re.Match[str], text: str, currency: str) -> InMonth:
    """The condition that a match of IN_MONTH is. Raises CoreError for what is no month and no comparison."""
    does = found[1].lower()
    year, month = _month(found[3].strip(), text)
    rest = re.sub(r"\s+(?:units?|pieces?|times)\b", "", found[2], flags=re.I)

    def offered(low: float | None, high: float | None) -> str:
        ends = ("" if one is None else plain_number(one) for one in (low, high))
        return f"{does} {'..'.join(ends)} in {year}-{month:02}"

    low, high = bounds_of(rest, _COUNTED[does], currency, offered, text)
    return InMonth(does, low, high, year, month)


def _month(said: str, text: str) -> tuple[int, int]:
    if iso := _ISO.fullmatch(said):
        year, month = int(iso[1]), int(iso[2])
    elif named := _NAMED.fullmatch(said):
        year, month = int(named[2]), month_named(named[1])
    else:
        raise CoreError(f"“{text}” names no month: write one with its year, as in 2025-10.")
    if not (1990 <= year <= 2100 and 1 <= month <= 12):
        raise CoreError(f"“{said}” is no month: write it as in 2025-10.")
    return year, month
