"""Where exchange files come from: a folder or a zip, each file with its separator and header."""

from __future__ import annotations

import csv
import io
import re
import zipfile
import zlib
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path, PurePosixPath

from .problems import ExchangeError, Problem, Problems

SEPARATORS = ",;\t"
SUFFIXES = {".csv", ".tsv"}
ZIP_LIMIT = 8 << 30  # Unpacked bytes; far above any real package, far below a zip bomb's.
ZIP_RATIO = 200  # Text of figures packs to a twentieth at best.
DATE = re.compile(r"\d{4}-\d{2}-\d{2}")


@dataclass(frozen=True, slots=True)
class SourceFile:
    """One file: a path, or the bytes of a member of a zip."""

    name: str
    content: Path | bytes

    @property
    def table(self) -> str:
        return PurePosixPath(self.name).stem.lower()

    def read(self) -> bytes:
        return self.content if isinstance(self.content, bytes) else self.content.read_bytes()

    def head(self, size: int = 1 << 20) -> bytes:
        if isinstance(self.content, bytes):
            return self.content[:size]
        with self.content.open("rb") as f:
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


def _refuse(name: str, message: str, remedy: str) -> ExchangeError:
    problems = Problems()
    problems.add(Problem(name, message, remedy))
    return ExchangeError(problems)


def open_package(path: Path) -> list[SourceFile]:
    """The files of a folder or zip, by name; raises ExchangeError when it is neither."""
    if path.is_dir():
        return [SourceFile(p.name, p) for p in sorted(path.iterdir()) if p.is_file()]
    if not path.exists():
        raise _refuse(str(path), "There is no such folder or file.", "Check the path.")
    if not zipfile.is_zipfile(path):
        raise _refuse(
            path.name,
            "This is neither a folder nor a zip.",
            "Give the folder that holds term_weeks.csv, or a zip of it.",
        )
    with zipfile.ZipFile(path) as archive:
        members = [m for m in archive.infolist() if not m.is_dir()]
        size = sum(m.file_size for m in members)
        packed = sum(m.compress_size for m in members)
        if size > ZIP_LIMIT or (size > 1 << 26 and size > ZIP_RATIO * max(packed, 1)):
            raise _refuse(
                path.name,
                f"It would unpack to {size / 1e9:.1f} GB, which no market's figures do.",
                "Unpack it yourself and give the folder.",
            )
        try:
            return sorted(
                (
                    # Only the last part of a name is used, so no member can point elsewhere.
                    SourceFile(PurePosixPath(m.filename).name, archive.read(m))
                    for m in members
                    if PurePosixPath(m.filename).suffix.lower() in {*SUFFIXES, ".json"}
                    and "__MACOSX" not in m.filename
                ),
                key=lambda f: f.name,
            )
        except (
            zipfile.BadZipFile,
            zlib.error,
            EOFError,
            RuntimeError,
            NotImplementedError,
        ) as error:
            raise _refuse(
                path.name, f"The zip cannot be read: {error}.", "Pack the folder again."
            ) from error


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


def read_header(file: SourceFile, problems: Problems) -> Header | None:
    """The header, or None with the problem noted."""
    head = file.head()
    if not head.strip():
        problems.add(Problem(file.name, "The file is empty.", "Leave it out, or fill it.", 1))
        return None
    if head[:2] in {b"\xff\xfe", b"\xfe\xff"} or b"\0" in head[:4096]:
        problems.add(
            Problem(file.name, "It is not UTF-8 text.", "Save it as “CSV UTF-8” and try again.", 1)
        )
        return None
    first = head.decode("utf-8-sig", "replace").splitlines()[0]
    separator = max(SEPARATORS, key=first.count)
    names = tuple(name.strip() for name in next(csv.reader([first], delimiter=separator)))
    twice = {name for name in names if names.count(name) > 1}
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
