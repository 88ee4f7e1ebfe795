"""How good planned quantities are, on niches whose truth is known, and against a reference package.

Makes niches of another recipe than the plan's own: five years of weekly searches from a season, a drift and
chance (negative binomial), launches whose shares follow a beta distribution, and a next year that is drawn
once more. Tells the profit of planned quantities over the best possible for the true distribution, the same of
the plain practice (a rival's units × searches then ÷ now × days), how often the band of the final balance holds
what came, and how long a plan takes: where the distribution of shares is known (3,000 launches), and where it
is guessed from 12 to 40. An order that sells out in more than one draw of ten has its best end in the band,
which then holds nine of ten by right; so the place among the draws is told too, ties put at random (Czado,
Gneiting & Held, “Predictive model assessment for count data”, Biometrics 65, 2009). With stockpyl installed
(requirements/bench.txt) its newsvendor, order quantity and service level figures are held against ours.

    PYTHONPATH=. python benchmarks/order_quantities.py [--niches 500]
"""

from __future__ import annotations

import argparse
import time
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import DEFAULTS, CoreError, Floats, Period, Timeline
from driftfield.core.economics import (
    Goods,
    OwnFigure,
    Part,
    PlanInputs,
    Planner,
    PriceBreak,
    Quote,
    Selling,
    ShareDraws,
    Way,
    bill_of,
    plain_practice,
)
from driftfield.core.economics.ordering import (
    economic_quantity,
    newsvendor_normal,
    profit_curve,
    safety_stock,
    tried_quantities,
)
from driftfield.core.economics.own_demand import DemandDraws
from driftfield.core.market.outlook import outlook_of
from driftfield.core.supply import LEVELS
from driftfield.core.supply.newcomers import weighted_quantiles

FIRST, YEARS = date(2021, 1, 4), 5
DRAWS = 20_000
TIE = 0.05  # Of the currency; balances so near are of the same number of units sold.


@dataclass
class Truth:
    """What is true of one made niche. weekly: (52,) what is searched in the coming year, in the middle."""

    seasonal: bool
    weekly: Floats
    spread: float
    a: float
    b: float
    units_a_search: float
    history: Floats
    shares: Floats


def make(rng: np.random.Generator, seasonal: bool, launches: tuple[int, int]) -> Truth:
    weeks = np.arange(52 * YEARS)
    base = np.ones(52)
    if seasonal:
        at, wide = rng.uniform(0, 52), rng.uniform(2.5, 8)
        away = (np.arange(52) - at + 26) % 52 - 26
        base = rng.uniform(0.02, 0.3) + np.exp(-0.5 * (away / wide) ** 2)
        base /= base.mean()
    rate = rng.normal(0, 0.08)
    level = np.exp(rng.uniform(np.log(300), np.log(6000)))
    growth = np.exp(rate * weeks / 52)
    expected = level * growth * base[weeks % 52]
    history = rng.negative_binomial(60, 60 / (60 + expected)).astype(np.float64)
    ahead = level * np.exp(rate * (weeks[-1] + 1 + np.arange(52)) / 52) * base
    a, b = rng.uniform(0.8, 2), rng.uniform(15, 40)
    shares = rng.beta(a, b, int(rng.integers(*launches)))
    return Truth(
        seasonal, ahead, rng.uniform(0.05, 0.15), a, b, rng.uniform(0.02, 0.06), history, shares
    )


def shares_of(truth: Truth) -> ShareDraws:
    """As the plan learns it: from launches, each month the same."""
    found = weighted_quantiles(truth.shares, np.ones(len(truth.shares)), LEVELS)
    return ShareDraws(np.array(LEVELS), np.tile(found[:, None], (1, 12)))


def planned(truth: Truth, rng: np.random.Generator) -> tuple[Planner, date] | None:
    timeline = Timeline(Period.WEEK, FIRST, len(truth.history))
    monday = timeline.end + timedelta(days=1)
    try:
        outlook = outlook_of(truth.history, timeline, DEFAULTS, truth.units_a_search, monday)
    except CoreError:
        return None
    # On sale eight weeks before the peak, or in eleven weeks; until eight weeks after it, or for 13.
    peak = int(truth.weekly.argmax())
    begin = max(peak - 8, 8) if truth.seasonal else 11
    if begin > 40:
        begin = 40
    end = begin + (17 if truth.seasonal else 13)
    price = rng.uniform(14, 60)
    cost = price * rng.uniform(0.12, 0.28)
    inputs = PlanInputs(
        monday + timedelta(weeks=begin, days=-77), monday + timedelta(weeks=end, days=-1),
        Quote("A", (PriceBreak(1, cost),), making_days=30), (Part(Way("sea", 47), 1.0),),
        Selling(price, commission=0.15, handling=3.0, advertising=(0.08,), price_error=0.0), Goods(),
        leftover="clear", clear_at=rng.uniform(0.2, 0.5), draws=10_000,
    )  # fmt: skip
    moved = outlook_of(truth.history, timeline, DEFAULTS, truth.units_a_search, inputs.ordered)
    if inputs.ordered < monday:
        quote = replace(inputs.quote, making_days=max(begin * 7 - 47, 0))
        inputs = replace(inputs, ordered=monday, quote=quote)
        moved = outlook
    return Planner(inputs, moved, shares_of(truth)), monday


def true_draws(
    truth: Truth, planner: Planner, monday: date, rng: np.random.Generator, draws: int
) -> DemandDraws:
    """Demand as it really is: the level, the share and chance drawn by the truth's own recipe."""
    begin, end, _ = planner._weeks(planner.inputs)
    first = (planner.outlook.start(begin) - monday).days // 7
    weeks = truth.weekly[np.arange(first, first + end - begin) % 52] * truth.units_a_search
    level = np.exp(rng.normal(0, truth.spread, draws))
    share = rng.beta(truth.a, truth.b, draws)
    units = np.zeros((draws, len(planner.outlook)), dtype=np.float32)
    units[:, begin:end] = rng.poisson(level[:, None] * share[:, None] * weeks[None, :])
    return DemandDraws(units, units.mean(axis=0))


def profits(planner: Planner, demand: DemandDraws, wanted: list[int]) -> tuple[Floats, float]:
    """Mean profit of some quantities under a demand, and the best there is."""
    inputs = planner.inputs
    begin, end, _ = planner._weeks(inputs)
    passed = np.cumsum(demand.units[:, begin:end], axis=1, dtype=np.float32)
    units = tried_quantities(passed[:, -1], inputs.quote.orderable, np.array(wanted))
    curve = profit_curve(
        passed, units, planner._earned(inputs), lambda many: bill_of(inputs, many).landed,
        lambda many: planner.worth(inputs, bill_of(inputs, many).unit),
    )  # fmt: skip
    return np.array([curve.profit[curve.at(one)] for one in wanted]), max(
        float(curve.profit.max()), 0.0
    )


def against_reference(rng: np.random.Generator) -> None:
    try:
        from stockpyl.eoq import economic_order_quantity
        from stockpyl.newsvendor import newsvendor_normal as reference
    except ImportError:
        print("stockpyl is not installed: not held against it.")
        return
    off = 0.0
    for _ in range(1_000):
        under, over, mean = rng.uniform(0.1, 50), rng.uniform(0.1, 50), rng.uniform(100, 5_000)
        deviation = mean * rng.uniform(0.02, 0.25)
        theirs, _ = reference(over, under, mean, deviation)
        off = max(off, abs(newsvendor_normal(mean, deviation, under, over) / theirs - 1))
        # The stock of a service level is the newsvendor's with that critical ratio.
        level = rng.uniform(0.5, 0.99)
        theirs, _ = reference(1 - level, level, mean, deviation)
        off = max(off, abs((mean + safety_stock(deviation, level)) / theirs - 1))
        fixed, holding = rng.uniform(1, 500), rng.uniform(0.01, 20)
        theirs, _ = economic_order_quantity(fixed, holding, mean)
        off = max(off, abs(economic_quantity(mean, fixed, holding) / theirs - 1))
    print(f"stockpyl: 3,000 quantities, largest relative difference {off:.1e}")


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--niches", type=int, default=500)
    wanted = parser.parse_args()
    against_reference(np.random.default_rng(7))
    for launches in ((3_000, 3_001), (12, 41)):
        print(f"shares known from {launches[0]:,} to {launches[1] - 1:,} launches:")
        measure(wanted.niches, launches)


def measure(niches: int, launches: tuple[int, int]) -> None:
    rng, ties = np.random.default_rng(7), np.random.default_rng(8)
    mine, plain, best = ({True: 0.0, False: 0.0} for _ in range(3))
    inside = between = made = 0
    took = []
    for number in range(niches):
        truth = make(rng, bool(number % 2), launches)
        found = planned(truth, rng)
        if found is None:
            continue
        planner, monday = found
        began = time.perf_counter()
        plan = planner.plan()
        took.append(time.perf_counter() - began)
        demand = true_draws(truth, planner, monday, rng, DRAWS)
        # What a typical rival sells a day now, the searches of now and of the middle of the time on sale.
        now = truth.history[-4:].mean()
        then = float(planner.outlook.units[plan.week : plan.end].mean()) / truth.units_a_search
        rival = float(np.median(truth.shares)) * now * truth.units_a_search / 7
        reckoned = plain_practice(OwnFigure(rival, now, then, 90))
        usual = planner.inputs.quote.orderable(max(reckoned, 1))
        (ours, theirs), top = profits(planner, demand, [plan.quantity.best, usual])
        if plan.quantity.curve.profit[plan.quantity.curve.best] <= 0:
            ours = 0.0  # Nothing is ordered where nothing is earned.
        mine[truth.seasonal] += ours
        plain[truth.seasonal] += theirs
        best[truth.seasonal] += top
        once = DemandDraws(true_draws(truth, planner, monday, rng, 1).units, plan.demand.middle)
        came = planner.cash(planner.inputs, plan.quantity.chosen, once).mean
        low, _, high = plan.cash.final
        inside += low <= came <= high
        drawn = planner.follow(planner.inputs, plan.quantity.chosen, plan.demand).final
        place = (drawn < came - TIE).mean()
        place += ties.random() * (np.abs(drawn - came) <= TIE).mean()
        between += 0.1 <= place <= 0.9
        made += 1
    for seasonal, name in ((True, "seasonal"), (False, "level")):
        print(
            f"{name}: {mine[seasonal] / best[seasonal]:.3f} of the best possible profit, the plain practice "
            f"{plain[seasonal] / best[seasonal]:.3f}"
        )
    print(
        f"all: {sum(mine.values()) / sum(best.values()):.3f} of the best possible profit, {made} niches"
    )
    print(
        f"the P10 to P90 of the final balance held what came in {inside / made:.1%}; what came "
        "lay between these "
        f"places among the draws, ties at random, in {between / made:.1%}"
    )
    middle, late = np.quantile(took, (0.5, 0.95)) * 1000
    print(f"a plan with 10,000 draws: {middle:.0f} ms, 95th percentile {late:.0f} ms")


if __name__ == "__main__":
    main()
