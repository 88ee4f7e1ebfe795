"""What came of dates: whether the season that lay ahead on a day came in the weeks that were told."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings, Timeline

from .replay import Then

EITHER_SIDE = 8  # Weeks around a season in which it is looked for.
LEAST_DEMAND = 100  # Searches of a season from which its weeks can be told from noise. Our choice.


@dataclass(frozen=True, slots=True)
class Dated:
    """Seasons held against what came, (rows,) each, one for each subject and day.

    shift: weeks by which the season came later than told, EITHER_SIDE or more where none was found; peak: by
    which its best weeks did; naive_peak: by which they came later than the year before. caught: share of it
    after the arrival of what was ordered on the day, less what the profile made of it; NaN where all of it came
    after.
    """

    subject: Ints
    when: Ints
    shift: Floats
    peak: Floats
    naive_peak: Floats
    caught: Floats


@dataclass(frozen=True, slots=True)
class _Told:
    """Seasons that were told, (rows,): columns of the rise and of the last period, the peak window's first
    column
    counted from the rise, and its length."""

    subject: Ints
    first: Ints
    last: Ints
    peak: Ints
    length: Ints

    def of(self, rows: Bools) -> _Told:
        return _Told(*(getattr(self, name)[rows] for name in self.__slots__))


def read_dated(
    then: Then, when: int, curves: Floats, timeline: Timeline, settings: Settings
) -> Dated:
    """Hold the first season that each subject had before it on a day against what came.

    Parameters
    ----------
    then : Then
        What was said on the day.
    when : int
        Place of the day.
    curves : array (subjects, folded length)
        All that is known now, see ``folded_curves``.
    timeline : Timeline
        Its periods.
    settings : Settings
        The lead time.

    Returns
    -------
    Dated
        Seasons that are over, with ``EITHER_SIDE`` weeks known on both sides and ``LEAST_DEMAND`` searches.
        The season as a whole is moved until it fits best, by the likelihood of its periods' shares
        (multinomial); its best weeks are as many as its peak window has.
    """
    period, columns = timeline.period, curves.shape[1]
    year, reach = period.per_year, period.span(EITHER_SIDE)
    starts, slots = _columns(timeline)
    told = _told(then, starts)
    told = told.of((told.first - reach >= year) & (told.last + reach < columns))
    width = int((told.last - told.first).max(initial=0)) + 1 + 2 * reach
    at = told.first[:, None] - reach + np.arange(width)
    mask = at <= (told.last + reach)[:, None]
    row, inside = told.subject[:, None], np.minimum(at, columns - 1)
    came, before = (
        np.where(mask, curves[row, place], 0).astype(np.float64)
        for place in (inside, inside - year)
    )
    slot = (slots[inside[:, :1]] + np.arange(width)) % year
    profile = then.factors[told.subject].astype(np.float64)
    shift = _best_shift(came, profile, slot, mask, reach)
    best, past = (_best_weeks(values, mask, told.length) for values in (came, before))
    caught = _caught(
        then, came, np.take_along_axis(profile, slot, axis=1), starts[inside], told, reach, settings
    )
    with np.errstate(invalid="ignore"):
        enough = np.isfinite(before).all(axis=1) & (came.sum(axis=1) >= LEAST_DEMAND)
    rows = np.flatnonzero(enough & np.isfinite(shift))
    weeks = 52 / year
    return Dated(
        told.subject[rows], np.full(len(rows), when), shift[rows] * weeks,
        weeks * (best - reach - told.peak)[rows].astype(np.float64),
        weeks * (best - past)[rows].astype(np.float64), caught[rows],
    )  # fmt: skip


def _columns(timeline: Timeline) -> tuple[Ints, Ints]:
    """Of each folded column the ordinal of its first day, and its slot."""
    first = np.searchsorted(timeline.fold, np.arange(int(timeline.fold[-1]) + 1))
    starts = np.array([timeline.start(int(place)).toordinal() for place in first], dtype=np.int64)
    return starts, timeline.slots[first]


def _told(then: Then, starts: Ints) -> _Told:
    """Of each subject the first season that starts to rise after the day."""
    each = then.seasons
    rows = np.flatnonzero(each.rise > then.as_of.toordinal())
    rows = rows[np.lexsort((each.rise[rows], each.subject[rows]))]
    rows = rows[np.unique(each.subject[rows], return_index=True)[1]]
    # A day beyond the record lies in a column that there is none of.
    edges = np.append(starts, starts[-1] + (starts[-1] - starts[-2]))

    def column(days: Ints) -> Ints:
        found: Ints = np.searchsorted(edges, days, side="right") - 1
        return found

    first, peak = column(each.rise[rows]), column(each.peak_start[rows])
    return _Told(
        each.subject[rows], first, column(each.end[rows]), peak - first,
        column(each.peak_end[rows]) - peak + 1,
    )  # fmt: skip


def _best_shift(came: Floats, profile: Floats, slot: Ints, mask: Bools, reach: int) -> Floats:
    """Columns by which a profile is moved to fit best, (rows,), between columns by a parabola.

    What fits best at either end lies beyond it, or is no such season at all: none was found.
    """
    moves = np.arange(-reach, reach + 1)
    fit = np.full((len(came), len(moves)), -np.inf)
    year = profile.shape[1]
    for place, move in enumerate(moves):
        said = np.take_along_axis(profile, (slot - move) % year, axis=1)
        said = np.where(mask, np.maximum(said, 1e-3), 0)
        with np.errstate(divide="ignore", invalid="ignore"):
            logs = np.where(mask, np.log(said / said.sum(axis=1, keepdims=True)), 0)
        fit[:, place] = (came * logs).sum(axis=1)
    best = fit.argmax(axis=1)
    edge = (best == 0) | (best == len(moves) - 1)
    middle = np.clip(best, 1, len(moves) - 2)
    rows = np.arange(len(came))
    low, top, high = (fit[rows, middle + step] for step in (-1, 0, 1))
    bend = low - 2 * top + high
    with np.errstate(divide="ignore", invalid="ignore"):
        part = np.where(bend < 0, (low - high) / (2 * bend), 0)
    between = np.where(edge, moves[best], moves[middle] + np.clip(part, -0.5, 0.5))
    return np.where(np.isfinite(fit[rows, best]), between, np.nan)


def _best_weeks(values: Floats, mask: Bools, length: Ints) -> Ints:
    """The first of so many consecutive columns that hold most, (rows,)."""
    total = np.cumsum(np.pad(np.where(mask, values, 0), ((0, 0), (1, 0))), axis=1)
    out = np.zeros(len(values), dtype=np.int64)
    for many in np.unique(length):
        rows = np.flatnonzero(length == many)
        sums = total[rows, many:] - total[rows, :-many]
        whole = mask[rows][:, many - 1 :]
        out[rows] = np.where(whole, sums, -np.inf).argmax(axis=1)
    return out


def _caught(
    then: Then, came: Floats, said: Floats, days: Ints, told: _Told, reach: int, settings: Settings
) -> Floats:
    """Share of each season, from its rise to its end, after arrival, less the same of the profile."""
    arrival = then.as_of.toordinal() + int(settings.lead_days)
    place = np.arange(came.shape[1])
    season = (place >= reach) & (place <= (told.last - told.first + reach)[:, None])
    after = season & (days >= arrival)
    parts = []
    for values in (came, said):
        whole = np.where(season, values, 0).sum(axis=1)
        with np.errstate(divide="ignore", invalid="ignore"):
            parts.append(np.where(after, values, 0).sum(axis=1) / whole)
    late = np.array([days[row, reach] >= arrival for row in range(len(came))], dtype=bool)
    return np.where(late, np.nan, parts[0] - parts[1])
