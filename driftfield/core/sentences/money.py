"""Whether it pays, in sentences with their numbers."""

from __future__ import annotations

from driftfield.core.base import MINUS, format_number, format_share
from driftfield.core.economics import Costs, UnitEconomics


def _money(value: float) -> str:
    return f"{MINUS if value < 0 else ''}{abs(value):,.2f}"


def _share(value: float) -> str:
    return format_share(value) if value >= 0 else f"{MINUS}{format_share(-value)}"


def does_it_pay(
    costs: Costs,
    result: UnitEconomics,
    lowest: tuple[float, UnitEconomics] | None,
    target: tuple[float, float],
    typical: float | None,
) -> list[str]:
    """What is left and under which conditions. lowest: the year's lowest price and what it leaves.

    target: takings wanted a year and the units they ask for. typical: units the median listing sells
    a year; None for unknown.
    """
    verb = "is left of each unit" if result.left >= 0 else "is lost on each unit"
    text = f"At {_money(costs.price)} about {_money(abs(result.left))} {verb}"
    text += f": a margin of {_share(result.margin)}"
    if result.roi is not None:
        text += f" and {_share(result.roi)} on the landed cost"
    sentences = [f"{text}."]
    if result.break_even is None:
        sentences.append("No price would cover these costs: fees and advertising take all of it.")
    else:
        sentences.append(f"Below {_money(result.break_even)} it loses money.")
    if result.most is None:
        sentences.append(
            f"A margin of {format_share(costs.wanted)} cannot be reached at this price."
        )
    else:
        sentences.append(
            f"For a margin of {format_share(costs.wanted)} it may cost {_money(result.most)} landed; "
            f"it is reckoned at {_money(result.landed)}."
        )
    if lowest is not None:
        price, there = lowest
        sentences.append(
            f"At the year's lowest price, {_money(price)}, the margin is {_share(there.margin)}."
        )
    income, units = target
    ask = f"Takings of {format_number(income)} a year ask for {format_number(round(units))} units"
    if typical is not None:
        ask += f"; the typical listing sells {format_number(round(typical))}"
    sentences.append(f"{ask}.")
    return sentences
