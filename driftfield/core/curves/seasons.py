"""The seasons of a profile: every hump of it, from the lowest week before its peak to the next one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints

# Standard errors of a difference of two slots that a hump must rise out of its valleys: among the
# bends of a noisy year fewer than one in fifty goes as far by chance.
NOISE = 3.5
# How far above the lowest slot the lowest stretch reaches: a part of the range, and standard errors.
LOWEST, LOWEST_ERRORS = 0.02, 4.0


@dataclass(frozen=True, slots=True)
class Season:
    """The marks of the seasons in the year, slots, each (subjects,); -1 for a profile that is level.

    starts: (subjects, slots) the slots in which a season starts, the lowest before its peak. rise: first
    slot of the rise of the season in which the year's peak window lies. end: its last slot before it winds
    down. quiet, quiet_length: the longest unbroken run of slots below the quiet level; length 0 where there
    is none. second, second_length: of the other seasons the peak window that holds most, where it does
    not reach into the year's; length 0 where there is none.
    """

    starts: Bools
    rise: Ints
    end: Ints
    quiet: Ints
    quiet_length: Ints
    second: Ints
    second_length: Ints

    @classmethod
    def none(cls, n: int, slots: int) -> Season:
        """``n`` subjects without a season."""

        def whole(value: int) -> Ints:
            return np.full(n, value, dtype=np.int64)

        return cls(
            np.zeros((n, slots), dtype=bool),
            *(whole(value) for value in (-1, -1, -1, 0, -1, 0)),
        )


@dataclass(frozen=True, slots=True)
class Humps:
    """Seasons one by one, each (humps,), by subject and by the slot they start in.

    subject: place of the subject. start: slot. length: slots up to the next season's start. Counted in
    slots from the start: rise, its first; half, the one in which half of its demand has passed; fall,
    the first back under the level it rose above; peak, first of the peak window of ``peak_length``
    slots; top, the highest. factors: (humps, slots) the profile from the start on, 0 after the end.
    share: of a year's demand.
    """

    subject: Ints
    start: Ints
    length: Ints
    rise: Ints
    half: Ints
    fall: Ints
    peak: Ints
    peak_length: Ints
    top: Ints
    factors: Floats
    share: Floats


def season_starts(factors: Floats, error: Floats, hump_share: float) -> Bools:
    """Find where the seasons of a year start.

    A hump is a season where it rises out of the valleys on both its sides by at least ``hump_share``
    of the range from the year's lowest slot to its highest, and by more than noise: the peaks of that
    topographic prominence, which is the persistence of the profile's maxima. A season starts in the
    lowest slot before its peak; in a level valley in its middle.

    Parameters
    ----------
    factors, error : array (subjects, slots)
        Season profiles with mean 1, none of them level, and the standard errors of their factors.
    hump_share : float
        Part of the range, 0–1.

    Returns
    -------
    bool array (subjects, slots)
        The slots in which a season starts, at least one for each subject.

    References
    ----------
    H. Edelsbrunner, D. Letscher & A. Zomorodian, “Topological persistence and simplification”,
    Discrete & Computational Geometry 28 (2002).
    """
    n, slots = factors.shape
    rows, offsets = np.arange(n), np.arange(slots)
    first = factors.argmax(axis=1)
    place_of = first[:, None] + offsets
    place_of -= np.where(place_of < slots, 0, slots)
    # A slot's factors of all subjects lie together, for they are gone through slot by slot.
    turned = np.ascontiguousarray(np.take_along_axis(factors, place_of, axis=1).T)
    span = np.ptp(factors, axis=1)
    noise = NOISE * np.sqrt(2 * np.nan_to_num(error**2).mean(axis=1))
    need = np.maximum(hump_share * span, noise)
    marks = np.zeros((n, slots), dtype=bool)
    hump, valley = turned[0].copy(), np.full(n, np.inf)
    at, found = np.zeros(n, dtype=np.int64), np.zeros(n, dtype=bool)
    # Round the year from its highest slot: a hump is one once it stands far enough above the valley.
    for place in range(1, slots):
        here = turned[place]
        risen = np.minimum(here, hump) - valley >= need
        if (up := np.flatnonzero(risen)).size:
            marks[up, at[up]] = True
            found |= risen
        anew = risen | (here > hump)
        at[anew | (here < valley)] = place
        np.copyto(hump, here, where=anew)
        np.minimum(valley, here, out=valley)
        np.copyto(valley, here, where=anew)
    # A last hump too near the highest slot's is its shoulder, and its own valley parts the two from
    # the season before.
    last = (hump - valley >= need) | ~found
    marks[rows[last], at[last]] = True
    subject, after = np.nonzero(marks)
    slot = (first[subject] + after) % slots
    allowed = LOWEST * span[subject] + LOWEST_ERRORS * np.nan_to_num(error[subject, slot])
    slot = _middle(factors[subject], slot, np.minimum(allowed, need[subject] / 2))
    out = np.zeros((n, slots), dtype=bool)
    out[subject, slot] = True
    return out


def _middle(factors: Floats, slot: Ints, allowed: Floats) -> Ints:
    """The middle of the stretch round each slot that lies no further than ``allowed`` above it."""
    slots = factors.shape[1]
    turned = np.take_along_axis(factors, (slot[:, None] + np.arange(slots)) % slots, axis=1)
    high = turned > (turned[:, 0] + allowed)[:, None]
    after = np.where(high.any(axis=1), high.argmax(axis=1), 1) - 1
    before = np.where(high.any(axis=1), high[:, ::-1].argmax(axis=1), 0)
    middle: Ints = (slot + (after - before + 1) // 2) % slots
    return middle


def humps_of(factors: Floats, starts: Bools, peak_length: Ints) -> Humps:
    """The seasons of profiles (subjects, slots), from where they start (subjects, slots).

    ``peak_length`` (subjects,) is how many slots a peak window has at most. A season rises with the
    first slot of the unbroken run around its highest one that lies above the year's mean, or, where
    it hardly leaves that, above half its height over its higher valley; but never after half of its
    demand has passed.
    """
    slots = factors.shape[1]
    subject, start = np.nonzero(starts)
    new = np.r_[True, subject[1:] != subject[:-1]] if subject.size else np.zeros(0, dtype=bool)
    following = np.roll(start, -1)
    ends = np.roll(new, -1)
    following[ends] = start[new] + slots
    length = following - start
    offsets = np.arange(slots)
    turned = factors[subject[:, None], (start[:, None] + offsets) % slots]
    inside = offsets < length[:, None]
    mine = np.where(inside, turned, 0)
    each = np.arange(len(subject))
    top = np.where(inside, turned, -np.inf).argmax(axis=1)
    height = turned[each, top]
    valley = np.maximum(turned[:, 0], factors[subject, following % slots])
    level = np.minimum(1, (valley + height) / 2)
    outside = ~(inside & (turned > level[:, None]))
    outside[each, top] = False
    rise = np.where(outside & (offsets < top[:, None]), offsets, -1).max(axis=1, initial=-1) + 1
    fall = np.where(outside & (offsets > top[:, None]), offsets, slots).min(axis=1, initial=slots)
    fall = np.minimum(fall, length)
    window = np.minimum(peak_length[subject], fall - rise)
    passed = np.zeros((len(subject), slots + 1))
    np.cumsum(mine, axis=1, out=passed[:, 1:])
    peak = _best_window(passed, rise, fall, window)
    half = (passed[:, 1:] > passed[:, -1:] / 2).argmax(axis=1)
    return Humps(
        subject=subject, start=start, length=length, rise=np.minimum(rise, half), half=half, fall=fall,
        peak=peak, peak_length=window, top=top, factors=mine,
        share=passed[:, -1] / factors[subject].sum(axis=1),
    )  # fmt: skip


def _best_window(passed: Floats, first: Ints, end: Ints, window: Ints) -> Ints:
    """Start of the ``window`` slots from ``first`` on and before ``end`` that hold most."""
    slots = passed.shape[1] - 1
    offsets = np.arange(slots)
    until = np.minimum(offsets + window[:, None], slots)
    held = np.take_along_axis(passed, until, axis=1) - passed[:, :-1]
    fits = (offsets >= first[:, None]) & (offsets + window[:, None] <= end[:, None])
    # Rounding keeps floating-point dust from deciding a tie.
    found: Ints = np.where(fits, np.round(held, 9), -np.inf).argmax(axis=1)
    return found


def _in_peak(humps: Humps) -> Floats:
    """What the peak windows hold, (humps,)."""
    passed = np.cumsum(np.pad(humps.factors, ((0, 0), (1, 0))), axis=1)
    each = np.arange(len(humps.peak))
    held: Floats = passed[each, humps.peak + humps.peak_length] - passed[each, humps.peak]
    return held


def _longest_run(inside: Bools) -> tuple[Ints, Ints]:
    """Start and length of the longest run of True round each circle; the earliest on ties."""
    n, slots = inside.shape
    twice = np.concatenate([inside, inside], axis=1)
    columns = np.arange(2 * slots, dtype=np.int16)
    last_out = np.maximum.accumulate(np.where(twice, np.int16(-1), columns), axis=1)
    length = np.minimum(columns - last_out, slots)
    # Runs are read off at their last slot; the second round sees those that cross the year's turn.
    end = length[:, slots:].argmax(axis=1)
    longest = length[np.arange(n), slots + end].astype(np.int64)
    start = (end - longest + 1) % slots
    return np.where(longest == slots, 0, start), longest


def _in_window(humps: Humps, start: Ints, length: Ints) -> Floats:
    """What each hump has of its subject's window of the year, (humps,); ``start``, ``length`` (subjects,)."""
    slots = humps.factors.shape[1]
    own = humps.subject
    into = (np.arange(slots) + (humps.start - start[own])[:, None]) % slots
    held: Floats = np.where(into < length[own][:, None], humps.factors, 0).sum(axis=1)
    return held


def season_marks(
    factors: Floats,
    error: Floats,
    peak_start: Ints,
    peak_length: Ints,
    quiet_level: float,
    hump_share: float,
) -> Season:
    """Marks of profiles (subjects, slots) with mean 1; ``error`` are their standard errors.

    ``peak_start``, ``peak_length`` (subjects,) are the year's peak window in slots; that of a season has as
    many at most. ``quiet_level`` is the factor below which a slot is quiet; ``hump_share`` as in
    ``season_starts``.
    """
    n, slots = factors.shape
    marks = Season.none(n, slots)
    rows = np.flatnonzero(np.ptp(factors, axis=1) >= 1e-9)
    if not rows.size:
        return marks
    marks.starts[rows] = season_starts(factors[rows], error[rows], hump_share)
    humps = humps_of(factors, marks.starts, peak_length)
    # By subject, the season first that has most of the year's peak window; then by what their own hold.
    held = _in_window(humps, peak_start, peak_length)
    order = np.lexsort((-_in_peak(humps), -np.round(held, 9), humps.subject))
    main = order[np.r_[True, np.diff(humps.subject[order]) > 0]]
    rest = np.setdiff1d(order, main)
    rest = rest[np.lexsort((-_in_peak(humps)[rest], humps.subject[rest]))]
    other = rest[np.r_[True, np.diff(humps.subject[rest]) > 0]] if rest.size else rest
    # A second time is told only of weeks that were not told of before.
    gap = ((humps.start + humps.peak)[other] - peak_start[humps.subject[other]]) % slots
    length = peak_length[humps.subject[other]]
    other = other[(gap >= length) & (gap + humps.peak_length[other] <= slots)]
    marks.rise[rows] = (humps.start + humps.rise)[main] % slots
    marks.end[rows] = (humps.start + humps.fall - 1)[main] % slots
    marks.second[humps.subject[other]] = (humps.start + humps.peak)[other] % slots
    marks.second_length[humps.subject[other]] = humps.peak_length[other]
    quiet, quiet_length = _longest_run(factors[rows] < quiet_level)
    marks.quiet[rows] = np.where(quiet_length > 0, quiet, -1)
    marks.quiet_length[rows] = quiet_length
    return marks
