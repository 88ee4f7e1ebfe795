"""What followed where something was raised and where not, among subjects that are alike."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from driftfield.core.base import Bools, Estimate, Floats, Ints, difference_within


def strata_of(shape: np.ndarray, size: Floats, when: Ints, parts: int = 3) -> Ints:
    """Which rows are alike, (rows,): of one shape, on one day, and of a like size, by thirds of that day's.

    ``size`` is what the thirds are made of, NaN for unknown, which is alike with nothing but itself.
    """
    third = np.full(len(size), parts, dtype=np.int64)
    for day in np.unique(when):
        rows = np.flatnonzero((when == day) & ~np.isnan(size))
        if rows.size:
            edges = np.quantile(size[rows], np.arange(1, parts) / parts)
            third[rows] = np.searchsorted(edges, size[rows], side="right")
    words, code = np.unique(shape.astype(str), return_inverse=True)
    day_code = np.unique(when, return_inverse=True)[1]
    found: Ints = (day_code * len(words) + code) * (parts + 1) + third
    return found


def followed(
    raised: Bools, outcome: Floats, alike: Ints, groups: Sequence[Ints], level: float
) -> tuple[Estimate, float]:
    """By how much more came where something was raised than where it was not, and the chance of as much.

    Rows without an outcome count in nothing; see ``difference_within``.
    """
    known = ~np.isnan(outcome)
    return difference_within(
        raised[known], outcome[known], alike[known], [codes[known] for codes in groups], level
    )
