"""How many to order: the newsvendor's quantity, cover with safety stock, and the plain practice beside them."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtri

from driftfield.core.base import CoreError, Floats, Ints

MOST_TRIED = 400  # Quantities at which the profit is worked out.
FAR = 0.999  # Quantile of demand beyond which no order pays.
NEAR = 0.02  # How near a figure of one's own comes to a slip to be taken for it.


def critical_ratio(under: float, over: float) -> float:
    """The chance of selling out up to which one more unit pays.

    Parameters
    ----------
    under, over : float
        What a unit too few, and one too many, costs.

    Returns
    -------
    float
        under ÷ (under + over), 0–1; 0 where nothing is earned by a unit.

    References
    ----------
    K. J. Arrow, T. Harris & J. Marschak, “Optimal inventory policy”, Econometrica 19 (1951).
    """
    if under <= 0:
        return 0.0
    return under / (under + over) if over > 0 else 1.0


def newsvendor_quantity(demand: Floats, under: float, over: float) -> float:
    """The quantity that earns most on average over draws of demand, (draws,): their critical quantile."""
    return float(np.quantile(demand, critical_ratio(under, over), method="inverted_cdf"))


def newsvendor_normal(mean: float, deviation: float, under: float, over: float) -> float:
    """The same for normal demand."""
    ratio = critical_ratio(under, over)
    if ratio in (0.0, 1.0):
        raise CoreError("Of normal demand all of it cannot be covered, nor none.")
    return float(mean + deviation * ndtri(ratio))


def safety_stock(deviation: float, service: float) -> float:
    """Stock beyond the mean so that demand while one waits is met with a chance of ``service``.

    k × deviation, with k the normal quantile: Silver, Pyke & Thomas, Inventory and Production Management in
    Supply Chains, 4th ed. (2017), section 6.7.
    """
    if not 0 < service < 1:
        raise CoreError(f"A service level lies between 0 and 1; got {service:g}.")
    return float(deviation * ndtri(service))


def economic_quantity(a_year: float, fixed: float, holding: float) -> float:
    """Units an order for which ordering and holding cost least: √(2 × a year × fixed ÷ holding).

    F. W. Harris, “How many parts to make at once”, Factory, The Magazine of Management 10 (1913).
    """
    if holding <= 0:
        raise CoreError("Holding a unit for a year costs more than 0.")
    return math.sqrt(2 * a_year * fixed / holding)


@dataclass(frozen=True, slots=True)
class ProfitCurve:
    """What quantities earn on average, (quantities,): profit, sold, left over, and the chance to sell out."""

    units: Ints
    profit: Floats
    sold: Floats
    left: Floats
    sells_out: Floats

    @property
    def best(self) -> int:
        """Place of the quantity that earns most; of equal ones the smallest."""
        return int(np.argmax(np.round(self.profit, 6)))

    def at(self, units: int) -> int:
        """Place of a quantity; of the nearest one where it was not tried."""
        return int(np.argmin(np.abs(self.units - units)))


def tried_quantities(demand: np.ndarray, orderable: Callable[[float], int], also: Ints) -> Ints:
    """Quantities worth trying, rising: what can be ordered from the least on, up to far beyond demand."""
    highest = float(np.quantile(demand, FAR)) if len(demand) else 0.0
    grid = np.unique([orderable(one) for one in np.linspace(0, highest, MOST_TRIED)])
    found: Ints = np.unique(np.concatenate([grid, also])).astype(np.int64)
    return found


def profit_curve(
    wanted: np.ndarray, units: Ints, earned: Floats, cost: Callable[[int], float],
    worth: Callable[[int], float], again: float = 0.0, storage: Floats | None = None,
) -> ProfitCurve:  # fmt: skip
    """Average profit of quantities over draws of demand, all goods there from the first week on.

    Sold by a week is the lesser of what was wanted by then and what can be sold; so what is earned is the sum
    over weeks of what they earn beyond the week after them times that.

    Parameters
    ----------
    wanted : array (draws, weeks)
        Units that would have been bought by the end of each week; never falling along a row.
    units : int array (quantities,)
        What is tried.
    earned : array (weeks,)
        What a unit sold in each brings before its goods.
    cost, worth : callable
        What an order of so many units costs in all; what one of them is worth that is left over.
    again : float
        Share of the units sold that are returned and resold.
    storage : array (weeks,), optional
        What a unit in stock costs each week.
    """
    draws, weeks = wanted.shape
    sellable = units / (1 - again)
    beyond = earned - np.append(earned[1:], 0.0)
    brought, held = np.zeros(len(units)), np.zeros(len(units))
    sold = np.zeros(len(units))
    ordered = np.sort(wanted, axis=0)
    for week in range(weeks):
        column = ordered[:, week]
        passed = np.concatenate([[0.0], np.cumsum(column, dtype=np.float64)])
        below = np.searchsorted(column, sellable, side="right")
        sold = (passed[below] + sellable * (draws - below)) / draws
        brought += beyond[week] * sold
        if storage is not None:
            held += (units - sold * (1 - again)) * storage[week]
    left = units - sold * (1 - again)
    costs, worths = (np.array([of(one) for one in units.tolist()]) for of in (cost, worth))
    sells_out = 1 - np.searchsorted(ordered[:, -1], sellable, side="left") / draws
    profit = brought - costs - held + left * worths
    return ProfitCurve(units, profit, sold, left, sells_out)


@dataclass(frozen=True, slots=True)
class OwnFigure:
    """How the researcher reckoned: a rival's units a day now, searches now and when the goods are there, days.

    quantity: what came of it, None where that is not said.
    """

    units_a_day: float
    searches_now: float
    searches_then: float
    days: float
    quantity: float | None = None

    def __post_init__(self) -> None:
        figures = (self.units_a_day, self.searches_now, self.searches_then, self.days)
        if any(not one >= 0 for one in figures) or self.searches_now <= 0:
            raise CoreError(
                "The plain practice takes units a day, searches then and days from 0, and searches now "
                "above 0."
            )

    @property
    def growth(self) -> float:
        """By how much more is searched then: 30,000 now and 45,000 then is +50%."""
        return self.searches_then / self.searches_now - 1


def plain_practice(own: OwnFigure) -> float:
    """A rival's units × (searches when goods are there ÷ searches now) × days; common practice, no source."""
    return own.units_a_day * (own.searches_then / own.searches_now) * own.days


def slips_in(own: OwnFigure) -> list[str]:
    """Which usual slips a figure of one's own shows: “upside down”, “ignores arrival”."""
    if own.quantity is None or not own.quantity or own.searches_then == own.searches_now:
        return []
    right = plain_practice(own)
    wrong = {"ignores arrival": own.units_a_day * own.days}
    if own.searches_then:
        wrong["upside down"] = own.units_a_day * own.searches_now / own.searches_then * own.days
    off = abs(own.quantity - right)
    return [
        name
        for name, figure in wrong.items()
        if abs(own.quantity - figure) <= NEAR * figure and abs(own.quantity - figure) < off
    ]
