"""Demand that is gone: curves whose last year is all but empty, whatever they were before."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import pdtr

from driftfield.core.base import Bools, Floats, Ints, Period, Settings

# How unlikely so few counts must be at the level before. A record has some ten windows to be best among.
ALPHA = 1e-4
ALIVE = 0.1  # Part of the level before that four weeks must reach to count as demand.


@dataclass(frozen=True, slots=True)
class Gone:
    """What became of demand, (subjects,) each.

    empty: the last year is all but empty. gone: and that is no chance. since: the column from which on there
    is none any more, where it is gone; -1 else.
    """

    empty: Bools
    gone: Bools
    since: Ints


def read_gone(values: Floats, period: Period, settings: Settings, *, counts: bool) -> Gone:
    """Find curves (subjects, length), none absent, that brought next to nothing for a year.

    Demand is gone where the mean of the last 52 weeks is at most ``gone_level`` of the mean of the
    best 52 weeks before them, or of all weeks before where there are fewer, at least four; and, of
    counts, where the level before would show so few with a chance of one in ten thousand at most. It is
    gone since the end of the last four weeks (month) that held a tenth of that level.
    """
    n, length = values.shape
    year, block = period.per_year, period.block
    before = length - year
    if before < block:
        nothing = np.zeros(n, dtype=bool)
        return Gone(nothing, nothing, np.full(n, -1, dtype=np.int64))
    window = min(year, before)
    sums = np.zeros((n, length + 1))
    np.cumsum(values, axis=1, out=sums[:, 1:])
    level = (sums[:, window : before + 1] - sums[:, : before + 1 - window]).max(axis=1) / window
    left = sums[:, -1] - sums[:, before]
    empty = (level > 0) & (left <= settings.gone_level * level * year)
    gone = empty
    if counts:
        gone = empty & (
            pdtr(np.floor(np.maximum(left, 0)), np.maximum(level * year, 1e-9)) <= ALPHA
        )
    since = np.full(n, -1, dtype=np.int64)
    rows = np.flatnonzero(gone)
    alive = sums[rows, block:] - sums[rows, :-block] >= ALIVE * block * level[rows, None]
    # Runs of four weeks are named by their first; the one that ends last counts.
    since[rows] = alive.shape[1] - 1 - alive[:, ::-1].argmax(axis=1) + block
    return Gone(empty, gone, np.minimum(since, np.where(gone, length - 1, -1)))
