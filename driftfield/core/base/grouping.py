"""Rows in groups, which may lie in one another: sums, means and quantiles of their values in each."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from .groups import distinct_pairs, in_groups, joined, order_of, order_within, places_in
from .periods import Bools, Floats, Ints


@dataclass(frozen=True, slots=True)
class Groups:
    """Rows, each in a group of its own, and in every group above that where groups lie in one another.

    own: (rows,) the lowest group of each row, 0 or more. many: how many groups there are. lineage: pairs of
    each group with itself and every one above it; None where no group lies in another. Values are (rows,), NaN
    for unknown, which counts in nothing; what is found is (groups,). A row of groups in one another is read
    once and its group's sum added to those above, instead of the row to each of them.
    """

    own: Ints
    many: int
    lineage: tuple[Ints, Ints] | None = None

    def of(self, rows: Bools | Ints) -> Groups:
        """Some of the rows; by their places also oftener than once."""
        return replace(self, own=self.own[rows])

    def pairs(self) -> tuple[Ints, Ints]:
        """Each row with every group that it is in, (pairs,): the group and the place of the row."""
        if self.lineage is None:
            return self.own, np.arange(len(self.own))
        node, above = self._by_node()
        row, at = joined(node, self.own)
        return above[at], row

    def within(self, wanted: Bools) -> Bools:
        """Whether each row is in any of the groups that are wanted, (groups,)."""
        if self.lineage is None:
            return wanted[self.own]
        node, above = self.lineage
        inside = np.bincount(node, weights=wanted[above], minlength=self.many) > 0
        return inside[self.own]

    def lowest(self, wanted: Bools) -> Ints:
        """The lowest group that is wanted, (groups,), of those that each row is in, (rows,); −1 for none."""
        if self.lineage is None:
            return np.where(wanted[self.own], self.own, -1)
        node, above = self.lineage
        # Of two groups one above the other the lower one has more above it.
        depth = np.bincount(node, minlength=self.many)
        inside = wanted[above]
        node, above = node[inside], above[inside]
        order = np.argsort(depth[above], kind="stable")
        best = np.full(self.many, -1, dtype=np.int64)
        best[node[order]] = above[order]
        found: Ints = best[self.own]
        return found

    def size(self) -> Ints:
        """How many rows each group has."""
        return self._added(np.bincount(self.own, minlength=self.many)).astype(np.int64)

    def count(self, values: Floats) -> Floats:
        """How many known values each group has."""
        own, _ = _known_of(self.own, values)
        return self._added(np.bincount(own, minlength=self.many).astype(np.float64))

    def sum(self, values: Floats) -> Floats:
        """Sum of the known values; NaN where a group has none."""
        own, value = _known_of(self.own, values)
        found = self._added(np.bincount(own, weights=value, minlength=self.many))
        return np.where(self._added(np.bincount(own, minlength=self.many)) > 0, found, np.nan)

    def mean(self, values: Floats, weights: Floats | None = None) -> Floats:
        """Weighted mean of the known values; NaN where their weights add up to 0."""
        weights = np.ones(len(values)) if weights is None else weights
        known = ~np.isnan(values) & ~np.isnan(weights)
        own, weight = self.own[known], weights[known]
        total = self._added(np.bincount(own, weights=weight, minlength=self.many))
        found = self._added(np.bincount(own, weights=weight * values[known], minlength=self.many))
        return np.where(total > 0, found / np.where(total > 0, total, 1), np.nan)

    def sum_rows(self, values: Floats, weights: Floats) -> Floats:
        """Sums of weighted rows of several values, (rows, columns) without unknown ones, (groups, columns)."""
        columns = [
            self._added(np.bincount(self.own, weights=weights * column, minlength=self.many))
            for column in np.asfortranarray(values).T
        ]
        return np.stack(columns, axis=1)

    def least(self, values: Floats) -> Floats:
        """Lowest known value; NaN where a group has none."""
        own, value = _known_of(self.own, values)
        out = np.full(self.many, np.inf)
        np.minimum.at(out, own, value)
        if self.lineage is not None:
            node, above = self.lineage
            direct = out.copy()
            np.minimum.at(out, above, direct[node])
        return np.where(np.isinf(out), np.nan, out)

    def most(self, values: Floats) -> Floats:
        """Highest known value; NaN where a group has none."""
        return -self.least(-values)

    def median(self, values: Floats) -> Floats:
        """Median of the known values; NaN where a group has none."""
        return self.quantiles(values, 0.5)[0]

    def quantiles(self, values: Floats, *qs: float) -> list[Floats]:
        """Quantiles (0–1) of the known values by linear interpolation; NaN where a group has none.

        The same definition as numpy's default (type 7 of Hyndman & Fan 1996).
        """
        group, row = self.upwards(values)
        count = np.bincount(group, minlength=self.many)
        some = np.flatnonzero(count)
        start = (np.cumsum(count) - count)[some]

        def at_share(q: float) -> Floats:
            out = np.full(self.many, np.nan)
            if some.size:
                at = q * (count[some] - 1)
                low = np.floor(at).astype(np.int64)
                high = np.minimum(low + 1, count[some] - 1)
                under, over = values[row[start + low]], values[row[start + high]]
                out[some] = under + (over - under) * (at - low)
            return out

        return [at_share(q) for q in qs]

    def upwards(self, values: Floats) -> tuple[Ints, Ints]:
        """Group and row of each known value, by group and, within it, upwards; equal ones in any order."""
        rows = np.flatnonzero(~np.isnan(values))
        if self.lineage is None:
            rows = rows[order_within(self.own[rows], values[rows], ties=False)]
            return self.own[rows], rows
        # One number says the group and the place of the value among all, so that one sort of whole numbers
        # puts all groups in order.
        ordered = rows[np.argsort(values[rows])]
        bits = max(len(ordered) - 1, 1).bit_length()
        node, above = self._by_node()
        place, at = joined(node, self.own[ordered])
        keys = (above[at] << bits) | place
        keys.sort()
        return keys >> bits, ordered[keys & ((1 << bits) - 1)]

    def foremost(self, values: Floats, n: int) -> tuple[Ints, Ints]:
        """Group and row of the ``n`` highest values of each group, highest first; equal ones as they came."""
        rows = np.flatnonzero(~np.isnan(values))
        rows = rows[order_of(-values[rows])]
        # What is not among the foremost of its own group is not among those of one above it.
        by = in_groups(self.own[rows])
        near = np.sort(by[places_in(self.own[rows[by]]) < n])
        rows = rows[near]
        group, row = self.of(rows).pairs()
        order = in_groups(group)
        group, row = group[order], rows[row[order]]
        first = places_in(group) < n
        return group[first], row[first]

    def distinct(self, codes: Ints) -> Floats:
        """How many different codes of 0 and more each group has; NaN where it has none."""
        own, code = distinct_pairs(self.own, codes)
        if self.lineage is not None:
            group, row = replace(self, own=own).pairs()
            own, code = distinct_pairs(group, code[row])
        count = np.bincount(own, minlength=self.many)
        return np.where(count > 0, count, np.nan).astype(np.float64)

    def _added(self, direct: Floats | Ints) -> Floats:
        """What the groups have of their own, with all that lies in them."""
        if self.lineage is None:
            return np.asarray(direct)
        node, above = self.lineage
        found: np.ndarray = np.bincount(above, weights=direct[node], minlength=self.many)
        return found

    def _by_node(self) -> tuple[Ints, Ints]:
        assert self.lineage is not None, "groups lie in one another"
        node, above = self.lineage
        order = np.argsort(node, kind="stable")
        return node[order], above[order]


def _known_of(group: Ints, values: Floats) -> tuple[Ints, Floats]:
    """Groups and values of those that are known; the same arrays where all are."""
    known = ~np.isnan(values)
    return (group, values) if known.all() else (group[known], values[known])
