"""The working of unit economics: each line's formula, and the same with the niche's own numbers in it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .money import Costs, SizeClass, UnitEconomics, class_of

OF_PRICE = "(share kept × (1 − commission) − advertising)"
OF_LANDED = "(1 − sent back × sold again)"
FORMULAS = {
    "landed": "goods × (1 + duty) + freight",
    "handling": "fee × (1 + sent back)",
    "commission": "price × share kept × commission",
    "advertising": "price × advertising",
    "left": f"price × {OF_PRICE} − handling − landed × {OF_LANDED}",
    "margin": "left ÷ price",
    "roi": "left ÷ landed cost",
    "lost_to_returns": "what would be left if nothing came back − left",
    "break_even": f"(handling + landed × {OF_LANDED}) ÷ {OF_PRICE}",
    "most": f"(price × ({OF_PRICE} − margin wanted) − handling) ÷ {OF_LANDED}",
}


@dataclass(frozen=True, slots=True)
class Working:
    """key: a field of UnitEconomics. formula: in words. numbers: with the numbers put in."""

    key: str
    formula: str
    numbers: str


def money_workings(
    costs: Costs, result: UnitEconomics, classes: Sequence[SizeClass]
) -> list[Working]:
    """How each figure of ``result`` comes of ``costs``; money to the penny, shares in percent."""
    fee, where = costs.handling, "set by hand"
    if fee is None:
        size = class_of(costs.weight_g, costs.longest_mm, classes)
        fee, where = size.fee, f"class {size.name}"
    price, goods, freight, landed = map(
        _money, (costs.price, costs.goods, costs.freight, result.landed)
    )
    handling, left = _money(result.handling), _money(result.left)
    back, resold, commission, advertising, duty, wanted = map(
        _share,
        (
            costs.returns,
            costs.resold,
            costs.commission,
            costs.advertising,
            costs.duty,
            costs.wanted,
        ),
    )
    kept = f"(1 − {back} sent back)"
    of_landed = f"(1 − {back} × {resold} sold again)"
    of_price = f"({kept} × (1 − {commission}) − {advertising})"
    numbers = {
        "landed": f"{goods} × (1 + {duty}) + {freight}",
        "handling": f"{_money(fee)}, {where}, × (1 + {back})",
        "commission": f"{price} × {kept} × {commission}",
        "advertising": f"{price} × {advertising}",
        "left": f"{price} × {of_price} − {handling} − {landed} × {of_landed}",
        "margin": f"{left} ÷ {price}",
        "roi": f"{left} ÷ {landed}",
        "lost_to_returns": f"{_money(result.left + result.lost_to_returns)} − {left}",
        "break_even": f"({handling} + {landed} × {of_landed}) ÷ {of_price}",
        "most": f"({price} × ({of_price} − {wanted} wanted) − {handling}) ÷ {of_landed}",
    }
    return [
        Working(key, formula, _told(key, numbers[key], getattr(result, key)))
        for key, formula in FORMULAS.items()
    ]


# What is said where a figure is not to be had.
_NONE = {
    "roi": "there is no landed cost",
    "break_even": "no price would do: commission, advertising and returns take all of it",
    "most": "at this price no cost leaves the margin wanted",
}


def _told(key: str, numbers: str, value: float | None) -> str:
    if value is None:
        return _NONE[key]
    return f"{numbers} = {_share(value) if key in {'margin', 'roi'} else _money(value)}"


def _money(value: float) -> str:
    return f"{value:.2f}".replace("-", "−")


def _share(value: float) -> str:
    return f"{value * 100:.4g}%".replace("-", "−")
