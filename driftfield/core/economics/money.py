"""Unit economics of one product: what is left of its price, and what that asks of price and cost.

Per unit sold, with a share r of the units coming back: the price is kept of 1 − r of them and so is
the commission on it; the handling fee is paid for every unit and once more for each that comes back;
of those a share can be sold again, so that their goods are not lost; advertising is paid on all. So
everything is linear in the price and the landed cost,

    left = price × ((1 − r)(1 − commission) − advertising) − handling × (1 + r) − landed × (1 − r × resold),

and break-even price and the most one may pay follow by solving it. Margin is what is left ÷ price,
return on investment what is left ÷ landed cost, as any textbook of cost accounting has them.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, fields
from typing import Any

from driftfield.core.base import CoreError

MONEY, SHARE = (0.0, 1e9), (0.0, 1.0)
# What each cost may be; more than that is a slip, and what is computed from it would overflow.
LIMITS: dict[str, tuple[float, float]] = {
    "price": (0.01, 1e9), "goods": MONEY, "freight": MONEY, "duty": SHARE, "commission": SHARE,
    "handling": MONEY, "advertising": SHARE, "returns": SHARE, "resold": SHARE, "wanted": SHARE,
    "weight_g": (0.0, 1e8), "longest_mm": (0.0, 1e6),
}  # fmt: skip
# The same of a size class: its limits and its fee.
CLASS_LIMITS = {"upto_g": (0.001, 1e8), "upto_mm": (0.001, 1e6), "fee": MONEY}


def within(value: float | None, limits: tuple[float, float]) -> bool:
    """Whether a figure is one that can be; unknown can."""
    return value is None or limits[0] <= value <= limits[1]


@dataclass(frozen=True, slots=True)
class SizeClass:
    """A handling fee for goods up to a weight and a longest side; None is no limit."""

    name: str
    upto_g: float | None
    upto_mm: float | None
    fee: float


# Examples to start from, not any marketplace's: a user puts the real ones in their place.
EXAMPLE_CLASSES = (
    SizeClass("small", 250, 350, 2.0),
    SizeClass("standard", 1_000, 450, 3.0),
    SizeClass("large", 5_000, 600, 5.0),
    SizeClass("bulky", None, None, 11.0),
)


@dataclass(frozen=True, slots=True)
class Costs:
    """What one product costs and pays. Money is in the market's currency, per unit; shares are 0–1.

    goods: at the maker's door. duty: on goods. resold: of what comes back. wanted: the margin asked
    for. handling: None takes the size class's.
    """

    price: float
    goods: float
    freight: float = 0.0
    duty: float = 0.0
    commission: float = 0.15
    handling: float | None = None
    advertising: float = 0.1
    returns: float = 0.0
    resold: float = 0.5
    wanted: float = 0.25
    weight_g: float | None = None
    longest_mm: float | None = None

    def __post_init__(self) -> None:
        for field in fields(self):
            value, limits = getattr(self, field.name), LIMITS[field.name]
            if not within(value, limits):
                low, high = limits
                limit = f"from {low:g} to {high:,.15g}"
                if limits == SHARE:
                    limit = "a share from 0% to 100%"
                raise CoreError(f"{field.name} must be {limit}; got {value:g}.")


@dataclass(frozen=True, slots=True)
class UnitEconomics:
    """What comes of some costs, per unit. Fractions are of the price (margin) or the landed cost (roi).

    size_class: by whose fee handling was taken, None where it was given. break_even, most: None where
    no price, or no cost, would do.
    """

    landed: float
    commission: float
    handling: float
    advertising: float
    lost_to_returns: float
    left: float
    margin: float
    roi: float | None
    break_even: float | None
    most: float | None
    size_class: str | None


def class_of(
    weight_g: float | None, longest_mm: float | None, classes: Sequence[SizeClass]
) -> SizeClass:
    """The first class, in order of fee, that goods fit into; what is not known does not keep them out.

    Raises CoreError when none takes them.
    """
    for one in sorted(classes, key=lambda c: c.fee):
        light = one.upto_g is None or weight_g is None or weight_g <= one.upto_g
        short = one.upto_mm is None or longest_mm is None or longest_mm <= one.upto_mm
        if light and short:
            return one
    raise CoreError("No size class takes these goods: add one without limits to the fee table.")


def unit_economics(costs: Costs, classes: Sequence[SizeClass] = EXAMPLE_CLASSES) -> UnitEconomics:
    """What is left of the price, and which price and cost would leave enough."""
    landed = costs.goods * (1 + costs.duty) + costs.freight
    size = None
    fee = costs.handling
    if fee is None:
        size = class_of(costs.weight_g, costs.longest_mm, classes)
        fee = size.fee
    kept = 1 - costs.returns
    of_price = kept * (1 - costs.commission) - costs.advertising
    handling = fee * (1 + costs.returns)
    of_landed = 1 - costs.returns * costs.resold
    left = costs.price * of_price - handling - landed * of_landed
    most = (costs.price * (of_price - costs.wanted) - handling) / of_landed if of_landed else None
    # What returns take: the price and commission of what comes back, its handling, goods not resold.
    without = costs.price * (1 - costs.commission - costs.advertising) - fee - landed
    return UnitEconomics(
        landed=landed,
        commission=costs.price * kept * costs.commission,
        handling=handling,
        advertising=costs.price * costs.advertising,
        lost_to_returns=without - left,
        left=left,
        margin=left / costs.price,
        roi=left / landed if landed else None,
        break_even=(handling + landed * of_landed) / of_price if of_price > 0 else None,
        most=most if most is not None and most > 0 else None,
        size_class=size.name if size else None,
    )


def at_price(costs: Costs, price: float, classes: Sequence[SizeClass]) -> UnitEconomics:
    """The same product at another price."""
    changed: dict[str, Any] = {**asdict(costs), "price": price}
    return unit_economics(Costs(**changed), classes)
