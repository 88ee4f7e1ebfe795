"""The facts of a whole package that one of its parts is read with."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

import numpy as np

from driftfield.core.base import Timeline
from driftfield.core.market import CategoryTree

from .matrices import Curves


@dataclass(frozen=True, slots=True)
class Span:
    """From when to when curves of a kind go in the whole package, and which measures are known there at all.

    end: the last day of the last complete period.
    """

    timeline: Timeline
    measures: frozenset[str]
    end: date

    def widen(self, curves: Curves | None) -> Curves:
        """Curves of a part on the timeline of the whole; measures that are known elsewhere are NaN."""
        timeline = self.timeline
        if curves is None:
            empty = {name: np.empty((0, timeline.length)) for name in self.measures}
            return Curves([], timeline, empty)
        start = curves.timeline.first_number - timeline.first_number
        shape = (len(curves.subjects), timeline.length)
        measures = {}
        for name in sorted(self.measures):
            own = curves.measures.get(name)
            if own is not None and own.shape == shape:
                measures[name] = own
                continue
            measures[name] = np.full(shape, np.nan)
            if own is not None:
                measures[name][:, start : start + own.shape[1]] = own
        return Curves(curves.subjects, timeline, measures)


@dataclass(frozen=True, slots=True)
class Whole:
    """The facts of a whole package.

    counts, relative: of term_weeks and of interest; None where there are none. history: from when to when
    listing_weeks goes. clicks: number of the latest period with clicks by market, up to the end of the counts.
    tree: all categories. notes: what is left out.
    """

    counts: Span | None
    relative: Span | None
    history: Timeline | None
    clicks: Mapping[str, int]
    tree: CategoryTree | None
    notes: list[str] = field(default_factory=list)
