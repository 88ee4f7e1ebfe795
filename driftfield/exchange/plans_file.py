"""Several plans in one file: the cash at hand, and what is planned for which niche."""

from __future__ import annotations

import math
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from driftfield.core.base import CoreError
from driftfield.core.economics import SizeClass, class_of

from .given import Given, read_json

MOST_PLANS = 60  # On one cash path.


@dataclass(frozen=True, slots=True)
class PlanOf:
    """A plan of a niche. placed: its order is placed already; document: as schemas/plan.schema.json has it."""

    niche: str
    placed: bool
    document: dict[str, Any]


@dataclass(frozen=True, slots=True)
class Several:
    """cash: at hand on the planning date. most_loss: chance of a loss above which nothing is proposed.

    fees: the marketplace's, by size; none where they are not told.
    """

    cash: float
    most_loss: float | None
    fees: list[SizeClass]
    plans: list[PlanOf]


def read_several(path: Path) -> Several:
    """Plans as schemas/plans.schema.json describes them. Raises CoreError, which names the field."""
    given = Given(read_json(path), "")
    cash, most_loss = given.number("cash"), given.number("most_loss", 0, 1)
    if cash is None:
        raise CoreError("cash: the cash at hand is needed.")
    found = []
    for one in given.parts("plans"):
        niche, placed, inputs = one.text("niche"), one.flag("placed", False), one.raw("inputs")
        if not niche or not isinstance(inputs, dict):
            raise CoreError(f"{one.where}: niche and inputs are needed.")
        one.done()
        found.append(PlanOf(niche, placed, inputs))
    fees = [_fee(one) for one in given.parts("fees")]
    if fees:
        class_of(math.inf, math.inf, fees)  # Nothing may be too large for all of them.
    given.done()
    if not 0 < len(found) <= MOST_PLANS:
        raise CoreError(f"plans: expected 1 to {MOST_PLANS} plans; got {len(found)}.")
    return Several(cash, most_loss, fees, found)


def _fee(given: Given) -> SizeClass:
    name, fee = given.text("name"), given.number("fee")
    upto_g, upto_mm = given.number("upto_g", 0.001, 1e6), given.number("upto_mm", 0.001, 1e6)
    if not name.strip() or fee is None:
        raise CoreError(f"{given.where}: name and fee are needed.")
    given.done()
    return SizeClass(name, upto_g, upto_mm, fee)
