"""A large file read in pieces gives what it gives read whole, and names the same lines."""

import tempfile
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from driftfield.exchange import blocks
from driftfield.exchange.market_data import term_curves
from driftfield.exchange.problems import ExchangeError
from driftfield.exchange.reader import Package, read_package

HEADER = "term,week,searches,clicks\n"
LINES = [
    f"term {t},20{23 + w // 52}-{month:02}-01,{100 * t + w},{w}\n"
    for t in range(12)
    for w, month in enumerate(range(1, 13))
]


def cells(package: Package) -> dict[tuple, float]:
    """Every figure by measure, term and place in time."""
    curves = term_curves(package)
    return {
        (measure, term, str(curves.timeline.start(i))): value
        for measure, matrix in curves.measures.items()
        for term, row in zip(curves.subjects, matrix, strict=True)
        for i, value in enumerate(row)
        if not np.isnan(value)
    }


class Blocks(TestCase):
    def setUp(self) -> None:
        holder = tempfile.TemporaryDirectory()
        self.addCleanup(holder.cleanup)
        self.file = Path(holder.name) / "term_weeks.csv"

    def read(self, text: str, block: int) -> Package:
        self.file.write_bytes(text.encode())
        with patch.object(blocks, "BLOCK", block):
            return read_package(self.file.parent)

    def told(self, text: str, block: int) -> str:
        with self.assertRaises(ExchangeError) as refused:
            self.read(text, block)
        return str(refused.exception)

    @given(st.permutations(LINES), st.integers(300, 3000), st.sampled_from(["\n", "\r\n"]))
    @settings(deadline=None, max_examples=15)
    def test_whatever_the_order_and_the_size_of_a_piece(
        self, lines: list[str], block: int, end: str
    ) -> None:
        text = (HEADER + "".join(lines)).replace("\n", end)
        pieces, whole = self.read(text, block), self.read(text, 1 << 20)
        self.assertIsNotNone(pieces.counts)
        self.assertIsNone(whole.counts)
        self.assertEqual(cells(pieces), cells(whole))

    def test_each_kind_of_problem_is_told_with_the_same_line(self) -> None:
        bad = {
            20: "term x,2023-01-01,many,1\n", 50: "term y,2023-01-15,1,1\n", 70: ",2023-01-01,1,1\n",
            100: "term z,2023-01-01,-4,1\n", 120: "term 3,2023-02-01,1,1\n", 121: "term q,1 May 2023,1,1\n",
            130: "\n",
        }  # fmt: skip
        for place, line in bad.items():
            lines = [*LINES[:place], line, *LINES[place:]]
            text = HEADER + "".join(lines)
            if line == "\n":
                self.assertEqual(cells(self.read(text, 400)), cells(self.read(text, 1 << 20)))
                continue
            with self.subTest(line=line):
                answer = self.told(text, 400)
                self.assertEqual(answer, self.told(text, 1 << 20))
                self.assertIn(f"line {place + 2}", answer)
        # Together they are counted together; a piece with a problem of its own is not also laid
        # beside the others, so the line that repeats another is told only when they are right.
        lines = list(LINES)
        for place in sorted(set(bad) - {120, 130}, reverse=True):
            lines.insert(place, bad[place])
        self.assertIn("5 problems", self.told(HEADER + "".join(lines), 400))

    def test_a_file_that_ends_with_a_piece_and_a_line_longer_than_one(self) -> None:
        text = HEADER + "".join(LINES)
        rest = len(text) - len(HEADER)
        for pieces in (1, 2, 3):
            padded = text + "\n" * (-rest % pieces)
            block = (len(padded) - len(HEADER)) // pieces
            self.assertEqual(cells(self.read(padded, block)), cells(self.read(text, 1 << 20)))
        self.assertEqual(cells(self.read(text, 10)), cells(self.read(text, 1 << 20)))

    def test_a_quoted_line_break_is_one_cell(self) -> None:
        odd = '"two\nlines",2023-01-01,7,1\n'
        text = HEADER + "".join([*LINES[:60], odd, *LINES[60:]])
        self.assertEqual(cells(self.read(text, 300)), cells(self.read(text, 1 << 20)))
        again = text + odd
        self.assertEqual(self.told(again, 300), self.told(again, 1 << 20))

    def test_a_file_of_empty_lines(self) -> None:
        self.assertIn("All its lines are empty", self.told(HEADER + "\n" * 900, 300))

    def test_a_file_that_breaks_off_or_is_not_text(self) -> None:
        for damage in ('term 9,"2023-01-01,1,1\n', "a,b,c,d,e,f\n"):
            text = HEADER + "".join([*LINES[:90], damage, *LINES[90:]])
            with self.subTest(damage):
                self.assertEqual(self.told(text, 300), self.told(text, 1 << 20))
        raw = (HEADER + "".join(LINES)).encode()
        place = raw.index(b"term 7")
        self.file.write_bytes(raw[:place] + b"\xff" + raw[place:])
        line = raw.count(b"\n", 0, place) + 1
        for block in (300, 1 << 20):
            with patch.object(blocks, "BLOCK", block), self.assertRaises(ExchangeError) as refused:
                read_package(self.file.parent)
            self.assertIn(f"line {line}: Byte ff is not UTF-8", str(refused.exception))
