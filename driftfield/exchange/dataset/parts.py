"""One part of a data set: its tables, checked as those of files are."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import polars as pl

from driftfield.core.base import Period

from .. import checks
from ..blocks import Gathered
from ..checks import Finding
from ..matrices import Curves
from ..package import Package
from ..problems import Problem, Problems
from ..tables import Table, tables
from .layout import PARTED, ROWS, WHOLE, Manifest, Store, market_folder, part_folder

# What a run over parts does not read: see docs/scale.md.
LEFT_OUT = ("voices", "own_sales", "feedback")
TYPES: dict[str, pl.DataType] = {
    "string": pl.String(), "date": pl.Date(), "number": pl.Float64(), "integer": pl.Float64(),
}  # fmt: skip


@dataclass(frozen=True, slots=True, order=True)
class Unit:
    """What is read at once: a part of a market."""

    market: str
    part: int

    @property
    def name(self) -> str:
        """How it is named in messages and folders."""
        return f"{market_folder(self.market)}/{part_folder(self.part)}"

    def place(self, table: str) -> tuple[str, ...]:
        """Where its rows of a table lie."""
        return (table, market_folder(self.market), part_folder(self.part), ROWS)


def units_of(store: Store, manifest: Manifest) -> list[Unit]:
    """The parts that hold niches, or terms that are niches of their own."""
    found = set()
    for table in ("niches", "terms", "term_weeks", "interest"):
        for market in manifest.markets:
            for name in store.names(table, market_folder(market)):
                if name.startswith("part=") and name[5:].isdigit():
                    found.add(Unit(market, int(name[5:])))
    return sorted(found)


def whole_tables(store: Store, manifest: Manifest) -> dict[str, pl.DataFrame]:
    """The tables that belong to no niche."""
    return {
        name: _frame(store, (name, ROWS), tables()[name], manifest.tables[name])
        for name in WHOLE
        if name in manifest.tables
    }


def read_unit(
    store: Store, manifest: Manifest, unit: Unit, whole: dict[str, pl.DataFrame]
) -> Package:
    """The tables of a part as a package; ExchangeError, by file and row, where they are not as they must be."""
    package = Package(periods=periods_of(manifest))
    package.frames.update(whole)
    for name in PARTED:
        if name not in manifest.tables or name in LEFT_OUT:
            continue
        if name == "term_weeks":
            package.counts = _counts(store, manifest, unit)
            continue
        package.frames[name] = read_table_of(store, manifest, unit, name)
    if "interest" in package.frames and not package.frames["interest"].height:
        del package.frames["interest"]
    return package


def periods_of(manifest: Manifest) -> dict[str, Period]:
    """The period of each table."""
    return {name: Period(value) for name, value in manifest.periods.items()}


def read_table_of(
    store: Store,
    manifest: Manifest,
    unit: Unit,
    name: str,
    columns: list[str] | None = None,
    *,
    where: pl.Expr | None = None,
    check: bool = True,
) -> pl.DataFrame:
    """A table of a part, with no rows where the part has none; only some ``columns``, and the rows ``where``
    something holds, where these are given. ``check``: whether each row is to be looked at."""
    table, known = tables()[name], manifest.tables[name]
    chosen = known if columns is None else {key: known[key] for key in columns if key in known}
    place = unit.place(name)
    if not store.exists(*place):
        return _filled(pl.DataFrame(), table, chosen)
    frame = _frame(store, place, table, chosen, where=where, check=check)
    if check:
        problems = Problems()
        _note(store, place, frame, list(checks.check_key(frame, _key(table, frame))), problems)
        problems.raise_if_any()
    return frame


def _key(table: Table, frame: pl.DataFrame) -> list[str]:
    return [name for name in table.key if name in frame.columns]


def _filled(frame: pl.DataFrame, table: Table, known: dict[str, str]) -> pl.DataFrame:
    """The columns that the data set knows of a table, in their types; those that a file lacks are empty."""
    made = []
    for name in known:
        column = table.column(name)
        if column is None:
            continue
        type_ = TYPES[column.type]
        if name not in frame.columns:
            made.append(pl.lit(None, dtype=type_).alias(name))
        else:
            made.append(pl.col(name).cast(type_))
    return frame.select(made) if frame.width else frame.select(made).clear()


def _frame(
    store: Store,
    place: tuple[str, ...],
    table: Table,
    known: dict[str, str],
    *,
    where: pl.Expr | None = None,
    check: bool = True,
) -> pl.DataFrame:
    """A file's rows, in the types of their table and each in its range."""
    problems = Problems()
    try:
        frame = _filled(store.read_frame(*place, columns=list(known), where=where), table, known)
    except (pl.exceptions.PolarsError, OSError, ValueError) as error:
        first = str(error).splitlines()[0][:200]
        problems.add(
            Problem("/".join(place), f"It cannot be read ({first}).",
                    "Write it again, or leave the part out with --skip-bad.")
        )  # fmt: skip
        problems.raise_if_any()
        raise
    findings: list[Finding] = []
    for name in frame.columns if check else ():
        column = table.column(name)
        assert column is not None, "columns that no table has are left out"
        if column.required:
            findings += checks.check_required(frame, column)
        if column.numeric:
            findings += checks.check_numbers(frame, column, frame[name])
    _note(store, place, frame, findings, problems)
    problems.raise_if_any()
    return frame


def _note(
    store: Store,
    place: tuple[str, ...],
    frame: pl.DataFrame,
    findings: list[Finding],
    problems: Problems,
) -> None:
    for finding in findings:
        for row in finding.rows[: problems.cap].tolist():
            value = frame[finding.column][row]
            text = "" if value is None else f"{value:g}" if isinstance(value, float) else str(value)
            problems.add(
                Problem("/".join(place), finding.message.replace("{value}", text[:60]), finding.remedy,
                        row + 1, finding.column, text[:60] or None)
            )  # fmt: skip
        problems.tally("/".join(place), max(len(finding.rows) - problems.cap, 0))


def _counts(store: Store, manifest: Manifest, unit: Unit) -> Curves | None:
    """Searches and what follows them, as curves; None where the part has none."""
    place = unit.place("term_weeks")
    if not store.exists(*place):
        return None
    # Keys are looked at when the rows are laid into a matrix.
    frame = _frame(store, place, tables()["term_weeks"], manifest.tables["term_weeks"])
    if not frame.height:
        return None
    table, problems = tables()["term_weeks"], Problems()
    gathered = Gathered("term", [name for name in table.measures if name in frame.columns])
    again = gathered.add(frame, periods_of(manifest)["term_weeks"])
    _note(store, place, frame, [checks.key_again(np.asarray(again), list(table.key))], problems)
    problems.raise_if_any()
    return gathered.curves()
