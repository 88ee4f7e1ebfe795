"""One category of a run: where it stands in the tree, its figures, its curves and its listings."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings, Timeline
from driftfield.core.market import CATEGORY, FIGURES_BY_KEY, LISTING, CategoryTree, figures_of
from driftfield.core.ranking import Lens
from driftfield.readings.columns import RunColumns, columns_of
from driftfield.readings.matrices import plain_cell
from driftfield.readings.models import Run
from driftfield.readings.store import FACT, FROM, SOLD_FROM, read_rows
from driftfield.readings.stored_curves import stored_curve

# Curves of a category by their measures; the last two come from its listings.
MEASURES = {"searches": "Searches", "impressions": "Impressions", "clicks": "Clicks",
            "purchases": "Purchases", "units": "Units", "revenue": "Revenue"}  # fmt: skip
SOLD = ("units", "revenue")


def tree_of(columns: RunColumns) -> CategoryTree:
    """The tree of a run's categories, in the order of its columns."""

    def make() -> CategoryTree:
        above = [one or None for one in columns.identity("parent_id")]
        return CategoryTree.of(zip(columns.ids, columns.names, above, strict=True))

    return columns.kept("tree", make)


def below(columns: RunColumns, place: int) -> Bools:
    """Which categories are one, or lie below it, (categories,)."""
    tree = tree_of(columns)
    node, above = columns.kept("lineage", tree.lineage)
    inside = np.zeros(len(tree), dtype=bool)
    inside[node[above == place]] = True
    return inside


@dataclass(frozen=True)
class CategoryReading:
    """What a run stored of one category; ``place`` is its place in the run's order."""

    run: Run
    place: int

    @property
    def settings(self) -> Settings:
        return self.run.made_with

    @property
    def columns(self) -> RunColumns:
        return columns_of(self.run, CATEGORY)

    @property
    def tree(self) -> CategoryTree:
        return tree_of(self.columns)

    @property
    def id(self) -> str:
        return self.tree.ids[self.place]

    @property
    def name(self) -> str:
        return self.tree.names[self.place]

    @cached_property
    def figures(self) -> Mapping[str, Any]:
        """All figures by key, None for unknown."""
        return read_rows(self.run, CATEGORY, figures_of(CATEGORY), [self.place])[0]

    def figures_under(self, lens: Lens | None) -> Mapping[str, Any]:
        """All figures, those that a lens makes as it makes them; the run's own for None."""
        if lens is None:
            return self.figures
        made = {
            key: float(values[self.place]) for key, values in self.columns.made_by(lens).items()
        }
        told = {
            key: None if np.isnan(value) else plain_cell(FIGURES_BY_KEY[key], value)
            for key, value in made.items()
        }
        return {**self.figures, **told}

    @property
    def above(self) -> list[int]:
        """Places of the categories above it, from the top."""
        found: list[int] = []
        at = int(self.tree.parent[self.place])
        while at >= 0:
            found.append(at)
            at = int(self.tree.parent[at])
        return found[::-1]

    @property
    def siblings(self) -> Ints:
        """Places of the categories beside it, itself among them, most searches first."""
        rows = np.flatnonzero(self.tree.parent == self.tree.parent[self.place])
        return in_order(self.columns, rows)

    @property
    def children(self) -> Ints:
        """Places of the categories right below it, most searches first."""
        return in_order(self.columns, np.flatnonzero(self.tree.parent == self.place))

    @cached_property
    def inside(self) -> Bools:
        """Which categories are this one or lie below it, (categories,)."""
        return below(self.columns, self.place)

    def curve(self, measure: str) -> tuple[Timeline, Floats] | None:
        """A curve with its timeline, NaN for absent; None where the run has none."""
        start = SOLD_FROM if measure in SOLD else FROM
        return stored_curve(self.columns, measure, self.place, start)

    @property
    def listing_columns(self) -> RunColumns:
        return columns_of(self.run, LISTING)

    @cached_property
    def listings(self) -> Ints:
        """Places of the listings in it among those of the run, launched by the as-of."""
        category = self.listing_columns.column(f"{FACT}category")
        if category is None:
            return np.empty(0, dtype=np.int64)
        own = category.to_numpy()
        there = ~(self.all_facts("age_days") < 0)
        marks = np.zeros(len(own), dtype=bool)
        held = own >= 0
        marks[held] = self.inside[own[held]]
        return np.flatnonzero(marks & there)

    def all_facts(self, name: str) -> np.ndarray:
        """A fact of all listings of the run, NaN (−1 for codes) for unknown."""
        column = self.listing_columns.column(f"{FACT}{name}")
        if column is None:
            return np.full(self.listing_columns.count, np.nan)
        return column.to_numpy()

    def fact(self, name: str) -> np.ndarray:
        """A fact of its listings, in the order of ``listings``."""
        return self.all_facts(name)[self.listings]


def in_order(columns: RunColumns, places: Ints) -> Ints:
    """Some categories, most searches first, then by name."""
    searches = np.nan_to_num(columns.figure("searches_52w")[places], nan=-1)
    names = np.array([columns.names[place].casefold() for place in places.tolist()], dtype=object)
    order = sorted(range(len(places)), key=lambda i: (-searches[i], names[i]))
    return np.asarray(places[order], dtype=np.int64)


def category_reading(run: Run, category_id: str) -> CategoryReading | None:
    """The reading of a category; None where the run knows nothing of it."""
    place = columns_of(run, CATEGORY).places.get(category_id)
    return None if place is None else CategoryReading(run, place)
