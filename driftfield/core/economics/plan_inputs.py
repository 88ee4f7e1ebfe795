"""What a plan is made from: dates, supplier and transport, selling, goods; and what an order then costs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

from driftfield.core.base import CoreError

from .ordering import OwnFigure
from .own_demand import DRAWS
from .quotes import Part, Quote, arrivals, split_units

PEAK_MONTHS = (10, 11, 12)  # In which storage is dearer; common practice, no source.
Leftover = Literal["clear", "carry", "nothing"]


@dataclass(frozen=True, slots=True)
class Selling:
    """What a unit is sold for and what that takes; money in the market's currency, shares 0–1.

    price: with value added tax where ``tax_included``. prices, advertising: factors on the price and shares of
    it, by month on sale; the last one goes on. price_error: standard error of its logarithm. price_low: the
    lowest of the last 52 weeks, None where it is not known. storage: a unit a month; storage_peak: the
    same in the peak_months, by their numbers, None for no other.
    """

    price: float
    tax: float = 0.0
    tax_included: bool = True
    commission: float = 0.15
    handling: float = 3.0
    returned: float = 0.0
    resold: float = 0.5
    storage: float = 0.0
    storage_peak: float | None = None
    peak_months: tuple[int, ...] = PEAK_MONTHS
    prices: tuple[float, ...] = (1.0,)
    advertising: tuple[float, ...] = (0.1,)
    price_error: float = 0.05
    price_low: float | None = None
    payout_weeks: int = 2
    tax_every: int = 13
    tax_after: int = 5

    def __post_init__(self) -> None:
        if not self.price > 0:
            raise CoreError("A plan needs a price above 0.")
        for name in ("tax", "commission", "returned", "resold"):
            if not 0 <= getattr(self, name) <= 1:
                raise CoreError(f"{name} is a share from 0 to 1; got {getattr(self, name):g}.")
        if not self.prices or not self.advertising:
            raise CoreError("prices and advertising take one figure a month, one at least.")
        if any(not 1 <= month <= 12 for month in self.peak_months):
            raise CoreError("peak_months: months are numbered from 1 to 12.")
        if self.returned * self.resold >= 1:
            raise CoreError("returned and resold cannot both be 1: such stock would never run out.")

    @property
    def tax_part(self) -> float:
        return self.tax / (1 + self.tax) if self.tax_included else 0.0

    def stored(self, month: int) -> float:
        """What a unit costs to store in a month, 1–12."""
        peak = self.storage_peak is not None and month in self.peak_months
        return self.storage_peak if peak and self.storage_peak is not None else self.storage

    @property
    def again(self) -> float:
        """Share of the units sold that are returned and resold."""
        return self.returned * self.resold


@dataclass(frozen=True, slots=True)
class Goods:
    """One unit: kg and m³; duty as a share of its goods, import_tax of goods, freight and duty."""

    kg: float = 0.0
    m3: float = 0.0
    duty: float = 0.0
    import_tax: float = 0.0


@dataclass(frozen=True, slots=True)
class PlanInputs:
    """All that a plan is made from besides the market.

    ordered: the day. until: last day that is sold for. service: chance of not selling out that is wanted; None
    for what earns most. leftover: what is done with what is left: cleared at ``clear_at`` of the price, for
    no more than ``clear_most`` of what it cost landed, or no order would be too large; carried for
    ``carry_weeks`` at ``capital`` a year of its cost; or worth nothing. quantity: the researcher's own; None
    for the best. factor: by which demand is more or less than expected.
    """

    ordered: date
    until: date
    quote: Quote
    parts: tuple[Part, ...]
    selling: Selling
    goods: Goods = Goods()
    service: float | None = None
    leftover: Leftover = "clear"
    clear_at: float = 0.4
    clear_most: float = 0.5
    carry_weeks: int = 52
    capital: float = 0.1
    budget: float | None = None
    quantity: int | None = None
    own: OwnFigure | None = None
    factor: float = 1.0
    late_weeks: int = 0
    draws: int = DRAWS
    seed: int = 1

    @property
    def arrived(self) -> list[date]:
        """When each part is on sale."""
        late = timedelta(weeks=self.late_weeks)
        return [day + late for day in arrivals(self.quote, self.parts, self.ordered)]

    @property
    def on_sale(self) -> date:
        return min(self.arrived)


@dataclass(frozen=True, slots=True)
class Bill:
    """What an order of some units costs, in all; money in the market's currency, to the penny.

    reclaimed: whether the tax on imports is set off against that on sales; who charges none bears it.
    """

    units: int
    goods: float
    freight: float
    duty: float
    import_tax: float
    reclaimed: bool

    @property
    def borne(self) -> float:
        """Tax on imports that is not reclaimed."""
        return 0.0 if self.reclaimed else self.import_tax

    @property
    def landed(self) -> float:
        return round(self.goods + self.freight + self.duty + self.borne, 2)

    @property
    def unit(self) -> float:
        return self.landed / self.units if self.units else 0.0


def bill_of(inputs: PlanInputs, units: int) -> Bill:
    """What so many units cost, freight by the ways they go and duty on the goods."""
    goods = round(units * inputs.quote.unit_cost(units), 2)
    each = split_units(units, inputs.parts, inputs.quote.carton)
    freight = round(
        sum(
            part.way.cost(many, inputs.goods.kg, inputs.goods.m3)
            for part, many in zip(inputs.parts, each, strict=True)
        ),
        2,
    )
    duty = round(goods * inputs.goods.duty, 2)
    tax = round((goods + freight + duty) * inputs.goods.import_tax, 2)
    return Bill(units, goods, freight, duty, tax, inputs.selling.tax > 0)
