"""Alignment: from curves as they came to curves that can be decomposed.

A value that is absent is NaN, never 0. Absent before a curve's first value means that the subject
did not exist yet; absent later is a gap.
"""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

import numpy as np

from driftfield.core.base import Bools, Floats, Ints


@dataclass(frozen=True, slots=True)
class Aligned:
    """Curves ready for decomposition, with what had to be done to them.

    values: (subjects, length), bridged; NaN before a subject's span begins and in longer gaps.
    begin, end: (subjects,) the span that is decomposed, columns begin to end − 1; empty without values.
    observed: (subjects,) periods with a value, from the first value on.
    missing: (subjects,) share of periods without one, from the first value to the last, 0–1.
    bridged: (subjects,) periods bridged.
    tail: (subjects,) periods without a value at the end.
    gaps: (subjects,) runs of absent periods between the first value and the last.
    """

    values: Floats
    begin: Ints
    end: Ints
    observed: Ints
    missing: Floats
    bridged: Ints
    tail: Ints
    gaps: Ints


def first_and_last(present: Bools) -> tuple[Ints, Ints]:
    """First and last True of each row; length and -1 where a row has none."""
    length = present.shape[1]
    any_present = present.any(axis=1)
    first = np.where(any_present, present.argmax(axis=1), length)
    last = np.where(any_present, length - 1 - present[:, ::-1].argmax(axis=1), -1)
    return first.astype(np.int64), last.astype(np.int64)


def bridge(values: Floats, longest: int, per_year: int | None = None) -> Aligned:
    """Bridge gaps and find the span after the last one that cannot be bridged.

    Gaps of up to ``longest`` periods are filled by a straight line, at the end by the last value.
    Inside a longer gap a straight line would cut off a season, so with ``per_year`` given each
    period takes its value of the years beside it, at the level around the gap; without such years
    the gap stays, and what lies before it is not decomposed with what follows it.

    Parameters
    ----------
    values : array (subjects, length)
        Any figures by period, NaN where absent.
    longest : int
        Periods that a straight line may bridge.
    per_year : int, optional
        Periods a year, 52 or 12; by default longer gaps stay.

    Returns
    -------
    Aligned
        The bridged curves, their spans, and what was bridged.
    """
    n, length = values.shape
    whole = np.full(n, length, dtype=np.int64)
    none = np.zeros(n, dtype=np.int64)
    out = Aligned(
        values, none, whole, whole.copy(), np.zeros(n), none.copy(), none.copy(), none.copy()
    )
    # Most curves are whole, and the rest of this is the slower half of a reading.
    holed = np.flatnonzero(np.isnan(values).any(axis=1))
    if holed.size:
        out = replace(out, values=values.copy())
        part = _bridge(values[holed], longest, per_year)
        for f in fields(Aligned):
            getattr(out, f.name)[holed] = getattr(part, f.name)
    return out


def _bridge(values: Floats, longest: int, per_year: int | None) -> Aligned:
    """``bridge`` for curves that all have a period without a value."""
    present = ~np.isnan(values)
    length = values.shape[1]
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

    if per_year is not None:
        inner_long = gap & ~fill & (after < length)
        for row in np.flatnonzero(inner_long.any(axis=1)):
            fill[row] |= _borrow(filled[row], values[row], inner_long[row], per_year)

    # A long gap at the end is no gap in the span: the span stops before it.
    long_gap = gap & ~fill & (after < length)
    last_long = np.where(long_gap, columns, -1).max(axis=1, initial=-1)
    begin = np.where(last_long >= 0, last_long + 1, first)
    begin = np.where(first < length, np.minimum(begin, length), length)
    end = np.where(fill[:, -1], length, last + 1)
    lived = np.maximum(last + 1 - first, 0)
    observed = present.sum(axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        missing = np.where(lived > 0, 1 - observed / lived, 1.0)
    return Aligned(
        values=filled,
        begin=begin.astype(np.int64),
        end=end.astype(np.int64),
        observed=observed.astype(np.int64),
        missing=missing,
        bridged=fill.sum(axis=1).astype(np.int64),
        tail=np.where(last >= 0, length - 1 - last, length).astype(np.int64),
        gaps=((gap & ~np.pad(gap, ((0, 0), (1, 0)))[:, :-1]) & (after < length)).sum(axis=1),
    )


def before_launch(values: Floats, per_year: int, launch_counts: float) -> Ints:
    """Count the periods at the beginning in which a curve did not exist yet though it came as zeros.

    A run of zeros that opens a curve may be a season's true zeros or the time before a launch. It is
    the latter where the same weeks a year later show at least ``launch_counts``, which no season
    leaves to chance: what sells in those weeks would have sold.

    Parameters
    ----------
    values : array (subjects, length)
        Counts by period, NaN where absent; absent and zero both count to the run.
    per_year : int
        Periods a year, 52 or 12.
    launch_counts : float
        Counts of the same periods a year later that rule out chance.

    Returns
    -------
    array (subjects,)
        Periods before the launch; 0 where the curve was there from the beginning.
    """
    n, length = values.shape
    idle = ~(values > 0)
    out = np.zeros(n, dtype=np.int64)
    rows = np.flatnonzero(idle[:, 0])
    if not rows.size:
        return out
    run = np.where(idle[rows].all(axis=1), 0, (~idle[rows]).argmax(axis=1))
    sums = np.cumsum(np.pad(np.nan_to_num(values[rows]), ((0, 0), (1, 0))), axis=1)
    # Of a run of over a year the last year is asked about: all of its weeks come again after it.
    begin = np.minimum(np.maximum(run - per_year, 0) + per_year, length)
    end = np.minimum(run + per_year, length)
    at = np.arange(len(rows))
    seen = sums[at, end] - sums[at, begin]
    has_zero = ~np.isnan(values[rows, np.maximum(run - 1, 0)]) & (run > 0)
    out[rows] = np.where((seen >= launch_counts) & has_zero, run, 0)
    return out


def _borrow(filled: Floats, values: Floats, gap: Bools, per_year: int) -> Bools:
    """Fill a long gap of one curve in place from the years beside it; True where it was."""
    cells = np.flatnonzero(gap)
    near = np.arange(max(cells[0] - 8, 0), min(cells[-1] + 9, len(values)))
    done = np.zeros(len(values), dtype=bool)
    found = np.full((2, len(cells)), np.nan)
    for way, lag in enumerate((-per_year, per_year)):
        beside = near[(near + lag >= 0) & (near + lag < len(values))]
        both = beside[~np.isnan(values[beside]) & ~np.isnan(values[beside + lag])]
        there = values[both + lag].sum()
        other = cells + lag
        inside = (other >= 0) & (other < len(values))
        if there > 0:
            scale = values[both].sum() / there
            found[way, inside] = values[other[inside]] * scale
    known = ~np.isnan(found)
    usable = known.any(axis=0)
    guess = np.where(known, found, 0).sum(axis=0) / np.maximum(known.sum(axis=0), 1)
    filled[cells[usable]] = guess[usable]
    done[cells[usable]] = True
    return done


@dataclass(frozen=True, slots=True)
class GroupSums:
    """Sums of curves by group, with what decides where a sum may be told.

    sums: (groups, length) over the bridged curves. known: (groups, length) whether any of them has a value
    there. absent: (groups, length) mean volume a period of those inside a longer gap. volume: (groups,) of all.
    """

    sums: Floats
    known: Bools
    absent: Floats
    volume: Floats

    @property
    def curves(self) -> Floats:
        """The sums, NaN where they may not be told, (groups, length)."""
        untold = ~self.known | (self.absent > 0.05 * self.volume[:, None])
        return np.where(untold, np.nan, self.sums)

    def rolled_up(self, group: Ints, above: Ints, groups: int) -> GroupSums:
        """The same of groups of these groups: of pairs, (pairs,), the first counts in the second."""
        from scipy.sparse import csr_array

        ones = np.ones(len(group))
        adds = csr_array((ones, (above, group)), shape=(groups, len(self.volume)))
        return GroupSums(
            sums=np.asarray(adds @ self.sums),
            known=np.asarray(adds @ self.known.astype(np.float64)) > 0,
            absent=np.asarray(adds @ self.absent),
            volume=np.asarray(adds @ self.volume),
        )


def group_sums(values: Floats, group: Ints, groups: int, longest: int) -> GroupSums:
    """Sum the curves of each group, short gaps bridged; arguments as of ``sum_by_group``."""
    present = ~np.isnan(values)
    empty = np.bincount(group, minlength=groups) == 0

    def total(matrix: Floats | Bools | Ints) -> Floats:
        # reduceat reads an empty group as the next row, so those are cleared afterwards.
        padded = np.concatenate([matrix[order].astype(np.float64), np.zeros((1, matrix.shape[1]))])
        sums: Floats = np.add.reduceat(padded, np.minimum(starts, len(order)), axis=0)
        sums[empty] = 0
        return sums

    if present.all():
        from scipy.sparse import csr_array

        # Counts are whole numbers, whose sums do not depend on the order.
        n = len(values)
        adds = csr_array((np.ones(n), (group, np.arange(n))), shape=(groups, n))
        sums = np.asarray(adds @ values)
        known = np.broadcast_to(~empty[:, None], sums.shape)
        return GroupSums(sums, known, np.zeros_like(sums), sums.sum(axis=1) / max(sums.shape[1], 1))
    order = np.argsort(group, kind="stable")
    starts = np.searchsorted(group[order], np.arange(groups))
    aligned = bridge(values, longest)
    filled = aligned.values
    have = ~np.isnan(filled)
    first, _ = first_and_last(present)
    inside = np.arange(values.shape[1]) >= first[:, None]
    volume = np.where(present, values, 0).sum(axis=1) / np.maximum(aligned.observed, 1)
    return GroupSums(
        sums=total(np.where(have, filled, 0)),
        known=total(present) > 0,
        absent=total((inside & ~have) * volume[:, None]),
        volume=total(volume[:, None])[:, 0],
    )


def sum_by_group(values: Floats, group: Ints, groups: int, longest: int) -> Floats:
    """Sum subjects into groups, say the terms of a niche, without turning a gap into a fall.

    Curves with short gaps are bridged first. A group's period is absent where none of its curves
    has a value, or where curves that hold more than 5% of its volume are inside a longer gap: a sum
    over the rest would read as a drop. ``values`` is (subjects, length), ``group`` (subjects,);
    the sums are (groups, length).
    """
    return group_sums(values, group, groups, longest).curves
