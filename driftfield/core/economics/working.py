"""The working of unit economics: each line's formula, and the same with the niche's own numbers in it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .money import Costs, SizeClass, UnitEconomics, class_of

OF_PRICE = "(share kept × (1 − tax part − commission) − advertising)"
OF_LANDED = "(1 − return rate × share resold)"
FIXED = "handling × (1 + return rate) − storage"
FORMULAS = {
    "tax": "price × tax part",
    "commission": "price × commission",
    "advertising": "price × advertising",
    "handling": "fee",
    "storage": "a month × months",
    "goods": "goods",
    "duty": "goods × duty",
    "freight": "freight",
    "landed": "goods + duty + freight",
    "lost_to_returns": "what would be left if nothing came back − left",
    "left": f"price × {OF_PRICE} − {FIXED} − landed × {OF_LANDED}",
    "margin": "left ÷ price without tax",
    "roi": "left ÷ landed cost",
    "break_even": f"(handling × (1 + return rate) + storage + landed × {OF_LANDED}) ÷ {OF_PRICE}",
    "most": f"(price × {OF_PRICE} − margin wanted × price without tax − {FIXED}) ÷ {OF_LANDED}",
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
    price, goods, freight, landed, net = map(
        _money,
        (
            costs.price,
            costs.goods,
            costs.freight,
            result.landed,
            costs.price * (1 - costs.tax_part),
        ),
    )
    left = _money(result.left)
    back, resold, commission, advertising, duty, wanted = map(
        _share,
        (
            costs.returns, costs.resold, costs.commission, costs.advertising, costs.duty, costs.wanted,
        ),
    )  # fmt: skip
    tax = f"({_share(costs.tax)} ÷ (1 + {_share(costs.tax)}))" if costs.tax_part else "0%"
    kept = f"(1 − {back} returned)"
    of_landed = f"(1 − {back} × {resold} resold)"
    of_price = f"({kept} × (1 − {tax} tax − {commission}) − {advertising})"
    handling = f"{_money(result.handling)} × (1 + {back})"
    storage = _money(result.storage)
    numbers = {
        "tax": f"{price} × {tax}",
        "commission": f"{price} × {commission}",
        "advertising": f"{price} × {advertising}",
        "handling": f"{_money(fee)}, {where}",
        "storage": f"{_money(costs.storage)} × {costs.months:g}",
        "goods": goods,
        "duty": f"{goods} × {duty}",
        "freight": freight,
        "landed": f"{goods} + {_money(result.duty)} + {freight}",
        "lost_to_returns": f"{_money(result.left + result.lost_to_returns)} − {left}",
        "left": f"{price} × {of_price} − {handling} − {storage} − {landed} × {of_landed}",
        "margin": f"{left} ÷ {net}",
        "roi": f"{left} ÷ {landed}",
        "break_even": f"({handling} + {storage} + {landed} × {of_landed}) ÷ {of_price}",
        "most": f"({price} × {of_price} − {wanted} wanted × {net} − {handling} − {storage}) ÷ {of_landed}",
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
