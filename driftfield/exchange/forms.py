"""Other forms of an exchange table, each turned into the CSV it stands for: gzip, XLSX, JSON lines, Parquet.

The rest of the reader then sees one form only, and names the same file, line and column: of a sheet its
row, of JSON lines the line, of Parquet the number of the record.
"""

from __future__ import annotations

import gzip
import io
import json
import struct
import zipfile
import zlib
from collections.abc import Iterator
from dataclasses import dataclass

import fastexcel
import polars as pl

from .parquet import DamagedError, parquet_csv
from .problems import ExchangeError, Problem, Problems

GZIP, SHEETS, JSON_LINES, PARQUET = ".gz", ".xlsx", ".jsonl", ".parquet"
OTHER_FORMS = (GZIP, SHEETS, JSON_LINES, ".ndjson", PARQUET)
UNPACKED = 8 << 30  # Bytes; far above any real package, far below a bomb's.
RATIO = 200  # Text of figures packs to a twentieth at best.
SMALL = 1 << 26  # Bytes up to which no ratio is suspicious.
CHUNK = 1 << 22
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


def check_size(name: str, unpacked: int, packed: int) -> None:
    """Refuse what would unpack to far more than figures ever do."""
    if unpacked > UNPACKED or (unpacked > SMALL and unpacked > RATIO * max(packed, 1)):
        raise refusal(
            name, f"It would unpack to {unpacked / 1e9:.1f} GB or more, which no market's figures do.",
            "Unpack it yourself and give the folder.",
        )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Made:
    """A table as CSV: a name to tell it by, the table's own name, and how many lines of ``text`` come
    before the first that the file has (a header that stands in none of its lines)."""

    name: str
    table: str
    text: bytes
    before: int = 0


def as_csv(name: str, raw: bytes, upto: int | None = None) -> Iterator[Made]:
    """The tables in one file of OTHER_FORMS; raises ExchangeError where it is not what its ending says.

    ``upto``: of packed text only about so many bytes are wanted.
    """
    lower = name.lower()
    if lower.endswith(GZIP):
        inner = name[: -len(GZIP)]
        other = inner.lower().endswith(OTHER_FORMS)
        text = _gunzip(name, raw, None if other else upto)
        if other:
            yield from as_csv(inner, text, upto)
        else:
            yield Made(name, _stem(inner), text)
    elif lower.endswith(SHEETS):
        yield from _sheets(name, raw)
    elif lower.endswith(PARQUET):
        yield Made(name, _stem(name), _parquet(name, raw), 1)
    else:
        yield Made(name, _stem(name), _json_lines(name, raw).write_csv().encode(), 1)


def _stem(name: str) -> str:
    return name.rsplit(".", 1)[0].lower()


def _gunzip(name: str, raw: bytes, upto: int | None) -> bytes:
    out = io.BytesIO()
    try:
        with gzip.open(io.BytesIO(raw)) as packed:
            while piece := packed.read(CHUNK):
                out.write(piece)
                check_size(name, out.tell(), len(raw))
                if upto is not None and out.tell() >= upto:
                    break
    except (OSError, EOFError, zlib.error) as error:
        raise refusal(name, f"It is no whole gzip file: {error}.", "Pack it again.") from None
    return out.getvalue()


def _sheets(name: str, raw: bytes) -> Iterator[Made]:
    """Each sheet that holds anything; of a workbook with one the table is named by the file.

    Cells are taken as they are stored, of a formula the value it had when it was saved: nothing is
    reckoned, and nothing outside the file is followed.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as parts:
            check_size(name, sum(part.file_size for part in parts.infolist()), len(raw))
        book = fastexcel.read_excel(raw)
        for sheet in book.sheet_names:
            # The first row is read as a row too, for a head may be a date.
            frame = book.load_sheet(sheet, header_row=None, dtypes="string").to_polars()
            if not frame.width or not frame.height:
                continue
            # A date is stored with a time of day, which dates of these tables do not have.
            midnight = r"^(\d{4}-\d{2}-\d{2}) 00:00:00$"
            rows = frame.with_columns(pl.all().str.replace(midnight, "$1"))
            table = _stem(name) if len(book.sheet_names) == 1 else sheet.strip().lower()
            text = rows.write_csv(include_header=False).encode()
            yield Made(f"{name}, sheet {sheet}", table, text)
    except ExchangeError:
        raise  # It says what is wrong already.
    except (fastexcel.FastExcelError, *ZIP_DAMAGE) as error:
        said = str(error).partition("\n")[0] or type(error).__name__
        raise refusal(
            name, f"It is no whole XLSX file: {said}.", "Save it again as XLSX or CSV."
        ) from None


def _json_lines(name: str, raw: bytes) -> pl.DataFrame:
    """Records, each an object on a line of its own; a key that a record lacks is an empty cell."""
    rows: list[dict[str, object]] = []
    for number, line in enumerate(raw.splitlines(), start=1):
        if not line.strip():
            rows.append({})  # A blank line is a blank row, so that later ones keep their numbers.
            continue
        try:
            row = json.loads(line)
        except ValueError as error:
            raise refusal(
                name, f"The line is not JSON: {error}.", "Put one object on each line.", number
            ) from None
        if not isinstance(row, dict):
            raise refusal(name, "The line is no object.", 'Write it like {"term": "…"}.', number)
        rows.append(row)
    keys = list(dict.fromkeys(key for row in rows for key in row))
    columns = {
        _sound(name, key, 1): [
            _cell(name, row.get(key), key, number) for number, row in enumerate(rows, start=1)
        ]
        for key in keys
    }
    return pl.DataFrame({key: pl.Series(cells, dtype=pl.String) for key, cells in columns.items()})


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
        name, f"“{key}” holds a list or an object.", "Write a plain value, or leave it out.", line
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


def _parquet(name: str, raw: bytes) -> bytes:
    try:
        return parquet_csv(raw)
    except DamagedError as error:
        raise refusal(
            name, f"It is no whole Parquet table: {error}.", "Write it again, a plain value a cell."
        ) from None
