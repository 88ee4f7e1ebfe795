"""A change of a sum of products as the product of two indices."""

from __future__ import annotations

import numpy as np

from .periods import Floats


def fisher_indices(
    rate: Floats, amount: Floats, rate_before: Floats, amount_before: Floats
) -> tuple[Floats, Floats]:
    """Split the change of a sum of rate × amount into what rates and what amounts make of it.

    Parameters
    ----------
    rate, rate_before : array (…, n)
        Prices, or shares; the sums go over the last axis.
    amount, amount_before : array (…, n)
        Quantities, or what shares are of.

    Returns
    -------
    of_rates, of_amounts : array (…,)
        Fisher's ideal indices, which multiply to the ratio of the sums exactly; NaN where a sum that they
        divide by is 0.

    References
    ----------
    Fisher (1922), The Making of Index Numbers; ILO et al. (2004), Consumer Price Index Manual, ch. 15; System
    of National Accounts 2008, ch. 16.
    """
    now, before = (rate * amount).sum(axis=-1), (rate_before * amount_before).sum(axis=-1)
    mixed, other = (rate * amount_before).sum(axis=-1), (rate_before * amount).sum(axis=-1)
    good = (now > 0) & (before > 0) & (mixed > 0) & (other > 0)
    with np.errstate(invalid="ignore", divide="ignore"):
        of_rates = np.where(good, np.sqrt(mixed / before * now / other), np.nan)
        return of_rates, now / before / of_rates
