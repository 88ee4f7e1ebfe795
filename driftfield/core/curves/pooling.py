"""Borrowing: a niche too noisy to show its season leans on its category's.

Empirical-Bayes shrinkage (Efron & Morris 1973, JASA 68; as in Gelman et al., Bayesian Data
Analysis, 3rd ed., section 5.4): own and category's profile are averaged with weights by their
precision. The category's precision is how far its niches' profiles lie from one another beyond
their own errors, so a category of unlike niches lends next to nothing.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Settings

LEAST_SPREAD = 0.05  # Niches of a category differ by at least this much, in units of the mean week.
EVIDENCE = (
    3.0  # Log likelihood ratio by which a niche's own counts must prefer the category's season.
)


@dataclass(frozen=True, slots=True)
class Prior:
    """What subjects may borrow: factors (subjects, slots) and the variance of a niche's factor
    around them, (subjects,); NaN where there is nothing to borrow from."""

    factors: Floats
    variance: Floats

    def rows(self, which: Ints) -> Prior:
        return Prior(self.factors[which], self.variance[which])


def category_prior(
    factors: Floats, noise: Floats, claimed: Bools, category: Ints, settings: Settings
) -> Prior:
    """The prior of each niche from the niches of its category that show a season.

    ``factors`` (niches, slots) with mean 1, ``noise`` (niches,) the mean sampling variance of a
    factor, ``category`` (niches,) -1 for none. A category lends from ``pool_members`` niches on.
    """
    n, slots = factors.shape
    prior = Prior(np.full((n, slots), np.nan), np.full(n, np.nan))
    order = np.argsort(category, kind="stable")
    starts = np.searchsorted(category[order], np.unique(category[category >= 0]))
    for mine in np.split(order, starts)[1:]:
        able = mine[claimed[mine]]
        if len(able) < settings.pool_members:
            continue
        middle = factors[able].mean(axis=0)
        apart = ((factors[able] - middle) ** 2).mean() * len(able) / (len(able) - 1)
        prior.factors[mine] = middle
        prior.variance[mine] = max(apart - noise[able].mean(), LEAST_SPREAD**2)
    return prior


def borrowed_share(noise: Floats, prior: Prior) -> Floats:
    """Share of a profile that is the category's, (subjects,) 0–1: own variance over the sum of both."""
    with np.errstate(invalid="ignore"):
        return np.nan_to_num(noise / (noise + prior.variance))


def prefers(seen: Floats, expected: Floats, prior: Floats, dispersion: Floats) -> Bools:
    """Whether own counts by slot (subjects, slots) speak for the category's season and against none.

    Poisson log likelihood of the counts under ``expected`` × prior less that under ``expected``, what
    the level alone led to expect, over the dispersion (quasi-likelihood).
    """
    with np.errstate(invalid="ignore", divide="ignore"):
        gain = (seen * np.log(np.maximum(prior, 1e-3)) - expected * (prior - 1)).sum(axis=1)
    return np.asarray(gain > EVIDENCE * dispersion)
