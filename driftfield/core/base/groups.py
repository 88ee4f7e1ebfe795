"""Sums, means and quantiles within groups. NaN is unknown and counts in none of them."""

from __future__ import annotations

import numpy as np

from .periods import Floats, Ints


def group_count(group: Ints, values: Floats, groups: int) -> Floats:
    """How many known values each group has, (groups,)."""
    known = ~np.isnan(values)
    return np.bincount(group[known], minlength=groups).astype(np.float64)


def group_sum(group: Ints, values: Floats, groups: int) -> Floats:
    """Sum of the known values, (groups,); NaN where a group has none."""
    known = ~np.isnan(values)
    found = np.bincount(group[known], weights=values[known], minlength=groups)
    return np.where(group_count(group, values, groups) > 0, found, np.nan)


def group_mean(group: Ints, values: Floats, groups: int, weights: Floats | None = None) -> Floats:
    """Weighted mean of the known values, (groups,); NaN where their weights add up to 0."""
    weights = np.ones(len(values)) if weights is None else weights
    known = ~np.isnan(values) & ~np.isnan(weights)
    own, weight = group[known], weights[known]
    total = np.bincount(own, weights=weight, minlength=groups)
    found = np.bincount(own, weights=weight * values[known], minlength=groups)
    return np.where(total > 0, found / np.where(total > 0, total, 1), np.nan)


def group_quantile(group: Ints, values: Floats, groups: int, q: float) -> Floats:
    """Quantile ``q`` (0–1) of the known values by linear interpolation, (groups,); NaN where none.

    The same definition as numpy's default (type 7 of Hyndman & Fan 1996).
    """
    known = ~np.isnan(values)
    own, value = group[known], values[known]
    order = np.lexsort((value, own))
    own, value = own[order], value[order]
    count = np.bincount(own, minlength=groups)
    out = np.full(groups, np.nan)
    some = np.flatnonzero(count)
    if some.size:
        start = np.searchsorted(own, some)
        at = start + q * (count[some] - 1)
        low = np.floor(at).astype(np.int64)
        high = np.minimum(low + 1, start + count[some] - 1)
        out[some] = value[low] + (value[high] - value[low]) * (at - low)
    return out


def group_median(group: Ints, values: Floats, groups: int) -> Floats:
    """Median of the known values, (groups,); NaN where a group has none."""
    return group_quantile(group, values, groups, 0.5)


def group_distinct(group: Ints, codes: Ints, groups: int) -> Floats:
    """How many different codes of 0 and more each group has, (groups,); NaN where it has none."""
    known = codes >= 0
    if not known.any():
        return np.full(groups, np.nan)
    span = int(codes.max()) + 1
    pairs = np.unique(group[known] * span + codes[known])
    count = np.bincount(pairs // span, minlength=groups)
    return np.where(count > 0, count, np.nan).astype(np.float64)


def ratio(above: Floats, below: Floats) -> Floats:
    """Divide, where there is something to divide by.

    Parameters
    ----------
    above, below : array (n,)
        Numerator and denominator in their own units, NaN where unknown.

    Returns
    -------
    array (n,)
        ``above`` ÷ ``below``; NaN where either is unknown or ``below`` is not above 0.
    """
    whole = below > 0
    return np.where(whole, above / np.where(whole, below, 1), np.nan)
