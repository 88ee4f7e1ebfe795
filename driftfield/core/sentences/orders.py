"""Several plans of orders in words: what they bind together, why one is left out, what came of one."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from driftfield.core.base import format_day, format_money, format_share
from driftfield.core.economics import Laid, LeftOut, MonthOfUnits, Outcome, Proposal, Together

from .plans import loss_text

APART = 0.02  # By which what comes of all at once must be worse to be told.


def orders_sentences(
    found: Together, laid: Laid, proposal: Proposal, months: Sequence[MonthOfUnits], count: int,
    niches: int, cash: float | None, currency: str,
) -> list[str]:  # fmt: skip
    """What so many plans of some niches do together to the cash at hand, and where the year stays quiet."""

    def money(amount: float) -> str:
        return format_money(amount, currency, whole=True)

    told = []
    if cash is None:
        told.append(
            "How much cash is at hand is not known: give it, and what does not fit is left out."
        )
    if proposal.over > 0:
        told.append(
            "Counted on the safe side, each at the balance that nine draws in ten exceed, what is ordered "
            f"already takes {money(proposal.over)} more than the cash at hand in the week of "
            f"{format_day(laid.start(proposal.over_week))}: nothing is proposed that takes more by then."
        )
    if not count:
        return [*told, "No order is taken: the cash stays as it is."]
    orders = "One order" if count == 1 else f"{count} orders together"
    worst, lowest = found.lowest[0], found.lowest[1]
    week = (
        f"the low band is at its lowest in the week of {format_day(laid.start(found.lowest_week))}"
    )
    if cash is None:
        text = f"{orders}: at the lowest {money(max(-lowest, 0))} is bound in one draw in two"
        text += (
            f", {money(max(-worst, 0))} or more in one in ten; {week}."
            if worst < lowest
            else f"; {week}."
        )
    else:
        text = f"{orders}, with {money(cash)} at hand: at the lowest {money(lowest)} in one draw in two"
        text += (
            f", {money(worst)} or less in one in ten; {week}." if worst < lowest else f"; {week}."
        )
        text += f" Chance that the cash does not suffice: {loss_text(found.short)}."
    gain = "it adds" if count == 1 else "they add"
    told += [
        text,
        f"From now on, leftovers at their worth, {gain} {money(found.gained[1])} in one draw in two, "
        f"{money(found.gained[0])} or less in one in ten. Chance of a loss, counted from the first payment: "
        f"{loss_text(found.loss)}.",
    ]
    if niches > 1:
        text = "Niches are taken to come out independently of one another."
        if worst - found.alike > APART * max(abs(worst), abs(found.alike)):
            text += f" If all are at their worst at once, the lowest is {money(found.alike)} in one in ten."
        told.append(text)
    return [*told, *quiet_sentences(months)]


def quiet_sentences(months: Sequence[MonthOfUnits]) -> list[str]:
    """Which months of the year to come stay quiet."""
    quiet = [one.month for one in months if one.quiet]
    if not quiet:
        return []
    runs: list[list[date]] = []
    for month in quiet:
        follows = runs and (month - runs[-1][-1]).days <= 31
        runs[-1].append(month) if follows else runs.append([month])
    named = [
        f"{run[0]:%B %Y}" if len(run) == 1 else f"{run[0]:%B %Y} to {run[-1]:%B %Y}" for run in runs
    ]
    listed = " and ".join(one for one in (", ".join(named[:-1]), named[-1]) if one)
    return [f"Of these orders less than a third of the mean month sells in {listed}."]


def left_out_text(
    why: LeftOut, laid: Laid, at: int, names: Sequence[str], currency: str, most_loss: float | None
) -> str:
    """Why a plan is not among those that are proposed."""
    stake = laid.stakes[at]
    money = format_money(why.short, currency, whole=True)
    if why.why == "other":
        other = laid.stakes[why.other]
        if other.placed:
            return f"An order for this niche and time is placed already: “{names[why.other]}”."
        return f"“{names[why.other]}”, for the same niche and time, fits the others better."
    texts = {
        "past": f"Its day of ordering, {format_day(stake.ordered)}, is past.",
        "loses": "On average it loses money.",
        "risky": f"Its chance of a loss, {loss_text(stake.loss)}, is above your "
        f"{format_share(most_loss or 0)}.",
        "alone": f"Even by itself it may lack {money} in the week of {format_day(laid.start(why.week))}.",
        "beside": f"Beside the others it may lack {money} in the week of "
        f"{format_day(laid.start(why.week))}, and "
        "what it would replace earns more.",
    }  # fmt: skip
    return texts[why.why]


def outcome_sentence(found: Outcome, as_of: date) -> str:
    """What was sold of an order against its plan; ``as_of``: last day of the figures that was made from.

    A plan that was made when the goods were on sale already is no foresight, and is not called one.
    """
    hindsight = as_of >= found.since
    named = f"the plan gives, with figures to {format_day(as_of)}," if hindsight else "planned were"
    whole = "the plan gives" if hindsight else "planned"
    verdicts = {
        "below": f"less than {whole}",
        "within": f"within what {whole if hindsight else 'was planned'}",
        "above": f"more than {whole}",
    }
    return (
        f"From {format_day(found.since)} to {format_day(found.until)} {found.sold:,.0f} units "
        f"were sold; {named} {found.middle:,.0f}, {found.low:,.0f} to {found.high:,.0f} in eight draws "
        f"of ten: {verdicts[found.place]}."
    )
