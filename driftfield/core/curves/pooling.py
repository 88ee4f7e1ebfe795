"""Borrowing: a niche too noisy to show its season leans on its category's.

Empirical-Bayes shrinkage (Efron & Morris 1973, JASA 68; as in Gelman et al., Bayesian Data
Analysis, 3rd ed., section 5.4): own and category's profile are averaged with weights by their
precision. The category's precision is how far its niches' profiles lie from one another beyond
their own errors, so a category of unlike niches lends next to nothing.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Bools, Floats, Groups, Ints, Settings, on_grid

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


@dataclass(frozen=True, slots=True)
class SeasonSums:
    """What the niches of each category that show a season add up to; sums of parts of a market add up.

    many: (categories,) of them; factors: (categories, slots); squares: (categories,) of the factors, means over
    the slots; noise: (categories,).
    """

    many: Ints
    factors: Floats
    squares: Floats
    noise: Floats

    @classmethod
    def of(
        cls, factors: Floats, noise: Floats, claimed: Bools, category: Ints, categories: int
    ) -> SeasonSums:
        """Those of some niches.

        ``factors`` (niches, slots) with mean 1, ``noise`` (niches,) the mean sampling variance of a factor,
        ``claimed`` (niches,) who shows a season, ``category`` (niches,) −1 for none, of ``categories``.
        """
        able = np.flatnonzero(claimed & (category >= 0))
        mine = Groups(category[able], categories)
        return cls(
            np.bincount(category[able], minlength=categories),
            np.nan_to_num(mine.sum_rows(on_grid(factors[able]), np.ones(len(able)))),
            np.nan_to_num(mine.sum(on_grid((factors[able] ** 2).mean(axis=1)))),
            np.nan_to_num(mine.sum(on_grid(noise[able]))),
        )

    def __add__(self, other: SeasonSums) -> SeasonSums:
        return SeasonSums(
            self.many + other.many,
            self.factors + other.factors,
            self.squares + other.squares,
            self.noise + other.noise,
        )


def category_prior(sums: SeasonSums, category: Ints, settings: Settings) -> Prior:
    """The prior of each niche from the niches of its category that show a season.

    ``category`` (niches,) -1 for none. A category lends from ``pool_members`` niches on.
    """
    lends = sums.many >= max(settings.pool_members, 2)
    many = np.where(lends, sums.many, 2).astype(np.float64)
    middle = sums.factors / many[:, None]
    apart = (sums.squares - many * (middle**2).mean(axis=1)) / (many - 1)
    variance = np.maximum(apart - sums.noise / many, LEAST_SPREAD**2)
    lent = (category >= 0) & lends[category] if len(lends) else np.zeros(len(category), dtype=bool)
    prior = Prior(
        np.full((len(category), sums.factors.shape[1]), np.nan), np.full(len(category), np.nan)
    )
    prior.factors[lent] = middle[category[lent]]
    prior.variance[lent] = variance[category[lent]]
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
