"""Does a niche pay? Its costs as far as they are known, and what comes of them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from driftfield.core.base import Settings
from driftfield.core.economics import (
    ASSUMABLE,
    CLASS_LIMITS,
    EXAMPLE_CLASSES,
    GOODS_SHARE,
    LIMITS,
    Costs,
    SizeClass,
    UnitEconomics,
    Worst,
    at_price,
    unit_economics,
    what_matters,
    within,
)
from driftfield.readings.chosen import chosen_for, overruled
from driftfield.readings.curves import ShownCurve, price_curve
from driftfield.readings.reading import Reading

from .models import CostSheet, FeeTable

# What a cost is taken from until the researcher says otherwise, by the figure's column.
FROM_READING = {
    "price": "sales.price_median", "returns": "barriers.return_rate", "weight_g": "barriers.weight_g",
    "longest_mm": "barriers.size_mm",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Profitability:
    """Costs, ``given`` by the researcher, the rest from readings or examples.

    assumed: costs that nothing is known of. worst: which of them would change most. lowest: the same at
    ``lowest_price``, the lowest of the niche's median prices of the last 52 weeks; None where they are
    not known.
    target_units: units whose takings reach ``target_income`` a year. typical_units: what the niche's
    median listing sells a year; typical_left: what that would leave.
    """

    costs: Costs
    given: list[str]
    assumed: list[str]
    worst: Worst | None
    classes: list[SizeClass]
    result: UnitEconomics
    lowest_price: float | None
    lowest: UnitEconomics | None
    target_income: float
    target_units: float
    typical_units: float | None
    typical_left: float | None


def fees_of(market_id: str) -> list[SizeClass]:
    """A market's size classes, or the examples."""
    table = FeeTable.objects.filter(market_id=market_id).first()
    classes = [SizeClass(**one) for one in table.classes] if table else []
    possible = [
        one for one in classes if all(within(getattr(one, k), v) for k, v in CLASS_LIMITS.items())
    ]
    return possible or list(EXAMPLE_CLASSES)


@dataclass(frozen=True, slots=True)
class KnownCosts:
    """A niche's costs: given by the researcher, assumed, and the rest read; with the fees that apply."""

    costs: Costs
    given: list[str]
    assumed: list[str]
    classes: list[SizeClass]


def costs_of(market_id: str, niche_id: str, read: dict[str, float | None]) -> KnownCosts | None:
    """The costs of a niche from what was read of it, by FROM_READING; None where nobody knows a price."""
    sheet = CostSheet.objects.filter(market_id=market_id, niche_id=niche_id).first()
    # What was kept or read by an earlier version and cannot be counts as unknown.
    given = _possible(sheet.costs if sheet else {})
    known = _possible(read)
    costs = {**known, **given}
    if not costs.get("price"):
        return None
    settings = chosen_for(market_id).settings
    own = overruled(market_id, niche_id)
    settings = Settings.from_dict({**settings.as_dict(), **own})
    costs.setdefault("goods", round(GOODS_SHARE * costs["price"], 2))
    if settings.tax_rate:
        costs.setdefault("tax", settings.tax_rate)
    whole: dict[str, Any] = {**costs, "tax_included": bool(settings.tax_included)}
    assumed = [name for name in ASSUMABLE if name not in known and name not in given]
    if settings.tax_rate:
        assumed = [name for name in assumed if name != "tax"]
    if FeeTable.objects.filter(market_id=market_id).exists():
        assumed = [name for name in assumed if name != "handling"]
    return KnownCosts(Costs(**whole), sorted(given), assumed, fees_of(market_id))


def read_profitability(reading: Reading) -> Profitability | None:
    """The unit economics of a niche; None where neither readings nor the researcher know a price."""
    market_id, niche_id = reading.market.market_id, reading.niche.niche_id
    known = costs_of(
        market_id, niche_id, {name: reading.figures[key] for name, key in FROM_READING.items()}
    )
    if known is None:
        return None
    made, classes, assumed = known.costs, known.classes, known.assumed
    settings = chosen_for(market_id).settings
    settings = Settings.from_dict({**settings.as_dict(), **overruled(market_id, niche_id)})
    result = unit_economics(made, classes)
    lowest = _lowest(price_curve(reading))
    income = float(settings.target_income)
    typical = reading.figures["sales.listing_units"]
    return Profitability(
        costs=made,
        given=known.given,
        assumed=assumed,
        worst=what_matters(made, assumed, classes),
        classes=classes,
        result=result,
        lowest_price=lowest,
        lowest=None if lowest is None else at_price(made, lowest, classes),
        target_income=income,
        target_units=income / made.price,
        typical_units=typical,
        typical_left=None if typical is None else typical * result.left,
    )


def _possible(costs: dict[str, float | None]) -> dict[str, float]:
    """The costs that are known and can be."""
    return {
        name: value
        for name, value in costs.items()
        if value is not None and name in LIMITS and within(value, LIMITS[name])
    }


def _lowest(price: ShownCurve | None) -> float | None:
    """The lowest value of the price curve in its last year: a price that there was."""
    if price is None:
        return None
    year = price.values[-52 if price.period == "week" else -12 :]
    known = [value for value in year if value]
    return min(known, default=None)
