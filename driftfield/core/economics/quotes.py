"""What suppliers and carriers ask: quotes with price breaks, ways of transport, and what a quantity costs."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from driftfield.core.base import CoreError


@dataclass(frozen=True, slots=True)
class PriceBreak:
    """From so many units on, one costs so much ex works, in the market's currency."""

    units: int
    cost: float


@dataclass(frozen=True, slots=True)
class Quote:
    """What a supplier asks.

    breaks: by units, the first one from 1. minimum: units of an order. carton: units that are sold together.
    making_days: from the order to dispatch. deposit: share of the goods paid with the order; the rest is due
    balance_days after dispatch. valid_until: last day; None for no end. source, day: where it comes from.
    assumed: whether nobody has asked this price yet.
    """

    name: str
    breaks: tuple[PriceBreak, ...]
    minimum: int = 1
    carton: int = 1
    making_days: int = 30
    deposit: float = 0.3
    balance_days: int = 0
    valid_until: date | None = None
    source: str = ""
    day: date | None = None
    assumed: bool = False

    def __post_init__(self) -> None:
        units = [one.units for one in self.breaks]
        if not units or units[0] != 1 or units != sorted(set(units)):
            raise CoreError(
                f"Quote “{self.name}”: its breaks begin with 1 unit and rise, as in 1, 200, 500; got "
                f"{', '.join(map(str, units)) or 'none'}."
            )
        if any(not one.cost >= 0 for one in self.breaks):
            raise CoreError(f"Quote “{self.name}”: a unit costs 0 or more.")
        if self.minimum < 1 or self.carton < 1 or self.making_days < 0 or self.balance_days < 0:
            raise CoreError(
                f"Quote “{self.name}”: minimum and carton are 1 or more, days 0 or more."
            )
        if not 0 <= self.deposit <= 1:
            raise CoreError(f"Quote “{self.name}”: the deposit is a share from 0 to 1.")

    def unit_cost(self, units: int) -> float:
        """What one costs when so many are ordered."""
        return next(one.cost for one in reversed(self.breaks) if one.units <= max(units, 1))

    def orderable(self, units: float) -> int:
        """The fewest units, not under these, that can be ordered: whole cartons, the minimum at least."""
        wanted = max(math.ceil(units - 1e-9), self.minimum)
        return -(-wanted // self.carton) * self.carton

    def valid_on(self, day: date) -> bool:
        return self.valid_until is None or day <= self.valid_until


@dataclass(frozen=True, slots=True)
class Way:
    """A way of transport: days from dispatch to being on sale, and what it costs in the market's currency."""

    name: str
    days: int
    per_kg: float = 0.0
    per_m3: float = 0.0
    per_unit: float = 0.0
    fixed: float = 0.0
    source: str = ""
    day: date | None = None
    assumed: bool = False

    def __post_init__(self) -> None:
        rates = (self.per_kg, self.per_m3, self.per_unit, self.fixed)
        if self.days < 0 or any(not rate >= 0 for rate in rates):
            raise CoreError(f"Way “{self.name}”: days and rates are 0 or more.")

    def cost(self, units: int, kg: float, m3: float) -> float:
        """What so many units cost to bring, of a weight and a volume each; nothing for none."""
        if not units:
            return 0.0
        return self.fixed + units * (self.per_unit + self.per_kg * kg + self.per_m3 * m3)


@dataclass(frozen=True, slots=True)
class Part:
    """A part of an order that goes one way. share: of its units, 0–1."""

    way: Way
    share: float


def split_units(units: int, parts: Sequence[Part], carton: int = 1) -> list[int]:
    """Units that go each way: whole cartons, what is left over by the first way."""
    shares = [part.share for part in parts]
    if not parts or any(not 0 <= share <= 1 for share in shares) or abs(sum(shares) - 1) > 1e-6:
        raise CoreError("The shares that go each way are from 0 to 1 and add up to 1.")
    rest = [int(units * share / carton) * carton for share in shares[1:]]
    return [units - sum(rest), *rest]


def arrivals(quote: Quote, parts: Sequence[Part], ordered: date) -> list[date]:
    """When each part is on sale."""
    return [ordered + timedelta(days=quote.making_days + part.way.days) for part in parts]
