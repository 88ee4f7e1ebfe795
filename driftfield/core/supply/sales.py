"""What a subject sells: units, revenue and prices of its listings, and what a wanted income takes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import (
    Floats,
    Settings,
    ratio,
)

from .held import Grouped
from .listings import Listings, unsponsored_sum, window_sum


@dataclass(frozen=True, slots=True)
class Sales:
    """Figures of each subject, (subjects,), NaN for unknown. Money in the market's currency.

    units_52w, revenue_52w: of all its listings, a listing's divided among subjects by clicks;
    unsponsored_units_52w, unsponsored_revenue_52w: of those known not to be sponsored.
    price_low, price_median, price_high: 10th, 50th and 90th percentile over the listings clicked
    now. revenue_per_listing: revenue over listings with known sales. listing_revenue, listing_units:
    a year of the median listing clicked now. gone: share of the clicks of a year ago that went to a
    listing that has none now, by the largest such.
    """

    units_52w: Floats
    revenue_52w: Floats
    unsponsored_units_52w: Floats
    unsponsored_revenue_52w: Floats
    price_low: Floats
    price_median: Floats
    price_high: Floats
    revenue_per_listing: Floats
    listing_units: Floats
    listing_revenue: Floats
    gone: Floats

    @property
    def month_of_stock(self) -> Floats:
        """What a month's sales of the median listing are worth at the median price."""
        return self.price_median * self.listing_units / 12


@dataclass(frozen=True, slots=True)
class Target:
    """What the wanted yearly revenue takes in each subject, (subjects,), NaN for unknown.

    units_low, units_median, units_high: units a year that reach it at the low, the median and the
    high price of the subject. multiple: the median listing's revenue over the target. reaching: share
    of the listings that reach it.
    """

    units_low: Floats
    units_median: Floats
    units_high: Floats
    multiple: Floats
    reaching: Floats


def yearly(listings: Listings) -> tuple[Floats, Floats]:
    """Units and revenue of the last 52 weeks (12 months), (listings,) each, NaN where unknown.

    Revenue is units times price, period by period, at the listing's price where a period has none.
    """
    units = window_sum(listings, "units", 52)
    history = listings.history
    window = None if history is None else history.window("units", 52)
    if window is None:
        return units, np.full(len(listings), np.nan)
    assert history is not None
    paid = history.window("price", 52)
    price = np.broadcast_to(listings.price[:, None], window.shape)
    if paid is not None:
        price = np.where(np.isnan(paid), price, paid)
    amount = window * price
    # A period without sales has no revenue, whatever the price.
    amount = np.where(window == 0, 0, amount)
    known = ~np.isnan(amount)
    total = np.where(known, amount, 0).sum(axis=1)
    whole = (known | np.isnan(window)).all(axis=1) & known.any(axis=1)
    return units, np.where(whole, total, np.nan)


def read_sales(members: Grouped, listings: Listings, units: Floats, revenue: Floats) -> Sales:
    """Sales of each subject; ``units`` and ``revenue`` are a year of each listing (``yearly``)."""
    page, now, groups = members.listing, members.now, members.groups
    clicked_now, seen_now = groups.of(now), page[now]
    earned, flags = revenue[page], listings.sponsored[page]
    whole = groups.sum(members.divided(earned))
    # Of what has clicks now nothing is gone.
    gone = groups.most(np.where(now, 0.0, np.nan_to_num(members.clicked(-1))))
    seen = (members.weight[:, 0] > 0) & (members.weight[:, -1] > 0)
    prices = clicked_now.quantiles(listings.price[seen_now], 0.1, 0.5, 0.9)
    return Sales(
        units_52w=groups.sum(members.divided(units[page])),
        revenue_52w=whole,
        unsponsored_units_52w=unsponsored_sum(groups, flags, members.divided(units[page])),
        unsponsored_revenue_52w=unsponsored_sum(groups, flags, members.divided(earned)),
        price_low=prices[0],
        price_median=prices[1],
        price_high=prices[2],
        revenue_per_listing=ratio(whole, groups.count(earned)),
        listing_units=clicked_now.median(units[seen_now]),
        listing_revenue=clicked_now.median(earned[now]),
        gone=np.where(seen, members.share_of(gone, -1), np.nan),
    )


def units_for(income: float, price: Floats) -> Floats:
    """Say how many units a year make an income at a price.

    Parameters
    ----------
    income : float
        Revenue a year, in the market's currency.
    price : array (n,)
        Prices, in the market's currency.

    Returns
    -------
    array (n,)
        Units a year; NaN where there is no price.

    Examples
    --------
    >>> units_for(30_000, np.array([10.0, 50.0]))
    array([3000.,  600.])
    """
    return ratio(np.full(price.shape, float(income)), price)


def read_target(members: Grouped, revenue: Floats, sales: Sales, settings: Settings) -> Target:
    """What ``target_income`` takes in each subject, and whether its listings make as much.

    ``revenue`` is a year of each listing.
    """
    income = float(settings.target_income)
    now = members.now
    mine = revenue[members.listing[now]]
    reached = np.where(np.isnan(mine), np.nan, mine >= income)
    return Target(
        units_low=units_for(income, sales.price_low),
        units_median=units_for(income, sales.price_median),
        units_high=units_for(income, sales.price_high),
        multiple=sales.listing_revenue / income,
        reaching=members.groups.of(now).mean(reached),
    )
