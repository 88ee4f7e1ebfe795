"""Conditions on listings alone: whose they are, what they did in a time, an attribute, who led their offers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, format_number, plain_number
from driftfield.core.curves import Time

from .asked import DONE, ROLES, Asked, Columns, quoted


@dataclass(frozen=True, slots=True)
class Whose(Asked):
    """The listing is of a brand, or names a seller, by id or name; of no other kind is it asked."""

    role: str
    name: str

    @property
    def text(self) -> str:
        return f"{ROLES[self.role]} {quoted(self.name)}"

    def sentence(self, currency: str = "") -> str:
        return f"the {self.role} is {self.name}"

    def denied(self, currency: str = "") -> str:
        return f"the {self.role} is not {self.name}"

    def known(self, columns: Columns) -> Bools:
        return columns.whose(self.role, None)

    def passes(self, columns: Columns) -> Bools:
        return columns.whose(self.role, self.name)


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


@dataclass(frozen=True, slots=True)
class HasAttribute(Asked):
    """The listing has a value of an attribute, whatever its letters' case. Without the attribute neither this
    nor its denial holds."""

    attribute: str
    value: str

    @property
    def text(self) -> str:
        return f"attribute {self.attribute} is {quoted(self.value)}"

    def sentence(self, currency: str = "") -> str:
        return f"the {self.attribute} is {self.value}"

    def denied(self, currency: str = "") -> str:
        return f"the {self.attribute} is not {self.value}"

    def known(self, columns: Columns) -> Bools:
        return columns.attribute(self.attribute, None)

    def passes(self, columns: Columns) -> Bools:
        return columns.attribute(self.attribute, self.value)


@dataclass(frozen=True, slots=True)
class LedBy(Asked):
    """A seller, by id or name, held the lead offer for some of the last 52 weeks, or for at least a share of
    the periods in which it is known who did. least: 0–1, 0 for any time at all."""

    seller: str
    least: float

    @property
    def text(self) -> str:
        share = f" >= {self.least * 100:.10g}%" if self.least else ""
        return f"led{share} by {quoted(self.seller)}"

    def sentence(self, currency: str = "") -> str:
        if not self.least:
            return f"{self.seller} held its lead offer in the last year"
        return f"{self.seller} held its lead offer for ≥ {format_number(self.least * 100)}% of the last year"

    def denied(self, currency: str = "") -> str:
        if not self.least:
            return f"{self.seller} did not hold its lead offer in the last year"
        return f"{self.seller} held its lead offer for < {format_number(self.least * 100)}% of the last year"

    def known(self, columns: Columns) -> Bools:
        known: Bools = ~np.isnan(columns.led_by(self.seller))
        return known

    def passes(self, columns: Columns) -> Bools:
        share = columns.led_by(self.seller)
        with np.errstate(invalid="ignore"):
            # A third of the periods is a third, whatever its last binary digit.
            held: Bools = share >= self.least - 1e-9 if self.least else share > 0
        return held
