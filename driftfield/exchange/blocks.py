"""A large long table read a block at a time, so that memory is bounded by what is kept of it."""

from __future__ import annotations

import io
from collections.abc import Iterator
from datetime import date
from pathlib import Path

import numpy as np
import polars as pl

from driftfield.core.base import Floats, Ints, Period, Timeline

from . import checks
from .matrices import Curves, numbers_of
from .sources import SourceFile

BLOCK = 1 << 24  # Bytes of text read at once; a file below that is read whole.
NEWLINE = 10
SAMPLES, SAMPLE = 64, 1 << 14  # Places looked at for the period, and bytes at each.
LONGEST_HEADER = 1 << 16  # Bytes.


def blocks_of(file: SourceFile, size: int) -> Iterator[SourceFile]:
    """The file in pieces of about ``size`` bytes, each under the file's own header.

    Pieces end with a line. A quoted cell may hold a line's end, so from the first piece with a double
    quote on, all that follows is one piece.
    """
    assert isinstance(file.content, Path), "what is in memory already is not read in pieces"
    with file.content.open("rb") as source:
        header = source.readline()
        line, ended = 2, False
        while not ended:
            piece = source.read(size)
            quoted = b'"' in piece
            ended = quoted or len(piece) < size
            if quoted:
                piece += source.read()
            end = len(piece) if ended else piece.rfind(b"\n") + 1
            while not end and not ended:  # A line longer than a piece.
                more = source.read(size)
                piece, ended = piece + more, len(more) < size
                end = len(piece) if ended else piece.rfind(b"\n") + 1
            source.seek(end - len(piece), io.SEEK_CUR)
            if end:
                # Line 2 of the piece is line ``line`` of the file.
                text = b"".join((header, memoryview(piece)[:end]))
                before = file.before + 2 - line
                yield SourceFile(file.name, text, file.table, before, file.origin)
                # Counted by numpy, which lets the other thread work meanwhile.
                line += int(np.count_nonzero(np.frombuffer(piece, np.uint8, end) == NEWLINE))


def in_blocks(file: SourceFile, size: int) -> bool:
    """Whether it is a large file on disk with a header that is plainly its first line."""
    if not isinstance(file.content, Path) or file.size <= size:
        return False
    first = file.head(LONGEST_HEADER).partition(b"\n")
    return bool(first[1]) and b'"' not in first[0]


def dates_in(file: SourceFile, separator: str, place: int) -> list[date]:
    """Dates in column ``place`` of lines from all over the file, enough to tell weeks from months.

    A block of a large market may hold one date alone, which can be a Monday and a first of a month.
    """
    assert isinstance(file.content, Path), "what is in memory already is not read in pieces"
    found: set[date] = set()
    with file.content.open("rb") as source:
        for part in range(SAMPLES):
            source.seek(file.size * part // SAMPLES)
            # The first line begins somewhere in its middle, the last may break off.
            for line in source.read(SAMPLE).split(b"\n")[1:-1]:
                cells = line.decode("utf-8", "replace").split(separator)
                if len(cells) > place and (day := checks.iso_date(cells[place].strip())):
                    found.add(day)
    return sorted(found)


class Gathered:
    """Rows of (subject, period, measures) that come block by block, as matrices."""

    def __init__(self, subject: str, measures: list[str]) -> None:
        self.subject = subject
        self.period: Period | None = None
        self._first = self._end = 0
        self._places: dict[str, int] = {}
        self._measures = {m: np.empty((0, 0)) for m in measures}
        # Which row filled a cell, counted over all blocks; -1 where none did.
        self._filled = np.empty((0, 0), dtype=np.int32)
        self._rows_before = 0

    def add(self, frame: pl.DataFrame, period: Period) -> Ints:
        """Take the rows of a sound frame; the rows whose subject and period came before."""
        self.period = period
        number = numbers_of(frame["week"], period)
        row = self._place(frame[self.subject])
        self._make_room(int(number.min()), int(number.max()) + 1)
        flat = row * self._filled.shape[1] + (number - self._first)
        filled = self._filled.reshape(-1)
        again = filled[flat] >= 0
        order = np.arange(self._rows_before, self._rows_before + flat.size, dtype=np.int32)
        # Backwards, so that of rows with the same cell the first stays.
        filled[flat[::-1]] = order[::-1]
        again |= filled[flat] != order
        self._rows_before += flat.size
        for name, matrix in self._measures.items():
            if name in frame.columns:
                matrix.reshape(-1)[flat] = frame[name].to_numpy()
        return np.flatnonzero(again)

    def _place(self, subjects: pl.Series) -> Ints:
        """Place of each row's subject; long files mostly name one many times in turn."""
        runs = subjects.rle().struct.unnest()
        places = self._places
        found = [places.setdefault(name, len(places)) for name in runs["value"].to_list()]
        return np.repeat(np.array(found, dtype=np.int64), runs["len"].to_numpy())

    def _make_room(self, first: int, end: int) -> None:
        """Grow all matrices to hold the subjects so far and the periods from ``first`` to ``end``."""
        if self._filled.size:
            first, end = min(first, self._first), max(end, self._end)
        height, width = self._filled.shape
        rows = height if len(self._places) <= height else max(len(self._places), height * 2)
        if rows == height and end - first == width:
            return
        left = self._first - first if width else 0

        def grown(matrix: np.ndarray, empty: float) -> np.ndarray:
            out = np.full((rows, end - first), empty, dtype=matrix.dtype)
            out[:height, left : left + width] = matrix
            return out

        self._measures = {m: grown(x, np.nan) for m, x in self._measures.items()}
        self._filled = grown(self._filled, -1)
        self._first, self._end = first, end

    def curves(self) -> Curves:
        """What was gathered; measures that no row has are left out."""
        assert self.period is not None, "at least one block was added"
        timeline = Timeline(self.period, self.period.start(self._first), self._end - self._first)
        count = len(self._places)
        measures: dict[str, Floats] = {}
        for name, matrix in self._measures.items():
            if not np.isnan(matrix[:count]).all():
                measures[name] = matrix[:count]
        return Curves(list(self._places), timeline, measures)
