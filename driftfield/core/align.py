"""Alignment: from curves as they came to curves that can be decomposed.

A value that is absent is NaN, never 0. Absent before a curve's first value means that the subject
did not exist yet; absent later is a gap.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .periods import Bools, Floats, Ints


@dataclass(frozen=True, slots=True)
class Aligned:
    """Curves ready for decomposition, with what had to be done to them.

    values: (subjects, length), bridged; NaN before a subject's span begins and in longer gaps.
    begin: (subjects,) first column of the span that is decomposed; length where there is none.
    observed: (subjects,) periods with a value, from the first value on.
    missing: (subjects,) share of periods without one, from the first value on, 0–1.
    bridged: (subjects,) periods bridged.
    tail: (subjects,) periods without a value at the end.
    """

    values: Floats
    begin: Ints
    observed: Ints
    missing: Floats
    bridged: Ints
    tail: Ints


def first_and_last(present: Bools) -> tuple[Ints, Ints]:
    """First and last True of each row; length and -1 where a row has none."""
    length = present.shape[1]
    any_present = present.any(axis=1)
    first = np.where(any_present, present.argmax(axis=1), length)
    last = np.where(any_present, length - 1 - present[:, ::-1].argmax(axis=1), -1)
    return first.astype(np.int64), last.astype(np.int64)


def bridge(values: Floats, longest: int) -> Aligned:
    """Bridge gaps of up to ``longest`` periods and find the span after the last longer one.

    Inner gaps are filled by a straight line; a short gap at the end holds the last value. What lies
    before a longer gap is not decomposed with what follows it, for a bridge of many weeks would be
    invention. ``values`` is (subjects, length) with NaN for absent.
    """
    present = ~np.isnan(values)
    n, length = values.shape
    if present.all():  # the usual case, and the rest of this is the slower half of a reading
        none = np.zeros(n, dtype=np.int64)
        whole = np.full(n, length, dtype=np.int64)
        return Aligned(values, none, whole, np.zeros(n), none.copy(), none.copy())
    first, last = first_and_last(present)
    columns = np.arange(length)
    before = np.maximum.accumulate(np.where(present, columns, -1), axis=1)
    after = np.minimum.accumulate(np.where(present, columns, length)[:, ::-1], axis=1)[:, ::-1]
    gap = ~present & (before >= 0)
    width = np.where(gap, after - before - 1, 0)
    fill = gap & (width <= longest)

    filled = values.copy()
    rows, cols = np.nonzero(fill)
    if rows.size:
        b, a = before[rows, cols], after[rows, cols]
        left = values[rows, b]
        inner = a < length
        right = np.where(inner, values[rows, np.minimum(a, length - 1)], left)
        filled[rows, cols] = left + (right - left) * (cols - b) / np.maximum(a - b, 1)

    long_gap = gap & ~fill
    last_long = np.where(long_gap, columns, -1).max(axis=1, initial=-1)
    begin = np.where(last_long >= 0, last_long + 1, first)
    begin = np.where(first < length, np.minimum(begin, length), length)
    lived = np.maximum(length - first, 0)
    observed = present.sum(axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        missing = np.where(lived > 0, 1 - observed / lived, 1.0)
    return Aligned(
        values=filled,
        begin=begin.astype(np.int64),
        observed=observed.astype(np.int64),
        missing=missing,
        bridged=fill.sum(axis=1).astype(np.int64),
        tail=np.where(last >= 0, length - 1 - last, length).astype(np.int64),
    )


def sum_by_group(values: Floats, group: Ints, groups: int, longest: int) -> tuple[Floats, Ints]:
    """Sum subjects into groups, say the terms of a niche, without turning a gap into a fall.

    Each curve is bridged first. A group's period is absent where none of its curves has a value, or
    where curves that hold more than 5% of its volume are inside a longer gap: a sum over the rest
    would read as a drop. ``values`` is (subjects, length), ``group`` (subjects,). Returns the sums
    (groups, length) and the number of periods of the group that were bridged in any curve.
    """
    present = ~np.isnan(values)
    aligned = bridge(values, longest)
    filled = aligned.values
    have = ~np.isnan(filled)
    first, _ = first_and_last(present)
    inside = np.arange(values.shape[1]) >= first[:, None]
    volume = np.where(present, values, 0).sum(axis=1) / np.maximum(aligned.observed, 1)
    order = np.argsort(group, kind="stable")
    starts = np.searchsorted(group[order], np.arange(groups))
    empty = np.bincount(group, minlength=groups) == 0

    def total(matrix: Floats | Bools | Ints) -> Floats:
        # reduceat reads an empty group as the next row, so those are cleared afterwards.
        padded = np.concatenate([matrix[order].astype(np.float64), np.zeros((1, matrix.shape[1]))])
        sums: Floats = np.add.reduceat(padded, np.minimum(starts, len(order)), axis=0)
        sums[empty] = 0
        return sums

    sums = total(np.where(have, filled, 0))
    any_value = total(have) > 0
    absent_volume = total((inside & ~have) * volume[:, None])
    group_volume = total(volume[:, None])
    sums[~any_value | (absent_volume > 0.05 * group_volume)] = np.nan
    bridged = (total(have & ~present) > 0).sum(axis=1)
    return sums, bridged.astype(np.int64)
