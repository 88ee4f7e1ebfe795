"""A market's categories: a tree, or several beside one another."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Ints


def circles(parent: Sequence[int]) -> list[list[int]]:
    """The circles in which places lie that each name one above them, −1 for none."""
    found, walked = [], [0] * len(parent)
    for start in range(len(parent)):
        at, path = start, []
        while at >= 0 and not walked[at]:
            walked[at] = start + 1
            path.append(at)
            at = parent[at]
        # Back on the way that was walked just now, and not on an older one.
        if at >= 0 and walked[at] == start + 1 and path:
            found.append(path[path.index(at) :])
    return found


@dataclass(frozen=True, slots=True)
class CategoryTree:
    """Categories in the order of their table: ids, names and (categories,) the place of each one's parent.

    parent: −1 for one at the top.
    """

    ids: list[str]
    names: list[str]
    parent: Ints

    def __len__(self) -> int:
        return len(self.ids)

    @classmethod
    def of(cls, rows: Iterable[tuple[str, str, str | None]]) -> CategoryTree:
        """The tree of rows of id, name and parent's id.

        A parent that is no row stands for none; where categories lie in a circle, the last of them in the
        table is at the top. The reader of the tables refuses circles.
        """
        listed = list(rows)
        place = {key: i for i, (key, _, _) in enumerate(listed)}
        parent = [place.get(above, -1) if above is not None else -1 for _, _, above in listed]
        for circle in circles(parent):
            parent[max(circle)] = -1
        return cls(
            [key for key, _, _ in listed],
            [name for _, name, _ in listed],
            np.array(parent, dtype=np.int64),
        )

    def lineage(self) -> tuple[Ints, Ints]:
        """Pairs, (pairs,), of each category with itself and with every one above it."""
        every = np.arange(len(self), dtype=np.int64)
        node, above = [every], [every]
        own, up = every, self.parent
        while (inside := up >= 0).any():
            own, up = own[inside], up[inside]
            node.append(own)
            above.append(up)
            up = self.parent[up]
        return np.concatenate(node), np.concatenate(above)

    @property
    def depth(self) -> Ints:
        """How many categories lie above each, (categories,)."""
        node, _ = self.lineage()
        return np.bincount(node, minlength=len(self)) - 1

    @property
    def top(self) -> Ints:
        """The category at the top of each one's tree, (categories,)."""
        node, above = self.lineage()
        out = np.arange(len(self), dtype=np.int64)
        ends = self.parent[above] < 0
        out[node[ends]] = above[ends]
        return out

    def trees_with(self, marked: Bools) -> Bools:
        """Whether a category lies in a tree in which any is marked, (categories,)."""
        top = self.top
        used = np.zeros(len(self), dtype=bool)
        used[top[marked]] = True
        return used[top]

    def parent_ids(self) -> list[str | None]:
        """The id of each one's parent, None at the top."""
        return [None if up < 0 else self.ids[up] for up in self.parent.tolist()]

    def part(self, kept: Bools) -> tuple[CategoryTree, Ints]:
        """Some categories, whole trees of them, and (categories,) the places in it, −1 for the others."""
        rows = np.flatnonzero(kept)
        # One more at the end, so that the −1 of the top stays −1.
        place = np.full(len(self) + 1, -1, dtype=np.int64)
        place[rows] = np.arange(len(rows))
        tree = CategoryTree(
            [self.ids[i] for i in rows.tolist()],
            [self.names[i] for i in rows.tolist()],
            place[self.parent[rows]],
        )
        return tree, place[:-1]
