"""Who held the lead offers of some listings over a time."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Floats, Ints

from .listings import Listings


@dataclass(frozen=True, slots=True)
class LeadHolders:
    """Sellers who held a lead offer, (sellers,), who held most first.

    seller: codes. listings: of how many of the listings. periods: in how many of their periods; share: of all
    in which it is known who did. units: sold in these periods, NaN where they are not known.
    """

    seller: Ints
    listings: Ints
    periods: Ints
    share: Floats
    units: Floats


def lead_holders(listings: Listings, rows: Ints, begin: int, end: int) -> LeadHolders:
    """Count the lead offers of some listings.

    Parameters
    ----------
    listings : Listings
        With a history.
    rows : array (n,)
        The listings that are asked about, by their places.
    begin, end : int
        Columns of the history from the first to the last, which is not included.

    Returns
    -------
    LeadHolders
        Nobody where it is never known who held one.
    """
    history = listings.history
    held = None if history is None else history.measures.get("lead_seller")
    if history is None or held is None:
        none = np.empty(0, dtype=np.int64)
        return LeadHolders(none, none, none, np.empty(0), np.empty(0))
    codes = held[rows, begin:end]
    row, column = np.nonzero(~np.isnan(codes))
    seller, at = np.unique(codes[row, column].astype(np.int64), return_inverse=True)
    periods = np.bincount(at, minlength=len(seller))
    pairs = np.unique(at * max(len(rows), 1) + row)
    many = np.bincount(pairs // max(len(rows), 1), minlength=len(seller))
    units = history.measures.get("units")
    sold = np.full(len(row), np.nan) if units is None else units[rows, begin:end][row, column]
    known = ~np.isnan(sold)
    sums = np.bincount(at[known], weights=sold[known], minlength=len(seller))
    some = np.bincount(at[known], minlength=len(seller)) > 0
    amount = np.where(some, sums, np.nan)
    order = np.lexsort((seller, -np.nan_to_num(amount), -periods))
    return LeadHolders(
        seller[order], many[order], periods[order], periods[order] / max(len(row), 1), amount[order]
    )
