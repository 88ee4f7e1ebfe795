"""Listings in groups, whoever they are grouped by: what the readers of the supply side are written for."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from driftfield.core.base import Bools, Floats, Groups, Ints


class Grouped(Protocol):
    """Listings in groups, a row each: those clicked after a niche's terms (``Members``), or those that a
    category holds (``Held``)."""

    @property
    def groups(self) -> Groups:
        """The groups of the rows."""

    @property
    def listing(self) -> Ints:
        """The listing of each row, (rows,)."""

    @property
    def now(self) -> Bools:
        """Rows that were clicked in the latest window."""

    @property
    def weight(self) -> Floats:
        """Clicks of each group, (groups, windows)."""

    def clicked(self, window: int) -> Floats:
        """Clicks of each row in a window, in proportion to the others of its group; NaN where it has none."""

    def share_of(self, clicked: Floats, window: int) -> Floats:
        """Shares of a group's clicks, (groups, …), from what ``clicked`` says of rows of each."""

    def divided(self, values: Floats) -> Floats:
        """Of values of the rows' listings, (rows,), the part that belongs to the group."""

    def foremost(self, n: int) -> tuple[Ints, Ints]:
        """The ``n`` most clicked now of each group, most first: group and row of each."""


@dataclass(frozen=True, slots=True)
class Held:
    """Listings of their group and of those above it, (rows,).

    clicks: (rows, windows) what each got after any term, in windows of which clicks are known. weight: (groups,
    windows) their sums. portion: (rows,) the part of what a listing sells that is the group's; None for all.
    """

    groups: Groups
    listing: Ints
    clicks: Floats
    weight: Floats
    portion: Floats | None = None

    @classmethod
    def by(
        cls, group: Ints, many: int, lineage: tuple[Ints, Ints] | None, clicks: Floats, known: Bools
    ) -> Held:
        """Hold listings in the ``many`` groups that ``group``, (listings,), says, −1 for in none.

        ``clicks`` is (listings, windows), what each got after any term; ``known`` (windows,) whether clicks of
        a window are known at all. Where none are, in the latest window every listing counts alike.
        """
        listing = np.flatnonzero(group >= 0)
        groups = Groups(group[listing], many, lineage)
        got = np.full(
            (len(listing), clicks.shape[1]), np.nan, order="F"
        )  # Read a window at a time.
        weight = np.zeros((many, clicks.shape[1]))
        for column in range(clicks.shape[1]):
            if known[column]:
                got[:, column] = clicks[listing, column]
            elif column == 0:
                got[:, 0] = 1.0
            weight[:, column] = np.nan_to_num(groups.sum(got[:, column]))
        return cls(groups, listing, got, weight)

    @property
    def now(self) -> Bools:
        return self.clicks[:, 0] > 0

    def clicked(self, window: int) -> Floats:
        found: Floats = self.clicks[:, window]
        return found

    def share_of(self, clicked: Floats, window: int) -> Floats:
        whole = self.weight[:, window].reshape(-1, *[1] * (clicked.ndim - 1))
        return np.where(whole > 0, clicked / np.where(whole > 0, whole, 1), np.nan)

    def divided(self, values: Floats) -> Floats:
        return values if self.portion is None else values * self.portion

    def foremost(self, n: int) -> tuple[Ints, Ints]:
        return self.groups.foremost(np.where(self.now, self.clicks[:, 0], np.nan), n)
