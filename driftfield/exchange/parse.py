"""From a file's text to typed columns, with every cell that is not right."""

from __future__ import annotations

import io
from datetime import date
from pathlib import Path

import numpy as np
import polars as pl

from . import checks
from .checks import Finding
from .package import Package
from .places import explain
from .problems import Problem, Problems
from .sources import Header, SourceFile
from .tables import Column, Table
from .tables import tables as every_table


def blank_rows(frame: pl.DataFrame) -> pl.Series:
    """Rows without any cell."""
    return frame.select(all=pl.all_horizontal(pl.all().is_null()))["all"]


def parse_file(
    file: SourceFile, header: Header, columns: list[Column], problems: Problems
) -> pl.DataFrame | None:
    """Parse with numbers typed; where that fails, as text, so that each bad cell can be named."""
    positions = {name: i for i, name in enumerate(header.names)}
    raw = [f"c{i}" for i in range(len(header.names))]
    source = file.content if isinstance(file.content, Path) else io.BytesIO(file.content)
    typed = {raw[positions[c.name]]: pl.Float64() for c in columns if c.numeric}

    def parse(numbers: bool) -> pl.DataFrame:
        if isinstance(source, io.BytesIO):
            source.seek(0)
        # Types by position: names may repeat a blank or a byte-order mark that the header lost.
        frame = pl.read_csv(
            source,
            separator=header.separator,
            new_columns=raw,
            schema_overrides=[typed.get(n, pl.String()) if numbers else pl.String() for n in raw],
            infer_schema=False,
        )
        wanted = frame.select([pl.col(raw[positions[c.name]]).alias(c.name) for c in columns])
        text = pl.col(pl.String)
        wanted = wanted.with_columns(text.str.strip_chars())
        # Cells of blanks alone are rare, and to look for them is quicker than to replace them.
        if wanted.select(pl.any_horizontal((text == "").any(ignore_nulls=True))).item():
            wanted = wanted.with_columns(pl.when(text != "").then(text).name.keep())
        return wanted

    try:
        frame = parse(numbers=True)
    except pl.exceptions.PolarsError:
        try:
            frame = parse(numbers=False)
        except pl.exceptions.PolarsError:
            explain(file, header, problems)
            return None
    if frame.height == 0:
        problems.add(
            Problem(file.name, "It has a header and no lines.", "Fill it, or remove the file.", 2)
        )
        return None
    return frame


def check_columns(
    frame: pl.DataFrame,
    columns: list[Column],
    table: Table,
    package: Package,
    findings: list[Finding],
    *,
    wide: bool,
) -> pl.DataFrame:
    """Check each column by its type and turn text into numbers and dates."""
    blank = blank_rows(frame)
    if wide and _sound(frame, columns):
        findings += checks.check_required(frame, columns[0])
        _check_wide(frame.columns[1:], package, findings)
        return frame.filter(~blank)
    ready: dict[str, pl.Series] = {}
    for column in columns:
        values = frame[column.name]
        if column.required:
            for finding in checks.check_required(frame, column):
                rows = finding.rows[~blank.to_numpy()[finding.rows]]
                findings.append(Finding(rows, finding.column, finding.message, finding.remedy))
        if column.numeric:
            parsed = values.cast(pl.Float64, strict=False)
            findings += checks.check_numbers(frame, column, parsed)
            values = parsed
        elif column.type == "date":
            periodic = column.name in checks.PERIODIC
            period = package.periods.get(table.name) if periodic else None
            span = package.spans.get(table.name) if periodic else None
            for item in checks.check_dates(
                frame,
                column,
                periodic=periodic,
                period=period,
                span=span,
                years=package.record_years,
            ):
                if isinstance(item, Finding):
                    findings.append(item)
                    continue
                values = _as_dates(values, item.days)
                if periodic:
                    package.periods[table.name] = item.period
                    if item.span is not None:
                        package.spans[table.name] = item.span
        else:
            findings += checks.check_text(frame, column)
        ready[column.name] = values
    if wide:
        _check_wide(list(ready)[1:], package, findings)
    return pl.DataFrame(ready).filter(~blank)


def _sound(frame: pl.DataFrame, columns: list[Column]) -> bool:
    """Whether a wide table's figures are all numbers in their range, looked at as one matrix."""
    figures = frame.select([c.name for c in columns if c.numeric])
    if figures.width + 1 != frame.width or any(t != pl.Float64 for t in figures.dtypes):
        return False
    values = figures.to_numpy()
    nulls = int(figures.null_count().sum_horizontal().item())
    with np.errstate(invalid="ignore"):
        highest = next((c.maximum for c in columns if c.numeric), None)
        good = np.count_nonzero(
            (values >= 0) & (values <= (np.inf if highest is None else highest))
        )
    return bool(good + nulls == values.size)


def _check_wide(names: list[str], package: Package, findings: list[Finding]) -> None:
    days = {name: checks.iso_date(name) for name in names}
    period = checks.detect_period([d for d in days.values() if d])
    span = checks.main_span(day for day in days.values() if day)
    week = every_table()["term_weeks"].column("week")
    assert week is not None, "term_weeks has a column of weeks"
    for name, day in days.items():
        odd = day and checks.out_of_place(day, week, span, package.record_years)
        if odd:
            findings.append(Finding(np.array([-1]), name, *odd))
        wrong = "is not a date" if day is None else checks.misplaced(day, period)
        if wrong:
            findings.append(
                Finding(np.array([-1]), name, f"{name} {wrong}.",
                        "Name each column by its week's Monday or its month's first day.")
            )  # fmt: skip
    package.periods["term_weeks"] = period


def _as_dates(text: pl.Series, days: dict[str, date]) -> pl.Series:
    if not days:
        return pl.Series(text.name, [None] * len(text), dtype=pl.Date)
    return text.replace_strict(
        list(days), list(days.values()), default=None, return_dtype=pl.Date
    ).alias(text.name)
