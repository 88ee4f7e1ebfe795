"""Exchange tables as gzip, XLSX, JSON lines and Parquet read as their CSV does, or are refused by name."""

import gzip
import io
import json
import os
import struct
import subprocess
import sys
import tempfile
import time
import zipfile
from datetime import date, datetime
from pathlib import Path
from unittest import TestCase

import openpyxl
import polars as pl

from driftfield.exchange import limited
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.reader import Package, read_package

HEAD = ("term", "week", "searches")
ROWS = [
    ("seed tray", date(2024, 1, 1), 12),
    ("seed tray", date(2024, 1, 8), 0),
    ("1001", date(2024, 1, 1), 7.5),
]
LISTINGS = [("00123", "A tray", 12.5), ("hq-2", "Ein „Tablett“, groß", 9)]


def book(**sheets: list[tuple]) -> bytes:
    made = openpyxl.Workbook()
    made.remove(made.active)
    for name, rows in sheets.items():
        sheet = made.create_sheet(name)
        for row in rows:
            sheet.append(row)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def parquet(frame: pl.DataFrame) -> bytes:
    out = io.BytesIO()
    frame.write_parquet(out)
    return out.getvalue()


CSV = ("\n".join([",".join(HEAD), *(f"{t},{w},{s}" for t, w, s in ROWS)]) + "\n").encode()
RECORDS = [dict(zip(HEAD, (t, w.isoformat(), s), strict=True)) for t, w, s in ROWS]
LINES = "\n".join(json.dumps(row) for row in RECORDS).encode()
FRAME = pl.DataFrame(
    {h: pl.Series([row[i] for row in ROWS], strict=False) for i, h in enumerate(HEAD)}
)


def long_book(rows: int) -> bytes:
    """A workbook of so many rows, put together by hand, since a library takes long to write it."""
    cells = "<row>" + "<c t='inlineStr'><is><t>{}</t></is></c>" * len(HEAD) + "</row>"
    every = "".join(cells.format(f"term {i}", "2024-01-01", i) for i in range(rows))
    given, made = io.BytesIO(book(term_weeks=[HEAD])), io.BytesIO()
    with (
        zipfile.ZipFile(given) as plain,
        zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive,
    ):
        for name in plain.namelist():
            text = plain.read(name)
            if name == "xl/worksheets/sheet1.xml":
                text = text.replace(b"</sheetData>", f"{every}</sheetData>".encode())
            archive.writestr(name, text)
    return made.getvalue()


class Forms(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)

    def write(self, **files: bytes) -> Path:
        """A folder of files, their dots written as two underscores; tables without an ending are CSV."""
        for name, raw in files.items():
            path = self.folder / name.replace("__", ".")
            path.with_suffix(path.suffix or ".csv").write_bytes(raw)
        return self.folder

    def read(self, **files: bytes) -> Package:
        folder = self.write(**files)
        # A zip is a package by itself.
        return read_package(next(folder.glob("*.zip"), folder))

    def refused(self, words: str, **files: bytes) -> None:
        with self.assertRaises(ExchangeError) as caught:
            self.read(**files)
        self.assertIn(words, str(caught.exception))
        for file in self.folder.iterdir():
            file.unlink()

    def test_each_form_reads_as_its_csv(self) -> None:
        (self.folder / "plain").mkdir()
        (self.folder / "plain" / "term_weeks.csv").write_bytes(CSV)
        plain = read_package(self.folder / "plain")
        for name, raw in (
            ("term_weeks.csv.gz", gzip.compress(CSV)),
            ("term_weeks.xlsx", book(Figures=[HEAD, *ROWS])),
            ("term_weeks.jsonl", LINES),
            ("term_weeks.ndjson.gz", gzip.compress(LINES)),
            ("term_weeks.parquet", parquet(FRAME)),
            ("Term_Weeks.Parquet", parquet(FRAME.with_columns(pl.col("week").cast(pl.Datetime)))),
        ):
            with self.subTest(name=name):
                file = self.folder / name
                file.write_bytes(raw)
                for found in (read_package(file), self.in_zip(name, raw)):
                    self.assertEqual(list(found.frames), ["term_weeks"])
                    self.assertTrue(found.frames["term_weeks"].equals(plain.frames["term_weeks"]))
                    self.assertEqual(found.periods, plain.periods)
                file.unlink()

    def in_zip(self, name: str, raw: bytes) -> Package:
        packed = self.folder / "packed.zip"
        with zipfile.ZipFile(packed, "w") as archive:
            archive.writestr(f"deep/{name}", raw)
        try:
            return read_package(packed)
        finally:
            packed.unlink()

    def test_a_workbook_holds_a_table_a_sheet(self) -> None:
        raw = book(
            term_weeks=[HEAD, *((t, datetime(w.year, w.month, w.day), s) for t, w, s in ROWS)],
            Listings=[("listing_id", "title", "price"), *LISTINGS],
            Remarks=[("what I thought",)],
        )
        found = self.read(all__xlsx=raw)
        self.assertEqual(set(found.frames), {"term_weeks", "listings"})
        self.assertEqual(
            found.frames["listings"].rows(), [(a, b, float(c)) for a, b, c in LISTINGS]
        )
        self.assertIn(
            "all.xlsx, sheet Remarks is not an exchange table and was left out.", found.notes
        )

    def test_a_wide_sheet_with_dates_for_heads(self) -> None:
        raw = book(any=[("term", date(2024, 1, 1), date(2024, 1, 8)), ("seed tray", 3, 4)])
        self.assertTrue(self.read(term_weeks__xlsx=raw).wide)

    def test_problems_name_the_place_in_the_file_itself(self) -> None:
        bad = [*RECORDS, {"term": "net", "week": "2024-01-01", "searches": "many"}]
        lines = "\n".join(json.dumps(row) for row in bad).encode()
        self.refused(
            "term_weeks.jsonl, line 4, column searches: “many” is not a number",
            term_weeks__jsonl=lines,
        )
        blank = lines.replace(b"\n", b"\n\n", 1)
        self.refused("term_weeks.jsonl, line 5, column searches", term_weeks__jsonl=blank)
        sheet = book(term_weeks=[HEAD, *ROWS, ("net", "soon", 3)])
        self.refused(
            "term_weeks.xlsx, sheet term_weeks, line 5, column week", term_weeks__xlsx=sheet
        )

    def test_what_is_not_what_its_ending_says(self) -> None:
        for words, files in (
            ("It is no whole gzip file", {"term_weeks__csv__gz": gzip.compress(CSV)[:-9]}),
            ("It is no whole gzip file", {"term_weeks__csv__gz": CSV}),
            ("It is no whole XLSX file", {"term_weeks__xlsx": CSV}),
            ("It is no whole XLSX file", {"term_weeks__xlsx": book(a=[HEAD])[:-400]}),
            ("It is no whole Parquet table", {"term_weeks__parquet": parquet(FRAME)[:-20]}),
            ("line 2: The line is not JSON", {"term_weeks__jsonl": LINES.replace(b"\n{", b"\n{{", 1)}),
            ("line 1: The line is no object", {"term_weeks__jsonl": b"[1, 2]"}),
            ("line 1: A text holds half of a character", {"term_weeks__jsonl": b'{"term": "a\\ud800"}'}),
            ("“searches” holds a list", {"term_weeks__jsonl": b'{"term": "a", "searches": [1]}'}),
            ("“searches” holds lists, records or bytes",
             {"term_weeks__parquet": parquet(pl.DataFrame({"term": ["a"], "searches": [[1]]}))}),
        ):  # fmt: skip
            with self.subTest(words=words, files=list(files)):
                self.refused(words, **files)

    def test_files_of_another_form_than_their_ending_says_are_named_as_what_they_are(self) -> None:
        sheet = book(term_weeks=[HEAD, *ROWS])
        old = (
            bytes.fromhex("d0cf11e0a1b11ae1") + b"x" * 600
        )  # [MS-CFB] 2.2: the old workbooks' header
        for name, raw, words in (
            ("term_weeks__csv", sheet, "It is a workbook (XLSX), not what its ending .csv stands for. Rename it to"),
            ("term_weeks__csv", gzip.compress(b"term"), "It is gzip"),
            ("term_weeks__csv", b"PAR1" + b"x" * 40, "It is Parquet"),
            ("term_weeks__xlsx", old, "a workbook of the old binary form (XLS)"),
        ):  # fmt: skip
            self.refused(words, **{name: raw})
        lone = self.folder / "weeks.xls"
        lone.write_bytes(old)
        with self.assertRaisesRegex(ExchangeError, "Save it as XLSX or as CSV UTF-8"):
            read_package(lone)

    def test_files_that_hold_no_table_are_refused_also_where_something_is_loaded(self) -> None:
        known = {"terms": {"a"}, "listings": set(), "categories": set()}
        for name, raw, words in (
            ("odd.csv", b"a,b\n1,2\n", "None of the exchange tables was recognised"),
            ("empty.csv", b"", "The file is empty"),
            ("blank.xlsx", book(Sheet=[]), "There is no table among them"),
        ):
            path = self.folder / name
            path.write_bytes(raw)
            with self.assertRaises(ExchangeError) as caught:
                read_package(path, known=known)
            self.assertIn(words, str(caught.exception))
            path.unlink()

    def test_a_file_that_is_named_after_no_table(self) -> None:
        (self.folder / "figures.csv").write_bytes(CSV)
        package = read_package(self.folder / "figures.csv")
        self.assertIn("term_weeks", package.frames)
        self.assertIn(
            "figures.csv has the columns of term_weeks and was read as that.", package.notes
        )
        (self.folder / "figures.csv").write_bytes(CSV.replace(b"searches", b"Volume"))
        with self.assertRaises(ExchangeError) as caught:
            read_package(self.folder / "figures.csv")
        answer = str(caught.exception)
        self.assertIn(
            "there is: figures.csv. Name the file after its table, or say how it is read, on the page Intake",
            answer,
        )

    def test_bombs_are_refused_before_they_are_unpacked(self) -> None:
        zeros = b"0" * (1 << 22)
        out = io.BytesIO()
        with gzip.open(out, "wb", compresslevel=9) as packed:
            for _ in range(20):
                packed.write(zeros)
        self.refused("which no market's figures do", term_weeks__csv__gz=out.getvalue())
        swollen = io.BytesIO()
        with zipfile.ZipFile(swollen, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as archive:
            archive.writestr("xl/worksheets/sheet1.xml", zeros * 20)
        self.refused("which no market's figures do", term_weeks__xlsx=swollen.getvalue())

    def test_archives_that_lie_of_their_size_are_refused(self) -> None:
        """What counts is what comes out: a directory may say that a member is small."""
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as archive:
            archive.writestr("term_weeks.csv", b"0" * (80 << 20))
        raw = bytearray(out.getvalue())
        size = struct.pack("<I", 80 << 20)
        while (at := raw.find(size)) >= 0:
            raw[at : at + 4] = struct.pack("<I", 1_000)
        self.refused("package.zip", package__zip=bytes(raw))

    def test_a_workbook_that_takes_more_memory_than_its_size_is_refused(self) -> None:
        words = "import driftfield.exchange.limited as l; l.OWN, l.EACH = 110 << 20, 0; l.main({!r}, {!r})"
        root = str(Path(limited.__file__).parents[2])
        for rows, fits in ((200, True), (400_000, False)):
            path = self.write(term_weeks__xlsx=long_book(rows)) / "term_weeks.xlsx"
            with self.subTest(rows=rows), tempfile.TemporaryDirectory() as folder:
                program = words.format(str(path), folder)
                ended = subprocess.run(
                    [sys.executable, "-c", program], cwd=root, env={**os.environ, **limited.SPARING},
                    capture_output=True, check=False,
                )  # fmt: skip
                self.assertEqual(ended.returncode == 0, fits, ended.stderr)
                self.assertEqual((Path(folder) / limited.MANIFEST).exists(), fits)
        self.assertIn("memory", limited._ending_of(ended))

    def test_files_that_are_hardly_any(self) -> None:
        self.refused("The file is empty", term_weeks=b"\xef\xbb\xbf")
        self.refused("nested too deeply", term_weeks__jsonl=b"[" * 200_000)
        many = "\n".join(json.dumps({f"k{i}": 1}) for i in range(3_000))
        self.refused("different keys", term_weeks__jsonl=many.encode())
        wide = ",".join(["term", *(f"c{i}" for i in range(10_000))])
        started = time.perf_counter()
        self.refused("10,001 columns", term_weeks=f"{wide}\n".encode())
        self.assertLess(time.perf_counter() - started, 20)  # It took minutes.

    def test_a_datapackage_of_any_kind_harms_nothing(self) -> None:
        for text in (b'{"created": 5}', b"[1]", b"[" * 100_000, b"\xff", b'{"created": "0001-01-01"}',
                     b'{"created": "9999-12-31T00:00:00"}', b""):  # fmt: skip
            with self.subTest(text[:30]):
                found = self.read(term_weeks=CSV, datapackage__json=text)
                self.assertIsNone(found.created)
                self.assertIn("was left out", " ".join(found.notes))

    def test_entities_in_a_sheet_are_not_followed(self) -> None:
        """The billion laughs and a file from outside (OWASP, XML External Entity Prevention)."""
        secret = self.folder.parent / "secret.txt"
        for name, declared in (
            ("laughs", '<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;">'),
            ("file", f'<!ENTITY b SYSTEM "{secret.as_uri()}">'),
        ):
            with self.subTest(kind=name):
                out = io.BytesIO()
                with (
                    zipfile.ZipFile(io.BytesIO(book(term_weeks=[HEAD, *ROWS]))) as whole,
                    zipfile.ZipFile(out, "w") as changed,
                ):
                    for part in whole.namelist():
                        text = whole.read(part)
                        if part.endswith("sharedStrings.xml"):
                            text = text.replace(b"seed tray", b"&b;")
                            text = f"<!DOCTYPE x [{declared}]>".encode() + text
                        changed.writestr(part, text)
                try:
                    found = self.read(term_weeks__xlsx=out.getvalue())
                except ExchangeError:
                    continue
                terms = " ".join(found.frames["term_weeks"]["term"].to_list())
                self.assertNotIn("haha", terms)
