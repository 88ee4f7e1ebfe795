"""Tables of the researcher's own: matches of two markets, and exchange rates.

They are read by the same checks as the exchange tables, but are no part of a package.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date
from pathlib import Path
from typing import Any

import polars as pl

from driftfield.core.economics import Rate
from driftfield.core.market import OF_TERMS, Kind

from .formulas import guarded
from .package import Package
from .problems import Problem, Problems
from .progress import untold
from .read_table import Reading, read_table
from .sources import open_package
from .tables import Column, Table

_ID = "string"
MATCHES = Table(
    name="matches",
    description="Matches of two markets, confirmed or rejected.",
    columns=(
        Column("of", _ID, "What they are.", "niches", required=True,
               choices=tuple(kind.plural for kind in OF_TERMS)),
        Column("market_id", _ID, "The market of the first.", "north", required=True, longest=200),
        Column("id", _ID, "Its id there.", "north-ridge-lines", required=True, longest=500),
        Column("other_market_id", _ID, "Another market.", "south", required=True, longest=200),
        Column("other_id", _ID, "The id there.", "south-ridge-lines", required=True, longest=500),
        Column("same", _ID, "1: confirmed; 0: rejected; empty: open.", "1", choices=("0", "1")),
        Column("name", _ID, "What the first is called.", "Ridge lines"),
        Column("other_name", _ID, "What the other is called.", "Ridge lines"),
        Column("why", _ID, "Why they may be the same.", "the same name"),
    ),
    key=("of", "market_id", "id", "other_market_id", "other_id"),
    references=(),
)  # fmt: skip
RATES = Table(
    name="rates",
    description="What one unit of a currency was in another one, with the day.",
    columns=(
        Column("currency", _ID, "ISO 4217.", "EUR", required=True, pattern="[A-Z]{3}"),
        Column("into", _ID, "ISO 4217.", "GBP", required=True, pattern="[A-Z]{3}"),
        Column("rate", "number", "Units of the other for one.", "0.85", required=True,
               minimum=1e-9, maximum=1e9),
        Column("day", "date", "The day of the rate.", "2026-05-20", required=True,
               earliest=date(1990, 1, 1), latest=date(2100, 1, 1)),
    ),
    key=("currency", "into"),
    references=(),
)  # fmt: skip


def _read(path: Path, table: Table) -> list[dict[str, Any]]:
    """The rows of a file that holds one of these tables, whatever the file is called.

    Raises ExchangeError with file, line, column and remedy for what cannot be taken.
    """
    package, problems = Package(), Problems()
    for file in open_package(path):
        read_table(file, table, Reading(package, problems, {}, untold), alone=True)
        problems.raise_if_any()
    frame = package.frames.get(table.name)
    return [] if frame is None else frame.to_dicts()


def read_matches(path: Path) -> list[dict[str, Any]]:
    """The decisions in a table of matches; lines that are still open are left out.

    Raises ExchangeError for what cannot be taken, for a match within one market, and for lines that
    contradict one another.
    """
    decided: list[dict[str, Any]] = []
    matched: dict[tuple[str, ...], tuple[int, str]] = {}
    told: dict[tuple[str, frozenset[tuple[str, str]]], tuple[int, str]] = {}
    problems = Problems()

    def say(line: int, column: str, message: str, remedy: str = "Keep one of them.") -> None:
        problems.add(Problem(path.name, message, remedy, line, column))

    for line, row in enumerate(_read(path, MATCHES), 2):
        if row.get("same") is None:
            continue
        one, other = (row["market_id"], row["id"]), (row["other_market_id"], row["other_id"])
        if one[0] == other[0]:
            say(
                line,
                "other_market_id",
                f"Both are of the market “{one[0]}”.",
                "Name another market.",
            )
            continue
        before = told.setdefault((row["of"], frozenset((one, other))), (line, row["same"]))
        if before[1] != row["same"]:
            say(line, "same", f"Line {before[0]} says the opposite of the same two.")
        for here, there in ((one, other), (other, one)) if row["same"] == "1" else ():
            first = matched.setdefault((row["of"], *here, there[0]), (line, there[1]))
            if first[1] != there[1]:
                say(
                    line,
                    "id" if here is one else "other_id",
                    f"“{here[1]}” is matched with “{first[1]}” of “{there[0]}” in line {first[0]}.",
                )
        decided.append(row)
    problems.raise_if_any()
    return decided


def read_rates(path: Path) -> list[Rate]:
    """The rates in a table of rates. Raises ExchangeError for what cannot be taken, for a rate of a currency
    in itself, and for one that is given in both directions."""
    problems, found = Problems(), []
    lines: dict[frozenset[str], int] = {}
    for line, row in enumerate(_read(path, RATES), 2):
        rate = Rate(row["currency"], row["into"], row["rate"], row["day"])
        before = lines.setdefault(frozenset((rate.currency, rate.into)), line)
        if rate.currency == rate.into:
            problems.add(
                Problem(
                    path.name, f"It is {rate.into} as well.", "Name another currency.", line, "into"
                )
            )
        elif before != line:
            message = f"Line {before} has the rate of these two in the other direction."
            problems.add(Problem(path.name, message, "Keep one of them.", line, "rate"))
        found.append(rate)
    problems.raise_if_any()
    return found


def match_row(
    kind: Kind, first: tuple[str, str], second: tuple[str, str], names: tuple[str, str], why: str
) -> dict[str, str | None]:
    """A row of MATCHES to be filled; each is a market and an id there."""
    return {
        "of": kind.plural, "market_id": first[0], "id": first[1], "other_market_id": second[0],
        "other_id": second[1], "same": None, "name": names[0], "other_name": names[1], "why": why,
    }  # fmt: skip


def write_matches(rows: Iterable[Mapping[str, Any]], out: Path) -> int:
    """Write matches as CSV, to be filled and read again; returns how many."""
    schema = {column.name: pl.String for column in MATCHES.columns}
    frame = pl.DataFrame(
        [{name: row.get(name) for name in schema} for row in rows], schema=schema, orient="row"
    )
    text = guarded(frame).write_csv()
    out.write_text(text, "utf-8", newline="")
    return frame.height
