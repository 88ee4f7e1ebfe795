"""The tree of a run's categories as rows: those at the top, and what lies below the ones that are open."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Ints
from driftfield.readings.columns import RunColumns

from .found import tree_of

MOST = 2_000  # Rows that are told at once; a sieve or a closed branch shows the others.


@dataclass(frozen=True, slots=True)
class TreeRow:
    """A category as a row: its place in the run's order, how deep it lies, how many lie right below it, whether
    those are shown, and whether it passes itself or only leads to one that does."""

    place: int
    depth: int
    children: int
    open: bool
    passes: bool


@dataclass(frozen=True, slots=True)
class TreeSlice:
    """Rows in the order in which they are read; shown: how many rows there are, also beyond the first MOST."""

    rows: list[TreeRow]
    shown: int


def read_tree(
    columns: RunColumns, order: Ints, opened: Collection[str], passes: Bools | None = None
) -> TreeSlice:
    """The rows of the tree, within each level in the ``order`` of places.

    ``opened`` are ids of categories whose children are shown. With ``passes``, (categories,), only those that
    pass are shown, and what leads to them, all open.
    """
    tree = tree_of(columns)
    node, above = columns.kept("lineage", tree.lineage)
    shown = np.ones(len(tree), dtype=bool)
    if passes is not None:
        shown = np.zeros(len(tree), dtype=bool)
        shown[above[passes[node]]] = True
    rank = np.empty(len(tree), dtype=np.int64)
    rank[order] = np.arange(len(order))
    # Children of one parent side by side, in their order; those at the top belong to −1.
    sorted_ = np.lexsort((rank, tree.parent))
    start = np.searchsorted(tree.parent[sorted_], np.arange(-1, len(tree) + 1))
    many = np.bincount(tree.parent[shown] + 1, minlength=len(tree) + 1)
    wanted = {columns.places[one] for one in opened if one in columns.places}

    rows: list[TreeRow] = []
    count = 0
    stack = [(place, 0) for place in sorted_[start[0] : start[1]].tolist()][::-1]
    while stack:
        place, depth = stack.pop()
        if not shown[place]:
            continue
        below = int(many[place + 1])
        is_open = below > 0 and (place in wanted or passes is not None)
        count += 1
        if len(rows) < MOST:
            own = passes is None or bool(passes[place])
            rows.append(TreeRow(place, depth, below, is_open, own))
        if is_open:
            inside = sorted_[start[place + 1] : start[place + 2]].tolist()
            stack += [(child, depth + 1) for child in reversed(inside)]
    return TreeSlice(rows, count)
