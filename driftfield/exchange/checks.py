"""Checks of one table's columns and rows, all at once on whole columns.

Each check yields the rows that fail and what to say of them. Lines are found afterwards, by one
walk through the file, for the few problems that are shown.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
import polars as pl

from driftfield.core.base import DEFAULTS, Period
from driftfield.core.market.tree import circles

from .tables import Column

RECORD_YEARS = DEFAULTS.record_years
ISO = re.compile(r"\d{4}-\d{2}-\d{2}")
PERIODIC = {"week"}  # Date columns that name a period.
IMPLAUSIBLE = (
    1e6  # A largest value from which a larger one is taken for a slip, not for another unit.
)
APART = 5 * 366  # Days between two periods of a file from which one of them is taken for a slip.


@dataclass(frozen=True, slots=True)
class Finding:
    """Rows of a table in which a column has the same kind of problem."""

    rows: np.ndarray
    column: str
    message: str  # may hold {value}
    remedy: str


def iso_date(text: str) -> date | None:
    """The date, where ``text`` is one in full ISO 8601; else None."""
    if not ISO.fullmatch(text):
        return None
    try:
        return date.fromisoformat(text)
    except ValueError:
        return None


def detect_period(days: list[date]) -> Period:
    """Weeks when most dates are Mondays, months when more of them are a month's first day."""
    mondays = sum(day.weekday() == 0 for day in days)
    firsts = sum(day.day == 1 for day in days)
    return Period.MONTH if firsts > mondays else Period.WEEK


def misplaced(day: date, period: Period) -> str | None:
    """What is wrong with a date as the name of a period, and the name that was probably meant."""
    if period is Period.WEEK and day.weekday() != 0:
        monday = day - timedelta(days=day.weekday())
        return f"is a {day:%A}; a week is named by its Monday, here {monday}"
    if period is Period.MONTH and day.day != 1:
        return f"is not the first of a month, here {day.replace(day=1)}"
    return None


def _rows(mask: pl.Series) -> np.ndarray:
    return np.flatnonzero(mask.fill_null(False).to_numpy())


def check_numbers(frame: pl.DataFrame, column: Column, parsed: pl.Series) -> Iterator[Finding]:
    """A numeric column: parsed from its text, finite, in range."""
    name = column.name
    text = frame[name]
    if text.dtype == pl.String:
        yield Finding(
            _rows(parsed.is_null() & text.is_not_null()),
            name,
            "“{value}” is not a number.",
            "Write it as 1234.5, with a point and without thousands separators.",
        )
    odd = parsed.is_nan() | parsed.is_infinite()
    yield Finding(
        _rows(odd), name, "“{value}” is not a figure.", "Leave the cell empty when unknown."
    )
    if column.type == "integer":
        yield Finding(
            _rows((parsed != parsed.round()) & ~odd), name, "{value} is not a whole number.",
            "Write a whole number.",
        )  # fmt: skip
    low, high = column.minimum, column.maximum
    if low is not None:
        message = "is negative" if low == 0 else f"is below {low:g}"
        open_ = high is None or high >= IMPLAUSIBLE
        hint = f"{low:g} or more" if open_ else f"between {low:g} and {high:,.15g}"
        yield Finding(
            _rows((parsed < low) & ~odd), name, f"{{value}} {message}.", f"It must be {hint}."
        )
    if high is not None:
        hint = f"It must be between {low:g} and {high:,.15g}."
        if high == 1 and low == 0:
            hint = "Shares are fractions: write 0.25 for 25%."
        elif high >= IMPLAUSIBLE:
            hint = "No market has such a figure. Correct it, or leave the cell empty when unknown."
        message = f"{{value}} is above {high:,.15g}."
        yield Finding(_rows((parsed > high) & ~odd), name, message, hint)
    if column.choices:
        listed = " or ".join(column.choices)
        wrong = parsed.is_not_null() & ~odd & ~parsed.is_in([float(c) for c in column.choices])
        if low is None:
            yield Finding(_rows(wrong), name, f"{{value}} is not {listed}.", f"Write {listed}.")


def check_text(frame: pl.DataFrame, column: Column) -> Iterator[Finding]:
    """A text column: one of its choices, or of its pattern."""
    text = frame[column.name]
    if column.choices:
        listed = " or ".join(column.choices)
        yield Finding(
            _rows(text.is_not_null() & ~text.is_in(list(column.choices))),
            column.name, f"“{{value}}” is not {listed}.", f"Write {listed}.",
        )  # fmt: skip
    if column.longest is not None:
        yield Finding(
            _rows(text.str.len_chars() > column.longest), column.name,
            f"The text has more than {column.longest:,} characters.", "Shorten it.",
        )  # fmt: skip
    if column.pattern:
        whole = f"^(?:{column.pattern})$"
        yield Finding(
            _rows(text.is_not_null() & ~text.str.contains(whole)),
            column.name, "“{value}” has not the right form.", f"As in {column.example}.",
        )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Span:
    """From when to when the periods of a table go: first days of the first and the last."""

    first: date
    last: date

    def apart(self, day: date) -> int:
        """Days by which a date lies outside, 0 inside or near."""
        away = max((self.first - day).days, (day - self.last).days)
        return away if away >= APART else 0

    def with_(self, other: Span) -> Span:
        """From the first of both to the last of both."""
        return Span(min(self.first, other.first), max(self.last, other.last))


@dataclass(frozen=True, slots=True)
class Dates:
    """Dates of a column by their text; what step they have, and from when to when they go where they
    name periods."""

    days: dict[str, date]
    period: Period
    span: Span | None


def main_span(days: Iterable[date]) -> Span | None:
    """The longest run of dates without a step of APART between two of them; None without a date.

    One mistyped year would make a curve of thousands of periods. Of runs of as many dates the later
    one counts.
    """
    runs: list[list[date]] = []
    for day in sorted(set(days)):
        if runs and (day - runs[-1][-1]).days < APART:
            runs[-1].append(day)
        else:
            runs.append([day])
    if not runs:
        return None
    longest = max(reversed(runs), key=len)
    return Span(longest[0], longest[-1])


def out_of_place(
    day: date, column: Column, span: Span | None, years: int
) -> tuple[str, str] | None:
    """What is wrong with where a date stands in time, and the remedy; ``years``: the longest record."""
    if (column.earliest and day < column.earliest) or (column.latest and day > column.latest):
        return (
            f"{day} is before {column.earliest} or after {column.latest}.",
            "Correct the year, or leave the cell empty when unknown.",
        )
    if span is None:
        return None
    if span.apart(day):
        return (
            f"{day} is {span.apart(day) / 365.25:.0f} years apart from all others of the file, which go "
            f"from {span.first} to {span.last}.",
            "Correct the year, or import such old figures by themselves.",
        )
    if (span.last - day).days > years * 365.25:
        return (
            f"{day} is more than {years} years before the last of the file, {span.last}.",
            f"A record goes back {years} years at most; leave out what is older, or set record_years.",
        )
    return None


def check_dates(
    frame: pl.DataFrame,
    column: Column,
    *,
    periodic: bool,
    period: Period | None = None,
    span: Span | None = None,
    years: int = RECORD_YEARS,
) -> Iterator[Finding | Dates]:
    """A date column: ISO 8601 and, where it names periods, Mondays or firsts of months.

    Yields findings and at last the dates. The period is found from them unless it is known already, and
    so is the span, with which a ``span`` of other files of the table is widened. ``years``: of the
    longest record that is taken.
    """
    text = frame[column.name]
    found = {t: iso_date(t) for t in text.drop_nulls().unique().to_list()}
    bad = [t for t, day in found.items() if day is None]
    if bad:
        yield Finding(
            _rows(text.is_in(bad)), column.name, "“{value}” is not a date.",
            "Write it as 2026-11-09 (year-month-day).",
        )  # fmt: skip
    days = {t: day for t, day in found.items() if day is not None}
    period = period or detect_period(list(days.values()))
    inside = None
    if periodic:
        limits = (column.earliest or date.min, column.latest or date.max)
        inside = main_span(d for d in days.values() if limits[0] <= d <= limits[1])
        if span is not None:
            near = inside is not None and not min(span.apart(inside.first), span.apart(inside.last))
            inside = span.with_(inside) if inside is not None and near else span
    for t in sorted(days):
        if odd := out_of_place(days[t], column, inside, years):
            yield Finding(_rows(text == t), column.name, *odd)
    if periodic:
        for t in sorted(days):
            wrong = misplaced(days[t], period)
            if wrong:
                yield Finding(
                    _rows(text == t), column.name, f"{t} {wrong}.",
                    "Name each week by its Monday, or each month by its first day.",
                )  # fmt: skip
    yield Dates(days, period, inside)


def check_required(frame: pl.DataFrame, column: Column) -> Iterator[Finding]:
    yield Finding(
        _rows(frame[column.name].is_null()), column.name, "The cell is empty.",
        "It is required; fill it or remove the line.",
    )  # fmt: skip


def check_one_of(frame: pl.DataFrame, names: Sequence[str]) -> Iterator[Finding]:
    """Rows that fill none of some columns, or more than one of them."""
    here = [name for name in names if name in frame.columns]
    filled = pl.sum_horizontal(pl.col(name).is_not_null().cast(pl.Int8) for name in here)
    many = frame.select(many=filled)["many"].to_numpy()
    # A line that is empty throughout is left out as everywhere.
    blank = frame.select(all=pl.all_horizontal(pl.all().is_null()))["all"].to_numpy()
    yield Finding(
        np.flatnonzero((many == 0) & ~blank), here[0], f"Neither {' nor '.join(names)} is given.",
        "Fill one of them.",
    )  # fmt: skip
    yield Finding(
        np.flatnonzero(many > 1), here[0], f"Both {' and '.join(names)} are given.",
        "Leave one of them empty: a line is of one of them.",
    )  # fmt: skip


def check_key(frame: pl.DataFrame, key: list[str]) -> Iterator[Finding]:
    """Every row but the first of those that share a key."""
    columns = frame.select(key)
    if columns.null_count().sum_horizontal().item() and len(key) == 1:
        columns = columns.drop_nulls()
    if columns.n_unique() == columns.height:
        return
    again = ~frame.select(first=pl.struct(key).is_first_distinct())["first"]
    missing = frame.select(gone=pl.any_horizontal(pl.col(key).is_null()))["gone"]
    yield key_again(_rows(again & ~missing), key)


def key_again(rows: np.ndarray, key: list[str]) -> Finding:
    """What is said of rows whose key another row has."""
    same = " and ".join(key)
    return Finding(rows, key[0], f"Another line has the same {same} already.", "Keep one of them.")


def check_reference(
    frame: pl.DataFrame, column: str, known: set[str], where: str
) -> Iterator[Finding]:
    """Values that stand nowhere in the table they refer to."""
    text = frame[column]
    unknown = [t for t in text.drop_nulls().unique().to_list() if t not in known]
    if unknown:
        yield Finding(
            _rows(text.is_in(unknown)), column, f"“{{value}}” is not in {where}.",
            f"Add it to {where} or correct it.",
        )  # fmt: skip


def check_circles(frame: pl.DataFrame) -> Iterator[Finding]:
    """No category may lie below itself."""
    if "parent_id" not in frame.columns:
        return
    place = {key: row for row, key in enumerate(frame["category_id"].to_list())}
    above = [place.get(key, -1) for key in frame["parent_id"].to_list()]
    for circle in circles(above):
        names = " in ".join(frame["category_id"][row] or "" for row in [*circle, circle[0]])
        yield Finding(
            np.array([max(circle)]), "parent_id", f"The categories lie in a circle: {names}.",
            "Leave the cell empty for one at the top.",
        )  # fmt: skip


def check_shares(frame: pl.DataFrame) -> Iterator[Finding]:
    """A term's shares in a week may not exceed the whole."""
    for share in ("click_share", "purchase_share"):
        if share in frame.columns:
            total = frame.select(over=pl.col(share).sum().over("term", "week"))["over"]
            yield Finding(
                _rows(total > 1.001), share, "The shares of its term and week add up to more than 1.",
                "Shares are fractions of all of the term's clicks (purchases).",
            )  # fmt: skip
