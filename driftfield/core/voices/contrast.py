"""Which words set one group of texts apart from another."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import stats

from driftfield.core.base import Bools, CoreError, Floats

DISCOVERY = 0.05  # Share of what is told apart that may be so by chance.


@dataclass(frozen=True, slots=True)
class Contrast:
    """How much more one group says each word than another, (words,).

    delta: difference of the log-odds; z: that over its standard error. told: whether it is told from chance.
    """

    delta: Floats
    z: Floats
    told: Bools


def log_odds(first: Floats, second: Floats, prior: Floats) -> tuple[Floats, Floats]:
    """Compare how often two groups use words, by log-odds with an informative Dirichlet prior.

    Parameters
    ----------
    first, second : array (words,)
        How often each group uses each word.
    prior : array (words,)
        Pseudo-counts of each word, above 0: how often it is used at large.

    Returns
    -------
    delta, z : array (words,)
        Difference of the log-odds, positive where the first group uses it more, and that over its estimated
        standard error.

    Raises
    ------
    CoreError
        Where a count is negative or a prior not positive.

    References
    ----------
    Monroe, Colaresi & Quinn (2008), Fightin' Words. Political Analysis 16: equations 16 (δ), 20 (variance) and
    22 (z).
    """
    if (first < 0).any() or (second < 0).any() or not (prior > 0).all():
        raise CoreError("Counts of words must be from 0, and a prior above it.")
    every = prior.sum()

    def odds(counts: Floats) -> Floats:
        said = counts + prior
        found: Floats = np.log(said) - np.log(counts.sum() + every - said)
        return found

    delta = odds(first) - odds(second)
    error = np.sqrt(1 / (first + prior) + 1 / (second + prior))
    return delta, delta / error


def contrast(first: Floats, second: Floats, *, strength: float = 100.0) -> Contrast:
    """``log_odds`` of two groups with the use of both as the prior, and which words are told from chance.

    ``strength``: how many words the prior weighs as. A word that neither uses has no contrast. Of those told at
    most ``DISCOVERY`` are so by chance (Benjamini & Hochberg 1995).
    """
    both = first + second
    used = np.flatnonzero(both > 0)
    delta, z = np.zeros(len(both)), np.zeros(len(both))
    told = np.zeros(len(both), dtype=bool)
    if used.size and first.sum() > 0 and second.sum() > 0:
        prior = strength * both[used] / both.sum()
        delta[used], z[used] = log_odds(first[used], second[used], prior)
        chance = 2 * stats.norm.sf(np.abs(z[used]))
        told[used] = stats.false_discovery_control(chance) <= DISCOVERY
    return Contrast(delta, z, told)
