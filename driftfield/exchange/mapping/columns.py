"""Which columns of a file those of an exchange table are, by their names and by what is in them."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from driftfield.exchange.tables import ATTRIBUTE, Column, Table

from .dates import parse_day
from .model import DATES, Use
from .numerals import YES_NO, pattern
from .units import units_of
from .words import fit, words_of

ENOUGH = 0.55  # How well a name must fit before a column is taken for something.
MOSTLY = 0.8  # Of a column's cells, how many must be what it is taken for.
# Which of several ways to write a date is taken where the days leave it open.
PREFERRED = ("iso week", "ymd", "dmy", "mdy", "ym", "my", "days")
assert set(PREFERRED) == set(DATES), "every way of writing a date is looked for"
# Words in a column's name that say what its figures are given in.
SPOKEN = {
    "g": "g", "gram": "g", "gramme": "g", "kg": "kg", "kilogram": "kg", "lb": "lb", "lbs": "lb",
    "pound": "lb", "oz": "oz", "ounce": "oz", "mm": "mm", "cm": "cm", "m": "m", "inch": "in", "in": "in",
    "ft": "ft", "foot": "ft", "feet": "ft",
    "percent": "percent", "pence": "hundredths", "cent": "hundredths", "thousand": "thousands",
    "million": "millions", "k": "thousands", "mio": "millions", "mn": "millions",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Seen:
    """What the cells of a column are like: shares of them that are figures and that are days."""

    name: str
    cells: list[str]
    figures: float
    order: str
    flags: bool

    @property
    def dates(self) -> bool:
        return bool(self.order)


def look_at(name: str, cells: list[str], decimal: str, grouping: str) -> Seen:
    """What a column is like, where numbers are written as said."""
    number = re.compile(pattern(decimal, grouping, percent=True))
    share = sum(bool(number.match(cell)) for cell in cells) / max(len(cells), 1)
    flags = bool(cells) and all(cell.casefold() in {*YES_NO, "0", "1"} for cell in cells)
    order = "" if flags else _order_of(name, cells)
    return Seen(name, cells, share, order, flags)


def _order_of(name: str, cells: list[str]) -> str:
    """How the dates of a column are written; empty where they are none."""
    if not cells:
        return ""
    distinct = list(dict.fromkeys(cells))
    good = []
    for order in PREFERRED:
        days = [day for cell in distinct if (day := parse_day(cell, order))]
        if len(days) >= MOSTLY * len(distinct):
            good.append((order, days))
    # Bare numbers are days of a spreadsheet only where the name says that they are dates.
    if good and good[0][0] == "days" and not {"week", "date", "day"} & set(words_of(name)):
        return ""
    if not good:
        return ""
    # Where day and month can be told apart by nothing else: weeks all begin on the same day.
    regular = [order for order, days in good if len({d.weekday() for d in days}) == 1]
    months = [order for order, days in good if all(d.day == 1 for d in days) and len(days) > 1]
    return next(iter(regular or months), good[0][0])


def uses_of(table: Table, seen: Sequence[Seen]) -> list[Use]:
    """The columns of a file as those of a table: the best pairs of name and content first."""
    pairs: list[tuple[float, int, Seen, Column]] = []
    for at, one in enumerate(seen):
        for column in table.columns:
            value = fit(one.name, table, column.name)
            if value >= ENOUGH and _can_be(one, column):
                pairs.append((value, -at, one, column))
        own = table.column(one.name) if ATTRIBUTE.fullmatch(one.name) else None
        if own is not None:
            pairs.append((1.0, -at, one, own))
    taken: dict[str, Use] = {}
    places: list[tuple[int, Use]] = []
    for _, at, one, column in sorted(pairs, key=lambda pair: pair[:2], reverse=True):
        if one.name not in taken and all(use.to != column.name for use in taken.values()):
            taken[one.name] = Use(one.name, column.name, _unit(one, column))
            places.append((-at, taken[one.name]))
    return [use for _, use in sorted(places, key=lambda pair: pair[0])]


def _can_be(one: Seen, column: Column) -> bool:
    """Whether the cells of a column can be those of an exchange column."""
    if not one.cells:
        return not column.required
    if column.type == "date":
        return one.dates
    if column.choices and column.numeric:
        return one.flags
    if column.choices:
        small = {cell.casefold() for cell in one.cells}
        return small <= set(column.choices)
    if column.numeric:
        return one.figures >= MOSTLY and (not one.dates or one.order == "days")
    return not one.dates


def _unit(one: Seen, column: Column) -> str:
    """What a column's figures are given in, by its name, its signs and its size."""
    units = units_of(column)
    own = next(iter(units), "")
    for word in words_of(one.name):
        # “m” is metres of a length, and millions of what is counted.
        word = "million" if word == "m" and "millions" in units else word
        if SPOKEN.get(word) in units:
            found = SPOKEN[word]
            return "" if found == own else found
    if "percent" in units and any("%" in cell for cell in one.cells):
        return "percent"
    if own == "fraction":
        values = [_rough(cell) for cell in one.cells]
        if any(value > 1.0 for value in values):
            return "percent"
    return ""


def _rough(cell: str) -> float:
    digits = "".join(c for c in cell.replace(",", ".") if c.isdigit() or c == ".")
    try:
        return float(digits)
    except ValueError:
        return 0.0
