"""Where exchange files come from: a folder or a zip, each file with its separator and header."""

from __future__ import annotations

import codecs
import csv
import io
import re
import zipfile
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path, PurePosixPath
from typing import Protocol

from .forms import OTHER_FORMS, SUFFIXES, check_form, form_of, json_lines, refusal
from .limited import unpack
from .problems import Problem, Problems

SEPARATORS = ",;\t"
# A cell of any length is walked over, so that what is wrong with it, or behind it, is named by its line.
csv.field_size_limit((1 << 31) - 1)
PLAIN_RECORDS = {".jsonl", ".ndjson"}
MOST_COLUMNS = 5_000  # Sixty years of weeks are 3,120.
DATE = re.compile(r"\d{4}-\d{2}-\d{2}")


class Origin(Protocol):
    """What a converted file was made from: how its columns are called there, and its lines."""

    @property
    def columns(self) -> Mapping[str, str]: ...

    def lines(self, converted: set[int], /) -> Mapping[int, int]: ...


@dataclass(frozen=True, slots=True)
class SourceFile:
    """One table: a path, or bytes from within another file. given: the table's name, where the name
    of the file does not say it. before: lines of ``content`` before the first that the file itself has.
    origin: what the content was converted from, where it is not the file's own. held: what keeps the
    content where it is."""

    name: str
    content: Path | bytes
    given: str = ""
    before: int = 0
    origin: Origin | None = None
    held: object = field(default=None, compare=False, repr=False)

    @property
    def table(self) -> str:
        return self.given or PurePosixPath(self.name).stem.lower()

    @property
    def tabular(self) -> bool:
        """Whether it holds a table at all."""
        return bool(self.given) or PurePosixPath(self.name).suffix.lower() in SUFFIXES

    @property
    def size(self) -> int:
        """Bytes of text."""
        return len(self.content) if isinstance(self.content, bytes) else self.content.stat().st_size

    def read(self) -> bytes:
        return self.content if isinstance(self.content, bytes) else self.content.read_bytes()

    def head(self, size: int = 1 << 20) -> bytes:
        return self.part(0, size)

    def part(self, start: int, size: int) -> bytes:
        if isinstance(self.content, bytes):
            return self.content[start : start + size]
        with self.content.open("rb") as f:
            f.seek(start)
            return f.read(size)

    def rows(self, separator: str) -> Iterable[tuple[int, list[str]]]:
        """Rows after the header with the line each starts on; slow, for telling where a problem is."""
        text = io.StringIO(self.read().decode("utf-8-sig", "replace"), newline="")
        reader = csv.reader(text, delimiter=separator)
        next(reader, None)
        start = reader.line_num + 1
        try:
            for row in reader:
                yield start, row
                start = reader.line_num + 1
        except csv.Error:
            return

    def lines_of_rows(self, separator: str, rows: set[int]) -> dict[int, int]:
        """The line each of ``rows`` starts on; quoted line breaks make the two differ."""
        wanted = {row for row in rows if row >= 0}
        found: dict[int, int] = {}
        last = max(wanted, default=-1)
        for index, (line, _) in enumerate(self.rows(separator) if wanted else ()):
            if index in wanted:
                found[index] = line
            if index >= last:
                break
        return found


def open_package(path: Path, upto: int | None = None) -> list[SourceFile]:
    """The tables of a folder, of a zip or of one file, by name; raises ExchangeError for anything else.

    ``upto``: of text that is packed, only about so many bytes from its beginning are wanted.
    """
    if path.is_dir():
        files = [p for p in sorted(path.iterdir()) if p.is_file() and not p.name.startswith(".")]
        return [source for file in files for source in _of_path(file, upto)]
    if not path.exists():
        raise refusal(str(path), "There is no such folder or file.", "Check the path.")
    if _ending(path.name) in {*SUFFIXES, *OTHER_FORMS}:
        return list(_of_path(path, upto))
    if form_of(path) not in {"", "a zip"}:
        check_form(path)
    if not zipfile.is_zipfile(path):
        raise refusal(
            path.name,
            "This is neither a folder, nor a zip, nor a table.",
            f"Give the folder that holds term_weeks.csv, a zip of it, or a file in one of {FORMS}.",
        )
    return sorted(_unpacked(path, upto), key=lambda file: file.name)


# Endings of what can be uploaded.
READABLE = tuple(sorted({*SUFFIXES, *OTHER_FORMS, ".zip", ".json"}))
FORMS = ", ".join(sorted({*SUFFIXES, *OTHER_FORMS}))


def _ending(name: str) -> str:
    return PurePosixPath(name).suffix.lower()


def _of_path(path: Path, upto: int | None) -> Iterator[SourceFile]:
    ending = _ending(path.name)
    if ending in {*SUFFIXES, *OTHER_FORMS}:
        check_form(path)
    if ending in PLAIN_RECORDS:
        text = json_lines(path.name, path.read_bytes())
        yield SourceFile(path.name, text, path.stem.lower(), 1)
    elif ending in OTHER_FORMS:
        yield from _unpacked(path, upto)
    else:
        yield SourceFile(path.name, path)


def _unpacked(path: Path, upto: int | None) -> list[SourceFile]:
    folder, made = unpack(path, upto)
    return [SourceFile(one.name, one.text, one.table, one.before, held=folder) for one in made]


@dataclass(frozen=True, slots=True)
class Header:
    """Separator and column names of a file, stripped of blanks and byte-order mark."""

    separator: str
    names: tuple[str, ...]

    @property
    def wide(self) -> bool:
        """One column of terms, and all others named by dates."""
        return (
            len(self.names) > 1
            and self.names[0] == "term"
            and all(DATE.fullmatch(name) for name in self.names[1:])
        )


def too_many_columns(name: str, many: int) -> Problem:
    """What is said of a file that is too wide to be looked at."""
    return Problem(
        name, f"It has {many:,} columns; at most {MOST_COLUMNS:,} are read.",
        "Leave out those that no table has.", 1,
    )  # fmt: skip


def read_header(file: SourceFile, problems: Problems) -> Header | None:
    """The header, or None with the problem noted."""
    head = file.head()
    if not head.removeprefix(codecs.BOM_UTF8).strip():
        problems.add(Problem(file.name, "The file is empty.", "Fill it, or remove it.", 1))
        return None
    if head[:2] in {b"\xff\xfe", b"\xfe\xff"} or b"\0" in head[:4096]:
        problems.add(
            Problem(file.name, "It is not UTF-8 text.", "Save it as “CSV UTF-8” and try again.", 1)
        )
        return None
    first = head.decode("utf-8-sig", "replace").splitlines()[0]
    separator = max(SEPARATORS, key=first.count)
    names = tuple(name.strip() for name in next(csv.reader([first], delimiter=separator)))
    if len(names) > MOST_COLUMNS:
        problems.add(too_many_columns(file.name, len(names)))
        return None
    twice = {name for name, many in Counter(names).items() if many > 1}
    for name in sorted(twice):
        problems.add(
            Problem(file.name, f"Two columns are named “{name}”.", "Rename or remove one.", 1, name)
        )
    return None if twice else Header(separator, names)


def bad_utf8(file: SourceFile) -> tuple[int, str] | None:
    """Line and text of the first byte that is not UTF-8, or None."""
    raw = file.read()
    try:
        raw.decode("utf-8")
    except UnicodeDecodeError as error:
        line = raw.count(b"\n", 0, error.start) + 1
        return line, raw[error.start : error.start + 1].hex()
    return None
