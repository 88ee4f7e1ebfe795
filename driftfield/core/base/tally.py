"""How often values occur: what ranks and percentiles of a market read in parts are told from.

A market in parts has no place where all values lie side by side. Counts by value can be added up instead, in
any order and exactly, and places among them are those among the values themselves.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from .periods import Floats, Ints

SAME = 6  # Significant digits beyond which values are the same.


def to_digits(values: Floats, digits: int = SAME) -> Floats:
    """Round to significant digits.

    Beyond those a sum differs by the order in which it was added up. There are 9·10^(digits − 1) such values to
    a power of ten, however many subjects have one.

    Parameters
    ----------
    values : array
        Values in any unit, NaN where unknown.
    digits : int
        Significant digits that are kept.

    Returns
    -------
    array
        The values rounded; NaN where they are.
    """
    size = np.abs(values)
    with np.errstate(invalid="ignore"):
        whole = np.floor(np.log10(np.where(size > 0, size, 1)))
        # Within what a power of ten can be: figures are far from its ends.
        scale = 10.0 ** np.clip(digits - 1 - whole, -300, 300)
        rounded: Floats = np.round(values * scale) / scale
    return rounded


@dataclass(frozen=True, slots=True)
class Tally:
    """Known values in ascending order, (different ones,), and how often each occurs."""

    values: Floats
    counts: Ints

    @classmethod
    def of(cls, values: Floats) -> Tally:
        """The tally of some values; those that are NaN are left out."""
        found, counts = np.unique(values[~np.isnan(values)], return_counts=True)
        return cls(found, counts.astype(np.int64))

    @classmethod
    def nothing(cls) -> Tally:
        """The tally of no values."""
        return cls(np.empty(0), np.empty(0, dtype=np.int64))

    @classmethod
    def together(cls, tallies: Iterable[Tally]) -> Tally:
        """One tally of all that several hold."""
        parts = [one for one in tallies if len(one.values)]
        if len(parts) < 2:
            return parts[0] if parts else cls.nothing()
        values = np.concatenate([one.values for one in parts])
        counts = np.concatenate([one.counts for one in parts])
        found, place = np.unique(values, return_inverse=True)
        added = np.zeros(len(found), dtype=np.int64)
        np.add.at(added, place, counts)
        return cls(found, added)

    @property
    def total(self) -> int:
        """How many values there are, with repeats."""
        return int(self.counts.sum())

    def percentile(self, values: Floats) -> Floats:
        """Mid-rank percentile, (rank − ½) ÷ total with ties at their mean rank, 0–1 open at both ends.

        ``values`` are among those tallied; NaN gives NaN.
        """
        middle = (np.cumsum(self.counts) - self.counts / 2) / max(self.total, 1)
        return self._told(values, np.asarray(middle, dtype=np.float64))

    def rank(self, values: Floats) -> Ints:
        """1 + how many are higher; 0 for NaN. ``values`` are among those tallied."""
        above = self.total - np.cumsum(self.counts)
        return np.nan_to_num(self._told(values, (above + 1).astype(np.float64))).astype(np.int64)

    def median(self) -> float:
        """The middle value, the mean of the two in the middle of an even number; NaN of none."""
        if not len(self.values):
            return float("nan")
        upto = np.cumsum(self.counts)
        at = np.searchsorted(upto, np.array([(self.total + 1) // 2, self.total // 2 + 1]))
        return float(self.values[at].mean())

    def _told(self, values: Floats, of_each: Floats) -> Floats:
        known = ~np.isnan(values)
        out = np.full(values.shape, np.nan)
        out[known] = of_each[np.searchsorted(self.values, values[known])]
        return out
