"""What a file looks like: its characters, its separator, the line that names its columns, its first rows."""

from __future__ import annotations

import codecs
import csv
import hashlib
import io
import re
from collections import Counter
from dataclasses import dataclass

from driftfield.exchange.problems import ExchangeError, Problems
from driftfield.exchange.sources import MOST_COLUMNS, SourceFile, too_many_columns

from .dates import day_in

SEPARATORS = ",;\t|"
LOOKED_AT = 1 << 18  # Bytes at the beginning of a file.
LINES = 400  # Lines among which the names of the columns and the first rows are.
SAMPLE = 200  # Rows looked at closely.
PLACES, PART, EACH = 16, 1 << 13, 8  # Places in a large file, bytes at each, and rows of them.
ABOVE = 25  # Lines that may come before the names of the columns.
DATED = "<date>"  # Stands for all dates among the names, which another file of the layout has others of.
FIGURE = re.compile(r"[^A-Za-z]*\d[^A-Za-z]*")


@dataclass(frozen=True, slots=True)
class Layout:
    """The beginning of a file.

    encoding: of its characters. separator: between its cells. head: the line with the names of the
    columns, counted from 1; 0 where none has them. names: of the columns, each once. above: the lines
    before head. rows: the first rows, with as many cells as there are names. late: some of the last rows,
    for the first ones may all be of one week.
    """

    encoding: str
    separator: str
    head: int
    names: tuple[str, ...]
    above: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    late: tuple[tuple[str, ...], ...] = ()

    @property
    def sample(self) -> tuple[tuple[str, ...], ...]:
        """Rows from the beginning and the end."""
        return (*self.rows[:SAMPLE], *self.late)

    @property
    def key(self) -> str:
        """The same for files whose columns have the same names in the same order; dates count as one."""
        names = [DATED if day_in(name) else name.strip().casefold() for name in self.names]
        once = [name for i, name in enumerate(names) if name != DATED or DATED not in names[:i]]
        return hashlib.blake2b("\x1f".join(once).encode(), digest_size=16).hexdigest()


def look(file: SourceFile, head: int | None = None) -> Layout | None:
    """The layout of a file; None where nothing of it can be read as a table.

    ``head`` says which line names the columns where that is known; else it is found: the first of the
    lines that have as many cells as most lines, unless its cells are figures already.
    """
    raw = file.head(LOOKED_AT)
    encoding = encoding_of(raw)
    text = codecs.getincrementaldecoder(encoding)("replace").decode(raw).lstrip("\ufeff")
    # The last line may break off.
    lines = [line.rstrip("\r") for line in text.split("\n")]
    lines = lines[: LINES if len(raw) < LOOKED_AT else -1][:LINES]
    if not any(line.strip() for line in lines) or "\0" in text:
        return None
    separator = _separator(lines)
    rows = [(row, line) for row, line in _rows(text, separator, len(lines)) if any(row)]
    if not rows:
        return None
    found = _head(rows) if head is None else head
    first = [row for row, line in rows if line == found]
    after = [row for row, line in rows if line > found]
    width = len(first[0]) if first else max(len(row) for row in after or [[]])
    if width == 0:
        return None
    if width > MOST_COLUMNS:
        problems = Problems()
        problems.add(too_many_columns(file.name, width))
        raise ExchangeError(problems)
    given = first[0] if first else [""] * width
    above = tuple(line.strip() for line in lines[: max(found - 1, 0)] if line.strip())
    late = _late(file, encoding, separator) if file.size > LOOKED_AT else []
    return Layout(
        encoding, separator, found, _named(given), above,
        tuple(tuple((row + [""] * width)[:width]) for row in after),
        tuple(tuple(row) for row in late if len(row) == width),
    )  # fmt: skip


def _late(file: SourceFile, encoding: str, separator: str) -> list[list[str]]:
    """Rows from places all over the file, without those that are cut."""
    found: list[list[str]] = []
    for part in range(1, PLACES):
        # Of UTF-16, characters begin at even places.
        raw = file.part(file.size * part // PLACES // 2 * 2, PART)
        lines = raw.decode(
            "utf-16-le" if encoding == "utf-16" else encoding, "replace"
        ).splitlines()
        found += [row for row, _ in _rows("\n".join(lines[1:-1][:EACH]), separator, EACH)]
    return found


def encoding_of(raw: bytes) -> str:
    """utf-8, utf-16 where a byte-order mark says so, else what is left in the West: windows-1252."""
    if raw.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return "utf-16"
    try:
        codecs.getincrementaldecoder("utf-8")().decode(raw)
    except UnicodeDecodeError:
        return "cp1252"
    return "utf-8"


def _separator(lines: list[str]) -> str:
    """The sign that cuts most lines into the same number of cells, and into most of them."""

    def score(sign: str) -> tuple[int, int]:
        counts = Counter(line.count(sign) for line in lines if line.strip())
        cells, often = max(counts.items(), key=lambda pair: (pair[0] > 0, pair[1], pair[0]))
        return (often if cells else 0), cells

    return max(SEPARATORS, key=score)


def _rows(text: str, separator: str, lines: int) -> list[tuple[list[str], int]]:
    """Rows with the line on which each begins."""
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
    found, start = [], 1
    try:
        for row in reader:
            found.append(([cell.strip() for cell in row], start))
            start = reader.line_num + 1
            if start > lines:
                break
    except csv.Error:
        pass
    return found


def _head(rows: list[tuple[list[str], int]]) -> int:
    """Line of the row that names the columns; 0 where the first such row has figures already."""
    usual = Counter(len(row) for row, _ in rows).most_common()
    often = usual[0][1]
    # Of widths that are about as common the largest: rows above a table are short.
    width = max(cells for cells, many in usual if many * 2 >= often)
    for row, line in rows[:ABOVE]:
        named = sum(bool(cell) for cell in row)
        if len(row) == width and named * 3 >= width * 2:
            dated = sum(day_in(cell) is not None for cell in row)
            figures = sum(bool(FIGURE.fullmatch(cell)) for cell in row)
            # A row a term and a column a date has names that look like figures, all but a few.
            return line if figures == 0 or dated >= max(2, figures - 2) else 0
    return rows[0][1]


def _named(given: list[str]) -> tuple[str, ...]:
    """Names that each stand once: those without are numbered, those that come again too."""
    out: dict[str, None] = {}
    many = Counter[str]()
    for place, name in enumerate(given, start=1):
        wanted = " ".join(name.split()) or f"column {place}"
        many[wanted] += 1
        made = wanted if many[wanted] == 1 else f"{wanted} ({many[wanted]})"
        while made in out:
            many[wanted] += 1
            made = f"{wanted} ({many[wanted]})"
        out[made] = None
    return tuple(out)
