"""What a listing did in one month, as a condition."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, format_number, plain_number

from .asked import DONE, MONTHS, Asked, Columns


@dataclass(frozen=True, slots=True)
class InMonth(Asked):
    """What the listing sold in a month, or its best rank in it, lies between two bounds, either of which may be
    open; of no other kind is it asked. does: a word of DONE. Unknown does not pass."""

    does: str
    low: float | None
    high: float | None
    year: int
    month: int

    @property
    def text(self) -> str:
        low, high = ("" if one is None else plain_number(one) for one in (self.low, self.high))
        return f"{self.does} {low}..{high} in {self.year}-{self.month:02}"

    def sentence(self, currency: str = "") -> str:
        if self.low is None or self.high is None:
            sign, bound = ("≥", self.low) if self.high is None else ("≤", self.high)
            return self._said(f"{sign} {format_number(bound or 0)}")
        return self._said(f"{format_number(self.low)}–{format_number(self.high)}")

    def denied(self, currency: str = "") -> str:
        if self.low is None or self.high is None:
            sign, bound = ("<", self.low) if self.high is None else (">", self.high)
            return self._said(f"{sign} {format_number(bound or 0)}")
        return self._said(f"outside {format_number(self.low)}–{format_number(self.high)}")

    def _said(self, bounds: str) -> str:
        when = f"in {MONTHS[self.month - 1]} {self.year}"
        if self.does == "sold":
            return f"units {when} {bounds}"
        return f"best sales rank {when} {bounds}"

    def known(self, columns: Columns) -> Bools:
        known: Bools = ~np.isnan(columns.in_month(DONE[self.does], self.year, self.month))
        return known

    def passes(self, columns: Columns) -> Bools:
        values = columns.in_month(DONE[self.does], self.year, self.month)
        low = -np.inf if self.low is None else self.low
        high = np.inf if self.high is None else self.high
        with np.errstate(invalid="ignore"):
            inside: Bools = (values >= low) & (values <= high)
        return inside
