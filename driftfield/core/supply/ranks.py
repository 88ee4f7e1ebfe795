"""Units from sales ranks: what listings of a category sell that have nothing but a rank."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import stats

from driftfield.core.base import Bools, Floats, Groups, Ints

from .listings import History, Listings, window_sum
from .own_check import NEARLY, OwnCheck, check_by_own

LEAST = 12  # Listings with both that a category must have; under that the one above it tells.
LEVEL = 0.8  # Of the interval.


@dataclass(frozen=True, slots=True)
class RankFit:
    """How units fall with the rank in each group, (groups,); NaN where too few listings have both.

    The line ln units = intercept + slope × ln rank by least squares. listings: how many it rests on. scatter:
    standard deviation of ln units about it, by n − 2. centre, spread: mean of ln rank, and the sum of squares
    about it. error: root mean square of ln units less what the line says that is fitted without that listing.
    """

    intercept: Floats
    slope: Floats
    listings: Floats
    scatter: Floats
    centre: Floats
    spread: Floats
    error: Floats


@dataclass(frozen=True, slots=True)
class UnitsEstimate:
    """Estimated units, (listings,), NaN for none: the middle of what is likely, and its interval.

    error: factor by which estimates of listings whose units are known miss these, at one standard deviation;
    0.3 for 30%. rests_on: how many such listings there are.
    """

    units: Floats
    low: Floats
    high: Floats
    error: Floats
    rests_on: Floats


def year_rank(listings: Listings) -> Floats:
    """Mean of the logarithm of each listing's rank over the last 52 weeks (12 months), (listings,).

    NaN where no rank is known in over half of the periods: a listing that was ranked in its season alone says
    nothing of a year.
    """
    history = listings.history
    window = None if history is None else history.window("sales_rank", 52)
    if window is None:
        return np.full(len(listings), np.nan)
    known = window >= 1
    many = known.sum(axis=1)
    logs = np.log(np.where(known, window, 1).astype(np.float64)).sum(axis=1)
    return np.where(2 * many > window.shape[1], logs / np.maximum(many, 1), np.nan)


def fit_ranks(groups: Groups, log_rank: Floats, units: Floats) -> RankFit:
    """Fit how units fall with the rank, group by group.

    Parameters
    ----------
    groups : Groups
        Groups of the listings, which may lie in one another: a category's listings count in all above it.
    log_rank : array (rows,)
        Mean logarithm of each listing's rank, NaN for unknown.
    units : array (rows,)
        Units of the same time, NaN for unknown; of what sold nothing the logarithm is not known, and it counts
        in no fit.

    Returns
    -------
    RankFit
        Unknown where fewer than ``LEAST`` listings have both, all have one rank, or units do not clearly fall
        with the rank: an interval of the slope (``LEVEL``, two-sided) that does not lie below 0.

    References
    ----------
    Goolsbee, A. & Chevalier, J. (2003), Measuring prices and price competition online. Quantitative Marketing
    and Economics 1: sales fall with a power of the rank. The interval is that of least squares for a new
    observation (Draper & Smith, Applied Regression Analysis, 3rd ed., ch. 3); the error is by leaving one out,
    e ÷ (1 − h) (Allen 1974, Technometrics 16).
    """
    with np.errstate(divide="ignore", invalid="ignore"):
        log_units = np.log(np.where(units > 0, units, np.nan))
    both = np.flatnonzero(~np.isnan(log_rank) & ~np.isnan(log_units))
    held, x, y = groups.of(both), log_rank[both], log_units[both]
    n = held.size().astype(np.float64)
    with np.errstate(divide="ignore", invalid="ignore"):
        centre, middle = held.mean(x), held.mean(y)
        group, row = held.pairs()
        flat = Groups(group, groups.many)
        across, up = x[row] - centre[group], y[row] - middle[group]
        spread = flat.sum(across**2)
        slope = np.where(spread > 0, flat.sum(across * up) / spread, np.nan)
        left = up - slope[group] * across
        scatter = np.sqrt(flat.sum(left**2) / (n - 2))
        leverage = 1 / n[group] + across**2 / spread[group]
        error = np.sqrt(flat.mean((left / (1 - leverage)) ** 2))
        unsure = stats.t.ppf((1 + LEVEL) / 2, np.maximum(n - 2, 1)) * scatter / np.sqrt(spread)
        told = (n >= LEAST) & (spread > 0) & (slope + unsure < 0)
        intercept = middle - slope * centre

    def only(values: Floats) -> Floats:
        return np.where(told, values, np.nan)

    return RankFit(
        only(intercept),
        only(slope),
        only(n),
        only(scatter),
        only(centre),
        only(spread),
        only(error),
    )


@dataclass(frozen=True, slots=True)
class Shift:
    """By how much estimates are moved, (listings,), 0 for none: ln of the factor, its standard error, and the
    scatter that own sales have about the line."""

    middle: Floats
    unsure: Floats
    scatter: Floats


def estimate_units(
    fit: RankFit, group: Ints, log_rank: Floats, level: float = LEVEL, shift: Shift | None = None
) -> UnitsEstimate:
    """Estimate units from ranks.

    Parameters
    ----------
    fit : RankFit
        Of the groups.
    group : array (listings,)
        The group that tells of each listing, −1 for none (``telling_group``).
    log_rank : array (listings,)
        As it was fitted, NaN for unknown.
    level : float
        Of the interval, 0–1.
    shift : Shift, optional
        By how much own sales move the line.

    Returns
    -------
    UnitsEstimate
        The middle is the median, e to the line; the interval that of a single new listing. Outside of the ranks
        it was fitted on it widens with the distance, and is as true as the line goes on. Of one that is moved
        it has the larger of the two scatters, and the standard error of the shift besides.
    """
    known = (group >= 0) & ~np.isnan(log_rank)
    at = np.where(known, group, 0)

    def of(values: Floats) -> Floats:
        return np.where(known, values[at], np.nan) if len(values) else np.full(len(group), np.nan)

    n, scatter = of(fit.listings), of(fit.scatter)
    line = of(fit.intercept) + of(fit.slope) * log_rank
    unsure: Floats | float = 0.0
    if shift is not None:
        line, unsure = line + shift.middle, shift.unsure
        scatter = np.maximum(scatter, shift.scatter)
    leverage = 1 / n + (log_rank - of(fit.centre)) ** 2 / of(fit.spread)
    away = np.sqrt(scatter**2 * (1 + leverage) + unsure**2)
    reach = stats.t.ppf((1 + level) / 2, n - 2) * away
    return UnitsEstimate(
        np.exp(line), np.exp(line - reach), np.exp(line + reach), np.exp(of(fit.error)) - 1, n
    )


def telling_group(fit: RankFit, groups: Groups) -> Ints:
    """The lowest group with a fit that each row is in, (rows,), −1 for none."""
    return groups.lowest(~np.isnan(fit.listings))


@dataclass(frozen=True, slots=True)
class RankLines:
    """How units fall with the rank where listings are, and the group that tells of each listing, −1 for none.

    A listing of which units of the last year are known has none: nothing of it is to be estimated. own: what
    own sales say of the lines; corrected: whether the estimates are moved by it where it tells.
    """

    fit: RankFit
    group: Ints
    log_rank: Floats
    own: OwnCheck
    corrected: bool = False

    @classmethod
    def of(
        cls, listings: Listings, groups: Groups, rows: Ints, *, correct: bool = False
    ) -> RankLines:
        """Fit the lines; ``groups`` are those of the listings ``rows``; ``correct`` them by own sales."""
        log_rank, units = year_rank(listings), window_sum(listings, "units", 52)
        whole = _whole(listings, units)
        fit = fit_ranks(groups, log_rank[rows], whole[rows])
        group = np.full(len(listings), -1, dtype=np.int64)
        group[rows] = telling_group(fit, groups)
        own = check_by_own(listings, groups, rows, _without_itself(fit, group, log_rank, whole))
        group[~np.isnan(units)] = -1
        return cls(fit, group, log_rank, own, correct)

    @property
    def moved(self) -> Bools:
        """Which estimates own sales correct, (listings,)."""
        corrected: Bools = (self.own.group >= 0) & (self.group >= 0) & self.corrected
        return corrected

    @property
    def units(self) -> UnitsEstimate:
        """A year's units of the listings that have a rank and no units, (listings,); NaN for the others."""
        return estimate_units(self.fit, self.group, self.log_rank, shift=self._shift())

    def _shift(self) -> Shift:
        own, moved = self.own, self.moved
        with np.errstate(invalid="ignore"):
            unsure = own.told(own.spread) / np.sqrt(own.told(own.listings))
        return Shift(
            *(
                np.where(moved, one, 0)
                for one in (own.told(own.shift), unsure, own.told(own.spread))
            )
        )

    def curves(self, history: History | None) -> tuple[Ints, Floats]:
        """Estimated units of each period by its own rank: the listings they are of, and (these, length).

        The line is of a year's units at a steady rank, so that a period has its part of a year.
        """
        ranks = None if history is None else history.measures.get("sales_rank")
        if ranks is None or history is None:
            length = 0 if history is None else history.timeline.length
            return np.empty(0, dtype=np.int64), np.empty((0, length))
        told = self.group >= 0
        if (units := history.measures.get("units")) is not None:
            told &= np.isnan(units).all(axis=1)  # Known units and estimated ones make no curve.
        rows = np.flatnonzero(told)
        at = self.group[rows]
        own = ranks[rows].astype(np.float64)
        with np.errstate(divide="ignore", invalid="ignore"):
            logs = np.log(np.where(own >= 1, own, np.nan))
        level = self.fit.intercept[at] + self._shift().middle[rows]
        line = level[:, None] + self.fit.slope[at, None] * logs
        return rows, np.exp(line) / history.timeline.period.per_year


def _without_itself(fit: RankFit, group: Ints, log_rank: Floats, units: Floats) -> Floats:
    """ln of a year's units by the line, (listings,), of one that was fitted itself as if it had not been."""
    known = (group >= 0) & ~np.isnan(log_rank)
    at = np.where(known, group, 0)
    if not len(fit.slope):
        return np.full(len(group), np.nan)
    line = fit.intercept[at] + fit.slope[at] * log_rank
    fitted = units > 0
    with np.errstate(divide="ignore", invalid="ignore"):
        up = np.log(np.where(fitted, units, np.nan))
        leverage = 1 / fit.listings[at] + (log_rank - fit.centre[at]) ** 2 / fit.spread[at]
        alone = up - (up - line) / (1 - leverage)
    return np.where(known, np.where(fitted, alone, line), np.nan)


def units_by_rank(listings: Listings, groups: Groups, rows: Ints) -> UnitsEstimate:
    """Estimate a year's units of the listings that have a rank and no units (``RankLines``)."""
    return RankLines.of(listings, groups, rows).units


def _whole(listings: Listings, units: Floats) -> Floats:
    """A year's units where they are known of nearly all of it; part of a year beside its rank would mislead."""
    history = listings.history
    window = None if history is None else history.window("units", 52)
    if window is None:
        return units
    return np.where((~np.isnan(window)).mean(axis=1) >= NEARLY, units, np.nan)
