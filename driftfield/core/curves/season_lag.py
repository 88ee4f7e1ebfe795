"""By how many weeks one season profile trails another.

The lag of the largest circular cross-correlation of two mean profiles, with a jackknife over years for
its error (Efron & Tibshirani 1993, An Introduction to the Bootstrap, chapter 11).
"""

from __future__ import annotations

import numpy as np

from driftfield.core.base import Floats, Ints

YEAR = 52
ROUND = np.arange(-YEAR // 2, YEAR // 2)  # weeks; every lag there is in a year


def season_lag(first: Floats, second: Floats, lags: Ints, level: float) -> tuple[Floats, Floats]:
    """Say by how many weeks the season of one curve trails that of another.

    Parameters
    ----------
    first, second : array (subjects, years, 52)
        Both curves by year and week, without gaps, 0 or more.
    lags : int array
        The lags to look at, in weeks, one after the other.
    level : float
        Coverage of the interval, 0–1.

    Returns
    -------
    lag, margin : array (subjects,)
        Weeks, above 0 where the second comes later, and the half width of the interval.
    """
    from scipy.special import stdtrit

    years = first.shape[1]
    shares = [v / np.maximum(v.sum(axis=2, keepdims=True), 1e-9) for v in (first, second)]
    whole = best_lag(shares[0].mean(axis=1), shares[1].mean(axis=1), lags)
    rest = [[np.delete(v, y, axis=1).mean(axis=1) for v in shares] for y in range(years)]
    without = np.stack([best_lag(one, other, lags) for one, other in rest])
    # Lags go round: half a year early is half a year late.
    without = whole + (without - whole + YEAR / 2) % YEAR - YEAR / 2
    spread = ((without - without.mean(axis=0)) ** 2).sum(axis=0)
    error = np.sqrt((years - 1) / years * spread)
    return whole, stdtrit(years - 1, 0.5 + level / 2) * error


def best_lag(first: Floats, second: Floats, lags: Ints = ROUND) -> Floats:
    """Find the lag at which one profile lies best on another.

    The peak of the cross-correlation is refined by a parabola through it and its neighbours.

    Parameters
    ----------
    first, second : array (subjects, 52)
        Season profiles, which go round.
    lags : int array
        The lags to look at, in weeks, one after the other.

    Returns
    -------
    array (subjects,)
        Lag in weeks, above 0 where the second comes later.
    """
    smooth = [_smooth(v) for v in (first, second)]
    spectra = [np.fft.rfft(v - v.mean(axis=1, keepdims=True)) for v in smooth]
    product = np.fft.irfft(spectra[1] * np.conj(spectra[0]), YEAR)
    near: Floats = product[:, lags % YEAR]
    top: Floats = lags[0] + _top(near)
    return top


def _smooth(values: Floats) -> Floats:
    """Five weeks with binomial weights, circular."""
    weights = np.array([1, 4, 6, 4, 1]) / 16
    out = np.zeros_like(values)
    for shift, weight in zip(range(-2, 3), weights, strict=True):
        out += weight * np.roll(values, shift, axis=1)
    return out


def _top(curve: Floats) -> Floats:
    """Place of the highest value of each row, between columns where its neighbours say so."""
    rows = np.arange(len(curve))
    at = curve.argmax(axis=1)
    inner = (at > 0) & (at < curve.shape[1] - 1)
    middle = np.clip(at, 1, curve.shape[1] - 2)
    left, top, right = (curve[rows, middle + k] for k in (-1, 0, 1))
    bend = left - 2 * top + right
    shift = np.where(inner & (bend < 0), (left - right) / np.where(bend < 0, 2 * bend, 1), 0.0)
    refined: Floats = at + np.clip(shift, -0.5, 0.5)
    return refined
