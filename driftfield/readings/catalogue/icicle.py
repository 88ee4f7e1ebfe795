"""The tree of a run's categories as an icicle: each as large as its share of what lies above it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.readings.columns import RunColumns

from .found import tree_of

# Figures of a category that are the sum of what lies in it.
ADDITIVE = (
    "searches_52w", "impressions_52w", "clicks_52w", "purchases_52w", "sales.units_52w",
    "sales.revenue_52w",
)  # fmt: skip
LEAST = 1 / 500  # Share of the whole under which a category is not drawn.
MOST = 800  # Categories that are drawn.


@dataclass(frozen=True, slots=True)
class Piece:
    """A category in the icicle.

    place: in the run's order. depth: below what the icicle begins with. start, size: shares of the whole,
    0–1. value: of the figure.
    """

    place: int
    depth: int
    start: float
    size: float
    value: float


@dataclass(frozen=True, slots=True)
class Icicle:
    """whole: what the pieces are shares of. small: categories too small to be drawn, with all below them not
    counted; unknown: those whose figure is not known."""

    pieces: list[Piece]
    whole: float
    small: int
    unknown: int


def read_icicle(columns: RunColumns, figure: str, under: int | None = None) -> Icicle:
    """Lay out the categories under one, or all, the largest first; what a category holds itself stays free.

    Parameters
    ----------
    columns : RunColumns
        Those of the run's categories.
    figure : str
        One of ADDITIVE.
    under : int, optional
        Place of the category that the icicle begins with.
    """
    tree, values = tree_of(columns), columns.figure(figure)
    order = np.lexsort((-np.nan_to_num(values), tree.parent))
    begins = np.searchsorted(tree.parent[order], np.arange(-1, len(tree) + 1))

    def below(place: int) -> list[int]:
        return list(order[begins[place + 1] : begins[place + 2]].tolist())

    first = below(-1) if under is None else [under]
    whole = float(np.nansum(values[first]))
    pieces: list[Piece] = []
    small = unknown = 0
    rows = [(first, 0, 0.0)]
    # Level by level, so that what is left out is the smallest and deepest.
    for places, depth, start in rows:
        at = start
        for place in places:
            if np.isnan(values[place]):
                unknown += 1
                continue
            size = float(values[place]) / whole if whole > 0 else 0.0
            if size < LEAST or len(pieces) >= MOST:
                small += 1
                continue
            pieces.append(Piece(place, depth, at, size, float(values[place])))
            if inside := below(place):
                rows.append((inside, depth + 1, at))
            at += size
    return Icicle(pieces, whole, small, unknown)
