"""How files of one layout are read: the agreement between a researcher and a file."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from typing import Any

from driftfield.core.base import CoreError
from driftfield.exchange.tables import Column, Table, tables

from .units import units_of

DECIMALS = (".", ",")
GROUPINGS = ("", ",", ".", " ", "'")
# How dates are written: by the order of their parts, by the ISO week, by the month alone, or as a
# spreadsheet's number of days.
DATES = ("ymd", "dmy", "mdy", "iso week", "ym", "my", "days")
MONTHS_ALONE = {"ym", "my"}
# What the date of a row names: a week by its first or its last day, or a month by any of its days.
NAMED = ("first day of a week", "last day of a week", "day of a month")
WHERE = ("", "name", "above")
SUBJECT_TABLES = ("term_weeks", "interest", "listing_weeks", "own_sales")


@dataclass(frozen=True, slots=True)
class Use:
    """One column of the file. to: the exchange column it is. unit: what its figures are given in; empty
    for the exchange column's own."""

    column: str
    to: str
    unit: str = ""


@dataclass(frozen=True, slots=True)
class Mapping:
    """How every file of a layout is read.

    table: the exchange table it is; empty where such files are left out. columns: what is used of it;
    the rest is left out. head: the line with the names of the columns; 0 where no line has them and they
    are called “column 1” and so on. decimal, grouping: how numbers are written. dates, named: how dates
    are written, and what they name. fixed: exchange columns that are the same in every row, with that
    value. week_in: where the week of the whole file is written: its “name”, or the lines “above” the names
    of the columns; empty where each row has its own. spread: the exchange column whose figures stand in a
    column a date, given in spread_unit; empty where each row has one date.
    """

    table: str
    columns: tuple[Use, ...] = ()
    head: int = 1
    decimal: str = "."
    grouping: str = ""
    dates: str = "ymd"
    named: str = NAMED[0]
    fixed: dict[str, str] = field(default_factory=dict)
    week_in: str = ""
    spread: str = ""
    spread_unit: str = ""

    def as_dict(self) -> dict[str, Any]:
        """As it is kept and sent."""
        return asdict(self) | {"columns": [asdict(use) for use in self.columns]}

    @classmethod
    def from_dict(cls, entry: dict[str, Any]) -> Mapping:
        """The mapping kept as ``said``. Raises CoreError where it is none."""
        try:
            uses = tuple(Use(**use) for use in entry.get("columns", ()))
            return cls(**{**entry, "columns": uses})
        except (TypeError, AttributeError):
            raise CoreError(f"This is not a mapping of columns: {str(entry)[:80]}.") from None

    @property
    def exchange(self) -> Table:
        """The table it makes."""
        return tables()[self.table]

    def target(self, use: Use) -> Column:
        """The exchange column of one column."""
        found = self.exchange.column(use.to)
        assert found is not None, "checked before"
        return found

    def check(self, names: Sequence[str] | None = None) -> None:
        """Raise CoreError where a file whose columns are ``names`` cannot be read like this."""
        if not self.table:
            return
        if self.table not in tables():
            raise CoreError(f"There is no table “{self.table}”; there are {', '.join(tables())}.")
        self._check_choices()
        self._check_columns()
        if names is not None:
            gone = [use.column for use in self.columns if use.column not in names]
            if gone:
                raise CoreError(
                    f"There is no column “{gone[0]}”; there are {', '.join(names[:12])}. Choose it anew."
                )
            if self.spread and len(names) == len(self.columns):
                raise CoreError("No column is left whose name could be a date. Use fewer of them.")

    def _check_choices(self) -> None:
        for what, value, choices in (
            ("the decimal sign", self.decimal, DECIMALS),
            ("the sign between thousands", self.grouping, GROUPINGS),
            ("how dates are written", self.dates, DATES), ("what dates name", self.named, NAMED),
            ("where the week stands", self.week_in, WHERE),
        ):  # fmt: skip
            if value not in choices:
                listed = ", ".join(f"“{one}”" for one in choices)
                raise CoreError(f"“{value}” is not {what}; it is one of {listed}.")
        if self.decimal == self.grouping:
            raise CoreError("The decimal sign and the sign between thousands cannot be the same.")
        if not isinstance(self.head, int) or self.head < 0:
            raise CoreError("The line with the names of the columns is counted from 1; 0 is none.")

    def _check_columns(self) -> None:
        table = self.exchange
        for name in [*(use.to for use in self.columns), *self.fixed]:
            if table.column(name) is None:
                raise CoreError(f"{table.name} has no column “{name}”.")
        if self.week_in and table.column("week") is None:
            raise CoreError(f"{table.name} has no weeks.")
        if self.spread and (table.name not in SUBJECT_TABLES or self.spread not in table.measures):
            raise CoreError(f"{table.name} has no figures “{self.spread}” by week.")
        given = [(use.to, use.unit) for use in self.columns]
        for to, unit in [*given, (self.spread, self.spread_unit)] if self.spread else given:
            column = table.column(to)
            units = units_of(column) if column else {}
            if unit and unit not in units:
                takes = ", ".join(units) or "no units"
                raise CoreError(f"{to} is not given in “{unit}”; it takes {takes}.")
        came = [*(to for to, _ in given), *self.fixed]
        came += [self.spread, "week"] if self.spread else []
        came += ["week"] if self.week_in else []
        again = next((name for name in came if came.count(name) > 1), None)
        if again is not None:
            raise CoreError(f"{again} is given twice. Choose one of the two.")
        for column in table.columns:
            if column.required and column.name not in came:
                description = column.description.rstrip(".").lower()
                raise CoreError(
                    f"No column is {column.name} ({description}), which {table.name} must have. "
                    "Choose it, or give one value for all rows."
                )
        if table.one_of and not {*table.one_of} & {*came}:
            either = " or ".join(table.one_of)
            raise CoreError(
                f"No column is {either}, one of which {table.name} must have. Choose it, or give one value for "
                "all rows."
            )
