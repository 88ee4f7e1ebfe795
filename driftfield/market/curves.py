"""Packing curves into rows and reading them back as matrices."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from driftfield.core.base import CoreError, Floats, Period, Timeline, finite

LONGEST = 300 * 53  # Periods of a timeline; the dates an import takes lie within 300 years.
PACKED = np.dtype("<f4")


@dataclass(frozen=True, slots=True)
class Packed:
    """A curve as it is stored: first period and values from the first present to the last."""

    first: int
    values: bytes


def pack(row: Floats, first_number: int) -> Packed | None:
    """Trim absent ends and pack; None where every value is absent."""
    return next(pack_rows(row[None, :], first_number))


def pack_rows(matrix: Floats, first_number: int) -> Iterator[Packed | None]:
    """``pack`` for each row of a matrix (subjects, length)."""
    present = ~np.isnan(matrix)
    begins = present.argmax(axis=1).tolist()
    ends = (matrix.shape[1] - present[:, ::-1].argmax(axis=1)).tolist()
    packed = matrix.astype(PACKED)
    for row, known, begin, end in zip(
        packed, np.any(present, axis=1).tolist(), begins, ends, strict=True
    ):
        yield Packed(first_number + begin, row[begin:end].tobytes()) if known else None


def unpack(values: bytes) -> NDArray[np.float32]:
    return np.frombuffer(values, dtype=PACKED)


def merge(old: Packed, new: Packed) -> Packed:
    """Both curves in one: where both have a value the new one counts."""
    first = min(old.first, new.first)
    before, after = unpack(old.values), unpack(new.values)
    end = max(old.first + len(before), new.first + len(after))
    out = np.full(end - first, np.nan, dtype=PACKED)
    out[old.first - first : old.first - first + len(before)] = before
    window = out[new.first - first : new.first - first + len(after)]
    np.copyto(window, after, where=~np.isnan(after))
    return Packed(first, out.tobytes())


def matrix(rows: Iterable[tuple[int, int, bytes]], subjects: int, timeline: Timeline) -> Floats:
    """Rows of (subject's place, first period, values) as (subjects, length), NaN for absent."""
    out = np.full((subjects, timeline.length), np.nan)
    start = timeline.first_number
    for place, first, values in rows:
        curve = unpack(values)
        offset = first - start
        low, high = max(offset, 0), min(offset + len(curve), timeline.length)
        if low < high:
            out[place, low:high] = curve[low - offset : high - offset]
    return finite(out)


def spanning(period: Period, spans: Sequence[tuple[int, int]]) -> Timeline:
    """The shortest timeline that holds all spans of (first number, length)."""
    first = min(start for start, _ in spans)
    last = max(start + length for start, length in spans)
    if last - first > LONGEST:
        raise CoreError(
            f"The figures go from {_day(period, first)} to {_day(period, last - 1)}, which no market's do. "
            "Undo the import that brought the odd dates."
        )
    return Timeline(period, period.start(first), last - first)


def _day(period: Period, number: int) -> str:
    try:
        return str(period.start(number))
    except (ValueError, OverflowError):
        return f"{period.value} {number:,}"
