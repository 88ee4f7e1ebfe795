"""All plans of a market on one cash path, against the cash at hand."""

from __future__ import annotations

from collections.abc import Container, Sequence
from datetime import datetime, timedelta
from functools import lru_cache
from typing import Any

import numpy as np

from driftfield.core.base import CoreError
from driftfield.core.economics import unit_economics
from driftfield.core.market import NICHE
from driftfield.exchange.plans_file import MOST_PLANS
from driftfield.exchange.plans_record import OneOfSeveral, Pool, one_of_several, several_record
from driftfield.market.models import Market, Niche
from driftfield.readings.columns import columns_of
from driftfield.readings.reading import Reading, reading_of
from driftfield.readings.store import read_columns

from .models import Choice, Decision, Plan, Purse
from .plans import came_of, read_plan
from .profitability import FROM_READING, costs_of


def purse_of(market_id: str) -> Purse:
    """The cash at hand for a market's orders; one that says nothing where none was kept."""
    return Purse.objects.filter(market_id=market_id).first() or Purse(market_id=market_id)


def market_orders(market: Market, taken: Sequence[str] | None = None) -> dict[str, Any]:
    """The plans of a market that are kept on one cash path, the latest 60 of them; see ``several_record``.

    taken: keys of those that are added up; None for what is proposed.
    """
    run, purse = market.run, purse_of(market.market_id)
    kept = Plan.objects.filter(market_id=market.market_id, current=True)
    shown = list(kept.exclude(state=Plan.State.DROPPED).order_by("-pk")[: MOST_PLANS + 1])
    plans = shown[:MOST_PLANS]
    ids = {one.niche_id for one in plans}
    niches = {
        one.niche_id: one
        for one in Niche.objects.filter(market=market, niche_id__in=ids).select_related(
            "category__parent"
        )
    }
    readings = {key: reading_of(run, niche) for key, niche in niches.items()}
    made = [_made(one, readings.get(one.niche_id)) for one in plans]
    mine = Decision.objects.filter(market_id=market.market_id, kind=NICHE.key, current=True)
    decided = dict(mine.exclude(choice=Choice.OPEN).values_list("subject", "choice"))
    arrival = run.planning + timedelta(days=int(run.settings["lead_days"]))
    found = several_record(
        made, purse.cash, run.planning, arrival, market.currency, taken, purse.most_loss,
        _pool(market, {one for one, choice in decided.items() if choice == Choice.PASS}) if plans else None,
    )  # fmt: skip
    for fill in found["fills"]:
        fill["decision"] = decided.get(fill["niche_id"])
    by_key = {str(one.key): one for one in plans}
    for row in found["plans"]:
        plan, reading = by_key[row["key"]], readings.get(row["niche_id"])
        row["came_of_it"] = None if reading is None else came_of(reading, plan)
    return {**found, "more": len(shown) > MOST_PLANS}


def _made(plan: Plan, reading: Reading | None) -> OneOfSeveral:
    placed = plan.state == Plan.State.ORDERED
    if reading is None:
        return OneOfSeveral(
            str(plan.key), plan.niche_id, plan.niche_id, plan.name, placed, None, None,
            "This niche is no longer in the figures.",
        )  # fmt: skip
    run = reading.run
    return _planned(plan.pk, plan.made_at, reading.niche.pk, run.pk, run.made_at, run.planned_at)


@lru_cache(maxsize=2 * MOST_PLANS)
def _planned(
    plan_key: int, kept_at: datetime, niche_key: int, run_key: int, made_at: datetime, planned_at: datetime
) -> OneOfSeveral:  # fmt: skip
    """A plan as one among several; as long as neither it nor the readings change."""
    plan = Plan.objects.get(pk=plan_key)
    niche = Niche.objects.select_related("market__run", "category__parent").get(pk=niche_key)
    reading = reading_of(niche.market.run, niche)
    assert reading is not None, "it was read a moment ago"
    key, placed = str(plan.key), plan.state == Plan.State.ORDERED
    try:
        read, market = read_plan(reading, plan.document)
        return one_of_several(
            key,
            plan.niche_id,
            niche.name,
            placed,
            read,
            market,
            niche.market.currency,
            reading.run.planning,
        )
    except CoreError as error:
        return OneOfSeveral(
            key, plan.niche_id, niche.name, plan.name, placed, None, None, str(error)
        )


def _pool(market: Market, passed: Container[str]) -> Pool | None:
    """The market's niches as what may fill quiet months, each at its own costs, without those passed on.

    None for a run of an earlier version, which has stored no profiles.
    """
    run = market.run
    columns = columns_of(run, NICHE)
    units, price = columns.figure("sales.units_52w"), columns.figure("sales.price_median")

    read = {name: columns.figure(key) for name, key in FROM_READING.items()}

    def left(at: int) -> tuple[float, float] | None:
        own = {name: None if np.isnan(one[at]) else float(one[at]) for name, one in read.items()}
        known = costs_of(market.market_id, columns.ids[at], own)
        if known is None:
            return None
        return unit_economics(known.costs, known.classes).left, known.costs.price

    stored = dict(read_columns(run, NICHE, ("season_profile",))).get("season_profile")
    if stored is None:
        return None
    profiles = stored.to_numpy()
    if profiles.ndim != 2:  # None of them has a profile.
        profiles = np.full((columns.count, 52), np.nan)
    out = np.array([one in passed for one in columns.ids], dtype=bool)
    takings = np.where(out, np.nan, units * price)
    return Pool(columns.ids, columns.names, profiles.astype(np.float64), takings, left)
