"""Reading conditions on what a listing did in a time: “sold at least 100 in October 2025”, “at Easter 2026”."""

from __future__ import annotations

import re
from dataclasses import dataclass

from driftfield.core.base import CoreError, plain_number
from driftfield.core.curves import FEAST_NAMES, Time
from driftfield.core.market import FigureType

from .asked import DONE
from .compared import bounds_of
from .of_listings import InTime
from .pieces import month_named

IN_TIME = re.compile(
    rf"({'|'.join(DONE)})(?:\s+|(?=[<>=≤≥]))(?!by\b)(.+?)\s+(?:in|at|before|for)\s+([\w\s/–-]+)",
    re.I,
)
_ISO = re.compile(r"([0-9]{4})[-/]([0-9]{1,2})")
_NAMED = re.compile(r"([a-z]+)(?:\s+([0-9]{4}))?", re.I)
_FEAST = re.compile(rf"({'|'.join(FEAST_NAMES)})(?:\s+([0-9]{{4}}))?", re.I)
_TO = re.compile(r"\s+(?:to|until|-)\s+|\s*–\s*", re.I)
EARLIEST, LATEST = 1990, 2100
LONGEST = 3 * 366  # Days from the first to the last.


@dataclass(frozen=True, slots=True)
class _Counted:
    """What is counted in a month, as bounds are read."""

    key: str
    label: str
    unit: str
    type: FigureType = FigureType.COUNT
    is_money: bool = False


_COUNTED = {
    "sold": _Counted("units", "units in that time", "units"),
    "ranked": _Counted("sales_rank", "best rank in that time", "place"),
}


def time_clause(found: re.Match[str], text: str, currency: str) -> InTime:
    """The condition that a match of IN_TIME is. Raises CoreError for what is no time and no comparison."""
    does = found[1].lower()
    time = _time(found[3].strip(), text)
    rest = re.sub(r"\s+(?:units?|pieces?|times)\b", "", found[2], flags=re.I)

    def offered(low: float | None, high: float | None) -> str:
        ends = ("" if one is None else plain_number(one) for one in (low, high))
        return f"{does} {'..'.join(ends)} in {time.text}"

    low, high = bounds_of(rest, _COUNTED[does], currency, offered, text)
    return InTime(does, low, high, time)


def _time(said: str, text: str) -> Time:
    """The months, or the weeks up to a feast, that are meant."""
    if feast := _FEAST.fullmatch(said):
        if feast[2] is None:
            raise CoreError(f"“{text}” names no year: write it as in {feast[1].title()} 2026.")
        return Time.of_feast_in(feast[1], _year(int(feast[2]), said))
    ends = _TO.split(said)
    if len(ends) > 2:
        raise CoreError(f"“{said}” names more than two months: write it as in 2025-10 to 2025-12.")
    last = _month(ends[-1], text, None)
    if len(ends) == 1:
        return last
    time = Time.of_months(_month(ends[0], text, last), last)
    if (time.last - time.first).days > LONGEST:
        raise CoreError(f"“{said}” is more than three years: choose fewer months.")
    return time


def _month(said: str, text: str, until: Time | None) -> Time:
    """A month; one without its year is the latest up to another."""
    if iso := _ISO.fullmatch(said):
        year, month = int(iso[1]), int(iso[2])
    elif (named := _NAMED.fullmatch(said)) and (named[2] or until is not None):
        month = month_named(named[1])
        if named[2]:
            year = int(named[2])
        else:
            assert until is not None, "it has a year, or goes up to one"
            year = until.last.year - (month > until.last.month)
    else:
        raise CoreError(
            f"“{text}” names no month: write one with its year, as in 2025-10, or a feast, as in Easter 2026."
        )
    if not 1 <= month <= 12:
        raise CoreError(f"“{said}” is no month: write it as in 2025-10.")
    return Time.of_month(f"{_year(year, said)}-{month:02}")


def _year(year: int, said: str) -> int:
    if not EARLIEST <= year <= LATEST:
        raise CoreError(f"“{said}” is no time that is known: years go from {EARLIEST} to {LATEST}.")
    return year
