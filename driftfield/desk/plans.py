"""Plans of orders, reckoned from a niche's readings and inputs; and what a first one starts with."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import UUID

from driftfield.core.base import CoreError, Settings
from driftfield.core.economics import outcome
from driftfield.core.market import NicheOutlook
from driftfield.core.sentences import outcome_sentence
from driftfield.exchange.plan_file import Read, day_of, read_inputs
from driftfield.exchange.plan_record import plan_record, planned_of
from driftfield.readings.chosen import chosen_for, overruled
from driftfield.readings.plans import matched_shares, niche_outlook_of, own_sold
from driftfield.readings.reading import Reading

from .models import Plan
from .profitability import read_profitability

MAKING_DAYS = 30  # Of the lead time, until a supplier says; our choice.


def read_plan(reading: Reading, document: dict[str, Any]) -> tuple[Read, NicheOutlook]:
    """A plan's inputs, read against its niche. Raises CoreError for what makes none."""
    planning = reading.run.planning
    market = niche_outlook_of(reading, day_of(document, planning))
    units = document.get("units")
    matched = matched_shares(reading) if isinstance(units, dict) and "listing" in units else {}
    read = read_inputs(
        document, market, planning, matched, lambda listing: own_sold(reading, listing)
    )
    return read, market


def make_plan(reading: Reading, document: dict[str, Any]) -> dict[str, Any]:
    """What comes of a plan's inputs, as ``plan_record``. Raises CoreError for what makes none."""
    read, market = read_plan(reading, document)
    return plan_record(read, market, reading.market.currency, reading.run.planning)


def first_document(reading: Reading) -> dict[str, Any]:
    """Inputs to start with: the niche's costs as far as they are known, its lead time, the market's tax."""
    found = read_profitability(reading)
    market_id, niche_id = reading.market.market_id, reading.niche.niche_id
    settings = chosen_for(market_id).settings
    settings = Settings.from_dict({**settings.as_dict(), **overruled(market_id, niche_id)})
    days = int(settings.lead_days)
    making = min(MAKING_DAYS, days)
    # For all of the season there is time until its order-by date; goods that come earlier only wait.
    by = reading.figures["act.order_by"]
    ordered = max(reading.run.planning, by) if by is not None else reading.run.planning
    document: dict[str, Any] = {
        "name": "Plan A",
        "ordered": ordered.isoformat(),
        "transport": [{"name": "one way", "days": days - making, "share": 1, "assumed": True}],
        "quote": {
            "name": "no quote yet", "breaks": [{"units": 1, "cost": 0}], "making_days": making,
            "assumed": True,
        },
        "selling": {},
        "product": {},
    }  # fmt: skip
    if found is None:
        return document
    costs, assumed = found.costs, set(found.assumed)
    quote, way = document["quote"], document["transport"][0]
    quote["breaks"][0]["cost"] = costs.goods
    quote["assumed"] = "goods" in assumed
    way["per_unit"], way["assumed"] = costs.freight, "freight" in assumed
    document["selling"] = {
        "price": round(costs.price, 2), "tax": costs.tax, "tax_included": costs.tax_included,
    }  # fmt: skip
    named = {
        "commission": costs.commission,
        "storage": costs.storage,
        "handling": found.result.handling,
    }
    document["selling"] |= {name: value for name, value in named.items() if name not in assumed}
    if "advertising" not in assumed:
        document["selling"]["advertising"] = [costs.advertising]
    if "duty" not in assumed:
        document["product"]["duty"] = costs.duty
    return document


def kept_plans(market_id: str, niche_id: str) -> list[Plan]:
    """Plans of a niche that hold, without those that were dropped."""
    found = Plan.objects.filter(market_id=market_id, niche_id=niche_id, current=True)
    return list(found.exclude(state=Plan.State.DROPPED))


def kept_plan(key: UUID) -> Plan | None:
    """A plan that holds, by its key; None for one that was dropped or is not there."""
    found = Plan.objects.filter(key=key, current=True).exclude(state=Plan.State.DROPPED)
    return found.first()


def came_of(reading: Reading, plan: Plan) -> str | None:
    """What was sold so far of an order against what was planned; None for a draft, and where nothing was."""
    if plan.planned is None:
        return None
    sold = own_sold(reading, str(plan.document.get("sold_as") or ""))
    found = outcome(planned_of(plan.planned["sold_by"]), sold)
    return (
        None
        if found is None
        else outcome_sentence(found, date.fromisoformat(plan.planned["as_of"]))
    )


def told_of(reading: Reading, plan: Plan) -> tuple[str, list[str]]:
    """What a plan says now, and what to look out for; why nothing comes of it where that is so."""
    try:
        made = make_plan(reading, plan.document)
    except CoreError as error:
        return str(error), []
    return made["sentence"], made["warnings"]
