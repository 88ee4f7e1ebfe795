"""Reading a package of exchange tables: all of it, validated, or an ExchangeError."""

from __future__ import annotations

import io
import json
from collections.abc import Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TypeVar

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, Period

from . import blocks, checks
from .checks import Finding, Span
from .heed import Heed, unheeded
from .mapping import NOTHING_AGREED, Agreed, convert, fitting, look, propose, table_as_it_stands
from .mapping import Mapping as FileMapping
from .matrices import Curves
from .places import explain, report
from .problems import Problem, Problems
from .sources import Header, SourceFile, open_package, read_header
from .tables import Column, Table
from .tables import tables as every_table

T = TypeVar("T")


@dataclass(slots=True)
class Package:
    """A package that was read: a frame a table, dates as dates, numbers as Float64.

    periods: the period of each table that has a ``week`` column. wide: term_weeks came as a row a
    term; its frame then has a column a date. counts: term_weeks as curves, where the file was so large
    that it was read in blocks; it then has no frame. notes: what was left out, and what is switched off.
    created: when the package says it was made. mappings: how files of other layouts were read, by file.
    spans: from when to when each such table goes; record_years: how far back it may.
    """

    frames: dict[str, pl.DataFrame] = field(default_factory=dict)
    periods: dict[str, Period] = field(default_factory=dict)
    wide: bool = False
    notes: list[str] = field(default_factory=list)
    created: datetime | None = None
    counts: Curves | None = None
    mappings: dict[str, FileMapping] = field(default_factory=dict)
    spans: dict[str, Span] = field(default_factory=dict)
    record_years: int = checks.RECORD_YEARS

    @property
    def has_counts(self) -> bool:
        """Whether there is a term_weeks, however it was read."""
        return self.counts is not None or "term_weeks" in self.frames


WITHOUT = {
    "term_weeks": "Without term_weeks there are relative curves only: no totals, and no ranking.",
    "niches": "Without niches each term counts as a niche of its own.",
    "term_clicks": "Without term_clicks nothing is known of competition; the ranking is by demand.",
    "listings": "Without listings nothing is known of brands, prices and reviews.",
}


def read_package(
    path: Path,
    *,
    known: Mapping[str, set[str]] | None = None,
    cap: int | None = None,
    heed: Heed = unheeded,
    agreed: Agreed = NOTHING_AGREED,
    record_years: int = checks.RECORD_YEARS,
) -> Package:
    """Read and validate every exchange table in a folder or zip.

    ``known`` gives, by table, ids that exist already and may be referred to. ``heed`` is told how far
    the reading is, and may raise to end it. ``agreed`` says how files of other layouts are read; several
    such files may hold parts of one table. ``record_years``: how far back periods may go. Raises
    ExchangeError with all problems (the first ``cap`` in full) when anything is wrong.
    """
    problems = Problems() if cap is None else Problems(cap=cap)
    package = Package(record_years=record_years)
    with TemporaryDirectory(prefix="driftfield-") as folder:
        came = open_package(path)
        sources = _sources(came, agreed, Path(folder), package, problems, heed)
        if not {"term_weeks", "interest"} & set(sources) and not known and not problems.count:
            names = ", ".join(file.name for file in came[:5]) or "nothing"
            problems.add(
                Problem("term_weeks.csv", f"The file is missing; there is: {names}.",
                        "Name the file after its table, or say how it is read, on the page Intake or with "
                        "bin/driftfield mapping. "
                        "term_weeks is the one that is required (term, week, searches), unless "
                        "interest.csv has relative curves.")
            )  # fmt: skip
        ids: dict[str, set[str]] = {}
        for name, table in every_table().items():
            for file in sources.get(name, ()):
                heed(f"Reading {file.name}", 0, 0)
                alone = len(sources[name]) == 1
                _read_table(file, table, package, problems, ids, known or {}, heed, alone=alone)
            if name not in sources and name in WITHOUT and not known:
                package.notes.append(WITHOUT[name])
    problems.raise_if_any()
    return package


def _sources(
    came: list[SourceFile],
    agreed: Agreed,
    folder: Path,
    package: Package,
    problems: Problems,
    heed: Heed,
) -> dict[str, list[SourceFile]]:
    """The files by the table they hold, those of other layouts converted into ``folder``."""
    sources: dict[str, list[SourceFile]] = {}
    for file in came:
        if not file.tabular:
            _note_other(file, package)
            continue
        found = _as_table(file, agreed, folder, package, problems, heed)
        if found is None:
            continue
        others = sources.setdefault(found.table, [])
        # A file named after a table is meant to be the whole of it.
        if others and found.table == file.table and others[0].origin is found.origin is None:
            problems.add(
                Problem(
                    file.name, f"{others[0].name} holds the same table.", "Keep one of the two."
                )
            )
        else:
            others.append(found)
    return sources


def _as_table(
    file: SourceFile,
    agreed: Agreed,
    folder: Path,
    package: Package,
    problems: Problems,
    heed: Heed,
) -> SourceFile | None:
    """The file as an exchange table; None where it is left out or cannot be converted."""
    layout = look(file)
    mapping = agreed.of(file, layout) if layout else None
    if layout is not None and mapping is not None:
        if not mapping.table:
            package.notes.append(f"{file.name} was left out, as was agreed for files like it.")
            return None
        layout = fitting(file, layout, mapping)
        try:
            mapping.check(layout.names)
        except CoreError as error:
            problems.add(Problem(file.name, str(error), "See the page Intake.", layout.head))
            return None
        package.mappings[file.name] = mapping
        return convert(file, layout, mapping, folder, problems, package.notes, heed)
    if file.table in every_table():
        return file
    table = table_as_it_stands(file, layout) if layout else ""
    if table:
        package.notes.append(f"{file.name} has the columns of {table} and was read as that.")
        return replace(file, given=table)
    looks = propose(layout, file.name).mapping.table if layout else ""
    more = f" It may be {looks}; the page Intake asks how it is read." if looks else ""
    package.notes.append(f"{file.name} is not an exchange table and was left out.{more}")
    return None


def _note_other(file: SourceFile, package: Package) -> None:
    if file.name != "datapackage.json":
        return
    try:
        created = json.loads(file.read()).get("created")
        moment = datetime.fromisoformat(created) if created else None
        if moment is not None and not 1900 <= moment.year < 2200:
            raise ValueError(created)
        package.created = moment
    except (ValueError, TypeError, AttributeError, RecursionError):
        package.notes.append(
            "datapackage.json is not valid JSON, or its “created” is no date, and was left out."
        )


def _read_table(
    file: SourceFile,
    table: Table,
    package: Package,
    problems: Problems,
    ids: dict[str, set[str]],
    known: Mapping[str, set[str]],
    heed: Heed,
    *,
    alone: bool,
) -> None:
    header = read_header(file, problems)
    if header is None:
        return
    if table.name == "term_weeks" and header.wide and not alone:
        problems.add(
            Problem(file.name, "Other files hold the same table, and this one has a column a date.",
                    "Import it by itself.", 1)
        )  # fmt: skip
        return
    if table.name == "term_weeks" and header.wide:
        columns = [table.columns[0]]
        searches = table.column("searches")
        assert searches is not None, "the table has its measures"
        columns += [replace(searches, name=name, required=False) for name in header.names[1:]]
        package.wide = True
    else:
        columns = _columns(file, header, table, package, problems)
    if problems.by_file[file.name]:
        return
    if (
        table.name == "term_weeks"
        and alone
        and not package.wide
        and blocks.in_blocks(file, blocks.BLOCK)
    ):
        _read_in_blocks(file, header, columns, table, package, problems, ids, heed)
        return
    frame = _parse(file, header, columns, problems)
    if frame is None:
        return
    wide = package.wide and table.name == "term_weeks"
    findings: list[Finding] = []
    ready = _check_columns(frame, columns, table, package, findings, wide=wide)
    key = ["term"] if wide else [k for k in table.key if k in frame.columns]
    findings += checks.check_key(frame, key)
    for reference in table.references:
        target = ids.get(reference.table)
        if reference.table == table.name:
            target = ids.get(table.name, set()) | set(frame[reference.target].drop_nulls())
        if target is None and not known.get(reference.table):
            continue
        have = (target or set()) | known.get(reference.table, set())
        if reference.column in frame.columns:
            findings += checks.check_reference(
                frame, reference.column, have, f"{reference.table}.csv"
            )
    if table.name == "term_clicks":
        findings += _check_clicks(ready, ids, known)
    if table.name == "own_sales" and not (known.get("niches") or "niches" in ids):
        findings += _check_sales(frame, package, ids)
    before = package.frames.get(table.name)
    if before is not None:
        ready = _joined(file, before, ready, frame, key, findings, package)
    report(file, header, frame, findings, problems)
    for id_column in ("term", table.key[0]):
        if id_column in frame.columns:
            ids.setdefault(table.name, set()).update(frame[id_column].drop_nulls().unique())
    package.frames[table.name] = ready


def _joined(
    file: SourceFile,
    before: pl.DataFrame,
    ready: pl.DataFrame,
    frame: pl.DataFrame,
    key: list[str],
    findings: list[Finding],
    package: Package,
) -> pl.DataFrame:
    """The rows of a table's earlier files and of this one; those that came before in the same words are
    left out, those that say something else are found."""
    row = pl.Series("row", np.flatnonzero(~_blank(frame).to_numpy()))
    both = [name for name in ready.columns if name in before.columns]
    known = before.select(key).unique()
    again = ready.with_columns(row).join(known, on=key, how="semi")
    other = again.join(before, on=both, how="anti", nulls_equal=True)
    findings.append(
        Finding(other["row"].to_numpy(), key[0],
                f"Another file says something else of the same {' and '.join(key)}.", "Keep one of them.")
    )  # fmt: skip
    if again.height > other.height:
        many = again.height - other.height
        package.notes.append(f"{file.name}: {many:,} rows stand in another file too.")
    new = ready.join(known, on=key, how="anti")
    return pl.concat([before, new], how="diagonal")


def _read_in_blocks(
    file: SourceFile,
    header: Header,
    columns: list[Column],
    table: Table,
    package: Package,
    problems: Problems,
    ids: dict[str, set[str]],
    heed: Heed,
) -> None:
    """A long term_weeks of any size, each block checked like a file of its own."""
    names = [c.name for c in columns]
    gathered = blocks.Gathered("term", [n for n in table.measures if n in names])
    if days := blocks.dates_in(file, header.separator, header.names.index("week")):
        package.periods[table.name] = checks.detect_period(days)
        if span := checks.main_span(days):
            package.spans[table.name] = span
    done, whole = 0, file.size

    def parsed() -> Iterator[tuple[SourceFile, pl.DataFrame | None, Problems]]:
        for block in blocks.blocks_of(file, blocks.BLOCK):
            found = Problems(cap=problems.cap)
            yield block, _parse(block, header, columns, found), found

    for block, frame, found in _one_ahead(parsed()):
        problems.take(found)
        if frame is None:
            return  # Where cells begin and end is not known from here on.
        findings: list[Finding] = []
        ready = _check_columns(frame, columns, table, package, findings, wide=False)
        if not any(finding.rows.size for finding in findings) and ready.height:
            again = gathered.add(ready, package.periods[table.name])
            rows = np.flatnonzero(~_blank(frame).to_numpy())[again]
            findings.append(checks.key_again(rows, list(table.key)))
        report(block, header, frame, findings, problems)
        done += block.size
        heed(f"Reading {file.name}", min(done, whole), whole)
    if gathered.period is None and not problems.by_file[file.name]:
        problems.add(Problem(file.name, "All its lines are empty.", "Leave it out, or fill it.", 2))
    if not problems.by_file[file.name]:
        package.counts = gathered.curves()
        ids.setdefault(table.name, set()).update(package.counts.subjects)


def _one_ahead(items: Iterator[T]) -> Iterator[T]:
    """The same items, the next one being made while the one before is in use."""
    with ThreadPoolExecutor(1) as beside:
        coming = beside.submit(next, items, None)
        while (item := coming.result()) is not None:
            coming = beside.submit(next, items, None)
            yield item


def _blank(frame: pl.DataFrame) -> pl.Series:
    """Rows without any cell."""
    return frame.select(all=pl.all_horizontal(pl.all().is_null()))["all"]


def _check_clicks(
    frame: pl.DataFrame, ids: dict[str, set[str]], known: Mapping[str, set[str]]
) -> list[Finding]:
    """Terms must have figures, and a term's shares in a week may not exceed the whole."""
    terms = known.get("terms", set()).union(
        *(ids.get(name, set()) for name in ("term_weeks", "terms", "interest"))
    )
    findings = list(checks.check_reference(frame, "term", terms, "term_weeks.csv or terms.csv"))
    for share in ("click_share", "purchase_share"):
        if share in frame.columns:
            total = frame.select(over=pl.col(share).sum().over("term", "week"))["over"]
            rows = np.flatnonzero((total > 1.001).fill_null(False).to_numpy())
            findings.append(
                Finding(rows, share, "The shares of its term and week add up to more than 1.",
                        "Shares are fractions of all of the term's clicks (purchases).")
            )  # fmt: skip
    return findings


def _check_sales(
    frame: pl.DataFrame, package: Package, ids: dict[str, set[str]]
) -> Iterator[Finding]:
    """Without a table of niches there are those that terms name, and each lone term is one."""
    terms = package.frames.get("terms")
    niches = ids.get("term_weeks", set()) | ids.get("interest", set()) | ids.get("terms", set())
    if terms is not None and "niche_id" in terms.columns:
        niches = niches | set(terms["niche_id"].drop_nulls())
    return checks.check_reference(frame, "niche_id", niches, "niches.csv, nor a term")


def _columns(
    file: SourceFile, header: Header, table: Table, package: Package, problems: Problems
) -> list[Column]:
    columns = []
    for name in header.names:
        column = table.column(name)
        if column is None:
            package.notes.append(
                f"{file.name}: column “{name}” is not part of {table.name} and was left out."
            )
        else:
            columns.append(column)
    for column in table.columns:
        if column.required and column.name not in header.names:
            came = ", ".join(header.names)
            problems.add(
                Problem(file.name, f"The column is missing; there are: {came}.",
                        f"Add it ({column.description.rstrip('.').lower()}), as in {column.example}.",
                        1, column.name)
            )  # fmt: skip
    return columns


def _parse(
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
            Problem(file.name, "It has a header and no lines.", "Leave it out, or fill it.", 2)
        )
        return None
    return frame


def _check_columns(
    frame: pl.DataFrame,
    columns: list[Column],
    table: Table,
    package: Package,
    findings: list[Finding],
    *,
    wide: bool,
) -> pl.DataFrame:
    """Check each column by its type and turn text into numbers and dates."""
    blank = _blank(frame)
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
