"""What came of several plans as JSON takes it: each, all on one cash path, and what fills the year."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np

from driftfield.core.base import Floats, Ints, format_money
from driftfield.core.economics import (
    Laid,
    Plan,
    Planner,
    Stake,
    filling,
    lay_out,
    propose,
    to_pennies,
    together,
    units_by_month,
)
from driftfield.core.market import NicheOutlook
from driftfield.core.sentences import left_out_text, orders_sentences, plan_sentence, plan_warnings

from .plan_file import Read

FILLS = 8  # Niches that are named as filling quiet months.
LOOKED_AT = 40  # Those of most takings in the quiet months, whose margin is asked for.
FULLER = 1.25  # Times an even year's demand that falls into the quiet months; our choice.


@dataclass(frozen=True, slots=True)
class OneOfSeveral:
    """A plan among several. summary: see ``plan_summary``; stake: None where no plan can be made, and why."""

    key: str
    niche_id: str
    niche: str
    name: str
    placed: bool
    summary: dict[str, Any] | None
    stake: Stake | None
    problem: str = ""


def one_of_several(
    key: str, niche_id: str, niche: str, placed: bool, read: Read, market: NicheOutlook, currency: str,
    today: date,
) -> OneOfSeveral:  # fmt: skip
    """Make a plan that stands among others. Raises CoreError where none can be made."""
    planner = Planner(read.inputs, market.outlook, read.share)
    plan = planner.plan()
    return OneOfSeveral(
        key, niche_id, niche, read.name, placed, plan_summary(read, plan, currency, None if placed else today),
        planner.stake(plan, key, niche_id, placed),
    )  # fmt: skip


def plan_summary(
    read: Read, plan: Plan, currency: str, today: date | None = None
) -> dict[str, Any]:
    """The main figures of a plan, by which plans are put beside one another."""
    cash, start = plan.cash, plan.outlook.start

    def money(value: float) -> float:
        return float(to_pennies(value))

    return {
        "ordered": plan.inputs.ordered.isoformat(),
        "on_sale": plan.inputs.on_sale.isoformat(), "until": plan.inputs.until.isoformat(),
        "supplier": plan.inputs.quote.name,
        "ways": ", ".join(part.way.name for part in plan.inputs.parts if part.share > 0),
        "units": plan.bill.units, "landed": money(plan.bill.landed), "unit_landed": money(plan.bill.unit),
        "lowest": [money(one) for one in cash.lowest], "final": [money(one) for one in cash.final],
        "mean": money(cash.mean), "loss": round(cash.loss, 4),
        "back": None if cash.back[1] != cash.back[1] else start(int(cash.back[1])).isoformat(),
        "caught": read.season and read.season.caught,
        "payments": [
            {
                "what": one.what, "week": start(one.week).isoformat(), "amount": money(one.amount),
                "told": format_money(one.amount, currency),
            }
            for one in sorted([*plan.payments, *plan.import_tax], key=lambda one: one.week)
        ],
        "sentence": plan_sentence(plan, currency, read.assumed),
        "warnings": plan_warnings(plan, currency, read.season, today),
    }  # fmt: skip


@dataclass(frozen=True, slots=True)
class Pool:
    """Niches that may fill quiet months.

    profiles: (niches, slots) season factors; takings: (niches,) of a year, NaN for unknown. left: what is left
    of a unit of one of them, and its price; None where that is not known.
    """

    ids: Sequence[str]
    names: Sequence[str]
    profiles: Floats
    takings: Floats
    left: Callable[[int], tuple[float, float] | None]


def several_record(
    plans: Sequence[OneOfSeveral], cash: float | None, today: date, arrival: date, currency: str,
    taken: Sequence[str] | None = None, most_loss: float | None = None, pool: Pool | None = None,
) -> dict[str, Any]:  # fmt: skip
    """Several plans on one cash path, as schemas/plans.schema.json describes it.

    taken: keys of those that are added up, those that are placed among them in any case; None for what is
    proposed. cash: at hand today, None for not known. arrival: from when on goods ordered now are on sale.
    """
    made = [one for one in plans if one.stake is not None]
    laid = lay_out([one.stake for one in made if one.stake is not None], today)
    proposal = propose(laid, np.inf if cash is None else cash, today, most_loss)
    use = proposal.taken
    if taken is not None:
        use = np.array([one.placed or one.key in taken for one in made], dtype=bool)
    found = together(laid, use, cash or 0.0)
    months = units_by_month(laid, use, arrival)
    niches = {one.niche_id for one, own in zip(made, use, strict=True) if own}
    names = [one.name for one in made]
    place = {one.key: at for at, one in enumerate(made)}
    told: list[dict[str, Any]] = []
    for one in plans:
        at = place.get(one.key, -1)
        why = proposal.left_out.get(at)
        told.append(
            {
                "key": one.key, "niche_id": one.niche_id, "niche": one.niche, "name": one.name,
                "placed": one.placed, "problem": one.problem,
                "taken": at >= 0 and bool(use[at]), "proposed": at >= 0 and bool(proposal.taken[at]),
                "why": why and why.why,
                "reason": left_out_text(why, laid, at, names, currency, most_loss) if why else "",
                "summary": one.summary,
            }
        )  # fmt: skip
    return {
        "today": today.isoformat(), "currency": currency, "cash_at_hand": cash, "most_loss": most_loss,
        "sentences": orders_sentences(
            found, laid, proposal, months, int(use.sum()), len(niches), cash, currency
        ),
        "plans": told,
        "cash": _cash(found, laid),
        "months": [
            {"month": one.month.isoformat(), "units": round(one.units, 1), "quiet": one.quiet}
            for one in months
        ],
        "fills": _fills(pool, [one.month.month for one in months if one.quiet], niches),
    }  # fmt: skip


def _cash(found: Any, laid: Laid) -> dict[str, Any]:
    def money(value: float) -> float:
        return float(to_pennies(value))

    return {
        "weeks": [
            {
                "week": laid.start(at).isoformat(), "low": money(low), "middle": money(middle),
                "high": money(high),
            }
            for at, (low, middle, high) in enumerate(zip(found.low, found.middle, found.high, strict=True))
        ],
        "lowest": [money(one) for one in found.lowest],
        "lowest_week": laid.start(found.lowest_week).isoformat(), "alike": money(found.alike),
        "short": round(found.short, 4), "gained": [money(one) for one in found.gained],
        "loss": round(found.loss, 4), "mean": money(found.mean),
    }  # fmt: skip


def _fills(pool: Pool | None, months: list[int], taken: set[str]) -> list[dict[str, Any]]:
    """Niches whose season fills the quiet months, by what their units of these months would leave.

    Of all their listings: a newcomer's share is taken to be alike everywhere. Those that leave nothing, or of
    which that is not known, are not named.
    """
    if pool is None or not months:
        return []
    slots = pool.profiles.shape[1]
    quiet = np.isin(_months_of(slots), months)
    times = filling(pool.profiles, quiet)
    share = times * quiet.mean()
    free = np.array([one not in taken for one in pool.ids], dtype=bool)
    weight = np.where(free & (times >= FULLER) & (pool.takings > 0), share * pool.takings, 0.0)
    found = []
    for at in np.argsort(-weight, kind="stable")[:LOOKED_AT].tolist():
        margin = pool.left(at) if weight[at] > 0 else None
        if margin is not None and margin[0] > 0:
            left, price = margin
            found.append(
                {
                    "niche_id": pool.ids[at], "niche": pool.names[at], "share": round(float(share[at]), 4),
                    "even": round(float(quiet.mean()), 4), "left_a_unit": round(left, 2), "decision": None,
                    "leaves": round(float(weight[at]) / price * left, 2),
                }
            )  # fmt: skip
    return sorted(found, key=lambda one: -one["leaves"])[:FILLS]


def _months_of(slots: int) -> Ints:
    """The month that each slot of a year lies in, 1–12: of a week that of its Thursday in a common year."""
    if slots == 12:
        return np.arange(1, 13)
    days = [date.fromisocalendar(2026, week, 4) for week in range(1, slots + 1)]
    return np.array([day.month for day in days])


LIST_COLUMNS = (
    "niche_id", "niche", "plan", "placed", "taken", "proposed", "why_not", "ordered", "on_sale", "until",
    "units", "landed", "lowest", "chance_of_loss", "mean_result", "money_back",
)  # fmt: skip


def plan_rows(made: dict[str, Any]) -> list[dict[str, Any]]:
    """The plans of ``several_record`` as rows of a list, by LIST_COLUMNS."""
    rows = []
    for one in made["plans"]:
        own = one["summary"] or {}
        lowest = own.get("lowest")
        rows.append(
            {
                "niche_id": one["niche_id"], "niche": one["niche"], "plan": one["name"],
                "placed": one["placed"], "taken": one["taken"], "proposed": one["proposed"],
                "why_not": one["reason"] or one["problem"],
                **{name: own.get(name) for name in ("ordered", "on_sale", "until", "units", "landed")},
                "lowest": lowest and lowest[1], "chance_of_loss": own.get("loss"),
                "mean_result": own.get("mean"), "money_back": own.get("back"),
            }
        )  # fmt: skip
    return rows
