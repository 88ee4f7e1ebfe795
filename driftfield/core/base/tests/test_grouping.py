"""Groups that lie in one another, against numpy over the rows of each one's whole branch."""

import warnings
from collections.abc import Callable
from unittest import TestCase

import numpy as np

from driftfield.core.base import Floats, Groups, Ints


def tree(rng: np.random.Generator, many: int) -> tuple[Ints, list[list[int]]]:
    """The group above each, −1 for none, and of each group itself with all above it."""
    parent = np.array([rng.integers(-1, i) if i else -1 for i in range(many)])
    above: list[list[int]] = []
    for i in range(many):
        above.append([i, *(above[parent[i]] if parent[i] >= 0 else [])])
    return parent, above


class Nested(TestCase):
    def setUp(self) -> None:
        rng = np.random.default_rng(4)
        self.cases = []
        for many, rows in ((1, 5), (30, 400), (30, 12), (8, 0)):
            _, above = tree(rng, many)
            own = rng.integers(0, many, rows)
            values = rng.integers(0, 40, rows) / 4  # Several are equal.
            values[rng.random(rows) < 0.2] = np.nan
            lineage = tuple(
                np.array(side, dtype=np.int64)
                for side in zip(*((i, j) for i in range(many) for j in above[i]), strict=True)
            )
            inside = [
                np.array([g in above[i] for i in own.tolist()], dtype=bool) for g in range(many)
            ]
            self.cases += [
                (Groups(own, many, lineage), values, inside),
                (Groups(own, many), values, [own == g for g in range(many)]),
            ]

    def compare(
        self, found: Callable[[Groups, Floats], Floats], plain: Callable[[Floats], float]
    ) -> None:
        for groups, values, inside in self.cases:
            mine = [values[rows & ~np.isnan(values)] for rows in inside]
            expected = [plain(one) if len(one) else np.nan for one in mine]
            with warnings.catch_warnings():
                warnings.simplefilter("error")
                np.testing.assert_allclose(found(groups, values), expected)

    def test_sums_means_and_ends(self) -> None:
        self.compare(Groups.sum, np.sum)
        self.compare(Groups.mean, np.mean)
        self.compare(Groups.least, np.min)
        self.compare(Groups.most, np.max)

    def test_quantiles_are_numpys(self) -> None:
        self.compare(Groups.median, np.median)
        self.compare(
            lambda groups, values: groups.quantiles(values, 0.1, 0.9)[1],
            lambda one: np.quantile(one, 0.9),
        )

    def test_means_by_weight(self) -> None:
        for groups, values, inside in self.cases:
            weights = np.arange(len(values)) % 5.0
            found = groups.mean(values, weights)
            for group, rows in enumerate(inside):
                rows = rows & ~np.isnan(values)
                if weights[rows].sum() > 0:
                    self.assertAlmostEqual(
                        found[group], np.average(values[rows], weights=weights[rows])
                    )
                else:
                    self.assertTrue(np.isnan(found[group]))

    def test_sums_of_weighted_rows(self) -> None:
        for groups, values, inside in self.cases:
            rows = np.nan_to_num(values)[:, None] + np.arange(3)
            weights = np.arange(len(values)) % 4.0
            found = groups.sum_rows(rows, weights)
            expected = [(rows[mine] * weights[mine, None]).sum(axis=0) for mine in inside]
            np.testing.assert_allclose(found, expected)

    def test_counts_of_rows_and_of_different_codes(self) -> None:
        for groups, values, inside in self.cases:
            codes = np.where(np.isnan(values), -1, np.nan_to_num(values)).astype(np.int64)
            self.assertEqual(groups.size().tolist(), [rows.sum() for rows in inside])
            known = [(rows & ~np.isnan(values)).sum() for rows in inside]
            self.assertEqual(groups.count(values).tolist(), known)
            different = [len(set(codes[rows & (codes >= 0)].tolist())) or np.nan for rows in inside]
            np.testing.assert_array_equal(groups.distinct(codes), different)

    def test_the_order_and_the_foremost(self) -> None:
        for groups, values, inside in self.cases:
            group, row = groups.upwards(values)
            first, best = groups.foremost(values, 3)
            for g, rows in enumerate(inside):
                mine = np.flatnonzero(rows & ~np.isnan(values))
                ordered = row[group == g]
                self.assertEqual(sorted(ordered.tolist()), mine.tolist())
                self.assertTrue((np.diff(values[ordered]) >= 0).all())
                # Of equal ones those that came first.
                wanted = mine[np.argsort(-values[mine], kind="stable")][:3]
                self.assertEqual(best[first == g].tolist(), wanted.tolist())

    def test_pairs_parts_and_who_is_within(self) -> None:
        for groups, values, inside in self.cases:
            group, row = groups.pairs()
            self.assertEqual(
                sorted(zip(group.tolist(), row.tolist(), strict=True)),
                sorted(
                    (g, r) for g, rows in enumerate(inside) for r in np.flatnonzero(rows).tolist()
                ),
            )
            part = np.flatnonzero(values > 2).repeat(2)
            self.assertEqual(
                groups.of(part).size().tolist(),
                [2 * (rows & (values > 2)).sum() for rows in inside],
            )
            wanted = np.arange(groups.many) % 3 == 1
            expected = np.any(
                [rows for g, rows in enumerate(inside) if wanted[g]] or [values < 0], axis=0
            )
            self.assertEqual(groups.within(wanted).tolist(), expected.tolist())
