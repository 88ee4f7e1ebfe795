"""A lens from evidence: the weights under which past launches would have been told best, if any are better."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import minimize
from scipy.special import expit

from driftfield.core.base import (
    Bools,
    Estimate,
    Floats,
    Ints,
    Period,
    area_gained,
    area_under_curve,
)
from driftfield.core.ranking import (
    DEFAULT_LENS,
    DEMAND,
    PARTS,
    Lens,
    Normalised,
    percentile,
    rank_niches,
)

from .launched import JUDGED, Launched
from .replay import Then

NAME = "From this market's launches"
# How strongly weights are drawn to the default's, in launches that say the default is right. Our choice of
# a grid.
SHRINKAGE = (1.0, 10.0, 100.0, 1000.0)
LEAST_LAUNCHES = 60  # To fit weights to, and to judge them by. Our choice.
LEAST_OF_BOTH = 15  # Of these that worked, and that did not.
LEAST_KNOWN = 0.5  # Share of launches whose niches a part must be known of to be weighed.
EDGE = 0.05  # Least share of headroom that either side keeps.
DIGITS = 2
_SIDE = np.array([part.side == DEMAND for part in PARTS])


@dataclass(frozen=True, slots=True)
class FittedLens:
    """Weights fitted to launches.

    lens: None where no others are proposed. gain: by how much the area under the curve of the fitted
    weights exceeds the default's, on launches later than all they were fitted to; fitted, default: the
    areas themselves. weights: of the last fit, by part, as shares of headroom; NaN where nothing could be
    fitted.
    """

    lens: Lens | None
    gain: Estimate
    fitted: Estimate
    default: Estimate
    weights: Floats


@dataclass(frozen=True, slots=True)
class _Rows:
    """Launches as the fit takes them: ``x`` (rows, parts) logarithms of parts in favour of the entrant."""

    x: Floats
    won: Bools
    subject: Ints
    when: Ints

    def of(self, rows: Bools) -> _Rows:
        return _Rows(self.x[rows], self.won[rows], self.subject[rows], self.when[rows])

    @property
    def enough(self) -> bool:
        many = int(self.won.sum())
        return len(self.won) >= LEAST_LAUNCHES and min(many, len(self.won) - many) >= LEAST_OF_BOTH


def fit_lens(
    thens: Sequence[Then],
    launched: Launched,
    period: Period,
    level: float,
    *,
    lens: Lens = DEFAULT_LENS,
) -> FittedLens:
    """Fit the weights of a lens to launches, and judge them on later ones.

    Parameters
    ----------
    thens : sequence of Then
        Days in order, with the parts of all niches as they were on them.
    launched : Launched
        What became of launches after each.
    period : Period
        The step of the market's figures.
    level : float
        Coverage of intervals, 0–1; weights are proposed where that of the gain lies above 0, and that of their
        own area above a half.
    lens : Lens
        The weights that are drawn to and judged against.

    Returns
    -------
    FittedLens
        For each day the weights are fitted to launches that had been judged by then, and rank the niches of
        that day; the launches that followed it judge them. How strongly they are drawn to the default is
        chosen in the same way, within what was known on the day.

    References
    ----------
    Logistic regression with a ridge towards given values: van Houwelingen & le Cessie (1990), Statistics in
    Medicine 9; weights of 0 and more keep each part's meaning. Validation forward in time: Tashman (2000),
    International Journal of Forecasting 16.
    """
    rows = _rows(thens, launched)
    weights = lens.scaled()
    fitted, default = np.full((2, len(rows.won)), np.nan)
    for when, then in enumerate(thens):
        here = rows.when == when
        past = rows.of(_judged_by(thens, rows, then, period))
        if not here.any() or not past.enough:
            continue
        for out, by in ((fitted, _as_lens(_fit_to(thens, past, weights))), (default, lens)):
            rank = rank_niches(then.normalised, by).rank.astype(np.float64)
            out[here] = percentile(np.where(rank > 0, -rank, np.nan))[rows.subject[here]]
    told = ~(np.isnan(fitted) | np.isnan(default))
    test = rows.of(told)
    unknown = Estimate.unknown(len(test.won))
    nothing = FittedLens(None, unknown, unknown, unknown, np.full(len(PARTS), np.nan))
    if not test.enough:
        return nothing
    groups = [test.subject, test.when]
    gain = area_gained(fitted[told], default[told], test.won, groups, level)
    areas = [area_under_curve(one[told], test.won, groups, level) for one in (fitted, default)]
    last = _fit_to(thens, rows, weights)
    # What is better than the default and no better than chance is no lens.
    proposed = _as_lens(last) if gain.low > 0 and areas[0].low > 0.5 else None
    return FittedLens(proposed, gain, areas[0], areas[1], last)


def _fit_to(thens: Sequence[Then], rows: _Rows, weights: Floats) -> Floats:
    """Weights by what is known from some launches alone, as shares of headroom, (parts,)."""
    used = _used(thens, rows, weights)
    return _fit(rows, weights, used, _chosen(rows, weights, used))


def _rows(thens: Sequence[Then], launched: Launched) -> _Rows:
    x = np.zeros((len(launched.won), len(PARTS)))
    ranked = np.zeros(len(launched.won), dtype=bool)
    for when, then in enumerate(thens):
        here = np.flatnonzero(launched.when == when)
        x[here] = _middled(then.normalised)[launched.subject[here]]
        ranked[here] = then.normalised.known[launched.subject[here]].any(axis=1)
    return _Rows(x, launched.won, launched.subject, launched.when).of(ranked)


def _middled(normalised: Normalised) -> Floats:
    """Logarithms of parts over the middle of the market's, 0 where unknown: as if it lay there."""
    return np.where(normalised.known, normalised.logs - np.log(0.5), 0.0)


def _used(thens: Sequence[Then], rows: _Rows, weights: Floats) -> Bools:
    """Parts that can be weighed: those of the lens, and others that are known of enough launches' niches."""
    if not len(rows.won):
        return weights > 0
    known = np.array(
        [
            thens[when].normalised.known[subject]
            for subject, when in zip(rows.subject, rows.when, strict=True)
        ]
    )
    share: Floats = known.mean(axis=0)
    return np.asarray((share >= LEAST_KNOWN) | (weights > 0))


def _judged_by(thens: Sequence[Then], rows: _Rows, then: Then, period: Period) -> Bools:
    """Launches whose fate was known on a day: those after days that lie long enough before it."""
    lengths = np.array([one.length for one in thens])
    found: Bools = lengths[rows.when] + period.span(JUDGED) <= then.length
    return found


def _chosen(rows: _Rows, weights: Floats, used: Bools) -> float:
    """How strongly to draw weights to the default's: what told the latest launches best from those before."""
    days = np.unique(rows.when)[::-1].tolist()
    for last in days:
        early, late = rows.of(rows.when < last), rows.of(rows.when >= last)
        if not early.enough:
            break
        if len(late.won) >= LEAST_LAUNCHES // 2 and late.won.any() and not late.won.all():
            losses = [_loss(late, early, weights, used, one) for one in SHRINKAGE]
            return SHRINKAGE[int(np.argmin(losses))]
    return SHRINKAGE[-1]


def _loss(late: _Rows, early: _Rows, weights: Floats, used: Bools, shrinkage: float) -> float:
    slopes, start = _solve(early, weights, used, shrinkage)
    odds = start + late.x @ slopes
    return float(np.logaddexp(0, np.where(late.won, -odds, odds)).mean())


def _fit(rows: _Rows, weights: Floats, used: Bools, shrinkage: float) -> Floats:
    """Weights as shares of headroom, (parts,), that add up to 1; the default's where none tell anything."""
    slopes, _ = _solve(rows, weights, used, shrinkage)
    whole = slopes.sum()
    return slopes / whole if whole > 1e-9 else weights


def _solve(rows: _Rows, weights: Floats, used: Bools, shrinkage: float) -> tuple[Floats, float]:
    """The likeliest slopes of 0 and more, drawn to a multiple of the default's weights, and the intercept."""
    x, won = rows.x[:, used], rows.won
    towards = weights[used]
    rate = float(np.clip(won.mean(), 0.01, 0.99))

    def cost(values: Floats) -> tuple[float, Floats]:
        start, scale, slopes = values[0], values[1], values[2:]
        odds = start + x @ slopes
        off = slopes - scale * towards
        wrong = expit(odds) - won
        value = np.logaddexp(0, np.where(won, -odds, odds)).sum() + shrinkage * (off**2).sum()
        slope = np.concatenate(
            ([wrong.sum(), -2 * shrinkage * (off * towards).sum()], wrong @ x + 2 * shrinkage * off)
        )
        return float(value), slope

    begin = np.concatenate(([np.log(rate / (1 - rate)), 1.0], towards))
    bounds = [(None, None), (0.0, None), *[(0.0, None)] * len(towards)]
    found = minimize(cost, begin, jac=True, method="L-BFGS-B", bounds=bounds)
    slopes = np.zeros(len(weights))
    slopes[used] = found.x[2:]
    return slopes, float(found.x[0])


def _as_lens(weights: Floats) -> Lens:
    """A lens with these weights, rounded as a person would type them.

    A side that hardly weighs tells nothing of what weighs within it, and keeps the default's weights.
    """
    demand = float(weights[_SIDE].sum())
    out = np.array(DEFAULT_LENS.weights)
    for side, whole in ((_SIDE, demand), (~_SIDE, 1 - demand)):
        if whole > EDGE:
            out[side] = np.round(weights[side] / whole, DIGITS)
    return replace(
        DEFAULT_LENS,
        name=NAME,
        weights=tuple(out.tolist()),
        balance=float(np.clip(round(demand, DIGITS), EDGE, 1 - EDGE)),
        purpose="Fitted to which launches worked in this market; told later ones better than the default.",
    )
