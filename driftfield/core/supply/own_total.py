"""All niches in which one sells together."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, RateRatio, fisher_indices

from .own_part import Comparison, OwnPart

DRAWS = 2000


@dataclass(frozen=True, slots=True)
class OwnTotal:
    """All own niches of one comparison together, and the growth of own units in them as market × share.

    niches: how many. own_then, own_now: own units. market, share, own: ratios with their intervals, (1,) each;
    unknown where nothing was sold at one of the times.
    """

    niches: int
    own_then: float
    own_now: float
    market: RateRatio
    share: RateRatio
    own: RateRatio


def own_total(part: OwnPart, one: Comparison, rows: Bools, coverage: float) -> OwnTotal | None:
    """Take own niches together.

    Parameters
    ----------
    part, one : OwnPart, Comparison
        What was compared, and which of its comparisons.
    rows : array (own,)
        The niches that count, where the comparison is known of them.
    coverage : float
        Of the intervals, 0–1.

    Returns
    -------
    OwnTotal or None
        None where no niche counts. The split is by Fisher's ideal indices, shares as the prices and what the
        niches sold as the quantities, and so exact. Intervals are quantiles of draws: own units from a gamma
        distribution of their dispersion, markets log-normal, niches independent of one another.
    """
    rows = rows & one.known
    if not rows.any():
        return None
    own = np.stack([one.own_then[rows], one.own_now[rows]])
    market = np.stack([one.market_then[rows], one.market_now[rows]])
    middle = _indices(own[:, None], market[:, None])[:, 0]
    nothing = np.full(3, np.nan)
    low, high = nothing, nothing
    told = ~np.isnan([*part.dispersion[rows], *part.scatter[rows]]).any()
    if told and not np.isnan(middle).any():
        rng = np.random.default_rng(0)
        markets = _market_draws(rng, part, one, rows)
        drawn = _indices(_own_draws(rng, own, part, rows) * markets, market[:, None] * markets)
        low, high = np.nanquantile(drawn, [(1 - coverage) / 2, (1 + coverage) / 2], axis=1)
    share, grown, whole = (
        RateRatio(*(np.array([ends[at]]) for ends in (middle, low, high, nothing)))
        for at in range(3)
    )
    return OwnTotal(int(rows.sum()), float(own[0].sum()), float(own[1].sum()), grown, share, whole)


def _indices(own: Floats, market: Floats) -> Floats:
    """What shares, what markets and what both make of own units, (3, …); then and now stand first."""
    share = own / market
    of_share, of_market = fisher_indices(share[1], market[1], share[0], market[0])
    return np.stack([of_share, of_market, of_share * of_market])


def _own_draws(rng: np.random.Generator, own: Floats, part: OwnPart, rows: Bools) -> Floats:
    """Own units as they might have been of the same markets, (2, draws, niches)."""
    spread = part.dispersion[rows] * _chi(rng, part.dispersion_df[rows])
    # Half a count more, so that what was not sold by chance may have been.
    return rng.gamma(own[:, None] / spread + 0.5) * spread


def _market_draws(rng: np.random.Generator, part: OwnPart, one: Comparison, rows: Bools) -> Floats:
    """Times as much as markets sold, (2, draws, niches)."""
    periods = part.timeline.period.block / one.used[rows]
    error = np.sqrt(part.scatter[rows] * _chi(rng, part.scatter_df[rows]) * periods)
    return np.exp(rng.normal(size=(2, *error.shape)) * error)


def _chi(rng: np.random.Generator, df: Floats) -> Floats:
    """What variances estimated with so many degrees of freedom may be times the estimates, (draws, niches)."""
    return df / rng.chisquare(df, size=(DRAWS, len(df)))
