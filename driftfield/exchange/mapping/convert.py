"""A file of another layout as the CSV of an exchange table, a block of lines at a time."""

from __future__ import annotations

import codecs
import io
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date
from pathlib import Path

import numpy as np
import polars as pl

from driftfield.exchange.blocks import BLOCK, blocks_of, in_blocks
from driftfield.exchange.checks import PERIODIC, Finding
from driftfield.exchange.places import explain, report
from driftfield.exchange.problems import Problem, Problems
from driftfield.exchange.progress import Progress, untold
from driftfield.exchange.sources import Header, SourceFile
from driftfield.exchange.tables import Column

from .dates import find_day, monday_of, parse_day
from .layout import Layout
from .model import Mapping
from .numerals import NOTHING, plain_flags, plain_numbers
from .units import units_of

PIECE = 1 << 22  # Bytes decoded at once.
WRITTEN = {
    "ymd": "year, month, day", "dmy": "day, month, year", "mdy": "month, day, year",
    "iso week": "an ISO week such as 2026-W46", "ym": "year, month", "my": "month, year",
    "days": "a spreadsheet's number of days",
}  # fmt: skip


@dataclass(slots=True)
class Place:
    """Where the rows of a converted file stand in the file itself.

    columns: what its columns are called there. rows: of each converted row the own one, block by block;
    None where all were kept.
    """

    own: SourceFile
    separator: str
    columns: dict[str, str]
    quoted: bool = False
    rows: list[np.ndarray] = field(default_factory=list)

    def lines(self, converted: set[int]) -> dict[int, int]:
        """Own lines of lines of the converted file, whose first row is line 2."""
        rows = np.concatenate(self.rows)
        wanted = {line: int(rows[line - 2]) for line in converted if 2 <= line < len(rows) + 2}
        rows_wanted = set(wanted.values())
        places = {row: row + 2 for row in rows_wanted}
        if self.quoted:
            places = self.own.lines_of_rows(self.separator, rows_wanted)
        return {line: places[row] - self.own.before for line, row in wanted.items()}


def convert(
    file: SourceFile,
    layout: Layout,
    mapping: Mapping,
    folder: Path,
    problems: Problems,
    notes: list[str],
    progress: Progress = untold,
) -> SourceFile | None:
    """The file as the exchange table that the mapping says it is, written into ``folder``.

    None with the problems noted where a cell is not written as the mapping says. What was left out is
    noted too.
    """
    week = _week_of(file, layout, mapping, problems)
    if problems.by_file[file.name]:
        return None
    own = _from_head(file, layout, folder)
    header = Header(layout.separator, layout.names)
    columns = {use.to: use.column for use in mapping.columns}
    made = Place(own, layout.separator, columns)
    path = folder / f"{len(list(folder.iterdir()))}.csv"
    work = _Work(mapping, layout, week)
    done = before = 0
    with path.open("wb") as out:
        for block in _blocks(own):
            frame = _parse(block, header, problems)
            if frame is None:
                return None
            made.quoted |= b'"' in block.read()
            table, origin = work.table(frame)
            report(block, header, frame, work.findings, problems)
            work.findings.clear()
            made.rows.append(origin + before)
            table.write_csv(out, include_header=before == 0)
            before += frame.height
            done += block.size
            progress(f"Converting {file.name}", min(done, own.size), own.size)
    used = {use.column for use in mapping.columns}
    left = [name for name in layout.names if name not in used and name not in work.days]
    notes.append(_note(file, mapping, left, work.without))
    return SourceFile(file.name, path, mapping.table, 0, made)


def _note(file: SourceFile, mapping: Mapping, left: list[str], without: int) -> str:
    parts = [f"{file.name} was read as {mapping.table}"]
    if left:
        more = f" and {len(left) - 8} more" if len(left) > 8 else ""
        parts.append(f"left out: {', '.join(left[:8])}{more}")
    if without:
        parts.append(f"{without:,} rows say nothing and were left out")
    return "; ".join(parts) + "."


def _week_of(file: SourceFile, layout: Layout, mapping: Mapping, problems: Problems) -> str | None:
    """The week of the whole file, where it has one."""
    if not mapping.week_in:
        return None
    texts = [file.name] if mapping.week_in == "name" else layout.above
    day = find_day(texts, mapping.dates)
    if day is None:
        where = "its name" if mapping.week_in == "name" else "the lines above the columns"
        problems.add(
            Problem(file.name, f"There is no date in {where}, where its week was to stand.",
                    "Put it there, as in 2026-11-09, or choose a column of weeks.", 1)
        )  # fmt: skip
        return None
    return monday_of(day, mapping.named).isoformat()


def _from_head(file: SourceFile, layout: Layout, folder: Path) -> SourceFile:
    """The same file as UTF-8, from the line that names its columns on."""
    if layout.encoding == "utf-8" and layout.head == 1:
        return file
    path = folder / f"{len(list(folder.iterdir()))}.txt"
    with _opened(file) as source, path.open("wb") as out:
        text = codecs.getincrementaldecoder(layout.encoding)("replace")
        skip = max(layout.head - 1, 0)
        if layout.head == 0:
            frame = pl.DataFrame({name: [] for name in layout.names})
            out.write(frame.write_csv(separator=layout.separator).encode())
        first = True
        while piece := source.read(PIECE):
            part = text.decode(piece)
            if first:
                part, first = part.lstrip("\ufeff"), False
            while skip and part:
                _, end, part = part.partition("\n")
                skip -= bool(end)
            out.write(part.encode())
    return SourceFile(file.name, path, file.table, file.before + 1 - layout.head)


def _opened(file: SourceFile) -> io.BufferedIOBase:
    if isinstance(file.content, bytes):
        return io.BytesIO(file.content)
    return file.content.open("rb")


def _blocks(file: SourceFile) -> Iterator[SourceFile]:
    if in_blocks(file, BLOCK):
        yield from blocks_of(file, BLOCK)
    else:
        yield file


def _parse(file: SourceFile, header: Header, problems: Problems) -> pl.DataFrame | None:
    """All cells as text, empty ones as null."""
    try:
        frame = pl.read_csv(
            file.read(), separator=header.separator, new_columns=list(header.names), infer_schema=False,
        )  # fmt: skip
    except pl.exceptions.PolarsError:
        explain(file, header, problems)
        return None
    text = pl.all().str.strip_chars()
    return frame.select(pl.when(text != "").then(text).name.keep())


class _Work:
    """What is done to each block. findings: cells that are not written as the mapping says."""

    def __init__(self, mapping: Mapping, layout: Layout, week: str | None) -> None:
        self.mapping, self.week = mapping, week
        self.findings: list[Finding] = []
        self.without = 0
        used = {use.column for use in mapping.columns}
        self.days = {
            name: monday_of(day, mapping.named).isoformat()
            for name in layout.names
            if mapping.spread
            and name not in used
            and (day := parse_day(name, mapping.dates)) is not None
        }
        figures = {c.name for c in mapping.exchange.columns if c.numeric and c.required}
        self.required = sorted(figures & {use.to for use in mapping.columns})

    def table(self, frame: pl.DataFrame) -> tuple[pl.DataFrame, np.ndarray]:
        """A block as rows of the exchange table, and the row of the block that each of them comes from."""
        mapping = self.mapping
        made = pl.DataFrame(
            [
                self._cells(frame[use.column], mapping.target(use), use.unit).alias(use.to)
                for use in mapping.columns
            ]
        )
        rows = pl.Series("row", np.arange(frame.height))
        if mapping.spread:
            made, rows = self._unfolded(frame, made, rows)
        fixed = dict(mapping.fixed)
        if self.week is not None:
            fixed["week"] = self.week
        made = made.with_columns(pl.lit(value).alias(name) for name, value in fixed.items())
        if self.required and not mapping.spread:
            blank = frame.select(all=pl.all_horizontal(pl.all().is_null()))["all"]
            full = made.select(any=pl.any_horizontal(pl.col(self.required).is_not_null()))["any"]
            self.without += int((~full & ~blank).sum())
            made, rows = made.filter(full), rows.filter(full)
        return made, rows.to_numpy()

    def _unfolded(
        self, frame: pl.DataFrame, made: pl.DataFrame, rows: pl.Series
    ) -> tuple[pl.DataFrame, pl.Series]:
        """A row for each figure that stands in a column of a date."""
        column = self.mapping.exchange.column(self.mapping.spread)
        assert column is not None, "checked before"
        figures = [
            self._cells(frame[name], column, self.mapping.spread_unit).alias(day)
            for name, day in self.days.items()
        ]
        wide = pl.DataFrame([rows, *made.get_columns(), *figures])
        long = wide.unpivot(
            index=["row", *made.columns], variable_name="week", value_name=column.name
        )
        long = long.filter(pl.col(column.name).is_not_null())
        return long.drop("row"), long["row"]

    def _cells(self, text: pl.Series, column: Column, unit: str) -> pl.Series:
        if column.numeric and column.choices:
            return plain_flags(text)
        if column.numeric:
            return self._figures(text, column, unit)
        if column.type == "date":
            return self._dates(text, column)
        flat = text.str.replace_all(r"\s+", " ")
        return flat.str.to_lowercase() if column.choices else flat

    def _figures(self, text: pl.Series, column: Column, unit: str) -> pl.Series:
        mapping = self.mapping
        made, bad = plain_numbers(
            text, mapping.decimal, mapping.grouping, percent=unit == "percent"
        )
        self._note(
            bad, text.name, f"“{{value}}” is not a number as in {self._example()}.",
            "Correct it, or say on Intake how numbers are written.",
        )  # fmt: skip
        units = units_of(column)
        factor = units[unit] if unit else 1.0
        if factor == 1.0:
            return made
        figures = made.cast(pl.Float64, strict=False).to_numpy()
        # A percent is divided, for 0.01 is no binary fraction and 95 × 0.01 is not 0.95; and by numpy,
        # for polars divides by a number as it multiplies by its inverse.
        scaled = figures / round(1 / factor) if factor < 1 else figures * factor
        return pl.Series(scaled).fill_nan(None)

    def _example(self) -> str:
        group, mark = self.mapping.grouping, self.mapping.decimal
        return f"1{group}234{mark}5"

    def _dates(self, text: pl.Series, column: Column) -> pl.Series:
        mapping = self.mapping
        known = [t for t in text.drop_nulls().unique().to_list() if t.casefold() not in NOTHING]
        days: dict[str, date | None] = {t: parse_day(t, mapping.dates) for t in known}
        periodic = column.name in PERIODIC
        texts = {
            t: (monday_of(day, mapping.named) if periodic else day).isoformat()
            for t, day in days.items()
            if day is not None
        }
        bad = text.is_in([t for t, day in days.items() if day is None])
        self._note(
            bad, text.name, f"“{{value}}” is no date written as {WRITTEN[mapping.dates]}.",
            "Correct it, or say on Intake how dates are written.",
        )  # fmt: skip
        return text.replace_strict(texts, default=None, return_dtype=pl.String)

    def _note(self, bad: pl.Series, column: str, message: str, remedy: str) -> None:
        rows = np.flatnonzero(bad.fill_null(False).to_numpy())
        if rows.size:
            self.findings.append(Finding(rows, column, message, remedy))
