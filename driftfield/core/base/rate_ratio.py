"""How many times as often something happens as before: the ratio of two rates, with its interval."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import stats

from .periods import Floats


@dataclass(frozen=True, slots=True)
class RateRatio:
    """Ratios of rates, (n,) each, NaN for unknown.

    value: the ratio; infinite where nothing was counted before. low, high: its interval, unknown where it is
    not known how far counts scatter. p: chance of a ratio as far from 1 where nothing changed.
    """

    value: Floats
    low: Floats
    high: Floats
    p: Floats

    def over(self, usual: Floats) -> RateRatio:
        """The same over ratios that are taken to be known."""
        with np.errstate(invalid="ignore", divide="ignore"):
            return RateRatio(self.value / usual, self.low / usual, self.high / usual, self.p)


def rate_ratio(
    count: Floats, exposure: Floats, count_before: Floats, exposure_before: Floats,
    dispersion: Floats, df: Floats, coverage: float,
) -> RateRatio:  # fmt: skip
    """Compare two rates, each a count over what it is counted in.

    Parameters
    ----------
    count, count_before : array (n,)
        Counts.
    exposure, exposure_before : array (n,)
        In how much they were counted, above 0.
    dispersion : array (n,)
        Variance of a count over its expectation: 1 for Poisson's, more for most sales; NaN for unknown.
    df : array (n,)
        Degrees of freedom behind the dispersion; infinite where it is known.
    coverage : float
        Of the interval, 0–1.

    Returns
    -------
    RateRatio
        Unknown where neither count is above 0, or an exposure is not.

    Notes
    -----
    Of all that was counted the part that falls into the later time is binomial, whatever the rates are
    (Przyborowski & Wilenski 1940); its interval is Wilson's score interval (1927), which for ratios of Poisson
    rates is the score interval of Miettinen & Nurminen (1985). Counts that scatter more count as so many fewer
    (quasi-likelihood, Wedderburn 1974), by Student's quantile since that scatter is an estimate.
    """
    total = count + count_before
    good = (total > 0) & (exposure > 0) & (exposure_before > 0)
    with np.errstate(invalid="ignore", divide="ignore"):
        value = np.where(good, count / count_before * exposure_before / exposure, np.nan)
        effective = np.where(good & (dispersion > 0), total / dispersion, np.nan)
        part = count / total
        usual = exposure / (exposure + exposure_before)
        reach = stats.t.ppf(0.5 + coverage / 2, df)
        middle = (part + reach**2 / (2 * effective)) / (1 + reach**2 / effective)
        half = np.sqrt(part * (1 - part) / effective + reach**2 / (4 * effective**2))
        half *= reach / (1 + reach**2 / effective)
        ends = [np.clip(middle + sign * half, 0, 1) for sign in (-1, 1)]
        # Rounding would leave an end that is exactly 0 or 1 a little inside.
        ends = [np.where(count == 0, 0, ends[0]), np.where(count_before == 0, 1, ends[1])]
        low, high = (end / (1 - end) * exposure_before / exposure for end in ends)
        t = (part - usual) / np.sqrt(usual * (1 - usual) / effective)
        p = 2 * stats.t.sf(np.abs(t), df)
    unknown = np.isnan(effective) | np.isnan(reach)
    return RateRatio(value, *(np.where(unknown, np.nan, one) for one in (low, high, p)))
