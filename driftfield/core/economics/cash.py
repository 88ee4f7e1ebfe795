"""The cash path: when each amount of a plan is paid and received, week by week, over many draws."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq

from driftfield.core.base import CoreError, Floats

BANDS = (0.1, 0.5, 0.9)
WEEKS_A_YEAR = 52
HIGHEST_RATE = 1.0  # A week; what doubles each week is told as no rate.


@dataclass(frozen=True, slots=True)
class Payment:
    """Something that is paid for certain: what, in which week, how much, in the market's currency."""

    what: str
    week: int
    amount: float


@dataclass(frozen=True, slots=True)
class Terms:
    """What selling a unit pays and takes, and when.

    tax_part: of the price that is value added tax; commission of the price. handling: a unit, once more for
    each return; returned: share of the units, resold: share of the returns. price, and advertising
    as a share of it: (weeks,). storage: (weeks,) of a unit. payout_weeks: from a sale to its payout. tax_every,
    tax_after: weeks of a tax period, and from its end to paying; tax paid on imports is set off there.
    """

    tax_part: float
    commission: float
    handling: float
    returned: float
    resold: float
    price: Floats
    advertising: Floats
    storage: Floats
    payout_weeks: int = 2
    tax_every: int = 13
    tax_after: int = 5

    def __post_init__(self) -> None:
        if self.payout_weeks < 0 or self.tax_every < 1 or self.tax_after < 0:
            raise CoreError("Weeks to a payout and of a tax period are 0 or more.")


@dataclass(frozen=True, slots=True)
class CashDraws:
    """The money of one plan in every draw.

    balance: (draws, weeks) since the order. final: (draws,) at the end, with what is paid out later, less tax
    still owed, and what is left over at its worth. sold: (draws, weeks) units; left: (draws,) units.
    """

    balance: np.ndarray
    final: Floats
    sold: np.ndarray
    left: Floats

    def path(self) -> CashPath:
        """What the draws have in common."""
        weeks = self.balance.shape[1]
        low, middle, high = np.quantile(self.balance, BANDS, axis=0)
        under = self.balance < -0.005
        last_under = np.where(under.any(axis=1), weeks - under[:, ::-1].argmax(axis=1), 0)
        # Back in the week after the last one below 0; a balance that ends below 0 is not back.
        never = last_under >= weeks
        flow = np.diff(self.balance.mean(axis=0), prepend=0.0)
        flow[-1] += self.final.mean() - self.balance[:, -1].mean()
        return CashPath(
            low=low, middle=middle, high=high, lowest=_band(self.balance.min(axis=1)),
            lowest_week=int(np.argmin(middle)), back=_back(last_under, never),
            never_back=float(never.mean()), final=_band(self.final), mean=float(self.final.mean()),
            loss=float((self.final < 0).mean()), sold=float(self.sold.sum(axis=1).mean()),
            left=float(self.left.mean()), rate=internal_rate(flow),
        )  # fmt: skip


@dataclass(frozen=True, slots=True)
class CashPath:
    """Balances since the planning date, 0 before it.

    low, middle, high: (weeks,) by BANDS. lowest: the same of each draw's lowest balance; back: of the week from
    which on it never is below 0 again, NaN for never within these weeks; final: at the end, what is left over
    counted at its worth. loss: chance that this is below 0. never_back: chance that the money is not back in
    these weeks. sold, left: means. rate: the internal rate of the mean flow, a year; NaN where it has none.
    """

    low: Floats
    middle: Floats
    high: Floats
    lowest: tuple[float, float, float]
    lowest_week: int
    back: tuple[float, float, float]
    never_back: float
    final: tuple[float, float, float]
    mean: float
    loss: float
    sold: float
    left: float
    rate: float


def follow_cash(
    payments: Sequence[Payment], sold: np.ndarray, supply: Floats, terms: Terms, price_factor: Floats,
    left_worth: float, import_tax: Sequence[Payment] = (), end: int | None = None,
) -> CashDraws:  # fmt: skip
    """Follow the money of one plan.

    Parameters
    ----------
    payments : sequence of Payment
        What is paid for certain: deposit, balance, freight, duty. Positive amounts go out.
    sold : array (draws, weeks)
        Units sold; see ``sold_of``.
    supply : array (weeks,)
        Units that have arrived by each week.
    terms : Terms
        What a sale brings and takes.
    price_factor : array (draws,)
        By which the price comes out higher or lower.
    left_worth : float
        What a unit is worth that is left at the end.
    import_tax : sequence of Payment
        Tax paid on imports, which comes back with the next tax that is due.
    end : int, optional
        The week from which on nothing is stored any more: what is left is dealt with then.

    Returns
    -------
    CashDraws
    """
    draws, weeks = sold.shape
    price = (terms.price * 1.0)[None, :] * price_factor[:, None]
    kept = 1 - terms.returned
    takings = sold * price
    # The marketplace keeps its fees and pays the rest out, tax and all.
    due = takings * (kept * (1 - terms.commission) - terms.advertising[None, :])
    due -= sold * terms.handling * (1 + terms.returned)
    flow = np.zeros((draws, weeks), dtype=np.float32)
    late = terms.payout_weeks
    flow[:, late:] += due[:, : weeks - late] if late else due
    pending = due[:, weeks - late :].sum(axis=1) if late else 0.0
    back = np.cumsum(sold, axis=1, dtype=np.float32) * np.float32(terms.returned * terms.resold)
    stock = supply[None, :] - np.cumsum(sold, axis=1, dtype=np.float32) + back
    flow[:, :end] -= np.maximum(stock, 0)[:, :end] * terms.storage[:end].astype(np.float32)
    certain = np.zeros(weeks)
    for one in [*payments, *import_tax]:
        if not 0 <= one.week < weeks:
            raise CoreError(
                f"{one.what} falls outside of the weeks that the cash path holds: week {one.week}."
            )
        certain[one.week] -= one.amount
    flow += certain.astype(np.float32)
    tax_left = _taxes(flow, takings * (kept * terms.tax_part), import_tax, terms)
    balance = np.cumsum(flow, axis=1, dtype=np.float64)  # Pennies are lost in less.
    left: Floats = np.maximum(stock[:, -1], 0).astype(np.float64)
    final = balance[:, -1] + pending - tax_left + left * left_worth
    return CashDraws(balance, final, sold, left)


def internal_rate(flow: Floats) -> float:
    """The rate a year at which what goes out and comes in, (weeks,), is worth nothing now.

    Returns
    -------
    float
        (1 + a week's rate)⁵² − 1. NaN where the sum so far does not turn from minus to plus once and stay
        there: then there may be several rates above 0, or none. NaN too beyond 100% a week.

    References
    ----------
    C. J. Norstrøm, “A sufficient condition for a unique nonnegative internal rate of return”, Journal of
    Financial and Quantitative Analysis 7 (1972).
    """
    signs = np.sign(np.round(np.cumsum(flow), 2))
    signs = signs[signs != 0]
    if not signs.size or signs[0] > 0 or signs[-1] < 0 or (np.diff(signs) != 0).sum() != 1:
        return np.nan
    weeks = np.arange(len(flow))

    def worth(rate: float) -> float:
        return float((flow * (1 + rate) ** -weeks).sum())

    if worth(HIGHEST_RATE) > 0:
        return np.nan
    found: float = brentq(worth, 0.0, HIGHEST_RATE, xtol=1e-10)
    return float((1 + found) ** WEEKS_A_YEAR - 1)


def _taxes(flow: np.ndarray, tax: np.ndarray, imports: Sequence[Payment], terms: Terms) -> Floats:
    """Take the tax of each period out of the flow when it is paid, (draws,) what is still owed at the end."""
    weeks = flow.shape[1]
    owed = np.zeros(flow.shape[0])
    for begin in range(0, weeks, terms.tax_every):
        end = begin + terms.tax_every
        own = tax[:, begin : min(end, weeks)].sum(axis=1, dtype=np.float64)
        own -= sum(one.amount for one in imports if begin <= one.week < end)
        paid = end - 1 + terms.tax_after
        if paid < weeks:
            flow[:, paid] -= own
        else:
            owed += own
    return owed


def _band(values: Floats) -> tuple[float, float, float]:
    low, middle, high = np.quantile(values, BANDS).tolist()
    return low, middle, high


def _back(weeks: Floats, never: np.ndarray) -> tuple[float, float, float]:
    """Quantiles of the week; NaN where so many draws never come back."""
    found = np.sort(np.where(never, np.inf, weeks))
    low, middle, high = (found[min(int(level * len(found)), len(found) - 1)] for level in BANDS)
    return tuple(float(one) if np.isfinite(one) else np.nan for one in (low, middle, high))  # type: ignore[return-value]
