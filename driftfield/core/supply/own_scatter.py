"""How far own sales scatter around a share of the market, and the market around its season."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import stats

from driftfield.core.base import Floats, Timeline, moderated

from .own_curves import OwnNiche

HISTORY = 104  # Weeks from which it is told how far shares and niches scatter.
LEAST_PAIR = 10  # Own units in two blocks from which they tell how far the share scatters.
APART = 2  # Blocks between the two of a pair: what is sold in one month is like the month before. Our choice.
LEAST_BLOCKS = 4  # Pairs of blocks from which one niche tells of that by itself.
OUTLIER = 6.0  # Times the usual square from which a larger one counts as this. Our choice.


def _blocks(values: Floats, timeline: Timeline) -> Floats:
    """Sums of four weeks (a month) from the end back, latest first; NaN where a period is not known."""
    size, span = timeline.period.block, timeline.period.span(HISTORY)
    tail = values[-min(len(values), span) :]
    many = len(tail) // size
    blocks: Floats = tail[len(tail) - many * size :].reshape(many, size).sum(axis=1)[::-1]
    return blocks


@dataclass(frozen=True, slots=True)
class Squares:
    """Squares of steps from block to block, (pairs,), and how much each counts."""

    value: Floats
    weight: Floats

    @property
    def df(self) -> float:
        """Degrees of freedom of their mean: pairs that overlap tell two thirds of what as many apart would."""
        squared = float((self.weight**2).sum())
        return float(self.weight.sum()) ** 2 / squared * 2 / 3 if squared > 0 else 0.0


def share_steps(niche: OwnNiche, timeline: Timeline) -> Squares:
    """How far own units of neighbouring blocks lie from one share of what the market sold, in units of what
    chance alone makes of them; blocks in which much is sold count for more, as they do in a sum."""
    both = np.isnan(niche.units) | np.isnan(niche.market)
    own = _blocks(np.where(both, np.nan, niche.units), timeline)
    market = _blocks(np.where(both, np.nan, niche.market), timeline)
    total = own[:-APART] + own[APART:]
    with np.errstate(invalid="ignore", divide="ignore"):
        part = market[:-APART] / (market[:-APART] + market[APART:])
        squares = (own[:-APART] - total * part) ** 2 / (total * part * (1 - part))
    told = (total >= LEAST_PAIR) & np.isfinite(squares)
    return Squares(squares[told], total[told])


def log_steps(niche: OwnNiche, season: Floats, timeline: Timeline) -> Squares:
    """Half the squared steps of the log of what a niche sells, without its season."""
    market, usual = _blocks(niche.market, timeline), _blocks(season, timeline)
    with np.errstate(invalid="ignore", divide="ignore"):
        logs = np.log(market / usual)
        steps = logs[:-APART] - logs[APART:]
    squares = steps[np.isfinite(steps)] ** 2 / 2
    return Squares(squares, np.ones(len(squares)))


def share_dispersion(niches: Sequence[OwnNiche], timeline: Timeline) -> tuple[Floats, Floats]:
    """Variance of own units of each niche over what chance alone makes of it, with its degrees of freedom.

    Shares that waver make it the larger the more is sold; so what niches have in common is looked for behind
    that.
    """
    squares = [share_steps(one, timeline) for one in niches]
    sold = np.array([_known_mean(_blocks(one.units, timeline)) for one in niches])
    means = np.array([bounded_mean(one) for one in squares])
    with np.errstate(invalid="ignore", divide="ignore"):
        each = (means - 1) / sold
    known = each[np.isfinite(each)]
    wavers = max(float(np.median(known)), 0.0) if len(known) else 0.0
    usual = 1 + wavers * np.nan_to_num(sold)
    variance, df = usual_square(
        [Squares(one.value / by, one.weight) for one, by in zip(squares, usual, strict=True)]
    )
    return variance * usual, df


def usual_square(squares: Sequence[Squares]) -> tuple[Floats, Floats]:
    """Mean square of each niche held against those of all, with its degrees of freedom, (own,)."""
    means = np.array([bounded_mean(one) for one in squares])
    df = np.array([one.df for one in squares])
    few = np.array([len(one.value) < LEAST_BLOCKS for one in squares])
    steadied, free = moderated(means, np.where(np.isfinite(means), df, 0))
    # Of too few blocks nothing is told unless other niches say what is usual.
    lone = few & (free <= df)
    return np.where(lone, np.nan, steadied), np.where(lone, np.nan, free)


def bounded_mean(squares: Squares) -> float:
    """Mean of squares, those above OUTLIER times it counted as that; NaN of none.

    Of squares of normal values it is the mean without bias. A step of the share is one large square, which
    says nothing of how far it scatters from one block to the next.
    """
    if not len(squares.value):
        return float("nan")
    kept = stats.chi2.cdf(OUTLIER, 3) + OUTLIER * stats.chi2.sf(OUTLIER, 1)
    weight = squares.weight / squares.weight.sum()
    mean = float(weight @ squares.value)
    for _ in range(30):
        before, mean = mean, float(weight @ np.minimum(squares.value, OUTLIER * mean)) / kept
        if abs(mean - before) <= 1e-9 * before:
            break
    return mean


def _known_mean(values: Floats) -> float:
    known = values[~np.isnan(values)]
    return float(known.mean()) if len(known) else float("nan")
