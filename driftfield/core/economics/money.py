"""Unit economics of one product: what is left of its price, and what that asks of price and cost.

Per unit sold, with a share r of the units coming back: the price is kept of 1 − r of them, and so are the
value added tax in it and the commission on it; the handling fee is paid for every unit and once more
for each that comes back; of those a share can be resold, so that their goods are not lost;
advertising and storage are paid on all. With u the part of the price that is tax, rate ÷ (1 + rate) of
a price with tax and 0 of one without, everything is linear in the price and the landed cost,

    left = price × ((1 − r)(1 − u − commission) − advertising) − handling × (1 + r) − storage
           − landed × (1 − r × resold),

and break-even price and the highest landed cost follow by solving it. As a waterfall: price − tax −
commission − advertising − handling − storage − goods − duty − freight, as if nothing came back, − what
returns cost = left. Margin is what is left ÷ the price without tax, return on investment what is left ÷
landed cost, as any textbook of cost accounting has them.
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
    "weight_g": (0.0, 1e8), "longest_mm": (0.0, 1e6), "tax": SHARE, "storage": MONEY,
    "months": (0.0, 60.0),
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

    price: what a buyer pays, with value added tax where ``tax_included``. goods: ex works. duty: on
    goods. resold: of what comes back. wanted: the margin asked for. handling: None takes the size class's.
    tax: rate of value added tax on the price without it. storage: a month, for ``months`` of them.
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
    tax: float = 0.0
    storage: float = 0.0
    months: float = 2.0
    tax_included: bool = True

    @property
    def tax_part(self) -> float:
        """Part of the price that is value added tax, 0–1."""
        return self.tax / (1 + self.tax) if self.tax_included else 0.0

    def __post_init__(self) -> None:
        for field in fields(self):
            if field.name not in LIMITS:
                continue
            value, limits = getattr(self, field.name), LIMITS[field.name]
            if not within(value, limits):
                low, high = limits
                limit = f"from {low:g} to {high:,.15g}"
                if limits == SHARE:
                    limit = "a share from 0% to 100%"
                raise CoreError(f"{field.name} must be {limit}; got {value:g}.")


@dataclass(frozen=True, slots=True)
class UnitEconomics:
    """What comes of some costs, per unit.

    Each cost as if nothing came back, and ``lost_to_returns`` what comes back costs: price − tax − commission
    − advertising − handling − storage − goods − duty − freight − lost_to_returns = left. landed: goods,
    duty and freight. margin: of the price without tax. roi: of the landed cost. size_class: by whose fee
    handling was taken, None where it was given. break_even, most: None where no price, or no cost,
    would do.
    """

    tax: float
    commission: float
    advertising: float
    handling: float
    storage: float
    goods: float
    duty: float
    freight: float
    landed: float
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
    duty = costs.goods * costs.duty
    landed = costs.goods + duty + costs.freight
    size = None
    fee = costs.handling
    if fee is None:
        size = class_of(costs.weight_g, costs.longest_mm, classes)
        fee = size.fee
    kept = 1 - costs.returns
    of_price = kept * (1 - costs.tax_part - costs.commission) - costs.advertising
    storage = costs.storage * costs.months
    fixed = fee * (1 + costs.returns) + storage
    of_landed = 1 - costs.returns * costs.resold
    left = costs.price * of_price - fixed - landed * of_landed
    net = costs.price * (1 - costs.tax_part)
    most = (costs.price * of_price - costs.wanted * net - fixed) / of_landed if of_landed else None
    tax, commission, advertising = (
        costs.price * part for part in (costs.tax_part, costs.commission, costs.advertising)
    )
    without = costs.price - tax - commission - advertising - fee - storage - landed
    return UnitEconomics(
        tax=tax,
        commission=commission,
        advertising=advertising,
        handling=fee,
        storage=storage,
        goods=costs.goods,
        duty=duty,
        freight=costs.freight,
        landed=landed,
        lost_to_returns=without - left,
        left=left,
        margin=left / net,
        roi=left / landed if landed else None,
        break_even=(fixed + landed * of_landed) / of_price if of_price > 0 else None,
        most=most if most is not None and most > 0 else None,
        size_class=size.name if size else None,
    )


def at_price(costs: Costs, price: float, classes: Sequence[SizeClass]) -> UnitEconomics:
    """The same product at another price."""
    changed: dict[str, Any] = {**asdict(costs), "price": price}
    return unit_economics(Costs(**changed), classes)


# How much worse an assumed cost may well turn out: of the price, or, for duty, of goods. Our choice.
WORSE = {
    "goods": 0.4, "freight": 0.1, "duty": 0.1, "commission": 0.2, "advertising": 0.2, "tax": 0.2,
    "storage": 0.02,
}  # fmt: skip
GOODS_SHARE = 0.25  # Of the price, until a maker's quote is known: a guess, and said to be one.
OF_THE_PRICE = {"goods", "freight", "storage"}
# Costs that are assumed until somebody gives them; handling comes of a table, and has no worse one.
ASSUMABLE = (*WORSE, "handling")


@dataclass(frozen=True, slots=True)
class Worst:
    """The assumed cost that would take most if it turned out worse: its name, the value, what is left then."""

    cost: str
    value: float
    left: float


def what_matters(
    costs: Costs, assumed: Sequence[str], classes: Sequence[SizeClass]
) -> Worst | None:
    """Which of the assumed costs would change most; None where none would."""
    now = unit_economics(costs, classes).left
    found = []
    for cost in assumed:
        if cost not in WORSE:
            continue
        value = WORSE[cost] * (costs.price if cost in OF_THE_PRICE else 1)
        if value <= getattr(costs, cost):
            continue
        changed: dict[str, Any] = {**asdict(costs), cost: value}
        found.append(Worst(cost, value, unit_economics(Costs(**changed), classes).left))
    worst = min(found, key=lambda one: one.left, default=None)
    return worst if worst is not None and worst.left < now else None
