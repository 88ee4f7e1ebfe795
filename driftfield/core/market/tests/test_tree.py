"""Trees of categories: who lies above whom, circles, and parts of them."""

from unittest import TestCase

import numpy as np

from driftfield.core.market import CategoryTree
from driftfield.core.market.tree import circles

ROWS = [
    ("bees", "Bees", None), ("hive", "Hive ware", "bees"), ("floor", "Floors", "hive"), ("sky", "Sky", None),
    ("lost", "Lost", "no such"),
]  # fmt: skip


class Trees(TestCase):
    tree = CategoryTree.of(ROWS)

    def test_each_lies_in_itself_and_in_all_above(self) -> None:
        pairs = {
            (self.tree.ids[own], self.tree.ids[above])
            for own, above in zip(*self.tree.lineage(), strict=True)
        }
        own = {(key, key) for key, _, _ in ROWS}
        self.assertEqual(pairs - own, {("hive", "bees"), ("floor", "hive"), ("floor", "bees")})
        self.assertEqual(self.tree.depth.tolist(), [0, 1, 2, 0, 0])
        self.assertEqual(self.tree.top.tolist(), [0, 0, 0, 3, 4])

    def test_a_parent_that_is_not_there_is_none(self) -> None:
        self.assertEqual(self.tree.parent_ids(), [None, "bees", "hive", None, None])

    def test_a_circle_is_cut(self) -> None:
        rows = [
            ("bees", "Bees", "floor"),
            ("hive", "Hive ware", "bees"),
            ("floor", "Floors", "hive"),
        ]
        tree = CategoryTree.of([*rows, ("sky", "Sky", "sky"), ("moon", "Moon", "sky")])
        self.assertEqual(tree.parent_ids(), ["floor", "bees", None, None, "sky"])
        self.assertEqual(circles([1, 2, 0, -1, 0]), [[0, 1, 2]])

    def test_part_keeps_whole_trees(self) -> None:
        marked = np.zeros(5, dtype=bool)
        marked[2] = True
        kept = self.tree.trees_with(marked)
        self.assertEqual(kept.tolist(), [True, True, True, False, False])
        part, place = self.tree.part(~kept)
        self.assertEqual((part.ids, part.parent.tolist()), (["sky", "lost"], [-1, -1]))
        self.assertEqual(place.tolist(), [-1, -1, -1, 0, 1])

    def test_no_categories_are_no_fault(self) -> None:
        empty = CategoryTree.of([])
        self.assertEqual([len(each) for each in empty.lineage()], [0, 0])
