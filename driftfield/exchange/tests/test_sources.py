"""Where files come from: folders, zips, and what is refused before a line is read."""

import io
import tempfile
import zipfile
from pathlib import Path
from unittest import TestCase

from driftfield.exchange.problems import ExchangeError, Problems
from driftfield.exchange.reader import read_package
from driftfield.exchange.sources import SourceFile, bad_utf8, open_package, read_header

GOOD = b"term,week,searches\na,2024-01-01,3\n"


class Zips(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.folder = Path(holder.name)

    def zip(self, members: dict[str, bytes]) -> Path:
        path = self.folder / "package.zip"
        with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
            for name, content in members.items():
                archive.writestr(name, content)
        return path

    def refused(self, path: Path) -> str:
        with self.assertRaises(ExchangeError) as caught:
            open_package(path)
        return str(caught.exception)

    def test_a_members_path_cannot_point_elsewhere(self) -> None:
        path = self.zip({"../../term_weeks.csv": GOOD, "/etc/terms.csv": b"term\na\n"})
        self.assertEqual([f.name for f in open_package(path)], ["term_weeks.csv", "terms.csv"])
        self.assertEqual({p.name for p in self.folder.iterdir()}, {"package.zip"})

    def test_what_is_no_table_is_left_alone(self) -> None:
        members = {"a/term_weeks.csv": GOOD, "a/photo.jpg": b"x", "__MACOSX/term_weeks.csv": b"x"}
        self.assertEqual([f.name for f in open_package(self.zip(members))], ["term_weeks.csv"])

    def test_a_bomb_is_refused_before_it_is_unpacked(self) -> None:
        answer = self.refused(self.zip({"term_weeks.csv": bytes(80_000_000)}))
        self.assertIn("would unpack to 0.1 GB", answer)
        self.assertIn("Nothing was changed", answer)

    def test_a_broken_zip_and_no_zip(self) -> None:
        path = self.zip({"term_weeks.csv": GOOD * 500})
        raw = bytearray(path.read_bytes())
        raw[60:80] = bytes(20)
        path.write_bytes(raw)
        self.assertIn("cannot be read", self.refused(path))
        path.write_text("term,week,searches")
        self.assertIn("neither a folder, nor a zip, nor a table", self.refused(path))

    def test_a_locked_zip_says_so(self) -> None:
        path = self.zip({"term_weeks.csv": GOOD})
        raw = path.read_bytes()
        # The first bit of the flags says that a member is encrypted, here and in the directory.
        locked = bytearray(raw)
        locked[6] |= 1
        locked[raw.index(b"PK\x01\x02") + 8] |= 1
        path.write_bytes(locked)
        self.assertIn("password", self.refused(path))


class Headers(TestCase):
    def header(self, content: bytes) -> tuple[object, list[str]]:
        problems = Problems()
        found = read_header(SourceFile("x.csv", content), problems)
        return found, [str(p) for p in problems.kept]

    def test_separators_marks_and_blanks(self) -> None:
        for content in (
            b"\xef\xbb\xbfterm;week",
            b"term\tweek",
            b" term , week \n",
            b'"term","week"',
        ):
            found, problems = self.header(content)
            self.assertEqual((found.names, problems), (("term", "week"), []), content)  # type: ignore[attr-defined]

    def test_what_is_no_text_or_has_no_header(self) -> None:
        for content, expected in (
            (b"", "The file is empty"),
            (b" \n\n", "The file is empty"),
            ("term,week".encode("utf-16"), "not UTF-8"),
            (b"term\x00,week", "not UTF-8"),
            (b"term,week,term", "Two columns are named “term”"),
        ):
            found, problems = self.header(content)
            self.assertIsNone(found)
            self.assertIn(expected, problems[0])

    def test_wide_is_a_term_and_dates(self) -> None:
        wide, _ = self.header(b"term,2024-01-01,2024-01-08")
        long, _ = self.header(b"term,week,searches")
        self.assertTrue(wide.wide and not long.wide)  # type: ignore[attr-defined]

    def test_the_first_byte_that_is_not_utf8(self) -> None:
        self.assertEqual(bad_utf8(SourceFile("x.csv", b"a\nb\n\xff")), (3, "ff"))
        self.assertIsNone(bad_utf8(SourceFile("x.csv", "é".encode())))

    def test_lines_count_quoted_breaks(self) -> None:
        file = SourceFile("x.csv", b'a,b\n"one\ntwo",1\nthree,2\n')
        self.assertEqual(list(file.rows(",")), [(2, ["one\ntwo", "1"]), (4, ["three", "2"])])


class RelativeCurves(TestCase):
    def test_an_index_lies_between_nought_and_a_hundred(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            folder = Path(holder)
            (folder / "interest.csv").write_text("term,week,index\na,2024-01-01,140\n")
            with self.assertRaises(ExchangeError) as caught:
                read_package(folder)
        self.assertIn("interest.csv, line 2, column index: 140 is above 100", str(caught.exception))

    def test_without_any_curve_there_is_nothing_to_read(self) -> None:
        with tempfile.TemporaryDirectory() as holder:
            (Path(holder) / "niches.csv").write_text("niche_id,name\na,A\n")
            with self.assertRaises(ExchangeError) as caught:
                read_package(Path(holder))
        self.assertIn("unless interest.csv has relative curves", str(caught.exception))

    def test_a_file_may_come_from_memory(self) -> None:
        buffer = io.BytesIO(GOOD)
        self.assertEqual(SourceFile("term_weeks.csv", buffer.getvalue()).table, "term_weeks")
