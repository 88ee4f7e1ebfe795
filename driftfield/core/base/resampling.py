"""Figures of one run of periods on another."""

from __future__ import annotations

import numpy as np

from .periods import Floats, Timeline


def resampled(values: Floats, source: Timeline, target: Timeline) -> Floats:
    """Sum figures of one run of periods over those of another, each day of a period alike.

    Parameters
    ----------
    values : array (rows, source.length)
        Sums by period, NaN for absent.
    source, target : Timeline
        The periods they are of, and those that are wanted.

    Returns
    -------
    array (rows, target.length)
        NaN where a day of the wanted period is not known.
    """
    found = np.full((len(values), target.length), np.nan)
    if not len(values):
        return found
    if source.period is target.period:
        shift = target.first_number - source.first_number
        low, high = max(shift, 0), min(shift + target.length, source.length)
        if low < high:
            found[:, low - shift : high - shift] = values[:, low:high]
        return found
    edges = [
        np.array([line.start(i).toordinal() for i in range(line.length + 1)], dtype=np.float64)
        for line in (source, target)
    ]
    known = ~np.isnan(values)
    inside = (edges[1][:-1] >= edges[0][0]) & (edges[1][1:] <= edges[0][-1])
    for row in range(len(values)):
        sums, days = (
            np.diff(np.interp(edges[1], edges[0], np.append(0.0, np.cumsum(one))))
            for one in (np.where(known[row], values[row], 0), known[row] * np.diff(edges[0]))
        )
        whole = inside & (days >= np.diff(edges[1]) - 1e-6)
        found[row, whole] = sums[whole]
    return found
