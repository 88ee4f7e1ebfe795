"""What a listing of one's own may sell, week by week: draws over the market, its share of it, and chance."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import CoreError, Floats

DRAWS = 10_000
WEEKS_A_MONTH = 52 / 12
LARGEST = 1e6  # Units a week above which chance is drawn from a normal, not counted one by one.


@dataclass(frozen=True, slots=True)
class Outlook:
    """What a niche sells in the weeks to come, (weeks,), from the Monday ``first`` on.

    units: of all its listings, in the middle. log_error: standard error of their logarithm, which all weeks
    share. known: weeks that the forecast reaches; the rest is the same week of the year before.
    """

    first: date
    units: Floats
    log_error: Floats
    known: int

    def __len__(self) -> int:
        return len(self.units)

    def week_of(self, day: date) -> int:
        """The week that a day lies in, 0 for the first."""
        return (day - self.first).days // 7

    def start(self, week: int) -> date:
        return self.first + timedelta(weeks=week)


@dataclass(frozen=True, slots=True)
class ShareDraws:
    """The share of a niche's units that a listing has, by month since it is on sale.

    levels: (levels,) quantiles, rising, 0–1. shares: (levels, months); beyond the last month it stays.
    """

    levels: Floats
    shares: Floats

    @classmethod
    def fixed(cls, share: float) -> ShareDraws:
        """A share that is taken for certain, as that of a listing to be matched."""
        return cls(np.array([0.5]), np.array([[share]]))

    def at(self, level: Floats, months: np.ndarray) -> np.ndarray:
        """Shares at quantiles (draws,) and times since launch in months (weeks,): (draws, weeks).

        A launch keeps its place among launches over the months: who does well does so throughout. Months are
        told at their middles, and between them straight.
        """
        last = self.shares.shape[1] - 1
        place = np.clip(months - 0.5, 0, last)
        low = np.floor(place).astype(np.int64)
        part = place - low
        by_week = (
            self.shares[:, low] * (1 - part) + self.shares[:, np.minimum(low + 1, last)] * part
        )
        if len(self.levels) == 1:
            return np.broadcast_to(by_week[0], (len(level), len(months)))
        inside = np.clip(level, self.levels[0], self.levels[-1])
        at = np.clip(
            np.searchsorted(self.levels, inside, side="right") - 1, 0, len(self.levels) - 2
        )
        weight = (inside - self.levels[at]) / (self.levels[at + 1] - self.levels[at])
        found: np.ndarray = (
            by_week[at] * (1 - weight)[:, None] + by_week[at + 1] * weight[:, None]
        ).astype(np.float32)
        return found


@dataclass(frozen=True, slots=True)
class DemandDraws:
    """Units that would be bought, (draws, weeks), float32 of whole ones; middle: (weeks,) expected."""

    units: np.ndarray
    middle: Floats


def draw_demand(
    outlook: Outlook, share: ShareDraws, on_sale: int, until: int, rng: np.random.Generator,
    draws: int = DRAWS, factor: float = 1.0,
) -> DemandDraws:  # fmt: skip
    """Draw what a listing may sell from the week it is on sale to a last one.

    Parameters
    ----------
    outlook : Outlook
        What the niche sells.
    share : ShareDraws
        What of it the listing has.
    on_sale, until : int
        Its first week, and the first after its last, in weeks of the outlook.
    rng : Generator
        Three things are drawn: where the whole niche comes out, one for all weeks; where the listing stands
        among launches; and what chance makes of a week (Poisson).
    factor : float
        By which all of it is more or less.

    Returns
    -------
    DemandDraws
        Over all weeks of the outlook; 0 outside of these.
    """
    if not 0 <= on_sale <= until <= len(outlook):
        raise CoreError("The weeks on sale lie outside of those that are looked ahead to.")
    weeks = np.arange(on_sale, until)
    months = (weeks - on_sale + 0.5) / WEEKS_A_MONTH
    market = np.exp(rng.standard_normal(draws)[:, None] * outlook.log_error[weeks])
    standing = rng.random(draws)
    expected = outlook.units[weeks] * market * share.at(standing, months) * factor
    units: np.ndarray = np.zeros((draws, len(outlook)), dtype=np.float32)
    if expected.size and expected.max() > LARGEST:
        noise = rng.standard_normal(expected.shape) * np.sqrt(expected)
        units[:, on_sale:until] = np.maximum(np.rint(expected + noise), 0)
    else:
        units[:, on_sale:until] = rng.poisson(np.maximum(expected, 0))
    middle = np.zeros(len(outlook))
    middle[weeks] = outlook.units[weeks] * share.at(np.array([0.5]), months)[0] * factor
    return DemandDraws(units, middle)


def sold_of(demand: np.ndarray, supply: Floats) -> np.ndarray:
    """Units sold a week, (draws, weeks), of what is wanted, from stock that comes in.

    ``supply`` (weeks,) is what has arrived by each week. Who finds nothing does not wait: sales up to a week
    are the least, over all weeks s before it, of what had arrived by s and what was wanted after s.
    """
    wanted = np.cumsum(demand, axis=1, dtype=np.float32)
    short = np.minimum.accumulate(supply.astype(np.float32)[None, :] - wanted, axis=1)
    sold = wanted + np.minimum(short, 0)
    weekly: np.ndarray = np.diff(sold, axis=1, prepend=np.float32(0))
    return weekly
