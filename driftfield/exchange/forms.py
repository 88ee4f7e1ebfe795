"""Other forms of an exchange table, each turned into the CSV it stands for: gzip, XLSX, JSON lines, Parquet.

The rest of the reader then sees one form only, and names the same file, line and column: of a sheet its
row, of JSON lines the line, of Parquet the number of the record. Packed forms come here in a program of
their own (``limited``), for a damaged or lying file can take all there is of memory, or end who reads it.
"""

from __future__ import annotations

import gzip
import json
import struct
import zipfile
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from typing import IO

import fastexcel
import polars as pl

from .problems import ExchangeError, Problem, Problems

GZIP, SHEETS, JSON_LINES, PARQUET, ZIP = ".gz", ".xlsx", ".jsonl", ".parquet", ".zip"
OTHER_FORMS = (GZIP, SHEETS, JSON_LINES, ".ndjson", PARQUET)
SUFFIXES = {".csv", ".tsv"}
UNPACKED = 8 << 30  # Bytes; far above any real package, far below a bomb's.
RATIO = 200  # Text of figures packs to a twentieth at best.
SMALL = 1 << 26  # Bytes up to which no ratio is suspicious.
CHUNK = 1 << 20
MEMBERS = 1_000  # Files in a zip.
# What reading a damaged zip can end in, by its parts: directory, offsets, streams, encryption.
ZIP_DAMAGE = (
    zipfile.BadZipFile, zlib.error, EOFError, OSError, RuntimeError, NotImplementedError, ValueError,
    UnicodeError, struct.error, OverflowError, IndexError,
)  # fmt: skip


def refusal(name: str, message: str, remedy: str, line: int | None = None) -> ExchangeError:
    """An error of one problem."""
    problems = Problems()
    problems.add(Problem(name, message, remedy, line))
    return ExchangeError(problems)


WORKBOOK = "a workbook (XLSX)"
# How the forms begin: ZIP APPNOTE 4.3.7, [MS-CFB] 2.2, RFC 1952 2.3.1, Parquet's own format.
BEGINNINGS = {
    b"PK\x03\x04": "a zip", b"\xd0\xcf\x11\xe0": "a workbook of the old binary form (XLS)",
    b"\x1f\x8b": "gzip", b"PAR1": "Parquet",
}  # fmt: skip
_ENDING_OF = {WORKBOOK: SHEETS, "a zip": ZIP, "gzip": GZIP, "Parquet": PARQUET}


def form_of(path: Path) -> str:
    """The form of a file by how it begins, whatever its ending says; empty for text and what is not known."""
    with path.open("rb") as file:
        head = file.read(8)
    found = next((form for begin, form in BEGINNINGS.items() if head.startswith(begin)), "")
    if found == "a zip":
        try:
            with zipfile.ZipFile(path) as archive:
                return WORKBOOK if "xl/workbook.xml" in archive.namelist() else found
        except ZIP_DAMAGE:
            return found
    return found


def check_form(path: Path) -> None:
    """Raise ExchangeError for a file that is of another form than its ending says."""
    form, ending = form_of(path), _ending(path.name)
    packed = {GZIP: "gzip", SHEETS: WORKBOOK, PARQUET: "Parquet", ZIP: "a zip"}
    if not form or packed.get(ending) == form or (ending in packed and form == "a zip"):
        return
    right = _ENDING_OF.get(form)
    remedy = f"Rename it to {path.stem}{right}." if right else "Save it as XLSX or as CSV UTF-8."
    raise refusal(
        path.name, f"It is {form}, not what its ending {ending or 'says'} stands for.", remedy
    )


def check_size(name: str, unpacked: int, packed: int) -> None:
    """Refuse what unpacks to far more than figures ever do."""
    if unpacked > UNPACKED or (unpacked > SMALL and unpacked > RATIO * max(packed, 1)):
        raise refusal(
            name, f"It would unpack to {unpacked / 1e9:.1f} GB or more, which no market's figures do.",
            "Unpack it yourself and give the folder.",
        )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Made:
    """A file as CSV: a name to tell it by, the table's own name where the name does not say it, where its
    text is, and how many lines of it come before the first that the file has (a header that stands in
    none of its lines)."""

    name: str
    table: str
    text: Path
    before: int = 0


class Unpacking:
    """One file unpacked into a folder, and how much that may become.

    What counts is what comes out, not what the file says of itself. ``upto``: of text that is packed, only
    about so many bytes from its beginning are wanted.
    """

    def __init__(self, file: Path, folder: Path, upto: int | None = None) -> None:
        self.file, self.folder, self.upto = file, folder, upto
        self.packed = file.stat().st_size
        self.unpacked = self.count = 0

    def run(self) -> Iterator[Made]:
        """The tables in it. Raises ExchangeError where it is not what its ending says."""
        name = self.file.name
        if _ending(name) in OTHER_FORMS:
            yield from self._of(name, self.file)
        else:
            yield from self._members()

    def _of(self, name: str, path: Path) -> Iterator[Made]:
        lower = name.lower()
        if lower.endswith(GZIP):
            inner = name[: -len(GZIP)]
            other = _ending(inner) in OTHER_FORMS
            text = self._gunzip(name, path, None if other else self.upto)
            if other:
                yield from self._of(inner, text)
            else:
                yield Made(name, _stem(inner), text)
        elif lower.endswith(SHEETS):
            yield from self._sheets(name, path)
        elif lower.endswith(PARQUET):
            yield Made(name, _stem(name), self._kept(_parquet(name, path)), 1)
        else:
            yield Made(name, _stem(name), self._kept(json_lines(name, path.read_bytes())), 1)

    def _place(self) -> Path:
        self.count += 1
        return self.folder / f"{self.count}.csv"

    def _kept(self, text: bytes) -> Path:
        place = self._place()
        place.write_bytes(text)
        return place

    def _copy(self, name: str, source: IO[bytes] | gzip.GzipFile, upto: int | None) -> Path:
        """What comes out of a stream, until it is too much or as much as is wanted."""
        place, had = self._place(), self.unpacked
        with place.open("wb") as out:
            while piece := source.read(CHUNK):
                out.write(piece)
                self.unpacked += len(piece)
                check_size(name, self.unpacked, self.packed)
                if upto is not None and self.unpacked - had >= upto:
                    break
        return place

    def _gunzip(self, name: str, path: Path, upto: int | None) -> Path:
        try:
            with gzip.open(path) as source:
                return self._copy(name, source, upto)
        except (OSError, EOFError, zlib.error) as error:
            raise refusal(name, f"It is no whole gzip file: {error}.", "Pack it again.") from None

    def _sheets(self, name: str, path: Path) -> Iterator[Made]:
        """Each sheet that holds anything; of a workbook with one the table is named by the file.

        Cells are taken as they are stored, of a formula the value it had when it was saved: nothing is
        computed, and nothing outside the file is followed.
        """
        try:
            with zipfile.ZipFile(path) as parts:
                check_size(name, sum(one.file_size for one in parts.infolist()), self.packed)
            book = fastexcel.read_excel(path)
            for sheet in book.sheet_names:
                # The first row is read as a row too, for a head may be a date.
                frame = book.load_sheet(sheet, header_row=None, dtypes="string").to_polars()
                if not frame.width or not frame.height:
                    continue
                # A date is stored with a time of day, which dates of these tables do not have.
                midnight = r"^(\d{4}-\d{2}-\d{2}) 00:00:00$"
                rows = frame.with_columns(pl.all().str.replace(midnight, "$1"))
                table = _stem(name) if len(book.sheet_names) == 1 else sheet.strip().lower()
                place = self._place()
                rows.write_csv(place, include_header=False)
                yield Made(f"{name}, sheet {sheet}", table, place)
        except ExchangeError:
            raise  # It says what is wrong already.
        except (fastexcel.FastExcelError, pl.exceptions.PolarsError, *ZIP_DAMAGE) as error:
            reason = str(error).partition("\n")[0] or type(error).__name__
            raise refusal(
                name, f"It is no whole XLSX file: {reason}.", "Save it again as XLSX or CSV."
            ) from None

    def _members(self) -> Iterator[Made]:
        try:
            with zipfile.ZipFile(self.file) as archive:
                yield from self._tables_in(archive)
        except ExchangeError:
            raise
        except ZIP_DAMAGE as error:
            raise refusal(
                self.file.name, f"The zip cannot be read: {error}.", "Pack the folder again."
            ) from None

    def _tables_in(self, archive: zipfile.ZipFile) -> Iterator[Made]:
        # A damaged directory may hold members without a name.
        named = (m for m in archive.infolist() if m.filename and "__MACOSX" not in m.filename)
        members = [m for m in named if not m.is_dir()]
        package = self.file.name
        if len(members) > MEMBERS:
            raise refusal(
                package, f"It holds {len(members):,} files; at most {MEMBERS:,} are read.",
                "Pack the tables alone.",
            )  # fmt: skip
        check_size(
            package, sum(m.file_size for m in members), sum(m.compress_size for m in members)
        )
        for member in members:
            # Only the last part of a name is used, so no member can point elsewhere.
            name = PurePosixPath(member.filename).name
            ending = _ending(name)
            if ending not in {*OTHER_FORMS, *SUFFIXES, ".json"}:
                continue
            with archive.open(member) as source:
                text = self._copy(package, source, None if ending in OTHER_FORMS else self.upto)
            if ending in OTHER_FORMS:
                yield from self._of(name, text)
            else:
                yield Made(name, "", text)


def _ending(name: str) -> str:
    return PurePosixPath(name).suffix.lower()


def _stem(name: str) -> str:
    return name.rsplit(".", 1)[0].lower()


def json_lines(name: str, raw: bytes) -> bytes:
    """Records, each an object on a line of its own, as CSV; a key that a record lacks is an empty cell."""
    rows: list[dict[str, object]] = []
    for number, line in enumerate(raw.splitlines(), start=1):
        if not line.strip():
            rows.append({})  # A blank line is a blank row, so that later ones keep their numbers.
            continue
        try:
            row = json.loads(line)
        except RecursionError:
            raise refusal(
                name, "The line is nested too deeply.", 'Write it like {"term": "…"}.', number
            ) from None
        except ValueError as error:
            raise refusal(
                name, f"The line is not JSON: {error}.", "Put one object on each line.", number
            ) from None
        if not isinstance(row, dict):
            raise refusal(name, "The line is no object.", 'Write it like {"term": "…"}.', number)
        rows.append(row)
    keys = list(dict.fromkeys(key for row in rows for key in row))
    if len(keys) * len(rows) > max(CELLS, len(raw)):
        raise refusal(
            name, f"Its lines have {len(keys):,} different keys.", "Use the same keys on each line."
        )
    columns = {
        _sound(name, key, 1): [
            _cell(name, row.get(key), key, number) for number, row in enumerate(rows, start=1)
        ]
        for key in keys
    }
    series = {key: pl.Series(cells, dtype=pl.String) for key, cells in columns.items()}
    return pl.DataFrame(series).write_csv().encode()


CELLS = 1 << 22  # Cells up to which it does not matter that most lines lack most keys.


def _cell(name: str, value: object, key: str, line: int) -> str | None:
    if value is None:
        return None
    if isinstance(value, str):
        return _sound(name, value, line)
    if isinstance(value, bool):
        return str(int(value))
    if isinstance(value, int | float):
        return repr(value)
    raise refusal(
        name,
        f"“{key}” holds a list or an object.",
        "Write a plain value, or remove the field.",
        line,
    )


def _sound(name: str, text: str, line: int) -> str:
    """The text, unless it is none: JSON can spell halves of characters that stand for nothing."""
    try:
        text.encode()
    except UnicodeEncodeError:
        raise refusal(
            name, "A text holds half of a character (\\ud800 to \\udfff).", "Write it whole.", line
        ) from None
    return text


def _parquet(name: str, path: Path) -> bytes:
    """The table as CSV, dates without a time of day and flags as 0 and 1."""
    try:
        frame = pl.read_parquet(path)
        nested = [
            key for key, kind in frame.schema.items() if kind.is_nested() or kind == pl.Binary
        ]
        if nested:
            reason = f"“{nested[0]}” holds lists, records or bytes and no plain values"
            raise refusal(
                name,
                f"It is no whole Parquet table: {reason}.",
                "Write it again, a plain value a cell.",
            )
        dated, flags = pl.selectors.datetime(), pl.selectors.boolean()
        return frame.with_columns(dated.dt.date(), flags.cast(pl.Int8)).write_csv().encode()
    except ExchangeError:
        raise
    except (pl.exceptions.PolarsError, OSError, ValueError) as error:
        reason = str(error).partition("\n")[0] or type(error).__name__
        raise refusal(
            name,
            f"It is no whole Parquet table: {reason}.",
            "Write it again, a plain value a cell.",
        ) from None
