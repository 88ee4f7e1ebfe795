"""Whether the season at hand comes early or late: by how many weeks, against how much seasons differ anyway."""

from __future__ import annotations

import numpy as np
from scipy import stats

from driftfield.core.base import Floats

from .recent import (
    LEAST_HISTORY,
    USUAL_SHIFT,
    USUAL_SWING,
    Recent,
    block_noise,
    yearly_variance,
)

SPAN = 6  # Blocks by which the season at hand is judged: what rises in them, and what stood before.
LATEST = 3  # Of these the latest, in which the season must be on the move.
# By how much the variance of swings may be more than a few years show, and degrees of freedom that each year
# known gives at most: how seasons differ is known from years, whatever is known of weeks. Our choice, by false
# alarms in niches whose seasons swing by a tenth more or less (benchmarks/watch_claims.py).
WIDER, DF_A_YEAR = 2.5, 2
LEAST_SLOPE = 0.04  # By how much the logarithm must move a week there, in the mean. Our choice.


def season_shift(
    levels: Floats, per_year: int, *, timing: Floats, swing: Floats, periods_a_week: float
) -> Recent:
    """By how many weeks the season at hand is early.

    Parameters
    ----------
    levels : array (subjects, blocks)
        Logarithms of levels with the season and known shifts taken out; NaN where absent.
    per_year : int
        Blocks a year.
    timing, swing : array (subjects, blocks)
        By how much each would rise if the season were a period early, and if it swung by twice as much.
    periods_a_week : float
        To tell weeks; 12 ÷ 52 of months.

    Returns
    -------
    Recent
        size: weeks early, below 0 late; error: of that alone. p: chance of a season as early or late where
        seasons differ as those of earlier years did. Unknown where no season is on the move, or under twenty
        blocks are known.

    Notes
    -----
    The latest six blocks are level + weeks × slope of the season + swing, by least squares with the noise of
    earlier blocks; the swing leans on none by how much it differed before (ridge, Hoerl & Kennard 1970). Before
    a season's peak one that is stronger looks much like an early one.
    """
    n, blocks = levels.shape
    out = Recent.unknown(n)
    if blocks < SPAN + LEAST_HISTORY or not n:
        return out
    late = timing[:, -LATEST:]
    known = ~np.isnan(levels)
    moves = np.sqrt((late**2).mean(axis=1)) * periods_a_week >= LEAST_SLOPE
    seen = known[:, :-SPAN].sum(axis=1)
    rows = np.flatnonzero(moves & known[:, -SPAN:].all(axis=1) & (seen >= LEAST_HISTORY))
    if not rows.size:
        return out
    x, past = levels[rows, -SPAN:].astype(np.float64), levels[rows, :-SPAN].astype(np.float64)
    noise, rho = block_noise(past)
    noise = np.maximum(noise * (1 + rho), 1e-12)
    leans = [timing[rows], swing[rows]]
    usual = (USUAL_SHIFT * periods_a_week, USUAL_SWING)
    shifts, swings = (
        yearly_variance(past, lean[:, : past.shape[1]], per_year, noise, one)
        for lean, one in zip(leans, usual, strict=True)
    )
    swings = swings * WIDER
    design = np.stack([np.ones_like(x), *(lean[:, -SPAN:] for lean in leans)], axis=2)
    precision = np.einsum("nbi,nbj->nij", design, design)
    with np.errstate(divide="ignore"):
        # Where a season never swung otherwise it does not now.
        precision[:, 2, 2] += np.where(swings > 0, noise / np.maximum(swings, 1e-12), 1e12)
    precision[:, range(3), range(3)] += 1e-9
    alone = np.linalg.inv(precision[:, :2, :2])[:, 1, 1]
    inverse = np.linalg.inv(precision)
    found = np.einsum("nij,nbj,nb->ni", inverse, design, x)
    size = found[:, 1] / periods_a_week
    error = np.sqrt(noise * inverse[:, 1, 1]) / periods_a_week
    years = max(past.shape[1] // per_year, 1)
    df = np.maximum(0.6 * seen[rows], 3)
    yearly = shifts / periods_a_week**2
    whole = error**2 + yearly
    # What a swing that is not known adds is known from the years, and the rest from the weeks.
    steady = np.minimum(noise * alone / periods_a_week**2, error**2)
    swung = error**2 - steady
    free = whole**2 / (steady**2 / df + (swung**2 + yearly**2) / years)
    free = np.minimum(free, DF_A_YEAR * years)
    out.size[rows], out.error[rows], out.df[rows] = size, error, df
    out.p[rows] = 2 * stats.t.sf(np.abs(size) / np.sqrt(whole), free)
    out.tried[rows], out.blocks[rows] = 1, SPAN
    return out
