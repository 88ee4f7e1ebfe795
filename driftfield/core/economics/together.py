"""Several plans on one cash path: what they bind together, and which of them fit the cash at hand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Literal

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

from driftfield.core.base import Bools, Floats

from .cash import BANDS, CashDraws

STAKE_DRAWS = 1_000
QUIET = 1 / 3  # Of the mean month; below that one is called quiet. Our choice.
MONTHS = 15
SECONDS = 5.0  # That the choice among many plans may take.
PENNY = 0.005

Why = Literal["past", "loses", "risky", "alone", "other", "beside"]


@dataclass(frozen=True, slots=True)
class Stake:
    """One plan among several.

    niche: plans of one niche share what the market does, and stand for one another where they are sold at the
    same time. placed: its order is placed already. ordered, on_sale, until: the day of ordering, and the first
    and the last on which it is sold; first: the Monday of its first week. expected: (weeks,) own units sold in
    the mean. gain, loss: what it adds on average, and its chance of a loss. draws: its money; the draws of
    plans of one niche belong together, those of different ones do not.
    """

    key: str
    niche: str
    placed: bool
    ordered: date
    on_sale: date
    until: date
    first: date
    expected: Floats
    gain: float
    loss: float
    draws: CashDraws

    def stands_for(self, other: Stake) -> bool:
        """Whether both are of one niche and sold at the same time."""
        together = self.on_sale <= other.until and other.on_sale <= self.until
        return self.niche == other.niche and together


@dataclass(frozen=True, slots=True)
class Laid:
    """Stakes on one calendar, from the Monday ``first`` on.

    balances: (stakes, draws, weeks) of what each adds from that week on: what was paid before counts no more.
    final, whole: (stakes, draws) of what each adds in the end from then on, and since its first payment, what
    is left over at its worth. units: (stakes, weeks).
    """

    stakes: list[Stake]
    first: date
    balances: np.ndarray
    final: Floats
    whole: Floats
    units: Floats

    @property
    def lows(self) -> Floats:
        """Balances that one draw in ten lies below, (stakes, weeks)."""
        found: Floats = np.quantile(self.balances, BANDS[0], axis=1)
        return found

    def start(self, week: int) -> date:
        return self.first + timedelta(weeks=week)


def lay_out(stakes: Sequence[Stake], today: date) -> Laid:
    """Lay plans onto one calendar from the week of a day on."""
    monday = today - timedelta(days=today.weekday())
    shifts = [(one.first - monday).days // 7 for one in stakes]
    ends = [at + one.draws.balance.shape[1] for one, at in zip(stakes, shifts, strict=True)]
    weeks = max([1, *ends])
    draws = min((len(one.draws.final) for one in stakes), default=1)
    balances = np.zeros((len(stakes), draws, weeks), dtype=np.float32)
    finals = [one.draws.final[:draws] for one in stakes]
    whole = np.array(finals, dtype=np.float64).reshape(len(stakes), draws)
    final = whole.copy()
    units = np.zeros((len(stakes), weeks))
    for row, (one, at) in enumerate(zip(stakes, shifts, strict=True)):
        own, expected = one.draws.balance[:draws], one.expected
        behind = _behind(one, own, today, monday)
        own = own - behind[:, None]
        final[row] -= behind
        gone = min(max(-at, 0), own.shape[1] - 1)
        own, expected, at = own[:, gone:], expected[gone:], max(at, 0)
        end = at + own.shape[1]
        balances[row, :, at:end] = own
        balances[row, :, end:] = own[:, -1:]
        units[row, at:end] = expected
    return Laid(list(stakes), monday, balances, final, whole, units)


def _behind(stake: Stake, balance: np.ndarray, today: date, monday: date) -> Floats:
    """Of each draw the balance that lies behind, (draws,): the cash at hand holds it already.

    That of the weeks before this one; of an order that is placed this one's too, where it is over or the order
    was placed in it.
    """
    over = today.weekday() == 6 or stake.first == monday
    through = (monday - stake.first).days // 7 - 1
    if stake.placed and stake.ordered < today and over:
        through += 1
    if through < 0:
        return np.zeros(len(balance))
    found: Floats = balance[:, min(through, balance.shape[1] - 1)]
    return found


@dataclass(frozen=True, slots=True)
class Together:
    """The money of several plans.

    low, middle, high: (weeks,) of the cash at hand and what they add, where niches come out independently of
    one another. lowest: of each draw's lowest; alike: the same in the worst tenth if all are at their worst
    at once. lowest_week: of the low band. short: chance that it does not suffice at some time. gained: (3,)
    what they add from now on in the end, leftovers at their worth; mean: of that. loss: chance that they lose
    money, counted from their first payments.
    """

    low: Floats
    middle: Floats
    high: Floats
    lowest: tuple[float, float, float]
    lowest_week: int
    alike: float
    short: float
    gained: tuple[float, float, float]
    loss: float
    mean: float


def together(laid: Laid, taken: Bools, cash: float) -> Together:
    """The money of the plans that are taken, (stakes,), with so much cash at hand."""
    own = laid.balances[taken]
    sums = cash + own.sum(axis=0, dtype=np.float64)
    low, middle, high = np.quantile(sums, BANDS, axis=0)
    lowest = sums.min(axis=1)
    final, whole = laid.final[taken].sum(axis=0), laid.whole[taken].sum(axis=0)
    alike = np.full(sums.shape, cash)
    worst = int(np.argmin(low))
    for balance in own:
        alike += balance[np.argsort(balance[:, worst], kind="stable")]
    ends, gained = (np.quantile(values, BANDS).tolist() for values in (lowest, final))
    return Together(
        low=low, middle=middle, high=high, lowest=(ends[0], ends[1], ends[2]),
        lowest_week=worst, alike=float(np.quantile(alike.min(axis=1), BANDS[0])),
        short=float((lowest < -PENNY).mean()), gained=(gained[0], gained[1], gained[2]),
        loss=float((whole < 0).mean()), mean=float(final.mean()),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class LeftOut:
    """Why a plan is left out.

    why: its day of ordering is past; it loses on average; its chance of a loss is above what is wanted; the
    cash does not suffice for it alone, or beside those that are taken, by ``short`` in ``week``; another plan
    of its niche for the same time is taken, ``other``, as it stands among the stakes.
    """

    why: Why
    week: int = 0
    short: float = 0.0
    other: int = -1


@dataclass(frozen=True, slots=True)
class Proposal:
    """Which plans to take, (stakes,), those that are placed among them; and why not the others.

    over: by how much those that are placed alone exceed the cash, in ``over_week``; 0 for not.
    """

    taken: Bools
    left_out: dict[int, LeftOut]
    over: float
    over_week: int


def propose(laid: Laid, cash: float, today: date, most_loss: float | None = None) -> Proposal:
    """Which orders to place with the cash at hand, so that they earn most on average.

    At most one plan of a niche at a time. Counted on is, of each plan, the balance that nine draws in ten
    exceed; what such a plan has brought back by a week may go into the next one. Solved exactly, as an integer
    program.

    Parameters
    ----------
    laid : Laid
        The plans to choose from; those that are placed stay.
    cash : float
        At hand on the day.
    today : date
        Orders of a day before it can no longer be placed.
    most_loss : float, optional
        Chance of a loss above which a plan is not taken, 0–1.
    """
    stakes, lows = laid.stakes, laid.lows
    placed = np.array([one.placed for one in stakes], dtype=bool)
    held = cash + lows[placed].sum(axis=0) if placed.any() else np.full(lows.shape[1], cash)
    over_week = int(np.argmin(held))
    room = np.maximum(held, 0.0)
    gains = np.array([one.gain for one in stakes])
    left_out: dict[int, LeftOut] = {}
    for at, one in enumerate(stakes):
        if one.placed:
            continue
        if one.ordered < today:
            left_out[at] = LeftOut("past")
        elif gains[at] <= 0:
            left_out[at] = LeftOut("loses")
        elif most_loss is not None and one.loss > most_loss:
            left_out[at] = LeftOut("risky")
        else:
            # A second order for a niche whose goods are on their way is the researcher's to ask for, not ours.
            there = [i for i in np.flatnonzero(placed).tolist() if one.stands_for(stakes[i])]
            if there:
                left_out[at] = LeftOut("other", other=there[0])
    free = np.array(
        [at for at in range(len(stakes)) if not placed[at] and at not in left_out], dtype=np.int64
    )
    taken = placed.copy()
    if free.size:
        taken[free] = _best(gains[free], lows[free], room, [stakes[at] for at in free.tolist()])
    beside = room + lows[taken & ~placed].sum(axis=0)
    for at in free.tolist():
        if taken[at]:
            continue
        there = [i for i in np.flatnonzero(taken).tolist() if stakes[at].stands_for(stakes[i])]
        if there:
            left_out[at] = LeftOut("other", other=there[0])
        else:
            # What is too dear by itself may still be paid by what another brings back before.
            week, lacking = _lacking(room + lows[at])
            if lacking > PENNY:
                left_out[at] = LeftOut("alone", week, lacking)
            else:
                left_out[at] = LeftOut("beside", *_lacking(beside + lows[at]))
    return Proposal(taken, left_out, max(-float(held.min()), 0.0), over_week)


def _lacking(balance: Floats) -> tuple[int, float]:
    """The week in which most is lacking, and how much."""
    week = int(np.argmin(balance))
    return week, max(-float(balance[week]), 0.0)


def _best(gains: Floats, lows: Floats, room: Floats, stakes: list[Stake]) -> Bools:
    """Those that earn most within the room of each week, of those that stand for one another one."""
    pairs = [(i, j) for j, one in enumerate(stakes) for i in range(j) if one.stands_for(stakes[i])]
    held = [LinearConstraint(lows.T, lb=-room - PENNY)]
    if pairs:
        either = np.zeros((len(pairs), len(stakes)))
        for row, pair in enumerate(pairs):
            either[row, list(pair)] = 1
        held.append(LinearConstraint(either, ub=np.ones(len(pairs))))
    found = milp(
        -gains, integrality=np.ones(len(gains), dtype=np.int64), bounds=Bounds(0, 1),
        constraints=held, options={"time_limit": SECONDS},
    )  # fmt: skip
    # Where none was found in the time nothing is proposed, rather than something wrong.
    return np.zeros(len(gains), dtype=bool) if found.x is None else np.asarray(found.x > 0.5)


@dataclass(frozen=True, slots=True)
class MonthOfUnits:
    """Units expected in a month; quiet: less than a third of the mean month, where that is asked."""

    month: date
    units: float
    quiet: bool


def units_by_month(laid: Laid, taken: Bools, arrival: date) -> list[MonthOfUnits]:
    """Expected units of fifteen months; quiet ones are told of the twelve from the month of arrival on.

    Goods ordered now can do nothing for the months before. A week counts for the month of its Thursday.
    """
    weekly = laid.units[taken].sum(axis=0)
    totals: dict[tuple[int, int], float] = {}
    for week, units in enumerate(weekly.tolist()):
        day = laid.start(week) + timedelta(days=3)
        totals[day.year, day.month] = totals.get((day.year, day.month), 0.0) + units
    begin = laid.first + timedelta(days=3)
    months = [
        date(begin.year + (begin.month - 1 + step) // 12, (begin.month - 1 + step) % 12 + 1, 1)
        for step in range(MONTHS)
    ]
    sold = [totals.get((month.year, month.month), 0.0) for month in months]
    since = date(arrival.year, arrival.month, 1)
    year = [at for at, month in enumerate(months) if month >= since][:12]
    mean = sum(sold[at] for at in year) / max(len(year), 1)
    return [
        MonthOfUnits(month, units, at in year and mean > 0 and units < QUIET * mean)
        for at, (month, units) in enumerate(zip(months, sold, strict=True))
    ]


def filling(profiles: Floats, quiet: Bools) -> Floats:
    """How much more of a year's demand falls into quiet periods than of an even year's, (niches,).

    Parameters
    ----------
    profiles : array (niches, slots)
        Season factors, around 1; NaN where unknown.
    quiet : bool array (slots,)
        The periods of the year that are quiet.

    Returns
    -------
    array (niches,)
        1 for as much as an even year, 0 for nothing; NaN where unknown, or where nothing is quiet.
    """
    whole = profiles.sum(axis=1)
    share = quiet.mean()
    if not share:
        return np.full(len(profiles), np.nan)
    with np.errstate(invalid="ignore", divide="ignore"):
        found: Floats = np.where(whole > 0, profiles[:, quiet].sum(axis=1) / whole / share, np.nan)
    return found
