"""What came of forecasts, drift and shapes: one row for each subject and day."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Floats, Ints, Timeline, join_rows
from driftfield.core.curves import AHEAD

from .replay import Then

HALF = 0.5  # A count.


@dataclass(frozen=True, slots=True)
class Foreseen:
    """Forecasts held against what came, (rows,) each.

    subject, when: of which, and the place of the day. weeks: how far ahead. shape: its word then. error,
    naive_error: mean absolute error a period over that of the seasonal naive within the record of then
    (MASE), of the forecast and of the same periods a year before. said, came: the sums foreseen and come.
    off: logarithm of the sum that came over that foreseen, half a count added to both. naive_off: over that of
    a year before, infinite where there was none. within: 1 where the sum lay within its
    interval, else 0. reach: how far off it was, over half the interval's width, both of logarithms.

    References
    ----------
    Hyndman & Koehler (2006), International Journal of Forecasting 22, for the scaled error.
    """

    subject: Ints
    when: Ints
    weeks: Ints
    shape: np.ndarray
    error: Floats
    naive_error: Floats
    said: Floats
    came: Floats
    off: Floats
    naive_off: Floats
    within: Floats
    reach: Floats


def read_foreseen(then: Then, when: int, curves: Floats, timeline: Timeline) -> Foreseen:
    """Hold the forecasts of a day against ``curves``, (subjects, folded length), all that is known now.

    A subject counts where all periods of the time ahead, and of the same a year before, are known.
    """
    start, year = first_after(then, timeline), timeline.period.per_year
    coming = then.coming.astype(np.float64)
    parts = []
    for weeks in AHEAD:
        span = timeline.period.span(weeks)
        if start + span > curves.shape[1] or start < year:
            continue
        came = curves[:, start : start + span].astype(np.float64)
        before = curves[:, start - year : start - year + span].astype(np.float64)
        said = coming[:, :span]
        sums = then.ahead[weeks]
        with np.errstate(invalid="ignore", divide="ignore"):
            error = np.abs(came - said).mean(axis=1) / then.scale
            naive = np.abs(came - before).mean(axis=1) / then.scale
            total = came.sum(axis=1)
            off = _over(total, sums.value)
            naive_off = np.where(before.any(axis=1), _over(total, before.sum(axis=1)), np.inf)
            reach = np.abs(off) / (_over(sums.high, sums.low) / 2)
        good = np.isfinite(error) & np.isfinite(naive) & np.isfinite(off) & (then.scale > 0)
        # Where next to nothing was foreseen and nothing came there was nothing to foresee.
        good &= np.maximum(total, sums.value) >= 1
        rows = np.flatnonzero(good)
        within = (total >= sums.low) & (total <= sums.high)
        parts.append(
            Foreseen(
                rows, np.full(len(rows), when), np.full(len(rows), weeks), then.figures["shape"][rows],
                error[rows], naive[rows], sums.value[rows], total[rows], off[rows], naive_off[rows],
                within[rows].astype(np.float64), reach[rows],
            )
        )  # fmt: skip
    return join_rows(parts) if parts else _nothing()


def _over(one: Floats, other: Floats) -> Floats:
    """Logarithm of one sum over another, with half a count added to both: what dies out altogether was foreseen
    wrongly, too."""
    found: Floats = np.log((one + HALF) / (other + HALF))
    return found


def _nothing() -> Foreseen:
    whole, none = np.empty(0, dtype=np.int64), np.empty(0)
    return Foreseen(whole, whole, whole, np.empty(0, dtype=object), *[none] * 8)


def first_after(then: Then, timeline: Timeline) -> int:
    """The first folded column that a day knew nothing of."""
    return int(timeline.fold[then.length - 1]) + 1


def growth_after(then: Then, curves: Floats, timeline: Timeline, weeks: int = 52) -> Floats:
    """Logarithm of the coming weeks over the same a year before, (subjects,), so that the season cancels.

    Half a count is added to both; NaN where a period of either is unknown, or lies beyond the record.
    """
    start, year = first_after(then, timeline), timeline.period.per_year
    span = timeline.period.span(weeks)
    if start + span > curves.shape[1] or start < year:
        return np.full(len(curves), np.nan)
    came = curves[:, start : start + span].sum(axis=1, dtype=np.float64)
    before = curves[:, start - year : start - year + span].sum(axis=1, dtype=np.float64)
    return _over(came, before)
