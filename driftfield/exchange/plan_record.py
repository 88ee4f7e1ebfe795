"""What came of a plan as JSON takes it: dates, quantity with its working, money, "
"cash path and what may change them."""

from __future__ import annotations

import math
from datetime import date, timedelta
from typing import Any

import numpy as np

from driftfield.core.base import format_money
from driftfield.core.economics import (
    CashPath,
    Costs,
    Plan,
    PlannedSales,
    Planner,
    adding_up,
    plain_practice,
    shifts,
    to_pennies,
    turns,
    unit_economics,
)
from driftfield.core.market import NicheOutlook
from driftfield.core.sentences import plan_sentence, plan_warnings
from driftfield.core.supply import LEVELS, NewcomersPath

from .plan_file import Read

POINTS = 60  # Quantities of the profit curve that are told.
_AT = {"p10": LEVELS.index(0.1), "p50": LEVELS.index(0.5), "p90": LEVELS.index(0.9)}


def plan_record(
    read: Read, market: NicheOutlook, currency: str, today: date | None = None
) -> dict[str, Any]:
    """Make the plan of some inputs, as schemas/plan.schema.json describes what comes of them."""
    inputs = read.inputs
    planner = Planner(inputs, market.outlook, read.share)
    plan = planner.plan()
    units = plan.bill.units
    other = planner.variations(units, [(name, one, read.share) for name, one in turns(inputs)])
    named = shifts(inputs)
    both = [(name, one, read.share) for name, *pair in named for one in pair]
    moved = planner.changes(units, both)
    sensitivity: list[dict[str, Any]] = [
        {"name": name, "worse": _money(worse), "better": _money(better)}
        for (name, worse), (_, better) in zip(moved[::2], moved[1::2], strict=True)
    ]
    sensitivity.sort(key=lambda one: -abs(one["worse"] - one["better"]))
    return {
        "name": read.name,
        "sentence": plan_sentence(plan, currency, read.assumed),
        "warnings": plan_warnings(plan, currency, read.season, today),
        "assumed": read.assumed,
        "from_market": read.from_market,
        "share_from": read.share_from,
        "currency": currency,
        "dates": _dates(read, planner, plan),
        "expected": _expected(plan),
        "sold_by": planned_record(plan.sold),
        "newcomers": _newcomers(market.newcomers),
        "quantity": _quantity(plan, currency),
        "plain_practice": _plain(plan),
        "unit": _unit(plan),
        "bill": _bill(plan),
        "payments": _payments(plan),
        "cash": {
            **_cash(plan.cash, plan),
            "weeks": [
                {"week": plan.outlook.start(at).isoformat(), "low": _money(low), "middle": _money(mid),
                 "high": _money(high)}
                for at, (low, mid, high) in enumerate(
                    zip(plan.cash.low, plan.cash.middle, plan.cash.high, strict=True)
                )
            ],
            "budget_share": None if not inputs.budget else round(-plan.cash.lowest[1] / inputs.budget, 4),
        },
        "turns": [
            {"name": one.name, "change": _money(one.change), **_cash(one.path, plan)} for one in other
        ],
        "sensitivity": sensitivity,
    }  # fmt: skip


def planned_record(planned: PlannedSales) -> dict[str, Any]:
    """What is to have been sold by the end of each week, from a first one on."""
    return {
        "first": planned.first.isoformat(), "on_sale": planned.on_sale.isoformat(),
        **{name: np.round(getattr(planned, name), 1).tolist() for name in ("low", "middle", "high")},
    }  # fmt: skip


def planned_of(record: dict[str, Any]) -> PlannedSales:
    """The same read back."""
    first, on_sale = (date.fromisoformat(record[name]) for name in ("first", "on_sale"))
    return PlannedSales(
        first, on_sale, *(np.array(record[name]) for name in ("low", "middle", "high"))
    )


def _known(value: float, digits: int = 4) -> float | None:
    return None if not math.isfinite(value) else round(float(value), digits)


def _money(value: float) -> float:
    return float(to_pennies(value))


def _dates(read: Read, planner: Planner, plan: Plan) -> dict[str, Any]:
    season, inputs = read.season, read.inputs
    return {
        "ordered": inputs.ordered.isoformat(),
        "on_sale": [day.isoformat() for day in inputs.arrived],
        "until": inputs.until.isoformat(),
        "order_by": season and season.order_by.isoformat(),
        "open_until": season and season.open_until.isoformat(),
        "season": season
        and {
            "rise": season.rise.isoformat(), "peak_start": season.peak_start.isoformat(),
            "peak_end": season.peak_end.isoformat(), "wind_down": season.wind_down.isoformat(),
            "end": season.end.isoformat(), "caught": season.caught,
        },
        "reorders": [day.isoformat() for day in planner.reorders(plan, seasonal=not read.all_year)],
        "forecast_until": (plan.outlook.start(plan.outlook.known) - timedelta(days=1)).isoformat(),
    }  # fmt: skip


def _expected(plan: Plan) -> list[dict[str, Any]]:
    """Units a week while it is on sale: of the niche and of one's own, with the band of the draws."""
    weeks = range(plan.week, plan.end)
    if not weeks:
        return []
    own = np.quantile(plan.demand.units[:, plan.week : plan.end], (0.1, 0.5, 0.9), axis=0)
    return [
        {
            "week": plan.outlook.start(week).isoformat(), "niche": round(float(plan.outlook.units[week]), 2),
            "own": round(float(plan.demand.middle[week]), 2), "low": float(low), "middle": float(mid),
            "high": float(high),
        }
        for week, low, mid, high in zip(weeks, *own, strict=True)
    ]  # fmt: skip


def _newcomers(path: NewcomersPath | None) -> dict[str, Any] | None:
    if path is None:
        return None
    return {
        "months": [
            {
                "month": at + 1, "own": int(path.own[at]), "pooled": int(path.pooled[at]),
                **{name: _known(path.quantiles[row, at], 6) for name, row in _AT.items()},
                "alive": _known(path.alive[at]), "alive_of": int(path.alive_of[at]),
                "price": _known(path.price[at]), "reviews": _known(path.reviews[at], 1),
            }
            for at in range(path.quantiles.shape[1])
        ],
        "sponsored": _known(path.sponsored),
    }  # fmt: skip


def _quantity(plan: Plan, currency: str) -> dict[str, Any]:
    own, quote = plan.quantity, plan.inputs.quote
    curve = own.curve
    step = max(len(curve.units) // POINTS, 1)
    shown = sorted({*range(0, len(curve.units), step), curve.best, curve.at(own.chosen)})
    here = curve.at(own.chosen)
    service = plan.inputs.service
    level = own.ratio if service is None else service

    def money(amount: float) -> str:
        return format_money(amount, currency)

    why = (
        f"a unit too few costs {money(own.earned - own.cost)}, one too many {money(own.cost - own.worth)}: it "
        f"pays to be sold out in {1 - own.ratio:.0%} of the draws"
        if service is None
        else f"not to be sold out in {service:.0%} of the draws"
    )
    working = [
        f"units wanted while on sale: {own.low:,.0f} to {own.high:,.0f} in eight draws of ten, "
        f"{own.middle:,.0f} in the middle",
        f"a unit sold brings {money(own.earned)} before its goods, costs {money(own.cost)} landed, and is "
        f"worth {money(own.worth)} when left over",
        f"{why}: the {level:.0%} quantile, {own.wanted:,.0f}",
        f"minimum {quote.minimum:,}, cartons of {quote.carton:,}"
        + (
            ", price breaks from " + ", ".join(f"{one.units:,}" for one in quote.breaks[1:])
            if len(quote.breaks) > 1
            else ""
        )
        + f": {own.chosen:,}",
    ]
    return {
        "chosen": own.chosen, "best": own.best, "covered": own.covered, "wanted": _known(own.wanted, 1),
        "service": service, "ratio": _known(own.ratio), "earned": _money(own.earned), "cost": _money(own.cost),
        "worth": _money(own.worth), "mean": _known(own.mean, 1), "deviation": _known(own.deviation, 1),
        "low": own.low, "middle": own.middle, "high": own.high,
        "safety_stock": None if own.safety is None else _known(own.safety, 1),
        "expected_sold": _known(float(curve.sold[here]), 1),
        "expected_left": _known(float(curve.left[here]), 1),
        "sells_out": _known(float(curve.sells_out[here])), "working": working,
        "curve": [
            {"units": int(curve.units[at]), "profit": _money(float(curve.profit[at]))} for at in shown
        ],
    }  # fmt: skip


def _plain(plan: Plan) -> dict[str, Any] | None:
    own = plan.inputs.own
    if own is None:
        return None
    return {
        "units": _known(plain_practice(own), 1), "growth": _known(own.growth), "given": own.quantity,
        "working": f"{own.units_a_day:g} a day × {own.searches_then:,.0f} ÷ {own.searches_now:,.0f} × "
        f"{own.days:g} days = {plain_practice(own):,.0f}",
    }  # fmt: skip


def _unit(plan: Plan) -> dict[str, float]:
    """What is left of a unit at the mean price and advertising of the plan, line by line to the penny."""
    selling, bill = plan.inputs.selling, plan.bill
    months = max(len(selling.prices), len(selling.advertising))
    at = [min(month, len(selling.prices) - 1) for month in range(months)]
    price = selling.price * float(np.mean([selling.prices[one] for one in at]))
    at = [min(month, len(selling.advertising) - 1) for month in range(months)]
    spent = float(np.mean([selling.advertising[one] for one in at]))
    held = (plan.end - plan.week) / 2 * 7 / (365.25 / 12)
    made = unit_economics(
        Costs(
            price=price, goods=bill.goods / bill.units, freight=(bill.freight + bill.borne) / bill.units,
            duty=plan.inputs.goods.duty, commission=selling.commission, handling=selling.handling,
            advertising=spent, returns=selling.returned, resold=selling.resold, tax=selling.tax,
            storage=_stored(plan), months=min(held, 60), tax_included=selling.tax_included,
        )
    )  # fmt: skip
    parts = {
        "price": price, "tax": -made.tax, "commission": -made.commission, "advertising": -made.advertising,
        "handling": -made.handling, "storage": -made.storage, "goods": -made.goods,
        "freight": -bill.freight / bill.units,
        "duty": -made.duty, "import_tax": -bill.borne / bill.units, "returns": -made.lost_to_returns,
    }  # fmt: skip
    lines = {name: float(amount) for name, amount in adding_up(parts, made.left).items()}
    return {**lines, "left": _money(made.left)}


def _stored(plan: Plan) -> float:
    """What a unit costs to store a month, in the mean of the weeks on sale."""
    weeks = range(plan.week, max(plan.end, plan.week + 1))
    thursdays = [plan.outlook.start(week) + timedelta(days=3) for week in weeks]
    return float(np.mean([plan.inputs.selling.stored(day.month) for day in thursdays]))


def _bill(plan: Plan) -> dict[str, Any]:
    bill = plan.bill
    return {
        "units": bill.units, "unit_cost": plan.inputs.quote.unit_cost(bill.units), "goods": _money(bill.goods),
        "freight": _money(bill.freight), "duty": _money(bill.duty), "import_tax": _money(bill.import_tax),
        "reclaimed": bill.reclaimed, "landed": _money(bill.landed),
    }  # fmt: skip


def _payments(plan: Plan) -> list[dict[str, Any]]:
    found = [*plan.payments, *plan.import_tax]
    return [
        {"what": one.what, "week": plan.outlook.start(one.week).isoformat(), "amount": _money(one.amount)}
        for one in sorted(found, key=lambda one: one.week)
    ]  # fmt: skip


def _cash(path: CashPath, plan: Plan) -> dict[str, Any]:
    return {
        "final": [_money(one) for one in path.final], "mean": _money(path.mean), "loss": _known(path.loss),
        "lowest": [_money(one) for one in path.lowest],
        "lowest_week": plan.outlook.start(path.lowest_week).isoformat(),
        "back": [
            None if not math.isfinite(week) else plan.outlook.start(int(week)).isoformat() for week in path.back
        ],
        "rate": _known(path.rate), "never_back": _known(path.never_back), "sold": _known(path.sold, 1),
        "left": _known(path.left, 1),
    }  # fmt: skip
