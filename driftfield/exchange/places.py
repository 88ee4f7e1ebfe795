"""Where in a file a problem is: found by a walk through it, for the few that are shown."""

from __future__ import annotations

from collections.abc import Mapping

import polars as pl

from .checks import Finding
from .problems import Problem, Problems
from .sources import Header, SourceFile, bad_utf8


def report(
    file: SourceFile,
    header: Header,
    frame: pl.DataFrame,
    findings: list[Finding],
    problems: Problems,
) -> None:
    """Turn findings into problems, with lines for as many as are shown."""
    pairs = sorted(
        ((int(row), finding) for finding in findings for row in finding.rows[: problems.cap]),
        key=lambda pair: pair[0],
    )
    shown = pairs[: problems.room()]
    rows = file.lines_of_rows(header.separator, {row for row, _ in shown})
    lines = {row: max(line - file.before, 1) for row, line in rows.items()}
    called: Mapping[str, str] = {}
    if file.origin is not None:
        own = file.origin.lines(set(lines.values()))
        lines = {row: own.get(line, line) for row, line in lines.items()}
        called = file.origin.columns
    for row, finding in shown:
        value = None if row < 0 else frame[finding.column][row]
        text = f"{value:g}" if isinstance(value, float) else "" if value is None else str(value)
        if len(text) > 60:
            text = text[:57] + "…"
        problems.add(
            Problem(file.name, finding.message.replace("{value}", text), finding.remedy,
                    lines.get(row, 1), called.get(finding.column, finding.column), text or None)
        )  # fmt: skip
    rest = sum(len(finding.rows) for finding in findings) - len(shown)
    if rest:
        problems.tally(file.name, rest)


def explain(file: SourceFile, header: Header, problems: Problems) -> None:
    """Why a file could not even be split into cells."""
    broken = bad_utf8(file)
    if broken:
        line, byte = broken
        problems.add(
            Problem(file.name, f"Byte {byte} is not UTF-8.",
                    "Save the file as “CSV UTF-8” and try again.", line - file.before)
        )  # fmt: skip
        return
    width = len(header.names)
    found = False
    opened = 2
    for line, row in file.rows(header.separator):
        opened = line
        if len(row) > width:
            found = True
            problems.add(
                Problem(file.name, f"The line has {len(row)} cells, the header {width}.",
                        "Put text that holds the separator in double quotes.", line - file.before)
            )  # fmt: skip
    if not found:
        problems.add(
            Problem(file.name, "A double quote is opened and not closed.",
                    "Close it, or write it twice where it is part of the text.", opened - file.before)
        )  # fmt: skip
