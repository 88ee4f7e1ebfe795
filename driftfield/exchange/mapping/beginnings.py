"""The beginnings of files: enough to agree on how they are read, and to try it."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory

import polars as pl

from driftfield.exchange.problems import Problem, Problems
from driftfield.exchange.sources import SourceFile, open_package

from .agreed import table_as_it_stands
from .convert import convert
from .layout import LOOKED_AT, Layout, look
from .model import Mapping

TRIED = 60  # Rows on which a mapping is tried.


@dataclass(frozen=True, slots=True)
class Alike:
    """Files of one layout. table: the exchange table they are as they stand; empty where they are none."""

    files: list[SourceFile]
    layout: Layout
    table: str


def look_through(path: Path) -> tuple[list[Alike], list[str]]:
    """The files of a folder, a zip or one file by layout, and those that can only be read by name.

    Raises ExchangeError where a file is not what its ending says.
    """
    found: dict[tuple[str, str], Alike] = {}
    unread = []
    for file in open_package(path, LOOKED_AT):
        if not file.tabular:
            continue
        layout = look(file)
        if layout is None:
            unread.append(file.name)
            continue
        table = table_as_it_stands(file, layout)
        alike = found.setdefault((layout.key, table), Alike([], layout, table))
        alike.files.append(file)
    return list(found.values()), unread


def try_mapping(
    file: SourceFile, layout: Layout, mapping: Mapping
) -> tuple[pl.DataFrame | None, list[Problem]]:
    """The first rows as the mapping makes them, as text, and what is wrong with them.

    Raises CoreError where a file of this layout cannot be read like that.
    """
    mapping.check(layout.names)
    if not mapping.table:
        return None, []
    problems, notes = Problems(), list[str]()
    with TemporaryDirectory(prefix="driftfield-") as folder:
        made = convert(_beginning(file, layout), layout, mapping, Path(folder), problems, notes)
        frame = pl.read_csv(made.read(), infer_schema=False) if made is not None else None
    return frame, problems.kept


def _beginning(file: SourceFile, layout: Layout) -> SourceFile:
    """The file up to some rows after the names of its columns, cut at the end of a line."""
    end = b"\n\0" if layout.encoding == "utf-16" else b"\n"
    raw = file.head(LOOKED_AT)
    at = 0
    for _ in range(layout.head + TRIED):
        after = raw.find(end, at)
        if after < 0:
            # A file that was cut somewhere ends with a part of a line.
            return SourceFile(
                file.name, raw if len(raw) < LOOKED_AT else raw[:at], file.table, file.before
            )
        at = after + len(end)
    return SourceFile(file.name, raw[:at], file.table, file.before)
