"""What groups of terms are called, and by which id they are known."""

from __future__ import annotations

from collections.abc import Collection, Sequence

import numpy as np

from driftfield.core.base import Floats, Ints
from driftfield.core.market.words import fold


def leading_terms(group: Ints, searches: Floats, branded: Floats | None) -> Ints:
    """The place of each group's most searched term without a brand's name, (groups,).

    ``searches`` and ``branded`` are (terms,), NaN for unknown; where every term names a brand, it is the
    most searched of all. Of equals it is the first.
    """
    named = np.zeros(len(group)) if branded is None else np.nan_to_num(branded)
    order = np.lexsort((-np.nan_to_num(searches), named, group))
    first = np.searchsorted(group[order], np.arange(int(group.max(initial=-1)) + 1))
    return order[first]


def niche_name(term: str) -> str:
    """A term as the name of a niche: “Rhubarb forcers”."""
    return term[:1].upper() + term[1:]


def new_ids(names: Sequence[str], taken: Collection[str], prefix: str = "") -> list[str]:
    """An id for each name, none of them ``taken`` or given twice.

    >>> new_ids(["Bee suits", "Bée suits", "蜂"], {"bee-suits"})
    ['bee-suits-2', 'bee-suits-3', '蜂']
    """
    used = set(taken)
    found = []
    for name in names:
        words = "".join(c if c.isalnum() else " " for c in fold(name)).split()
        plain = prefix + ("-".join(words) or "niche")
        made, number = plain, 2
        while made in used:
            made, number = f"{plain}-{number}", number + 1
        used.add(made)
        found.append(made)
    return found
