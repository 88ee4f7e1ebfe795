"""Save costs of a niche, and a market's fees."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from driftfield.core.base import CoreError
from driftfield.core.economics import CLASS_LIMITS, LIMITS, Costs, SizeClass, class_of, within
from driftfield.desk.models import CostSheet, FeeTable
from driftfield.desk.write_queue import writing
from driftfield.market.models import Market, Niche

KNOWN = set(LIMITS)


def save_costs(market_id: str, niche_id: str, costs: dict[str, float | None]) -> CostSheet:
    """Keep costs of a niche; a field that is None goes back to what the readings say.

    Raises CoreError for no such niche, for a field that is none, and for a value that cannot be.
    """
    if not Niche.objects.filter(market__market_id=market_id, niche_id=niche_id).exists():
        raise CoreError(f"There is no niche “{niche_id}” in market “{market_id}”.")
    if unknown := sorted(set(costs) - KNOWN):
        raise CoreError(f"Unknown: {', '.join(unknown)}. Known: {', '.join(sorted(KNOWN))}.")
    kept = {name: value for name, value in costs.items() if value is not None}
    # What is not given must not stand in the way of checking what is.
    checked: dict[str, Any] = {"price": 1.0, "goods": 0.0, **kept}
    Costs(**checked)
    with writing():
        made, _ = CostSheet.objects.update_or_create(
            market_id=market_id, niche_id=niche_id, defaults={"costs": kept}
        )
    return made


def save_fees(market_id: str, classes: Sequence[SizeClass]) -> FeeTable:
    """Keep a market's fee table. Raises CoreError for one that leaves goods without a class."""
    if not Market.objects.filter(market_id=market_id).exists():
        raise CoreError(f"There is no market “{market_id}”.")
    for one in classes:
        possible = all(within(getattr(one, key), limits) for key, limits in CLASS_LIMITS.items())
        if not one.name.strip() or not possible:
            raise CoreError(
                "A size class has a name, a fee from 0 to a thousand million, and limits above 0 or none."
            )
    class_of(float("inf"), float("inf"), classes)
    with writing():
        made, _ = FeeTable.objects.update_or_create(
            market_id=market_id, defaults={"classes": [asdict(one) for one in classes]}
        )
    return made
