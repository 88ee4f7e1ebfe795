"""One look at a kind: the figures that the watch compares, as they stood after one analysis."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from driftfield.core.base import Floats, Ints

from ..kinds import Kind


@dataclass(frozen=True, slots=True)
class Side:
    """Figures of subjects of one kind of a market at one analysis.

    market: its id. ids, names: (subjects,). as_of, planning: ordinals of days. columns: by key of a figure,
    (subjects,): numbers and days (as ordinals), NaN for unknown; words as objects, None for unknown. What an
    analysis did not keep is unknown.
    """

    kind: Kind
    market: str
    ids: Sequence[str]
    names: Sequence[str]
    as_of: int
    planning: int
    columns: Mapping[str, np.ndarray]

    def number(self, key: str) -> Floats:
        """A figure as numbers."""
        found = self.columns.get(key)
        return np.full(len(self.ids), np.nan) if found is None else found.astype(np.float64)

    def word(self, key: str) -> np.ndarray:
        """A figure as words."""
        found = self.columns.get(key)
        return np.full(len(self.ids), None, dtype=object) if found is None else found

    def chance(self, key: str) -> Floats:
        """What is kept as a power of ten beyond chance, as the chance."""
        return np.power(10.0, -self.number(key))

    def take(self, rows: Ints) -> Side:
        """Some of the subjects, in the order of ``rows``."""
        at = rows.tolist()
        return replace(
            self,
            ids=[self.ids[i] for i in at],
            names=[self.names[i] for i in at],
            columns={key: column[rows] for key, column in self.columns.items()},
        )


def in_common(before: Side, after: Side) -> tuple[Ints, Ints]:
    """Places of the subjects that both sides have, in the order of the later one."""
    at = {id_: place for place, id_ in enumerate(before.ids)}
    places = np.array([at.get(id_, -1) for id_ in after.ids], dtype=np.int64)
    late = np.flatnonzero(places >= 0)
    return places[late], late
