"""In which category a group of terms belongs."""

from __future__ import annotations

import numpy as np

from driftfield.core.base import Ints
from driftfield.core.market.vectors import Vectors

MOSTLY = 0.5  # Share of a group's clicks in one category from which it is put there.


def leading_categories(clicks: Vectors, category: Ints, group: Ints, groups: int) -> Ints:
    """The category in which more than half of the clicks of each group lie, (groups,); −1 for none.

    ``clicks`` is (terms, listings), of which each term counts alike. ``category`` (listings,) and ``group``
    (terms,) are numbered from 0, −1 for none.
    """
    rows = np.repeat(np.arange(clicks.shape[0]), np.diff(clicks.indptr))
    whole = np.bincount(rows, weights=clicks.data, minlength=clicks.shape[0])
    use = (group[rows] >= 0) & (whole[rows] > 0)
    rows, share = rows[use], clicks.data[use] / whole[rows[use]]
    at = category[clicks.indices[use]]
    many = int(category.max(initial=-1)) + 1
    total = np.bincount(group[rows], weights=share, minlength=groups)
    if not many:
        return np.full(groups, -1, dtype=np.int64)
    known = at >= 0
    table = np.bincount(
        group[rows[known]] * many + at[known], weights=share[known], minlength=groups * many
    ).reshape(groups, many)
    best = table.argmax(axis=1)
    held = table[np.arange(groups), best]
    return np.where(held > MOSTLY * np.maximum(total, np.finfo(float).tiny), best, -1)
