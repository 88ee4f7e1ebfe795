"""How well scores tell what worked from what did not, from observations that belong together.

The same niche looked at twice, and all niches looked at on one day, share much of what happens to them.
Intervals allow for it: an estimate is taken as a sum of what each observation adds to it (its influence), and
these are summed over groups before they are squared.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtri, stdtr, stdtrit

from .intervals import wilson
from .periods import Bools, Floats, Ints
from .ranks import mid_ranks

LEAST_GROUPS = 3  # Of each kind of group, from which an interval is told.


@dataclass(frozen=True, slots=True)
class Estimate:
    """A value with the ends of its interval, NaN for unknown.

    many: observations behind it; groups: how many groups of them there are, of each kind.
    """

    value: float
    low: float
    high: float
    many: int
    groups: tuple[int, ...]

    @classmethod
    def unknown(cls, many: int = 0, groups: tuple[int, ...] = ()) -> Estimate:
        """Nothing that can be told."""
        return cls.alone(float("nan"), many, groups)

    @classmethod
    def alone(cls, value: float, many: int, groups: tuple[int, ...]) -> Estimate:
        """A value of which no interval can be told."""
        return cls(value, float("nan"), float("nan"), many, groups)


def count_groups(groups: Sequence[Ints]) -> tuple[int, ...]:
    """How many groups there are, of each kind."""
    return tuple(int(np.count_nonzero(np.bincount(codes))) for codes in groups)


def clustered_variance(influence: Floats, groups: Sequence[Ints]) -> float:
    """Estimate the variance of a sum of influences that belong together.

    Parameters
    ----------
    influence : array (n,)
        What each observation adds to the estimate, about 0 on average.
    groups : one or two int arrays (n,)
        Codes of 0 and more: which observations belong together, in each way that they do.

    Returns
    -------
    float
        With two ways the sum of both variances less that of what belongs together in both, and never less than
        the greater of the two.

    References
    ----------
    Cameron, Gelbach & Miller (2011), Journal of Business & Economic Statistics 29, 238–249.
    """

    def one_way(codes: Ints) -> float:
        sums = np.bincount(codes, weights=influence)
        (many,) = count_groups([codes])
        return float((sums**2).sum() * many / max(many - 1, 1))

    parts = [one_way(codes) for codes in groups]
    if len(parts) == 1:
        return parts[0]
    first, second = groups
    both = first * (int(second.max(initial=0)) + 1) + second
    return max(*parts, sum(parts) - one_way(both))


def _quantile(level: float, groups: int) -> float:
    return float(stdtrit(max(groups - 1, 1), 0.5 + level / 2))


def clustered_mean(values: Floats, groups: Sequence[Ints], level: float) -> Estimate:
    """Estimate a mean of observations that belong together, (n,) each, none unknown; Student's interval."""
    n = len(values)
    if not n:
        return Estimate.unknown()
    mean, many = float(values.mean()), count_groups(groups)
    if min(many) < LEAST_GROUPS:
        return Estimate.alone(mean, n, many)
    reach = _quantile(level, min(many)) * clustered_variance((values - mean) / n, groups) ** 0.5
    return Estimate(mean, mean - reach, mean + reach, n, many)


def clustered_share(hit: Bools, groups: Sequence[Ints], level: float) -> Estimate:
    """Estimate a share of observations that belong together.

    Parameters
    ----------
    hit : bool array (n,)
        What is counted.
    groups : one or two int arrays (n,)
        As in ``clustered_variance``.
    level : float
        Coverage of the interval, 0–1.

    Returns
    -------
    Estimate
        Wilson's interval on the effective number of observations: n ÷ the design effect, at most n, lowered
        for few groups by the ratio of the normal's to Student's quantile, squared. None with under three
        groups.

    References
    ----------
    Korn & Graubard (1998), Survey Methodology 24, for the effective number; Dean & Pagano (2015), Journal of
    Survey Statistics and Methodology 3, for Wilson's interval on it.
    """
    n = len(hit)
    if not n:
        return Estimate.unknown()
    share, many = float(hit.mean()), count_groups(groups)
    if min(many) < LEAST_GROUPS:
        return Estimate.alone(share, n, many)
    effective = float(n)
    if 0 < share < 1:
        variance = clustered_variance((hit - share) / n, groups)
        effective = min(share * (1 - share) / max(variance, 1e-300), float(n))
    effective *= (float(ndtri(0.5 + level / 2)) / _quantile(level, min(many))) ** 2
    low, high = wilson(np.array([share * effective]), np.array([effective]), level)
    return Estimate(share, float(low[0]), float(high[0]), n, many)


def area_under_curve(score: Floats, won: Bools, groups: Sequence[Ints], level: float) -> Estimate:
    """Estimate the chance that what worked has the higher score than what did not, ties counting half.

    Parameters
    ----------
    score : array (n,)
        Scores, the higher the better, none unknown.
    won : bool array (n,)
        What worked.
    groups : one or two int arrays (n,)
        As in ``clustered_variance``; each its own where observations are independent.
    level : float
        Coverage of the interval, 0–1.

    Returns
    -------
    Estimate
        Its interval on the logit scale, so that it stays within 0 and 1. Unknown where all or none worked;
        without interval where the score parts them wholly, or with under three groups.

    References
    ----------
    Area and placements: DeLong, DeLong & Clarke-Pearson (1988), Biometrics 44; groups: Obuchowski (1997),
    Biometrics 53; the logit scale: Pepe (2003), The Statistical Evaluation of Medical Tests, section 5.2.
    """
    n, many = len(score), int(won.sum())
    if not 0 < many < n:
        return Estimate.unknown(n)
    apart = count_groups(groups)
    area, influence = _placements(score, won)
    variance = clustered_variance(influence, groups)
    if variance <= 0 or not 0 < area < 1 or min(apart) < LEAST_GROUPS:
        return Estimate.alone(area, n, apart)
    reach = _quantile(level, min(apart)) * variance**0.5 / (area * (1 - area))
    middle = np.log(area / (1 - area))
    low, high = (float(1 / (1 + np.exp(-(middle + side * reach)))) for side in (-1, 1))
    return Estimate(area, low, high, n, apart)


def _placements(score: Floats, won: Bools) -> tuple[float, Floats]:
    """The area under the curve, and what each observation adds to it, (n,)."""
    n, many = len(score), int(won.sum())
    ranks = mid_ranks(score)
    within = np.empty(n)
    within[won], within[~won] = mid_ranks(score[won]), mid_ranks(score[~won])
    # Of what worked the share of what did not that lies below it; of what did not, of what worked above it.
    placement = np.where(won, (ranks - within) / (n - many), 1 - (ranks - within) / many)
    area = float(placement[won].mean())
    return area, (placement - area) / np.where(won, many, n - many)


def area_gained(
    score: Floats, other: Floats, won: Bools, groups: Sequence[Ints], level: float
) -> Estimate:
    """Estimate by how much the area under the curve of one score exceeds that of another.

    Parameters
    ----------
    score, other : array (n,)
        The two scores of the same observations, the higher the better, none unknown.
    won, groups, level
        As in ``area_under_curve``.

    Returns
    -------
    Estimate
        The difference of the areas, with Student's interval; unknown where all or none worked.

    References
    ----------
    DeLong, DeLong & Clarke-Pearson (1988), Biometrics 44, for correlated curves.
    """
    n, many = len(score), int(won.sum())
    if not 0 < many < n:
        return Estimate.unknown(n)
    apart = count_groups(groups)
    (first, mine), (second, theirs) = _placements(score, won), _placements(other, won)
    variance = clustered_variance(mine - theirs, groups)
    if min(apart) < LEAST_GROUPS:
        return Estimate.alone(first - second, n, apart)
    reach = _quantile(level, min(apart)) * variance**0.5
    return Estimate(first - second, first - second - reach, first - second + reach, n, apart)


def lift(
    score: Floats, won: Bools, groups: Sequence[Ints], level: float, part: float = 0.1
) -> Estimate:
    """Estimate how many times as often the best-scored part worked as all did.

    Parameters
    ----------
    score, won, groups, level
        As in ``area_under_curve``.
    part : float
        Which part counts as best, 0–1, from the highest score down; of those that tie at its edge each counts
        with the share that is still wanted.

    Returns
    -------
    Estimate
        1 where the score tells nothing. Its interval on the logarithm, linearised, with what the edge itself
        owes to chance. Unknown where nothing worked; 0 without an interval where nothing of the best part did.

    References
    ----------
    Provost & Fawcett (2013), Data Science for Business, chapter 8, for lift; Woodruff (1971), JASA 66, for the
    linearised variance of a ratio.
    """
    n = len(score)
    if not won.any():
        return Estimate.unknown(n)
    apart = count_groups(groups)
    order = np.argsort(-score, kind="stable")
    wanted = part * n
    edge = score[order[min(int(np.ceil(wanted)), n) - 1]]
    above, tied = score > edge, score == edge
    weight = np.where(above, 1.0, np.where(tied, (wanted - above.sum()) / tied.sum(), 0.0))
    best, whole = float((weight * won).sum() / wanted), float(won.mean())
    if best <= 0 or min(apart) < LEAST_GROUPS:
        return Estimate.alone(best / whole, n, apart)
    # One more above the edge pushes out one that lies on it, and so what worked there matters.
    at_edge = float(won[order[int(wanted / 2) : int(np.ceil(1.5 * wanted))]].mean())
    influence = (weight * (won - at_edge) / wanted + (at_edge - best) / n) / best
    influence -= (won - whole) / (n * whole)
    reach = _quantile(level, min(apart)) * clustered_variance(influence, groups) ** 0.5
    value = best / whole
    return Estimate(value, float(value * np.exp(-reach)), float(value * np.exp(reach)), n, apart)


def difference_within(
    marked: Bools, values: Floats, alike: Ints, groups: Sequence[Ints], level: float
) -> tuple[Estimate, float]:
    """Estimate how much higher values are where something is marked, among those that are alike.

    Parameters
    ----------
    marked : bool array (n,)
        What is held against the rest.
    values : array (n,)
        What is compared, none unknown.
    alike : int array (n,)
        Strata, codes of 0 and more; only those that hold both tell anything.
    groups : one or two int arrays (n,)
        As in ``clustered_variance``.
    level : float
        Coverage of the interval, 0–1.

    Returns
    -------
    Estimate, float
        The mean difference, each stratum with the weight m₁ m₀ ÷ (m₁ + m₀), and the chance of one as large
        where there is none, NaN where it has no interval. ``many`` are the marked ones that have others
        alike.

    References
    ----------
    Mantel & Haenszel (1959), JNCI 22, for the weights; as in Greenland & Robins (1985), Biometrics 41, for
    differences.
    """
    span = int(alike.max(initial=-1)) + 1
    number = [np.bincount(alike[rows], minlength=span) for rows in (~marked, marked)]
    both = (number[0] > 0) & (number[1] > 0)
    rows = np.flatnonzero(both[alike]) if span else np.empty(0, dtype=np.int64)
    many = int(marked[rows].sum())
    if not many:
        return Estimate.unknown(), float("nan")
    own, mine, value = alike[rows], marked[rows], values[rows]
    sums = [np.bincount(own[side], weights=value[side], minlength=span) for side in (~mine, mine)]
    with np.errstate(invalid="ignore", divide="ignore"):
        means = [np.where(both, one / count, 0) for one, count in zip(sums, number, strict=True)]
        weight = np.where(both, number[0] * number[1] / (number[0] + number[1]), 0)
    weight /= weight.sum()
    apart = float((weight * (means[1] - means[0])).sum())
    near = [codes[rows] for codes in groups]
    many_groups = count_groups(near)
    few = min(many_groups)
    middle = np.where(mine, means[1][own], means[0][own])
    share = np.where(mine, weight[own] / number[1][own], -weight[own] / number[0][own])
    # What strata differ by among themselves is no noise of a mean over them.
    variance = clustered_variance(share * (value - middle), near)
    if few < LEAST_GROUPS or variance <= 0:
        return Estimate.alone(apart, many, many_groups), float("nan")
    reach = _quantile(level, few) * variance**0.5
    chance = float(2 * stdtr(max(few - 1, 1), -abs(apart) / variance**0.5))
    return Estimate(apart, apart - reach, apart + reach, many, many_groups), chance
