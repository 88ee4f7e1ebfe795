"""Variances of few observations each, moderated by what is usual among them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import digamma, polygamma

from .exact import on_grid
from .periods import Floats

MOST_PRIOR = 100.0  # Degrees of freedom of the prior where variances differ by no more than chance.
ROUNDS = 40  # Of Newton's method, which needs five.
Prior = tuple[float, float]  # Degrees of freedom and variance; (0, NaN) for none.


@dataclass(frozen=True, slots=True)
class VarianceSums:
    """What the prior of variances is told from; sums of parts of a market add up to those of the whole.

    many: variances that are known; logs, squares: sums of their standardised logarithms and of the squares of
    these; spread: sum of what chance alone makes of the squares.
    """

    many: int = 0
    logs: float = 0.0
    squares: float = 0.0
    spread: float = 0.0

    @classmethod
    def of(cls, variance: Floats, df: Floats) -> VarianceSums:
        """Those of some variances, (n,), with their degrees of freedom; 0 or unknown ones count in nothing."""
        good = (df > 0) & (variance > 0) & np.isfinite(variance)
        half = df[good] / 2
        logs = np.log(variance[good]) - digamma(half) + np.log(half)
        return cls(
            int(good.sum()),
            float(on_grid(logs).sum()),
            float(on_grid(logs**2).sum()),
            float(on_grid(polygamma(1, half)).sum()),
        )

    def __add__(self, other: VarianceSums) -> VarianceSums:
        return VarianceSums(
            self.many + other.many,
            self.logs + other.logs,
            self.squares + other.squares,
            self.spread + other.spread,
        )

    @property
    def prior(self) -> Prior:
        """The prior that the variances come from."""
        if self.many < 3:
            return 0.0, float("nan")
        mean = self.logs / self.many
        apart = max(self.squares - self.many * mean**2, 0.0) / (self.many - 1)
        spread = apart - self.spread / self.many
        prior = 2 * _inverse_trigamma(spread) if spread > 0 else np.inf
        prior = float(min(prior, MOST_PRIOR))
        centre = float(mean + digamma(prior / 2) - np.log(prior / 2))
        return prior, float(np.exp(centre))


def prior_of_variances(variance: Floats, df: Floats) -> Prior:
    """Estimate the prior that variances come from: its degrees of freedom and its own variance.

    Parameters
    ----------
    variance, df : array (n,)
        Estimated variances with their degrees of freedom; those of 0 or unknown ones count in nothing.

    Returns
    -------
    df, variance : float
        Of the prior; (0, NaN) where fewer than three variances are known, which moderates nothing.

    References
    ----------
    Smyth (2004), Statistical Applications in Genetics and Molecular Biology 3, article 3: section 6.2.
    """
    return VarianceSums.of(variance, df).prior


def moderated(
    variance: Floats, df: Floats, prior_of_all: Prior | None = None
) -> tuple[Floats, Floats]:
    """Draw variances towards the prior that they come from.

    Parameters
    ----------
    variance, df : array (n,)
        Estimated variances with their degrees of freedom, NaN and 0 for unknown ones.
    prior_of_all : pair of floats, optional
        Degrees of freedom and variance of the prior, where these are some of the variances it is told from.

    Returns
    -------
    variance, df : array (n,)
        The means of each and the prior's, by their degrees of freedom, and the sums of these; NaN and 0 where
        neither is known.
    """
    prior, usual = prior_of_variances(variance, df) if prior_of_all is None else prior_of_all
    known = np.isfinite(variance) & (df > 0)
    free = np.where(known, df, 0.0)
    if prior == 0:
        return np.where(known, variance, np.nan), free
    own = np.where(known, variance, 0.0) * free
    return (prior * usual + own) / (prior + free), prior + free


def _inverse_trigamma(value: float) -> float:
    """The x at which the trigamma function has a value above 0, by Newton's method on its reciprocal."""
    if value > 1e7:
        return float(1 / np.sqrt(value))
    x = 0.5 + 1 / value
    for _ in range(ROUNDS):
        at = polygamma(1, x)
        step = at * (1 - at / value) / polygamma(2, x)
        x += step
        if -step / x < 1e-8:
            break
    return float(x)
