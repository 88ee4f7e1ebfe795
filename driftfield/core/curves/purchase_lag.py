"""By how many weeks purchases trail searches.

Read twice, for the two can differ. In the calendar: the lag at which the years' mean profile of
purchases lies best on that of searches (``season_lag``). In what is left without calendar and years' levels:
the lag of the largest cross-correlation, held against the noise of Bartlett's formula (Box, Jenkins
& Reinsel, Time Series Analysis, 3rd ed., 11.1.3). Weeks only: months are too coarse.
"""

from __future__ import annotations

from dataclasses import dataclass
from statistics import NormalDist

import numpy as np

from driftfield.core.base import Bools, Floats, Period, Settings, Timeline, fold_week53

from .align import bridge
from .season_lag import YEAR, season_lag

LAGS = np.arange(-6, 15)  # weeks; negative where purchases come first
LEAST_YEARS, MOST_YEARS = 3, 8
LEAST_BOUGHT = 50  # purchases a year under which no lag is read
WIDEST = 4.0  # half width of an interval, in weeks, beyond which a lag is not known
PROOF = 0.01  # level at which a correlation is told from noise, before Bonferroni over the lags


@dataclass(frozen=True, slots=True)
class Lag:
    """Weeks by which purchases trail searches, (subjects,), NaN for unknown.

    weeks, low, high: in the calendar, with its interval. rest: without the calendar, where it is
    told from noise; rest_correlation: the correlation there.
    """

    weeks: Floats
    low: Floats
    high: Floats
    rest: Floats
    rest_correlation: Floats

    @classmethod
    def unknown(cls, n: int) -> Lag:
        return cls(*(np.full(n, np.nan) for _ in range(5)))


def read_lag(
    searches: Floats, purchases: Floats, seasonal: Bools, timeline: Timeline, settings: Settings
) -> Lag:
    """Say by how many weeks purchases trail searches.

    Parameters
    ----------
    searches, purchases : array (subjects, length)
        Counts by period, NaN where absent.
    seasonal : bool array (subjects,)
        Which have a season; of others the calendar says nothing of a lag.
    timeline : Timeline
        The periods of the columns.
    settings : Settings
        Thresholds and the interval's coverage.

    Returns
    -------
    Lag
        Weeks with their interval, (subjects,) each; NaN where it cannot be told.
    """
    out = Lag.unknown(len(searches))
    if timeline.period is not Period.WEEK or timeline.length < LEAST_YEARS * YEAR:
        return out
    longest = int(settings.bridge_periods)
    looked, bought = (
        fold_week53(bridge(v, longest, YEAR).values, timeline) for v in (searches, purchases)
    )
    whole = ~np.isnan(looked[:, ::-1]) & ~np.isnan(bought[:, ::-1])
    years = np.where(whole.all(axis=1), whole.shape[1], whole.argmin(axis=1)) // YEAR
    years = np.minimum(years, MOST_YEARS)
    for many in np.unique(years[years >= LEAST_YEARS]):
        blocks = [v[:, -many * YEAR :].reshape(-1, many, YEAR) for v in (looked, bought)]
        # A year without a purchase has no calendar of purchases.
        enough = (blocks[1].sum(axis=2) >= LEAST_BOUGHT).all(axis=1)
        rows = np.flatnonzero((years == many) & enough)
        if not rows.size:
            continue
        s, p = blocks[0][rows], blocks[1][rows]
        at = np.flatnonzero(seasonal[rows])
        lag, margin = season_lag(s[at], p[at], LAGS, settings.interval)
        out.weeks[rows[at]] = lag = np.where(margin <= WIDEST, lag, np.nan)
        out.low[rows[at]], out.high[rows[at]] = lag - margin, lag + margin
        out.rest[rows], out.rest_correlation[rows] = _rest(s, p)
    return out


def _rest(searches: Floats, purchases: Floats) -> tuple[Floats, Floats]:
    """Lag without the calendar where it is told from noise, and the correlation at it."""
    x, y = (_left(v) for v in (searches, purchases))
    n = x.shape[1]
    scale = np.sqrt((x**2).sum(axis=1) * (y**2).sum(axis=1))
    good = scale > 0
    scale = np.where(good, scale, 1)
    correlation = np.stack([_at(x, y, int(lag)) for lag in LAGS], axis=1) / scale[:, None]
    memory = [_at(v, v, 1) / np.maximum((v**2).sum(axis=1), 1e-9) for v in (x, y)]
    both = np.clip(memory[0] * memory[1], 0, 0.95)
    error = np.sqrt((1 + both) / (1 - both) / n)
    best = correlation.argmax(axis=1)
    top = correlation[np.arange(len(x)), best]
    z = NormalDist().inv_cdf(1 - PROOF / len(LAGS))
    proven = good & (top > z * error)
    return np.where(proven, LAGS[best], np.nan), np.where(proven, top, np.nan)


def _left(values: Floats) -> Floats:
    """Logarithms without the years' and the weeks' means, (subjects, years × 52)."""
    logs = np.log(values + 0.5)
    left = logs - logs.mean(axis=2, keepdims=True)
    left -= left.mean(axis=1, keepdims=True)
    flat: Floats = left.reshape(len(values), -1)
    return flat


def _at(x: Floats, y: Floats, lag: int) -> Floats:
    """Sum over time of y(t) × x(t − lag), (subjects,)."""
    if lag < 0:
        return _at(y, x, -lag)
    n = x.shape[1]
    total: Floats = (y[:, lag:] * x[:, : n - lag]).sum(axis=1)
    return total
