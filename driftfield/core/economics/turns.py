"""Other turns of things: what may come instead of what was planned, and inputs that are worse or better."""

from __future__ import annotations

from dataclasses import replace

from .plan_inputs import PlanInputs


def turns(inputs: PlanInputs) -> list[tuple[str, PlanInputs]]:
    """What may come instead: arrival slips, the price falls, half is sold."""
    selling = inputs.selling
    found = [
        (f"arrival slips {weeks} weeks", replace(inputs, late_weeks=weeks)) for weeks in (2, 4, 8)
    ]
    if selling.price_low is not None and selling.price_low < selling.price:
        low = replace(selling, price=selling.price_low)
        found.append(("price falls to the year’s low", replace(inputs, selling=low)))
    found.append(("sales reach half", replace(inputs, factor=inputs.factor / 2)))
    return found


def shifts(inputs: PlanInputs) -> list[tuple[str, PlanInputs, PlanInputs]]:
    """Inputs worse and better by what is usual, one at a time; our choice of how far."""
    selling, quote = inputs.selling, inputs.quote

    def sells(**changed: object) -> PlanInputs:
        return replace(inputs, selling=replace(selling, **changed))  # type: ignore[arg-type]

    def costs(factor: float) -> PlanInputs:
        breaks = tuple(replace(one, cost=one.cost * factor) for one in quote.breaks)
        return replace(inputs, quote=replace(quote, breaks=breaks))

    def moves(factor: float) -> PlanInputs:
        rates = ("per_kg", "per_m3", "per_unit", "fixed")
        parts = []
        for part in inputs.parts:
            changed = {name: getattr(part.way, name) * factor for name in rates}
            parts.append(replace(part, way=replace(part.way, **changed)))
        return replace(inputs, parts=tuple(parts))

    def share(value: float) -> float:
        return min(value, 1.0)

    spent = selling.advertising
    return [
        ("demand ±20%", replace(inputs, factor=inputs.factor * 0.8),
         replace(inputs, factor=inputs.factor * 1.2)),
        ("price ±10%", sells(price=selling.price * 0.9), sells(price=selling.price * 1.1)),
        ("unit cost ±10%", costs(1.1), costs(0.9)),
        ("freight ±25%", moves(1.25), moves(0.75)),
        ("advertising ±25%", sells(advertising=tuple(share(one * 1.25) for one in spent)),
         sells(advertising=tuple(one * 0.75 for one in spent))),
        ("returns double, or none", sells(returned=share(selling.returned * 2)), sells(returned=0.0)),
    ]  # fmt: skip
