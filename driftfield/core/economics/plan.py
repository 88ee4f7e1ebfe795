"""A plan: how many to order by when, what it earns, and what it does to the money."""

from __future__ import annotations

import zlib
from collections.abc import Hashable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import CoreError, Floats

from .cash import BANDS, CashDraws, CashPath, Payment, Terms, follow_cash
from .ordering import (
    ProfitCurve,
    critical_ratio,
    profit_curve,
    safety_stock,
    tried_quantities,
)
from .own_demand import WEEKS_A_MONTH, DemandDraws, Outlook, ShareDraws, draw_demand, sold_of
from .own_sales import PlannedSales
from .plan_inputs import Bill, PlanInputs, bill_of
from .quotes import split_units
from .together import STAKE_DRAWS, Stake

MONTH_DAYS = 365.25 / 12
MOST_ORDERS = 53  # A year.
# An order in parts is looked for among so many quantities, within these of what would be best otherwise.
TRIED_PARTS, LEAST_PART, MOST_PART = 10, 0.6, 1.3
TRIED = 1_000  # Draws of a variation: it is compared with the plan itself over the same ones.


@dataclass(frozen=True, slots=True)
class Quantity:
    """How many to order and why.

    chosen: what the plan orders. best: what earns most on average; covered: what meets the service level,
    None where none is asked. wanted: before minimum and cartons. earned, cost, worth: of a unit sold, ordered,
    and left over. ratio: the critical one. mean, deviation, low, middle, high: of demand while on sale. safety:
    stock beyond the mean that the service level takes by the normal approximation, None without one.
    """

    chosen: int
    best: int
    covered: int | None
    wanted: float
    earned: float
    cost: float
    worth: float
    ratio: float
    mean: float
    deviation: float
    low: float
    middle: float
    high: float
    safety: float | None
    curve: ProfitCurve


@dataclass(frozen=True, slots=True)
class Variation:
    """What another turn of things does to the plan, in the mean of the same draws.

    change: of the final balance. path: the cash path then.
    """

    name: str
    change: float
    path: CashPath


@dataclass(frozen=True, slots=True)
class Plan:
    """What came of inputs. week, end: the first week on sale, and the first after the last."""

    inputs: PlanInputs
    outlook: Outlook
    week: int
    end: int
    demand: DemandDraws
    quantity: Quantity
    bill: Bill
    payments: list[Payment]
    import_tax: list[Payment]
    cash: CashPath
    sold: PlannedSales


class Planner:
    """Makes a plan of one niche and its variations over the same draws.

    Parameters
    ----------
    inputs : PlanInputs
        Dates, quote, transport, money.
    outlook : Outlook
        What the niche sells from the week of the order on; it must reach to the end and the last payments.
    share : ShareDraws
        What of it the listing has.
    """

    def __init__(self, inputs: PlanInputs, outlook: Outlook, share: ShareDraws) -> None:
        self.inputs, self.outlook, self.share = inputs, outlook, share
        self._drawn: dict[Hashable, DemandDraws] = {}
        if inputs.on_sale > inputs.until:
            raise CoreError(
                f"Ordered on {inputs.ordered}, goods are on sale on {inputs.on_sale}: after {inputs.until}, "
                "when there is nothing left to sell for. Order earlier, take a faster way, or plan for what "
                "comes next."
            )

    def _weeks(self, inputs: PlanInputs) -> tuple[int, int, int]:
        """The first week on sale, the first after the last, and how many the path holds."""
        # Goods that come within a week are sold from the next one on.
        begin = -((self.outlook.first - inputs.on_sale).days // 7)
        end = self.outlook.week_of(inputs.until) + 1
        after = inputs.selling.payout_weeks + inputs.selling.tax_every + inputs.selling.tax_after
        horizon = max(end, begin) + after + 1
        if horizon > len(self.outlook):
            raise CoreError(
                f"What sells after {self.outlook.start(len(self.outlook))} is not known."
            )
        return begin, max(end, begin), horizon

    def _demand(self, inputs: PlanInputs, share: ShareDraws, draws: int) -> DemandDraws:
        begin, end, _ = self._weeks(inputs)
        rng = np.random.default_rng(inputs.seed)
        return draw_demand(self.outlook, share, begin, end, rng, draws, inputs.factor)

    def _by_week(
        self, inputs: PlanInputs, months: Sequence[float], begin: int, weeks: int
    ) -> Floats:
        """A figure by month on sale as one a week."""
        since = np.maximum(np.arange(weeks) - begin, 0)
        at = np.minimum((since * 7 / MONTH_DAYS).astype(np.int64), len(months) - 1)
        found: Floats = np.asarray(months, dtype=np.float64)[at]
        return found

    def _terms(self, inputs: PlanInputs, begin: int, weeks: int) -> Terms:
        selling = inputs.selling
        return Terms(
            selling.tax_part, selling.commission, selling.handling, selling.returned, selling.resold,
            selling.price * self._by_week(inputs, selling.prices, begin, weeks),
            self._by_week(inputs, selling.advertising, begin, weeks),
            self._storage(inputs, 0, weeks), selling.payout_weeks, selling.tax_every, selling.tax_after,
        )  # fmt: skip

    def _storage(self, inputs: PlanInputs, begin: int, end: int) -> Floats:
        """What a unit costs to store in each week of the outlook, by the month that its Thursday lies in."""
        thursdays = [self.outlook.start(week) + timedelta(days=3) for week in range(begin, end)]
        return np.array([inputs.selling.stored(day.month) for day in thursdays]) * 7 / MONTH_DAYS

    def _earned(self, inputs: PlanInputs) -> Floats:
        """What a unit sold in each week on sale brings before its goods, (weeks,)."""
        begin, end, weeks = self._weeks(inputs)
        terms = self._terms(inputs, begin, weeks)
        kept = 1 - terms.returned
        each: Floats = terms.price * (
            kept * (1 - terms.tax_part - terms.commission) - terms.advertising
        ) - terms.handling * (1 + terms.returned)
        return each[begin : max(end, begin + 1)]

    def worth(self, inputs: PlanInputs, cost: float) -> float:
        """What a unit is worth that is left over, of what it cost landed."""
        if inputs.leftover == "nothing":
            return 0.0
        selling = inputs.selling
        if inputs.leftover == "carry":
            begin = self._weeks(inputs)[1]
            held = float(self._storage(inputs, begin, begin + inputs.carry_weeks).sum())
            return max(cost * (1 - inputs.capital * inputs.carry_weeks / 52) - held, 0.0)
        kept = 1 - selling.returned
        price = selling.price * inputs.clear_at
        brings = price * kept * (1 - selling.tax_part - selling.commission)
        found = brings - selling.handling * (1 + selling.returned)
        return min(max(found, 0.0), inputs.clear_most * cost)

    def quantity(self, demand: DemandDraws) -> Quantity:
        """How many to order, by what earns most or by the service level."""
        inputs = self.inputs
        begin, end, _ = self._weeks(inputs)
        on_sale = slice(begin, max(end, begin + 1))
        wanted = np.cumsum(demand.units[:, on_sale], axis=1, dtype=np.float32)
        total = wanted[:, -1]
        each = self._earned(inputs)
        storage = self._storage(inputs, begin, on_sale.stop)
        again = inputs.selling.again
        covered = None
        if inputs.service is not None:
            need = float(np.quantile(total, inputs.service, method="inverted_cdf"))
            covered = inputs.quote.orderable(need * (1 - again))
        also = [inputs.quote.orderable(1)]
        also += [inputs.quote.orderable(one.units) for one in inputs.quote.breaks]
        also += [one for one in (covered, inputs.quantity) if one]
        units = tried_quantities(total, inputs.quote.orderable, np.array(also, dtype=np.int64))
        curve = profit_curve(
            wanted, units, each, lambda many: bill_of(inputs, many).landed,
            lambda many: self.worth(inputs, bill_of(inputs, many).unit), again, storage,
        )  # fmt: skip
        best = int(units[curve.best])
        if len(inputs.parts) > 1:
            best = self._best_in_parts(curve, demand)
        chosen = inputs.quantity or covered or best
        cost = bill_of(inputs, chosen).unit
        worth = self.worth(inputs, cost)
        weight = demand.middle[on_sale]
        earned = float(np.average(each, weights=weight)) if weight.any() else float(each[0])
        over = cost + float(storage.sum()) - worth
        ratio = critical_ratio(earned - cost * (1 - again), over * (1 - again))
        level = ratio if inputs.service is None else inputs.service
        low, middle, high = np.quantile(total, BANDS).tolist()
        deviation = float(total.std())
        return Quantity(
            chosen=chosen, best=best, covered=covered,
            wanted=float(np.quantile(total, level, method="inverted_cdf")) * (1 - again), earned=earned,
            cost=cost, worth=worth, ratio=ratio, mean=float(total.mean()), deviation=deviation, low=low,
            middle=middle, high=high,
            safety=None if inputs.service is None else safety_stock(deviation, inputs.service),
            curve=curve,
        )  # fmt: skip

    def _best_in_parts(self, curve: ProfitCurve, demand: DemandDraws) -> int:
        """What earns most of an order that comes in parts, near the best of one that comes whole."""
        top = int(curve.units[curve.best])
        near = curve.units[(curve.units >= LEAST_PART * top) & (curve.units <= MOST_PART * top)]
        tried = near[:: max(len(near) // TRIED_PARTS, 1)]
        some = DemandDraws(demand.units[:TRIED], demand.middle)
        means = [self.cash(self.inputs, int(one), some).mean for one in tried]
        return int(tried[int(np.argmax(means))])

    def payments(self, inputs: PlanInputs, units: int) -> tuple[list[Payment], list[Payment]]:
        """What is paid for an order and when, and the tax on its import apart; to the penny.

        The deposit with the order, the balance after dispatch, freight at dispatch, duty and tax when a part
        comes in. Parts of a sum that is split add up to it.
        """
        quote, bill, first = inputs.quote, bill_of(inputs, units), self.outlook.first
        dispatch = inputs.ordered + timedelta(days=quote.making_days)

        def week(day: date) -> int:
            return (day - first).days // 7

        deposit = round(bill.goods * quote.deposit, 2)
        found = [
            Payment("deposit", week(inputs.ordered), deposit),
            Payment(
                "balance", week(dispatch + timedelta(days=quote.balance_days)),
                round(bill.goods - deposit, 2),
            ),
            Payment("freight", week(dispatch), bill.freight),
        ]  # fmt: skip
        each = split_units(units, inputs.parts, quote.carton)
        taxes: list[Payment] = []
        for name, total, to in (
            ("duty", bill.duty, found),
            ("tax on imports", bill.import_tax, taxes),
        ):
            left = total
            for at, (many, day) in enumerate(zip(each, inputs.arrived, strict=True)):
                last = at == len(each) - 1
                own = round(left, 2) if last else round(total * many / units, 2) if units else 0.0
                left = round(left - own, 2)
                to.append(Payment(name, week(day), own))
        return [one for one in found if one.amount], [one for one in taxes if one.amount]

    def cash(self, inputs: PlanInputs, units: int, demand: DemandDraws) -> CashPath:
        """The cash path of an order of so many units."""
        return self.follow(inputs, units, demand).path()

    def follow(self, inputs: PlanInputs, units: int, demand: DemandDraws) -> CashDraws:
        """The money of an order of so many units, draw by draw."""
        begin, end, weeks = self._weeks(inputs)
        supply = np.zeros(weeks)
        for many, day in zip(
            split_units(units, inputs.parts, inputs.quote.carton), inputs.arrived, strict=True
        ):
            at = -((self.outlook.first - day).days // 7)
            if at < weeks:
                supply[at:] += many
        sold = sold_of(demand.units[:, :weeks], supply / (1 - inputs.selling.again))
        payments, taxes = self.payments(inputs, units)
        if not bill_of(inputs, units).reclaimed:
            payments, taxes = [*payments, *taxes], []
        rng = np.random.default_rng(inputs.seed + 1)
        factor = np.exp(
            rng.standard_normal(len(sold)).astype(np.float32) * inputs.selling.price_error
        )
        return follow_cash(
            payments, sold, supply, self._terms(inputs, begin, weeks), factor,
            self.worth(inputs, bill_of(inputs, units).unit), taxes, end,
        )  # fmt: skip

    def plan(self) -> Plan:
        """The plan itself."""
        inputs = self.inputs
        begin, end, _ = self._weeks(inputs)
        demand = self._demand(inputs, self.share, inputs.draws)
        quantity = self.quantity(demand)
        payments, taxes = self.payments(inputs, quantity.chosen)
        money = self.follow(inputs, quantity.chosen, demand)
        sums = np.cumsum(money.sold[:TRIED], axis=1)
        low, middle, high = np.quantile(sums, BANDS, axis=0)
        return Plan(
            inputs, self.outlook, begin, end, demand, quantity, bill_of(inputs, quantity.chosen), payments,
            taxes, money.path(), PlannedSales(self.outlook.first, inputs.on_sale, low, middle, high),
        )  # fmt: skip

    def stake(self, plan: Plan, key: str, niche: str, placed: bool) -> Stake:
        """A plan as one among several; the draws of one niche belong together."""
        seed = zlib.crc32(niche.encode())
        inputs = replace(self.inputs, seed=seed, draws=STAKE_DRAWS)
        demand = self._demand(inputs, self.share, STAKE_DRAWS)
        money = self.follow(inputs, plan.bill.units, demand)
        return Stake(
            key, niche, placed, inputs.ordered, inputs.on_sale, inputs.until,
            self.outlook.first, money.sold.mean(axis=0),
            plan.cash.mean, plan.cash.loss, money,
        )  # fmt: skip

    def reorders(self, plan: Plan, seasonal: bool) -> list[date]:
        """Days within 52 weeks of the order on which to order as much again, for what sells all year.

        So that the next goods are on sale when what is expected in the middle has used up all but the safety
        stock. None for an order for one season.
        """
        per_order = plan.bill.units / (1 - self.inputs.selling.again)
        if seasonal or per_order < 1:
            return []
        lead = self.inputs.on_sale - self.inputs.ordered
        begin, last = plan.week, min(plan.week + 52, len(self.outlook))
        weeks = np.arange(begin, last)
        months = (weeks - begin + 0.5) / WEEKS_A_MONTH
        share = self.share.at(np.array([0.5]), months)[0]
        used = np.cumsum(self.outlook.units[weeks] * share * self.inputs.factor)
        kept = plan.quantity.safety or 0.0
        found: list[date] = []
        for number in range(1, MOST_ORDERS):
            over = np.flatnonzero(used >= number * per_order - kept)
            if not over.size:
                break
            day = max(self.outlook.start(int(weeks[over[0]])) - lead, self.inputs.ordered)
            if day > self.inputs.ordered + timedelta(weeks=52):
                break
            found.append(day)
        return found

    def variations(
        self, units: int, named: Sequence[tuple[str, PlanInputs, ShareDraws]]
    ) -> list[Variation]:
        """What other turns of things do to an order of so many units: each with the same draws as the plan."""
        return [
            Variation(name, change, money.path())
            for name, change, money in self._turned(units, named)
        ]

    def changes(
        self, units: int, named: Sequence[tuple[str, PlanInputs, ShareDraws]]
    ) -> list[tuple[str, float]]:
        """By how much they change the mean of the final balance alone, each by its name."""
        return [(name, change) for name, change, _ in self._turned(units, named)]

    def _turned(
        self, units: int, named: Sequence[tuple[str, PlanInputs, ShareDraws]]
    ) -> Iterator[tuple[str, float, CashDraws]]:
        begun = float(self._outcome(self.inputs, self.share, units).final.mean())
        for name, inputs, share in named:
            try:
                money = self._outcome(inputs, share, units)
            except CoreError:  # Beyond what can be looked ahead to, or after the end.
                continue
            yield name, float(money.final.mean()) - begun, money

    def _outcome(self, inputs: PlanInputs, share: ShareDraws, units: int) -> CashDraws:
        # What a turn does not touch of demand is not drawn again.
        key = (*self._weeks(inputs), inputs.factor, inputs.seed, id(share))
        if key not in self._drawn:
            self._drawn[key] = self._demand(inputs, share, TRIED)
        return self.follow(inputs, units, self._drawn[key])
