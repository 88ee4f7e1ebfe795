"""How units estimated from ranks compare with what the researcher sold: which way they miss, and how far."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta

import numpy as np
from scipy import stats

from driftfield.core.base import Bools, Floats, Groups, Ints

from .listings import Listings, window_mean

LEAST_OWN = 5  # Own listings on which a correction must rest; our choice.
NEARLY = 0.9  # Part of a year of which own sales must be known to stand for it.
STALE = timedelta(days=35)  # By which own sales may end before the ranks do.
ALONE = 1.05  # Mean number of offers up to which nobody else sold it.
LEVEL = 0.8  # Of the interval, as of the estimates.


@dataclass(frozen=True, slots=True)
class OwnCheck:
    """What own sales say of the estimates.

    units: what the researcher sold of each listing in the last 52 weeks, (listings,), NaN for unknown. missed:
    ln of these over what the line says, of listings that count, (listings,). assumed: of which of these it is
    not known whether others sold them too, and it is taken that nobody did, (listings,). group: the group that
    tells of each listing, −1 for none. The others are (groups,), NaN where fewer than LEAST_OWN count. shift:
    mean of missed; spread: its standard deviation, by n − 1; listings: how many it rests on; unsure: of those,
    how many are assumed.
    """

    units: Floats
    missed: Floats
    assumed: Bools
    group: Ints
    shift: Floats
    spread: Floats
    listings: Floats
    unsure: Floats

    def told(self, values: Floats) -> Floats:
        """A value of the groups for each listing, NaN where no group tells of it."""
        found = np.full(len(self.group), np.nan)
        known = self.group >= 0
        found[known] = values[self.group[known]]
        return found

    @property
    def ratio(self) -> Floats:
        """How many times the estimate the researcher sold, in the middle, (listings,)."""
        return np.exp(self.told(self.shift))

    def ends(self) -> tuple[Floats, Floats]:
        """Interval of that, (listings,), at LEVEL: Student's, for a mean of logarithms."""
        many = self.told(self.listings)
        reach = stats.t.ppf((1 + LEVEL) / 2, many - 1) * self.told(self.spread) / np.sqrt(many)
        middle = self.told(self.shift)
        return np.exp(middle - reach), np.exp(middle + reach)


def own_year(listings: Listings) -> Floats:
    """Units the researcher sold of each listing in the last 52 weeks (12 months), (listings,).

    NaN where they are not known of NEARLY all of it, or end over STALE before the listings' history does.
    """
    unknown = np.full(len(listings), np.nan)
    own, history = listings.own_sales, listings.history
    if own is None or history is None:
        return unknown
    own = own.upto(history.timeline.end)
    if own is None or history.timeline.end - own.timeline.end > STALE:
        return unknown
    window = own.window("units", 52)
    if window is None:
        return unknown
    known = ~np.isnan(window)
    total = np.where(known, window, 0).sum(axis=1, dtype=np.float64)
    return np.where(known.mean(axis=1) >= NEARLY, total, np.nan)


def sold_alone(listings: Listings, day: int) -> Floats:
    """Whether nobody but one seller had each listing in the 52 weeks up to a day, (listings,): 1 or 0.

    NaN where neither offers nor their number say so. Of a listing that others sell as well, own sales are a
    part, which says nothing of how far an estimate of the whole misses.
    """
    many = window_mean(listings, "offers", 52)
    by_number = np.where(np.isnan(many), np.nan, many <= ALONE)
    offers = listings.offers
    if offers is None:
        return by_number
    rows = np.flatnonzero((offers.since <= day) & (offers.until >= day - 364))
    held = Groups(offers.listing[rows], len(listings))
    sellers = held.distinct(offers.seller[rows])
    by_offers = np.where(held.size() > 0, sellers <= 1, np.nan)
    return np.fmin(by_number, by_offers)


def check_by_own(listings: Listings, groups: Groups, rows: Ints, line: Floats) -> OwnCheck:
    """Compare what lines of ranks say with own sales.

    Parameters
    ----------
    listings : Listings
        With own sales.
    groups : Groups
        Groups of the listings ``rows``, as the lines were fitted.
    rows : array (rows,)
        Places of the listings that are in groups.
    line : array (listings,)
        ln of a year's units by the line, made without the listing itself; NaN where no line tells of it.

    Returns
    -------
    OwnCheck
        Listings count whose own sales of the year are known and above 0, that have a line, and that nobody else
        is known to sell. A group takes those of the groups below it; of each listing the lowest group tells
        that has LEAST_OWN.

    References
    ----------
    The shift is the mean of log ratios, hence the ratio a geometric mean (Bland & Altman 1986, Lancet 327:
    limits of agreement on logarithms); its interval is Student's.
    """
    own = own_year(listings)
    count = len(listings)
    if np.isnan(own).all():
        nothing, none = np.full(groups.many, np.nan), np.full(count, -1, dtype=np.int64)
        unknown = np.full(count, np.nan)
        return OwnCheck(
            own, unknown, np.zeros(count, bool), none, nothing, nothing, nothing, nothing
        )
    assert listings.history is not None, "own sales are read beside it"
    alone = sold_alone(listings, listings.history.timeline.end.toordinal())
    with np.errstate(divide="ignore", invalid="ignore"):
        missed = np.where(
            (own > 0) & (alone != 0), np.log(np.where(own > 0, own, np.nan)) - line, np.nan
        )
    assumed = ~np.isnan(missed) & np.isnan(alone)
    inside = missed[rows]
    many = groups.count(inside)
    told = many >= LEAST_OWN
    shift = groups.mean(inside)
    # The mean of squares would lose its digits; what is taken off them is near all of it.
    group, row = groups.pairs()
    away = Groups(group, groups.many).sum((inside[row] - shift[group]) ** 2)
    with np.errstate(divide="ignore", invalid="ignore"):
        spread = np.sqrt(away / (many - 1))
    tells = np.full(count, -1, dtype=np.int64)
    tells[rows] = groups.lowest(told)

    def only(values: Floats) -> Floats:
        return np.where(told, values, np.nan)

    unsure = groups.sum(assumed[rows].astype(np.float64))
    return OwnCheck(
        own, missed, assumed, tells, only(shift), only(spread), only(many), only(unsure)
    )
