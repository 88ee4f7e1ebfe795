"""What a plan says, in words: how many to order by when, what that leaves, and what to look out for."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta

from driftfield.core.base import format_day, format_money, format_share
from driftfield.core.economics import OwnFigure, Plan, plain_practice, slips_in
from driftfield.core.market import ShownSeason

SHORT = 0.5  # Of a season; less is told as late.
WHOLE = 0.995
APART = 1.02  # Of the lowest balance in the middle; a worse one is told besides.
LEAST_LOSS = 0.01
EARLY = timedelta(days=28)  # Before the order-by date; an earlier order is told so.


def loss_text(loss: float) -> str:
    """A chance of a loss; of what no draw shows nothing is certain."""
    return "under 1%" if loss < LEAST_LOSS else format_share(loss)


def plan_sentence(plan: Plan, currency: str, assumed: Sequence[str] = ()) -> str:
    """The plan in a few sentences."""
    cash, inputs = plan.cash, plan.inputs
    low, middle, _ = cash.final

    def money(amount: float) -> str:
        return format_money(amount, currency, whole=True)

    text = (
        f"Order {plan.bill.units:,} units on {format_day(inputs.ordered)}: on sale "
        f"{format_day(inputs.on_sale)}. One draw in two "
        f"leaves {money(middle)} or more, one in ten {money(low)} or less; chance of a loss "
        f"{loss_text(cash.loss)}."
    )
    worst, lowest = cash.lowest[0], cash.lowest[1]
    if lowest < 0:
        text += f" At the lowest it binds {money(-lowest)}"
        if worst < lowest * APART:
            text += f", one in ten {money(-worst)} or more"
        week = cash.back[1]
        if week == week:
            text += (
                f"; in one draw in two it is back by {format_day(plan.outlook.start(int(week)))}."
            )
        else:
            text += "; in one draw in two it is not back in this time, but for what leftovers are worth."
    if assumed:
        text += f" Assumed: {', '.join(assumed)}."
    return text


def plan_warnings(
    plan: Plan, currency: str, season: ShownSeason | None = None, today: date | None = None
) -> list[str]:
    """What to look out for in a plan."""
    inputs, quantity, quote = plan.inputs, plan.quantity, plan.inputs.quote
    found = []
    if today is not None and inputs.ordered < today:
        found.append(
            f"The day of ordering, {format_day(inputs.ordered)}, is past. If it is not placed, choose another."
        )
    if season is not None and season.caught < WHOLE and season.order_by < inputs.ordered:
        late = "Late" if season.caught < SHORT else "Not all of the season is caught"
        first = "on sale" if len(inputs.parts) == 1 else "first on sale"
        found.append(
            f"{late}: {first} on {format_day(inputs.on_sale)}, {format_share(season.caught)} of "
            "the season is still "
            f"to come. For all of it order by {format_day(season.order_by)}."
        )
    for part, day in zip(inputs.parts, inputs.arrived, strict=True):
        if day > inputs.until and part.share > 0:
            found.append(
                f"What goes by {part.way.name} is on sale on {format_day(day)}, after "
                f"{format_day(inputs.until)}: "
                "all of it is left over."
            )
    if season is not None and season.order_by - inputs.ordered > EARLY:
        found.append(
            f"Early: ordered by {format_day(season.order_by)} the goods are there when the season "
            "starts to rise; "
            f"from {format_day(inputs.on_sale)} on they sell little and cost storage and cash."
        )
    if not quote.valid_on(inputs.ordered):
        assert quote.valid_until is not None, "it has run out"
        found.append(f"Quote “{quote.name}” was valid until {format_day(quote.valid_until)}.")
    if quantity.curve.profit[quantity.curve.best] <= 0:
        found.append("No quantity earns anything on average: the price does not bear these costs.")
    elif quantity.best > quantity.wanted * 1.2 and quantity.best == quote.orderable(1):
        found.append(
            f"The least that can be ordered, {quantity.best:,}, is more than the {quantity.wanted:,.0f} that "
            "are wanted."
        )
    if inputs.budget is not None and -plan.cash.lowest[0] > inputs.budget:
        found.append(
            f"It may bind {format_money(-plan.cash.lowest[0], currency, whole=True)}, more than your budget of "
            f"{format_money(inputs.budget, currency, whole=True)}."
        )
    if plan.end > plan.outlook.known:
        found.append(
            f"The forecast ends on {format_day(plan.outlook.start(plan.outlook.known))}: after it each "
            "week is taken to "
            "be as the one a year before."
        )
    if inputs.own is not None:
        found += own_warnings(inputs.own)
    return found


def own_warnings(own: OwnFigure) -> list[str]:
    """Slips in how the researcher reckoned."""
    right = plain_practice(own)
    reckoned = "" if own.quantity is None else f"{own.quantity:,.0f}"
    texts = {
        "upside down": f"Your {reckoned} has the ratio upside down: searches go from "
        f"{own.searches_now:,.0f} to "
        f"{own.searches_then:,.0f}, so that units are multiplied by "
        f"{own.searches_then / own.searches_now:.2f}, which "
        f"gives {right:,.0f}.",
        "ignores arrival": f"Your {reckoned} takes the units of today for those when the goods are "
        "there: searches "
        f"will be {own.searches_then / own.searches_now:.2f} times as many then, which gives {right:,.0f}.",
    }  # fmt: skip
    return [texts[slip] for slip in slips_in(own)]
