"""A market as it was known on an earlier day, and nothing more."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Any

import numpy as np

from driftfield.core.base import Floats
from driftfield.core.supply import Listings, Offers

from ..data import MarketData

# Facts of listings that no table dates: they are those of the day on which the tables were written.
UNDATED = ("rating", "quality", "sponsored", "return_rate")


def known_on(data: MarketData, as_of: date) -> MarketData:
    """Take a market back to a day.

    Parameters
    ----------
    data : MarketData
        All that is known now.
    as_of : date
        The day; nothing of a period that was not complete by then is left.

    Returns
    -------
    MarketData
        What ``upto`` leaves, without what the tables say of today alone: ratings, quality, sponsoring,
        returns and the seller of a listing, texts of buyers and own sales; prices and reviews where no
        history dates them. Launches, brands, sellers and offers of later days are not known of. Names,
        categories, attributes, weights and sizes are taken as never changed.

    Raises
    ------
    CoreError
        Where no period is complete by then.
    """
    past = data.upto(as_of)
    end = past.timeline.end
    listings = None if past.listings is None else _listings(past.listings, end)
    return replace(past, listings=listings, voices=None, own_sales=None)


def _listings(listings: Listings, end: date) -> Listings:
    day = end.toordinal()
    nothing = np.full(len(listings), np.nan)
    back: dict[str, Any] = dict.fromkeys(UNDATED, nothing)
    for name in ("price", "reviews"):
        then = None if listings.history is None else listings.history.latest(name)
        back[name] = nothing if then is None else then

    def until(days: Floats) -> Floats:
        return np.where(days <= day, days, np.nan)

    return replace(
        listings, **back, seller=np.full(len(listings), -1, dtype=np.int64), own_sales=None,
        launched=until(listings.launched), brand_since=until(listings.brand_since),
        seller_since=until(listings.seller_since),
        offers=None if listings.offers is None else _offers(listings.offers, day),
    )  # fmt: skip


def _offers(offers: Offers, day: int) -> Offers:
    known = offers.take(np.flatnonzero(offers.since <= day))
    # One that was to end was not known to.
    return replace(known, until=np.where(known.until > day, np.inf, known.until))
