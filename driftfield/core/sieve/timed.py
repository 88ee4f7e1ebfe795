"""What a listing did in months or up to a feast, as a condition."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, format_number, plain_number
from driftfield.core.curves import Time

from .asked import DONE, Asked, Columns


@dataclass(frozen=True, slots=True)
class InTime(Asked):
    """What the listing sold in a time, or its best rank in it, lies between two bounds, either of which may be
    open; of no other kind is it asked. does: a word of DONE. Unknown does not pass."""

    does: str
    low: float | None
    high: float | None
    time: Time

    @property
    def text(self) -> str:
        low, high = ("" if one is None else plain_number(one) for one in (self.low, self.high))
        return f"{self.does} {low}..{high} in {self.time.text}"

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
        what = "units" if self.does == "sold" else "best sales rank"
        return f"{what} {self.time.within} {bounds}"

    def known(self, columns: Columns) -> Bools:
        known: Bools = ~np.isnan(columns.in_time(DONE[self.does], self.time))
        return known

    def passes(self, columns: Columns) -> Bools:
        values = columns.in_time(DONE[self.does], self.time)
        low = -np.inf if self.low is None else self.low
        high = np.inf if self.high is None else self.high
        with np.errstate(invalid="ignore"):
            inside: Bools = (values >= low) & (values <= high)
        return inside
