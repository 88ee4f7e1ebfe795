"""What lies in a group of listings, say a category: who sells, how new it is, how unevenly it sells.

The groups hold listings by what these are, and not by the clicks after a term; a listing may be held by several
groups, one above the other.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import (
    Bools,
    Floats,
    Groups,
    Ints,
    ratio,
)

from .barriers import offered_on
from .held import Held
from .listings import Listings, window_sum

NEW_WEEKS = (26, 52)
OLD_DAYS = 2 * 364  # From here on a listing is established.
STEEP = (0.8, 0.9)  # Parts of a year's revenue of which it is said how few listings make them.


@dataclass(frozen=True, slots=True)
class Lorenz:
    """How unevenly revenue falls on listings, (groups,), NaN where none is known.

    gini: 0 (all alike) to 1. share_for: by part of the revenue, the fraction of the listings, most first, that
    make at least so much of it. listings: those with a known revenue.
    """

    gini: Floats
    share_for: dict[float, Floats]
    listings: Floats


@dataclass(frozen=True, slots=True)
class Newcomers:
    """What came within some weeks, (groups,), NaN where it is not known of any.

    units_share: their part of the units sold in those weeks by listings of which it is known when they came.
    """

    listings: Floats
    brands: Floats
    sellers: Floats
    units_share: Floats


@dataclass(frozen=True, slots=True)
class Holdings:
    """Figures of each group, (groups,), NaN for unknown.

    listings, brands, sellers: how many different ones. newcomers: by weeks. established_share: part of the
    year's units sold by listings over two years old; sold_age_days: the age that half of the units sold are
    older than; both of listings of which the launch is known. own_retail, sponsored: part of the year's units.
    """

    listings: Floats
    brands: Floats
    sellers: Floats
    lorenz: Lorenz
    newcomers: dict[int, Newcomers]
    established_share: Floats
    sold_age_days: Floats
    own_retail: Floats
    sponsored: Floats


def lorenz(held: Groups, values: Floats) -> Lorenz:
    """Read the Lorenz curve of each group's known ``values``, (rows,), zeros included.

    The Gini coefficient is the mean absolute difference over twice the mean (Gini 1912); the curve itself
    Lorenz (1905). Both are unknown where the values add up to 0.
    """
    groups = held.many
    own, order = held.upwards(-values)
    value = values[order]
    count = np.bincount(own, minlength=groups)
    total = np.bincount(own, weights=value, minlength=groups)
    start = np.concatenate([[0], np.cumsum(count)[:-1]]).astype(np.int64)
    place = np.arange(len(own)) - start[own]
    running = np.cumsum(value)
    before = np.concatenate([[0.0], running])[start[own]] if len(own) else running
    part = (running - before) / np.where(total > 0, total, 1)[own]
    some = total > 0
    spread = np.bincount(own, weights=(count[own] - 2 * place - 1) * value, minlength=groups)

    def needed(wanted: float) -> Floats:
        short = np.bincount(own[part < wanted - 1e-9], minlength=groups)
        return np.where(some, (short + 1) / np.maximum(count, 1), np.nan)

    return Lorenz(
        gini=np.where(some, spread / np.where(some, count * total, 1), np.nan),
        share_for={wanted: needed(wanted) for wanted in STEEP},
        listings=np.where(count > 0, count, np.nan).astype(np.float64),
    )


def read_holdings(
    members: Held, listings: Listings, units: Floats, revenue: Floats, day: int
) -> Holdings:
    """What each group holds on ``day``, an ordinal; units and revenue are a year of each listing."""
    groups, page = members.groups, members.listing
    age = day - listings.launched
    dated = np.where(np.isnan(age), np.nan, units)

    def part(marked: Bools | Floats, of: Floats) -> Floats:
        """The part of something that is marked, of what it is known whether it is; of listings, (groups,)."""
        mark = np.asarray(marked, dtype=np.float64)
        whole = np.where(np.isnan(mark), np.nan, of)
        sums = [groups.sum(members.divided(one[page])) for one in (mark * whole, whole)]
        return ratio(sums[0], sums[1])

    return Holdings(
        listings=groups.size().astype(np.float64),
        brands=groups.distinct(listings.brand[page]),
        sellers=_sellers(members, listings, day),
        lorenz=lorenz(groups, members.divided(revenue[page])),
        newcomers={weeks: _newcomers(members, listings, day, weeks) for weeks in NEW_WEEKS},
        established_share=part(age > OLD_DAYS, dated),
        sold_age_days=_middle_age(groups, age[page], members.divided(dated[page])),
        own_retail=part(listings.own_retail, units),
        sponsored=part(listings.sponsored, units),
    )


def _sellers(members: Held, listings: Listings, day: int) -> Floats:
    """Different sellers of the listings of each group: those they name and those with an offer on the day."""
    page = members.listing
    pairs = [(np.arange(len(page)), listings.seller[page])]
    offers = listings.offers
    if offers is not None:
        pairs.append(offered_on(members, offers, day))
    row, code = (np.concatenate(each) for each in zip(*pairs, strict=True))
    return members.groups.of(row).distinct(code)


def _newcomers(members: Held, listings: Listings, day: int, weeks: int) -> Newcomers:
    groups, page = members.groups, members.listing

    def came(since: Floats) -> Floats:
        """Of each listing 1 where it came within the weeks, 0 where before, NaN where that is unknown."""
        age = day - since
        return np.where(np.isnan(age), np.nan, (age >= 0) & (age < weeks * 7))

    def different(since: Floats, code: Ints) -> Floats:
        new = np.where(code >= 0, came(since), np.nan)[page]
        late = np.flatnonzero(new == 1)
        found = groups.of(late).distinct(code[page[late]])
        return np.where(groups.count(new) > 0, np.nan_to_num(found), np.nan)

    new = came(listings.launched)
    dated = np.where(np.isnan(new), np.nan, window_sum(listings, "units", weeks))
    return Newcomers(
        listings=groups.sum(new[page]),
        brands=different(listings.brand_since, listings.brand),
        sellers=different(listings.seller_since, listings.seller),
        units_share=ratio(
            *(groups.sum(members.divided(one[page])) for one in (new * dated, dated))
        ),
    )


def _middle_age(held: Groups, age: Floats, weight: Floats) -> Floats:
    """Median of the ages weighted by units, (groups,): the lowest age that half of the units do not exceed."""
    groups = held.many
    own, order = held.upwards(np.where(np.nan_to_num(weight) > 0, age, np.nan))
    value, heavy = age[order], weight[order]
    total = np.bincount(own, weights=heavy, minlength=groups)
    running = np.cumsum(heavy)
    start = np.searchsorted(own, np.arange(groups))
    before = np.concatenate([[0.0], running])[start]
    enough = running - before[own] >= total[own] / 2 - 1e-9
    out = np.full(groups, np.nan)
    # From the last to the first, so that the first that is enough stays.
    rows = np.flatnonzero(enough)[::-1]
    out[own[rows]] = value[rows]
    return out
