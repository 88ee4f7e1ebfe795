"""Barriers: what a newcomer competes with."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from driftfield.core.base import (
    Floats,
    Groups,
    Ints,
    Settings,
    Tally,
    joined,
    ratio,
    to_digits,
)

from .held import Grouped
from .listings import Listings, Offers

TOP = 10  # The most clicked listings, which a newcomer competes with.
LEAST_MEMBERS = 3  # A category of fewer subjects has no return rate to compare with.


@dataclass(frozen=True, slots=True)
class Barriers:
    """Figures of each subject, (subjects,), NaN for unknown.

    Of the ten most clicked listings: reviews, rating, quality (medians), few_reviews (share of those
    with known reviews under the limit), age_days, brand_age_days, seller_age_days (medians at the
    as-of), weight_g and size_mm (the longest side; medians). Of all listings clicked now: brands and
    sellers (numbers), sponsored (share of the listings); own_retail and sponsored_clicks (shares of
    the clicks), return_rate (mean by clicks) and return_ratio, that over its category's.
    out_of_stock: mean share of time without stock over all listings of the subject, the forsaken ones
    too, in the last four weeks known.
    """

    reviews: Floats
    few_reviews: Floats
    rating: Floats
    quality: Floats
    age_days: Floats
    brand_age_days: Floats
    seller_age_days: Floats
    weight_g: Floats
    size_mm: Floats
    brands: Floats
    sellers: Floats
    own_retail: Floats
    sponsored: Floats
    sponsored_clicks: Floats
    sponsored_clicks_52w_ago: Floats
    out_of_stock: Floats
    return_rate: Floats
    return_ratio: Floats


def read_barriers(members: Grouped, listings: Listings, day: int, settings: Settings) -> Barriers:
    """Barriers as they stand on ``day``, an ordinal.

    What is usual in a category is told of the whole market, and so return_ratio by ``beside_usual``.
    """
    now = members.now
    group, first = members.foremost(TOP)
    top, of_top = Groups(group, members.groups.many), members.listing[first]
    groups, page, clicks = members.groups.of(now), members.listing[now], members.clicked(0)[now]

    def middle(values: Floats) -> Floats:
        return top.median(values[of_top])

    def age(since: Floats) -> Floats:
        return np.where(since <= day, day - since, np.nan)

    def by_clicks(values: Floats) -> Floats:
        return groups.mean(values[page], clicks)

    reviews = listings.reviews[of_top]
    few = np.where(np.isnan(reviews), np.nan, reviews < settings.review_limit)
    before = np.nan_to_num(members.clicked(-1))
    return Barriers(
        reviews=middle(listings.reviews),
        few_reviews=top.mean(few),
        rating=middle(listings.rating),
        quality=middle(listings.quality),
        age_days=middle(age(listings.launched)),
        brand_age_days=middle(age(listings.brand_since)),
        seller_age_days=middle(age(listings.seller_since)),
        weight_g=middle(listings.weight_g),
        size_mm=middle(listings.size_mm),
        brands=groups.distinct(listings.brand[page]),
        sellers=sellers_on(members, listings, day),
        own_retail=by_clicks(listings.own_retail),
        sponsored=groups.mean(listings.sponsored[page]),
        sponsored_clicks=by_clicks(listings.sponsored),
        sponsored_clicks_52w_ago=members.groups.mean(listings.sponsored[members.listing], before),
        out_of_stock=_out_of_stock(members, listings),
        return_rate=by_clicks(listings.return_rate),
        return_ratio=np.full(members.groups.many, np.nan),
    )


def rates_by_category(barriers: Barriers, category: Ints | None) -> dict[int, Tally]:
    """Return rates of the subjects of each category; ``category`` is (subjects,), −1 for none."""
    if category is None:
        return {}
    told = np.flatnonzero(~np.isnan(barriers.return_rate) & (category >= 0))
    told = told[np.argsort(category[told], kind="stable")]
    codes, start = np.unique(category[told], return_index=True)
    rates = np.split(to_digits(barriers.return_rate[told]), start[1:])
    return {int(code): Tally.of(own) for code, own in zip(codes, rates, strict=False)}


def beside_usual(barriers: Barriers, category: Ints | None, rates: Mapping[int, Tally]) -> Barriers:
    """The same with each return rate over the median of its category, of whose ``rates`` are told.

    NaN in a category where too few subjects have one.
    """
    usual = np.full(len(barriers.return_rate), np.nan)
    if category is not None and rates:
        told = [code for code, one in rates.items() if one.total >= LEAST_MEMBERS]
        middle = np.full(max(*rates, int(category.max(initial=0)), 0) + 1, np.nan)
        middle[told] = [rates[code].median() for code in told]
        inside = category >= 0
        usual[inside] = middle[category[inside]]
    return replace(barriers, return_ratio=ratio(barriers.return_rate, usual))


def sellers_on(members: Grouped, listings: Listings, day: int) -> Floats:
    """Different sellers with an offer of a listing of the subject on a day, (subjects,).

    Where no offers are known, the sellers of the listings clicked now.
    """
    offers = listings.offers
    if offers is None:
        now = members.now
        return members.groups.of(now).distinct(listings.seller[members.listing[now]])
    row, seller = offered_on(members, offers, day)
    return members.groups.of(row).distinct(seller)


def offered_on(members: Grouped, offers: Offers, day: int) -> tuple[Ints, Ints]:
    """Rows and sellers of the offers that stand on a day on the rows' listings, (pairs,) each."""
    stands = offers.standing(day)
    page, seller = offers.listing[stands], offers.seller[stands]
    order = np.argsort(page, kind="stable")
    row, at = joined(page[order], members.listing)
    return row, seller[order][at]


def _out_of_stock(members: Grouped, listings: Listings) -> Floats:
    stock = None if listings.history is None else listings.history.window("in_stock", 4)
    if stock is None:
        return np.full(members.groups.many, np.nan)
    known = ~np.isnan(stock)
    held = np.where(known, stock, 0).sum(axis=1) / np.maximum(known.sum(axis=1), 1)
    absent = np.where(known.any(axis=1), 1 - held, np.nan)
    return members.groups.mean(absent[members.listing])
