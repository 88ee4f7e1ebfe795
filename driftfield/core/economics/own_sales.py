"""What one has sold oneself: as what tells the units of a plan, and against what was planned."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import CoreError, Floats

from .own_demand import ShareDraws

BACK = timedelta(weeks=52)  # Own sales that tell a share.
FEWEST = 4  # Periods whose shares tell how far the share moves.
LEVELS = (0.05, 0.1, 0.25, 0.5, 0.75, 0.9, 0.95)


@dataclass(frozen=True, slots=True)
class Sold:
    """Units of one's own that were sold from a day on until before another."""

    begin: date
    end: date
    units: float


def own_share(sold: Sequence[Sold], niche: Callable[[date, date], float]) -> ShareDraws:
    """The share of a niche's units that one has had, from own sales of the last 52 weeks.

    Parameters
    ----------
    sold : sequence of Sold
        One's own, in time.
    niche : callable
        What all listings sold from a day on until before another; NaN for unknown.

    Returns
    -------
    ShareDraws
        By the quantiles of the share of each period: a single period moves more than the year ahead does, so
        the band is rather too wide. Of fewer than four periods one share, taken for certain. Raises CoreError
        where nothing was sold while the niche's units are known.
    """
    last = max((one.end for one in sold), default=None)
    pairs = [
        (one.units, niche(one.begin, one.end))
        for one in sold
        if last is not None and one.begin >= last - BACK
    ]
    known = [(own, whole) for own, whole in pairs if whole > 0]
    if not known or not sum(own for own, _ in known) > 0:
        raise CoreError(
            "units.own: no own sales of the last 52 weeks are known here beside what the niche sold. Import "
            "own_sales, or give a share."
        )
    shares = np.array([min(own / whole, 1.0) for own, whole in known])
    if len(known) < FEWEST:
        whole = sum(of for _, of in known)
        return ShareDraws.fixed(min(sum(own for own, _ in known) / whole, 1.0))
    return ShareDraws(np.array(LEVELS), np.quantile(shares, LEVELS)[:, None])


@dataclass(frozen=True, slots=True)
class Outcome:
    """What was sold up to a day, and what was planned for the same days.

    low, middle, high: what eight draws in ten were to lie within.
    """

    since: date
    until: date
    sold: float
    low: float
    middle: float
    high: float

    @property
    def place(self) -> str:
        """Where it lies: below, within, above."""
        return "below" if self.sold < self.low else "above" if self.sold > self.high else "within"


@dataclass(frozen=True, slots=True)
class PlannedSales:
    """Units that a plan was to have sold by the end of each week, from the Monday ``first`` on; (weeks,) each.

    on_sale: the day of its first goods.
    """

    first: date
    on_sale: date
    low: Floats
    middle: Floats
    high: Floats

    def by(self, day: date) -> tuple[float, float, float]:
        """What was to be sold before a day: low, middle, high; straight within a week."""
        edges = (np.arange(len(self.low) + 1) * 7 + self.first.toordinal()).astype(np.float64)
        at = float(np.clip(day.toordinal(), edges[0], edges[-1]))
        return tuple(  # type: ignore[return-value]
            float(np.interp(at, edges, np.append(0.0, one)))
            for one in (self.low, self.middle, self.high)
        )


def outcome(planned: PlannedSales, sold: Sequence[Sold]) -> Outcome | None:
    """What came of a plan, of the own sales since its first goods; None where there are none.

    The period that they came in counts where nothing was sold before; else it is left out.
    """
    before = any(one.units for one in sold if one.end <= planned.on_sale)
    since = [
        one
        for one in sold
        if (one.begin >= planned.on_sale if before else one.end > planned.on_sale)
    ]
    last = planned.first + timedelta(weeks=len(planned.low))
    since = [one for one in since if one.begin < last]
    if not since:
        return None
    begin, end = since[0].begin, max(one.end for one in since)
    low, middle, high = (
        then - start for then, start in zip(planned.by(end), planned.by(begin), strict=True)
    )
    return Outcome(
        begin, end - timedelta(days=1), sum(one.units for one in since), low, middle, high
    )
