"""The Field: a run's niches under a sieve, with the researcher's own decisions among its columns."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from driftfield.core.base import Bools, Ints
from driftfield.core.curves import Time
from driftfield.core.market import Kind
from driftfield.core.ranking import Lens
from driftfield.core.sieve import Condition, Sifted, sift
from driftfield.readings.columns import RunColumns, columns_of
from driftfield.readings.models import Run
from driftfield.readings.of_listings import attribute, in_time, led_by, whose

from .models import Choice, Decision


class Field:
    """The columns of a run as ``core.sieve.Columns``, decisions as they stand now.

    Under a ``lens`` rank, headroom and what they are made of are the lens's.
    """

    def __init__(self, run: Run, kind: Kind, lens: Lens | None = None) -> None:
        self.lens = lens
        self.columns: RunColumns = columns_of(run, kind)
        self.market_id = run.market.market_id

    @property
    def count(self) -> int:
        return self.columns.count

    def figure(self, key: str) -> np.ndarray:
        return self.columns.figure(key) if self.lens is None else self.columns.under(self.lens, key)

    def raised(self, signal: str) -> Bools:
        return self.columns.raised(signal)

    def top(self, figure: str) -> np.ndarray | None:
        return self.columns.top(figure)

    def terms(self, how: str, words: str) -> Bools:
        return self.columns.terms(how, words)

    def term_words(self, low: int, high: int) -> Bools:
        return self.columns.term_words(low, high)

    def category(self, wanted: str) -> Bools:
        return self.columns.category(wanted)

    def whose(self, role: str, wanted: str | None) -> Bools:
        return whose(self.columns, role, wanted)

    def attribute(self, name: str, wanted: str | None) -> Bools:
        return attribute(self.columns, name, wanted)

    def led_by(self, seller: str) -> np.ndarray:
        return led_by(self.columns, seller)

    def in_time(self, measure: str, time: Time) -> np.ndarray:
        return in_time(self.columns, measure, time)

    @cached_property
    def decisions(self) -> dict[str, str]:
        """Decisions that hold, by niche."""
        found = Decision.objects.filter(
            market_id=self.market_id, kind=self.columns.kind.key, current=True
        )
        return dict(found.exclude(choice=Choice.OPEN).values_list("subject", "choice"))

    def decided(self, choices: tuple[str, ...]) -> Bools:
        marks = np.full(self.count, Choice.OPEN in choices)
        places = self.columns.places
        for niche, choice in self.decisions.items():
            if (at := places.get(niche)) is not None:
                marks[at] = choice in choices
        return marks

    def named(self, niche_ids: list[str]) -> Bools:
        """Niches by their ids; ids of no niche of the market are passed over."""
        marks = np.zeros(self.count, dtype=bool)
        places = self.columns.places
        marks[[at for one in niche_ids if (at := places.get(one)) is not None]] = True
        return marks

    def order(self, keys: list[tuple[str, bool]], among: Bools) -> Ints:
        """Places of some niches in order; see ``RunColumns.order``."""
        return self.columns.order(keys, among, self.lens)

    def first(self, keys: list[tuple[str, bool]], among: Bools, most: int) -> Ints:
        """The first places of ``order``; see ``RunColumns.first``."""
        return self.columns.first(keys, among, most, self.lens)

    def sift(self, conditions: list[Condition], within: Bools | None = None) -> Sifted:
        """Which niches pass, of all or of some, and what each condition alone removes."""
        return sift(conditions, self, within)
