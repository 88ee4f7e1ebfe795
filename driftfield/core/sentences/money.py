"""Whether it pays, in sentences with their numbers."""

from __future__ import annotations

from collections.abc import Sequence

from driftfield.core.base import MINUS, format_money, format_number, format_share
from driftfield.core.economics import Costs, UnitEconomics, Worst

# What costs are called, and how they stand where nothing is set for them.
NAMES = {
    "goods": "goods", "freight": "freight", "duty": "duty", "tax": "value added tax", "storage": "storage",
    "commission": "commission", "advertising": "advertising", "handling": "handling",
}  # fmt: skip
_MONEY = {"goods", "freight", "storage", "handling"}


def _share(value: float) -> str:
    return format_share(value) if value >= 0 else f"{MINUS}{format_share(-value)}"


def does_it_pay(
    costs: Costs,
    result: UnitEconomics,
    *,
    assumed: Sequence[str],
    worst: Worst | None,
    lowest: tuple[float, UnitEconomics] | None,
    target: tuple[float, float],
    typical: float | None,
    currency: str,
) -> list[str]:
    """Whether something is left, on which assumptions, and under which conditions.

    assumed: costs that neither the researcher nor the readings gave. worst: which of them would change
    most. lowest: the year's lowest price and what it leaves. target: revenue wanted a year and the units
    it asks for. typical: units the median listing sells a year; None for unknown.
    """

    def money(value: float) -> str:
        return format_money(value, currency)

    sentences = [f"{_answer(costs, result, assumed, worst, currency)}."]
    if assumed:
        sentences.append(f"Assumed, not known: {_assumptions(costs, assumed, currency)}.")
    if worst is not None:
        at = money(worst.value) if worst.cost in _MONEY else format_share(worst.value)
        verb = "would be left" if worst.left >= 0 else "would be lost"
        sentences.append(
            f"What would change it most is {NAMES[worst.cost]}: at {at}, "
            f"{money(abs(worst.left))} a unit {verb}."
        )
    if result.break_even is None:
        sentences.append(
            "No price would cover these costs: fees, tax and advertising take all of it."
        )
    else:
        sentences.append(f"Below {money(result.break_even)} it loses money.")
    if result.most is None:
        sentences.append(
            f"A margin of {format_share(costs.wanted)} cannot be reached at this price."
        )
    else:
        sentences.append(
            f"For a margin of {format_share(costs.wanted)} it may cost at most {money(result.most)} landed; "
            f"it is put at {money(result.landed)}."
        )
    if lowest is not None:
        price, there = lowest
        sentences.append(
            f"At the niche's lowest price of the last 52 weeks, {money(price)}, the margin is "
            f"{_share(there.margin)}."
        )
    income, units = target
    ask = (
        f"{format_money(income, currency, whole=True)} revenue a year needs "
        f"{format_number(round(units))} units"
    )
    if typical is not None:
        ask += f"; the typical listing sells {format_number(round(typical))}"
    sentences.append(f"{ask}.")
    return sentences


def _answer(
    costs: Costs,
    result: UnitEconomics,
    assumed: Sequence[str],
    worst: Worst | None,
    currency: str,
) -> str:
    """Yes, no or not proven, and what is left of a unit."""
    price, amount = (format_money(v, currency) for v in (costs.price, abs(result.left)))
    if result.left < 0:
        head = "No, not on these assumptions" if assumed else "No"
        return f"{head}: at {price} about {amount} is lost on each unit"
    margin = f"a margin of {_share(result.margin)}"
    if result.roi is not None:
        margin += f" and {_share(result.roi)} on the landed cost"
    open_still = "goods" in assumed or (worst is not None and worst.left < 0)
    if open_still:
        return f"Not proven: at {price} about {amount} would be left of each unit, {margin}"
    head = "Yes" if result.margin >= costs.wanted else "Yes, but less than wanted"
    return f"{head}: at {price} about {amount} is left of each unit, {margin}"


def _assumptions(costs: Costs, assumed: Sequence[str], currency: str) -> str:
    told, none = [], []
    for cost in assumed:
        value = getattr(costs, cost)
        if not value and cost != "handling":
            none.append(NAMES[cost])
        elif cost == "goods":
            told.append(
                f"goods at {format_money(value, currency)}, {format_share(value / costs.price)} of the price"
            )
        elif cost == "handling":
            told.append("handling by the example table")
        elif cost in _MONEY:
            told.append(f"{NAMES[cost]} {format_money(value, currency)}")
        else:
            told.append(f"{NAMES[cost]} {format_share(value)}")
    if none:
        told.append(f"no {', no '.join(none)}")
    return "; ".join(told)
