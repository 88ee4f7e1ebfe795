"""One file read as a table: its columns, its cells, its keys and what it refers to."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, replace
from typing import TypeVar

import numpy as np
import polars as pl

from driftfield.core.voices import scrubbed

from . import blocks, checks
from .checks import Finding
from .package import Package
from .parse import blank_rows, check_columns, parse_file
from .places import report
from .problems import Problem, Problems
from .progress import Progress
from .sources import Header, SourceFile, read_header
from .tables import Column, Table

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Reading:
    """A package being read: what it came to, what is wrong with it, and the ids that may be referred to.

    ids: those of its own tables; known: those that exist already. progress: is told how far it is.
    """

    package: Package
    problems: Problems
    known: Mapping[str, set[str]]
    progress: Progress
    ids: dict[str, set[str]] = field(default_factory=dict)

    def named(self, table: str) -> set[str] | None:
        """Ids of a table; None where nothing is known of it."""
        own, known = self.ids.get(table), self.known.get(table)
        return None if own is None and not known else (own or set()) | (known or set())


def read_table(file: SourceFile, table: Table, reading: Reading, *, alone: bool) -> None:
    """Read a file into the package; ``alone`` says that no other file holds the same table."""
    package, problems = reading.package, reading.problems
    header = read_header(file, problems)
    if header is None:
        return
    wide = table.name == "term_weeks" and header.wide
    if wide and not alone:
        problems.add(
            Problem(file.name, "Other files hold the same table, and this one has a column a date.",
                    "Import it by itself.", 1)
        )  # fmt: skip
        return
    columns = wide_columns(header, table) if wide else columns_of(file, header, table, reading)
    package.wide = package.wide or wide
    if problems.by_file[file.name]:
        return
    in_blocks = table.name == "term_weeks" and alone and not wide
    if in_blocks and blocks.in_blocks(file, blocks.BLOCK):
        _read_in_blocks(file, header, columns, table, reading)
        return
    frame = parse_file(file, header, columns, problems)
    if frame is None:
        return
    findings: list[Finding] = []
    ready = check_columns(frame, columns, table, package, findings, wide=wide)
    key = ["term"] if wide else [k for k in table.key if k in frame.columns]
    if table.one_of:
        findings += checks.check_one_of(frame, table.one_of)
    either = [name for name in table.one_of if name in frame.columns]
    findings += checks.check_key(frame.with_columns(pl.col(either).fill_null("")), key)
    findings += _check_references(frame, ready, table, reading)
    if table.name == "voices" and "text" in ready.columns:
        # Before anything else sees it, so that it is kept nowhere.
        ready = ready.with_columns(pl.col("text").map_elements(scrubbed, return_dtype=pl.String))
    before = package.frames.get(table.name)
    if before is not None:
        ready = _joined(file, before, ready, frame, table, findings, package)
    report(file, header, frame, findings, problems)
    for column in ("term", table.key[0]):
        if column in frame.columns:
            reading.ids.setdefault(table.name, set()).update(frame[column].drop_nulls().unique())
    package.frames[table.name] = ready


def wide_columns(header: Header, table: Table) -> list[Column]:
    """The term, and a column of searches for each date."""
    searches = table.column("searches")
    assert searches is not None, "the table has its measures"
    dates = [replace(searches, name=name, required=False) for name in header.names[1:]]
    return [table.columns[0], *dates]


def _check_references(
    frame: pl.DataFrame, ready: pl.DataFrame, table: Table, reading: Reading
) -> list[Finding]:
    """What a table's rows refer to must be there, where anything is known of it."""
    findings: list[Finding] = []
    for reference in table.references:
        have = reading.named(reference.table)
        if reference.table == table.name:
            have = (have or set()) | set(frame[reference.target].drop_nulls())
        if have is not None and reference.column in frame.columns:
            findings += checks.check_reference(
                frame, reference.column, have, f"{reference.table}.csv"
            )
    if table.name == "term_clicks":
        findings += _check_clicks(ready, reading)
    if table.name == "categories":
        findings += checks.check_circles(frame)
    if "niche_id" in frame.columns and table.one_of and reading.named("niches") is None:
        findings += _check_sales(frame, reading)
    return findings


def _joined(
    file: SourceFile,
    before: pl.DataFrame,
    ready: pl.DataFrame,
    frame: pl.DataFrame,
    table: Table,
    findings: list[Finding],
    package: Package,
) -> pl.DataFrame:
    """The rows of a table's earlier files and of this one; those that came before in the same words are
    left out, those that say something else are found."""
    # A column of the key that one of the files lacks is empty there.
    key = [one for one in table.key if one in before.columns or one in ready.columns]
    before, ready = (
        one.with_columns(
            pl.lit(None, other.schema[k]).alias(k) for k in key if k not in one.columns
        )
        for one, other in ((before, ready), (ready, before))
    )
    row = pl.Series("row", np.flatnonzero(~blank_rows(frame).to_numpy()))
    both = [name for name in ready.columns if name in before.columns]
    known = before.select(key).unique()
    again = ready.with_columns(row).join(known, on=key, how="semi", nulls_equal=True)
    other = again.join(before, on=both, how="anti", nulls_equal=True)
    findings.append(
        Finding(other["row"].to_numpy(), key[0],
                f"Another file says something else of the same {' and '.join(key)}.", "Keep one of them.")
    )  # fmt: skip
    if again.height > other.height:
        many = again.height - other.height
        package.notes.append(f"{file.name}: {many:,} rows stand in another file too.")
    new = ready.join(known, on=key, how="anti", nulls_equal=True)
    return pl.concat([before, new], how="diagonal")


def _check_clicks(frame: pl.DataFrame, reading: Reading) -> list[Finding]:
    """Terms must have figures, and a term's shares in a week may not exceed the whole."""
    terms = reading.known.get("terms", set()).union(
        *(reading.ids.get(name, set()) for name in ("term_weeks", "terms", "interest"))
    )
    findings = list(checks.check_reference(frame, "term", terms, "term_weeks.csv or terms.csv"))
    findings += checks.check_shares(frame)
    return findings


def _check_sales(frame: pl.DataFrame, reading: Reading) -> Iterator[Finding]:
    """Without a table of niches there are those that terms name, and each lone term is one."""
    terms, ids = reading.package.frames.get("terms"), reading.ids
    niches = ids.get("term_weeks", set()) | ids.get("interest", set()) | ids.get("terms", set())
    if terms is not None and "niche_id" in terms.columns:
        niches = niches | set(terms["niche_id"].drop_nulls())
    return checks.check_reference(frame, "niche_id", niches, "niches.csv, nor a term")


def columns_of(file: SourceFile, header: Header, table: Table, reading: Reading) -> list[Column]:
    """The columns of a file that its table has; those that it lacks are problems, those too many are noted."""
    columns = []
    for name in header.names:
        column = table.column(name)
        if column is None:
            reading.package.notes.append(
                f"{file.name}: column “{name}” is not part of {table.name} and was left out."
            )
        else:
            columns.append(column)
    for column in table.columns:
        if column.required and column.name not in header.names:
            came = ", ".join(header.names)
            reading.problems.add(
                Problem(file.name, f"The column is missing; there are: {came}.",
                        f"Add it ({column.description.rstrip('.').lower()}), as in {column.example}.",
                        1, column.name)
            )  # fmt: skip
    if table.one_of and not {*table.one_of} & {*header.names}:
        reading.problems.add(
            Problem(file.name, f"Neither column is there: {' nor '.join(table.one_of)}.",
                    "Add one of them.", 1, table.one_of[0])
        )  # fmt: skip
    return columns


def _read_in_blocks(
    file: SourceFile,
    header: Header,
    columns: list[Column],
    table: Table,
    reading: Reading,
) -> None:
    """A long term_weeks of any size, each block checked like a file of its own."""
    package, problems = reading.package, reading.problems
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
            yield block, parse_file(block, header, columns, found), found

    for block, frame, found in _one_ahead(parsed()):
        problems.take(found)
        if frame is None:
            return  # Where cells begin and end is not known from here on.
        findings: list[Finding] = []
        ready = check_columns(frame, columns, table, package, findings, wide=False)
        if not any(finding.rows.size for finding in findings) and ready.height:
            again = gathered.add(ready, package.periods[table.name])
            rows = np.flatnonzero(~blank_rows(frame).to_numpy())[again]
            findings.append(checks.key_again(rows, list(table.key)))
        report(block, header, frame, findings, problems)
        done += block.size
        reading.progress(f"Reading {file.name}", min(done, whole), whole)
    if gathered.period is None and not problems.by_file[file.name]:
        problems.add(
            Problem(file.name, "All its lines are empty.", "Fill them, or remove the file.", 2)
        )
    if not problems.by_file[file.name]:
        package.counts = gathered.curves()
        reading.ids.setdefault(table.name, set()).update(package.counts.subjects)


def _one_ahead(items: Iterator[T]) -> Iterator[T]:
    """The same items, the next one being made while the one before is in use."""
    with ThreadPoolExecutor(1) as beside:
        coming = beside.submit(next, items, None)
        while (item := coming.result()) is not None:
            coming = beside.submit(next, items, None)
            yield item
