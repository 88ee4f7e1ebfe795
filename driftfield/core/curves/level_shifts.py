"""Level shifts: a standard change-point search over deseasonalised levels.

Greedy forward selection of mean shifts (binary segmentation after Scott & Knott 1974, Biometrics 30)
over a straight line, so that growth is not cut into stairs; sizes by least squares over all shifts
at once. It runs on every curve of a market together: each candidate's sum of squares follows from
running sums. The tests compare it with the search of the package ``ruptures``.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings

EDGE = 6  # Blocks on each side of a level shift: about half a year.
MAX_SHIFTS = 3  # More shifts than these in a record of five years are a wandering level.
# What is left after the shifts, over what a straight line leaves, at most.
LEAVES = 0.6
# Share of what the line leaves that a candidate must explain to be looked at more closely.
WORTH = 0.15
# Standard errors of its size that a shift must exceed: twice five, which leaves room for the
# search over splits and for autocorrelation.
ERRORS = 10
REACH = 10  # Weeks around a block's edge in which the week of a shift is looked for.


@dataclass(frozen=True, slots=True)
class Shifts:
    """Level shifts of curves: log size (subjects, MAX_SHIFTS), 0 for none, and the first block after each,
    (subjects, MAX_SHIFTS), -1 for none; in order of time."""

    size: Floats
    at: Ints

    @property
    def found(self) -> Bools:
        return np.asarray((self.at >= 0).any(axis=1))

    def course(self, columns: int) -> Floats:
        """Log level of the first ``columns`` blocks, 0 before any shift: (subjects, columns)."""
        starts = self.at[:, :, None]
        on = (starts >= 0) & (np.arange(columns) >= starts)
        summed: Floats = np.where(on, self.size[:, :, None], 0).sum(axis=1)
        return summed


def _tails(values: Floats) -> Floats:
    """Sums from each column to the last, (rows, columns)."""
    return np.asarray(np.cumsum(values[:, ::-1], axis=1)[:, ::-1])


def _candidate(levels: Floats, have: Bools, barred: Bools) -> tuple[Floats, Ints, Floats]:
    """Log size and place of the shift that explains most beside a straight line, and the share of
    what the line leaves that it explains."""
    columns = levels.shape[1]
    x = (np.arange(columns) - (columns - 1) / 2).astype(levels.dtype)
    y = np.where(have, levels, 0)
    # Curves that are whole share their sums; one row stands for all.
    w = np.ones((1, columns)) if have.all() else have.astype(levels.dtype)
    tw, tx, ty = _tails(w), _tails(w * x), _tails(y)
    number, sum_x, sum_y = tw[:, :1], tx[:, :1], ty[:, :1]
    with np.errstate(invalid="ignore", divide="ignore"):
        dxx = (w * x * x).sum(axis=1, keepdims=True) - sum_x**2 / number
        dxy = (y * x).sum(axis=1, keepdims=True) - sum_x * sum_y / number
        lean = tx - sum_x * tw / number
        straight = tw - tw**2 / number
        left = straight - lean**2 / dxx
        step = ty - sum_y * tw / number
        gain = np.where(left > 0.02 * straight, (step - dxy / dxx * lean) ** 2 / left, -np.inf)
        plain = np.where(straight > 0, step**2 / straight, -np.inf) - dxy**2 / dxx
    allowed = (tw >= EDGE / 2) & (number - tw >= EDGE / 2)
    allowed[:, :EDGE] = False
    allowed[:, columns - EDGE + 1 :] = False
    allowed = allowed & ~barred
    score = np.where(allowed, np.fmax(gain, plain), -np.inf)
    best = score.argmax(axis=1)
    rows = np.arange(len(levels))

    def of(sums: Floats) -> Floats:
        found: Floats = sums[rows if len(sums) > 1 else 0, best]
        return found

    with np.errstate(invalid="ignore", divide="ignore"):
        # Under the model, with the line or without, that explains more by this shift.
        leaning = gain[rows, best] >= plain[rows, best]
        slope = dxy[:, 0] / dxx[:, 0]
        size = np.where(leaning, (of(step) - slope * of(lean)) / of(left), of(step) / of(straight))
        dyy = (y * y).sum(axis=1) - sum_y[:, 0] ** 2 / number[:, 0]
        share = score[rows, best] / (dyy - dxy[:, 0] * slope)
    usable = np.isfinite(score[rows, best]) & np.isfinite(size)
    # Between two blocks that say something the place is open: the new level starts with the second.
    filled = np.where(have, np.arange(columns), columns - 1)
    best = np.minimum.accumulate(filled[:, ::-1], axis=1)[:, ::-1][rows, best]
    return np.where(usable, size, 0), np.where(usable, best, -1), share


def _fit(levels: Floats, have: Bools, at: Ints, slope: bool) -> tuple[Floats, Floats, Floats]:
    """Least squares of a level, shifts and perhaps a line: sizes, their errors, what is left."""
    n, columns = levels.shape
    x = np.arange(columns)
    steps = ((at[:, :, None] >= 0) & (x >= at[:, :, None])).astype(np.float64)
    parts = [np.ones((n, 1, columns)), steps]
    if slope:
        parts.append(np.broadcast_to((x - x.mean()) / columns, (n, 1, columns)))
    design = np.concatenate(parts, axis=1) * have[:, None, :]
    y = np.where(have, levels, 0).astype(np.float64)
    cross = design @ design.transpose(0, 2, 1)
    # A shift that is none is held at zero; a little weight keeps what blocks cannot tell apart finite.
    places = np.arange(design.shape[1])
    cross[:, places, places] += 1e-9
    cross[:, 1 : 1 + at.shape[1], 1 : 1 + at.shape[1]] += np.where(
        (at < 0)[:, :, None], np.eye(at.shape[1]), 0
    )
    inverse = np.linalg.inv(cross)
    beta = (inverse @ (design @ y[:, :, None]))[:, :, 0]
    left = ((y - (beta[:, None, :] @ design)[:, 0]) ** 2).sum(axis=1)
    used = 1 + slope + (at >= 0).sum(axis=1)
    noise = left / np.maximum(have.sum(axis=1) - used, 1)
    error = np.sqrt(np.maximum(np.diagonal(inverse, axis1=1, axis2=2), 0) * noise[:, None])
    which = slice(1, 1 + at.shape[1])
    return beta[:, which], error[:, which], left


def level_shifts(levels: Floats, may: Bools, settings: Settings) -> Shifts:
    """Shifts in log levels (subjects, blocks), NaN for absent, of the subjects that ``may`` have any.

    A shift is kept when its size is at least ``step_size`` and ten standard errors, and all of
    them together leave under 60% of what a straight line leaves.
    """
    n, columns = levels.shape
    size, at = np.zeros((n, MAX_SHIFTS)), np.full((n, MAX_SHIFTS), -1, dtype=np.int64)
    nothing = Shifts(size, at)
    least = np.log1p(settings.step_size)
    have = ~np.isnan(levels)
    rows = np.flatnonzero(may & (have.sum(axis=1) >= 2 * EDGE))
    if columns < 2 * EDGE + 1 or not rows.size:
        return nothing
    # Whole curves first and apart, for they share most of the work.
    whole = have[rows].all(axis=1)
    for some in (rows[whole], rows[~whole]):
        if some.size:
            _search(levels, have, some, at, least)
    rows = np.flatnonzero((at >= 0).any(axis=1))
    if rows.size:
        _keep(levels, have, rows, size, at, least)
    order = np.argsort(np.where(at < 0, columns, at), axis=1, kind="stable")
    return Shifts(np.take_along_axis(size, order, axis=1), np.take_along_axis(at, order, axis=1))


def _search(levels: Floats, have: Bools, rows: Ints, at: Ints, least: float) -> None:
    """Put the candidates of ``rows`` into ``at``, the one that explains most first."""
    columns = levels.shape[1]
    left = levels[rows]
    barred = np.zeros((len(rows), columns), dtype=bool)
    for turn in range(MAX_SHIFTS):
        found, place, share = _candidate(left, have[rows], barred)
        # One shift may be hidden by another, so a first one somewhat too small is gone on from.
        big = (np.abs(found) >= (0.6 if turn == 0 else 1) * least) & (place >= 0)
        big &= share >= WORTH
        if not big.any():
            break
        rows, left, barred = rows[big], left[big], barred[big]
        found, place = found[big], place[big]
        at[rows, turn] = place
        left = left - np.where(np.arange(columns) >= place[:, None], found[:, None], 0)
        barred |= np.abs(np.arange(columns) - place[:, None]) < EDGE


def _keep(levels: Floats, have: Bools, rows: Ints, size: Floats, at: Ints, least: float) -> None:
    """Refit the candidates of ``rows`` together and drop in place those that do not stand."""
    some, seen = levels[rows], have[rows]
    _, _, line = _fit(some, seen, np.full((len(rows), 1), -1), True)
    place = at[rows]
    for _ in range(MAX_SHIFTS):
        sizes, errors, left = _fit(some, seen, place, False)
        leaning = _fit(some, seen, place, True)
        lean = leaning[2] < 0.75 * left
        sizes = np.where(lean[:, None], leaning[0], sizes)
        errors = np.where(lean[:, None], leaning[1], errors)
        left = np.where(lean, leaning[2], left)
        stands = (np.abs(sizes) >= least) & (np.abs(sizes) > ERRORS * errors) & (place >= 0)
        if (stands == (place >= 0)).all():
            break
        place = np.where(stands, place, -1)
    good = stands & (left < LEAVES * line)[:, None]
    at[rows] = np.where(good, place, -1)
    size[rows] = np.where(good, sizes, 0)


def week_of_shift(logs: Floats, edge: Ints) -> Ints:
    """The period in which the new level starts, (rows,), looked for around ``edge`` (rows,).

    ``logs`` is (rows, length): log deseasonalised values by period, NaN for absent. The split that
    leaves least within half a year to both sides.
    """
    n, length = logs.shape
    best, least = edge.copy(), np.full(n, np.inf)
    around = np.arange(-26, 26)
    columns = edge[:, None] + around
    inside = (columns >= 0) & (columns < length)
    near = np.where(
        inside, np.take_along_axis(logs, np.clip(columns, 0, length - 1), axis=1), np.nan
    )
    have = ~np.isnan(near)
    filled = np.where(have, near, 0)
    count, total = np.cumsum(have, axis=1), np.cumsum(filled, axis=1)
    for shift in range(-REACH, REACH + 1):
        cut = 25 + shift
        before, after = count[:, cut], count[:, -1] - count[:, cut]
        with np.errstate(invalid="ignore", divide="ignore"):
            explained = total[:, cut] ** 2 / before + (total[:, -1] - total[:, cut]) ** 2 / after
        better = (before > 3) & (after > 3) & (-explained < least)
        least[better] = -explained[better]
        best[better] = edge[better] + shift
    return best
