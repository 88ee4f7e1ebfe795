"""Sums to the penny: what is told in money adds up, whatever was rounded."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import ROUND_FLOOR, ROUND_HALF_EVEN, Decimal

PENNY = Decimal("0.01")


def to_pennies(amount: float) -> Decimal:
    """An amount as it is paid: to the penny, halves to the even one (ISO 80000-1, annex B, rule A)."""
    return Decimal(repr(float(amount))).quantize(PENNY, ROUND_HALF_EVEN)


def adding_up(parts: Mapping[str, float], total: float) -> dict[str, Decimal]:
    """Parts to the penny that add up to their total to the penny.

    Each is rounded down, and what is left goes penny by penny to those that lost most: the method of the
    largest remainder. Parts that do not add up to the total within half a penny each are refused.
    """
    exact = {name: Decimal(repr(float(amount))) for name, amount in parts.items()}
    wanted = to_pennies(total)
    off = abs(sum(exact.values(), Decimal(0)) - Decimal(repr(float(total))))
    if off > PENNY / 2 * max(len(exact), 1):
        raise ValueError(f"{sum(exact.values())} is not {total}.")
    found = {name: amount.quantize(PENNY, ROUND_FLOOR) for name, amount in exact.items()}
    left = int((wanted - sum(found.values(), Decimal(0))) / PENNY)
    lost = sorted(found, key=lambda name: found[name] - exact[name])
    step = 1 if left > 0 else -1
    order = lost if left > 0 else lost[::-1]
    for at in range(abs(left)):
        found[order[at % len(order)]] += PENNY * step
    return found
