"""Reading a package of exchange tables: all of it, validated, or an ExchangeError."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime
from pathlib import Path
from tempfile import TemporaryDirectory

from driftfield.core.base import CoreError

from . import checks
from .mapping import NOTHING_AGREED, Agreed, convert, fitting, look, propose, table_as_it_stands
from .package import Package
from .problems import Problem, Problems
from .progress import Progress, untold
from .read_table import Reading, read_table
from .sources import SourceFile, open_package
from .tables import tables as every_table

__all__ = ["Package", "read_package"]


def read_package(
    path: Path,
    *,
    known: Mapping[str, set[str]] | None = None,
    cap: int | None = None,
    progress: Progress = untold,
    agreed: Agreed = NOTHING_AGREED,
    record_years: int = checks.RECORD_YEARS,
    demand: bool = True,
) -> Package:
    """Read and validate every exchange table in a folder or zip.

    ``known`` gives, by table, ids that exist already and may be referred to. ``progress`` is told how far
    the reading is, and may raise to end it. ``agreed`` says how files of other layouts are read; several
    such files may hold parts of one table. ``record_years``: how far back periods may go.
    ``demand``: whether figures of demand must be among them. Raises
    ExchangeError with all problems (the first ``cap`` in full) when anything is wrong.
    """
    problems = Problems() if cap is None else Problems(cap=cap)
    package = Package(record_years=record_years)
    with TemporaryDirectory(prefix="driftfield-") as folder:
        sources = sources_of(
            open_package(path), agreed, Path(folder), package, problems, progress,
            demand=demand and not known,
        )  # fmt: skip
        reading = Reading(package, problems, known or {}, progress)
        for name, table in every_table().items():
            for file in sources.get(name, ()):
                progress(f"Reading {file.name}", 0, 0)
                read_table(file, table, reading, alone=len(sources[name]) == 1)
            if name not in sources and table.without and not known:
                package.notes.append(table.without)
    problems.raise_if_any()
    return package


def _refuse_unread(came: list[SourceFile], problems: Problems) -> None:
    """Says of files none of which holds a table that nothing can be imported of them."""
    remedy = "Name the file after its table, or say how it is read, on the page Intake."
    for file in came:
        if file.tabular:
            empty = not file.head(1 << 10).strip()
            problems.add(
                Problem(file.name, "The file is empty.", "Export it again.", 1)
                if empty
                else Problem(
                    file.name, "None of the exchange tables was recognised in it.", remedy, 1
                )
            )
    if not problems.count:
        names = ", ".join(file.name for file in came[:5]) or "nothing"
        problems.add(
            Problem("the files", f"There is no table among them; there is: {names}.", remedy)
        )


def sources_of(
    came: list[SourceFile],
    agreed: Agreed,
    folder: Path,
    package: Package,
    problems: Problems,
    progress: Progress,
    *,
    demand: bool,
) -> dict[str, list[SourceFile]]:
    """The files by the table they hold, those of other layouts converted into ``folder``.

    ``demand``: whether figures of demand must be among them.
    """
    sources: dict[str, list[SourceFile]] = {}
    for file in came:
        if not file.tabular:
            _note_other(file, package)
            continue
        found = _as_table(file, agreed, folder, package, problems, progress)
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
    if demand and not {"term_weeks", "interest"} & set(sources) and not problems.count:
        names = ", ".join(file.name for file in came[:5]) or "nothing"
        problems.add(
            Problem("term_weeks.csv", f"The file is missing; there is: {names}.",
                    "Name the file after its table, or say how it is read, on the page Intake or with "
                    "bin/driftfield mapping. "
                    "term_weeks is the one that is required (term, week, searches), unless "
                    "interest.csv has relative curves.")
        )  # fmt: skip
    elif not sources and not problems.count:
        _refuse_unread(came, problems)
    return sources


def _as_table(
    file: SourceFile,
    agreed: Agreed,
    folder: Path,
    package: Package,
    problems: Problems,
    progress: Progress,
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
        return convert(file, layout, mapping, folder, problems, package.notes, progress)
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
