"""Pressure: prices that fall, sellers who pile in faster than sales, lead offers that change hands."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Floats, Settings, ratio

from .barriers import sellers_on
from .held import Grouped
from .listings import Listings, unsponsored_sum, window_mean, window_sum


@dataclass(frozen=True, slots=True)
class Pressure:
    """Figures of each subject, (subjects,), NaN for unknown.

    price_change: median over listings of price now over 26 weeks ago − 1. price_falling: share of
    them that fell by more than ``price_fall``. offers: offers of all listings together, now;
    unsponsored_offers: of those known not to be sponsored.
    offers_change, units_change: last 13 weeks over the same a year before, where the season cancels.
    offers_lead: offers' growth over units' − 1. sellers_change: different sellers over a year.
    lead_changes: share of steps of the last 26 weeks in which a lead offer changed hands.
    """

    price_change: Floats
    price_falling: Floats
    offers: Floats
    unsponsored_offers: Floats
    offers_change: Floats
    units_change: Floats
    offers_lead: Floats
    sellers_change: Floats
    lead_changes: Floats


def read_pressure(members: Grouped, listings: Listings, day: int, settings: Settings) -> Pressure:
    """Pressure as of ``day``, an ordinal."""
    now = members.now
    groups, clicked_now = members.groups, members.groups.of(now)
    change = ratio(window_mean(listings, "price", 4), window_mean(listings, "price", 4, 26)) - 1
    moved = change[members.listing[now]]
    # A hair within the threshold, so that a fall of exactly that much is not one.
    fell = np.where(np.isnan(moved), np.nan, moved < -settings.price_fall - 1e-9)
    offers, offers_then = _year_apart(members, listings, "offers", 13, window_mean)
    units, units_then = _year_apart(members, listings, "units", 13, window_sum)
    offers_change = ratio(offers, offers_then) - 1
    units_change = ratio(units, units_then) - 1
    sellers = np.full(groups.many, np.nan)
    if listings.offers is not None:
        then = sellers_on(members, listings, day - 364)
        sellers = ratio(sellers_on(members, listings, day), then) - 1
    each = window_mean(listings, "offers", 4)[members.listing]
    return Pressure(
        price_change=clicked_now.median(moved),
        price_falling=clicked_now.mean(fell),
        offers=groups.sum(each),
        unsponsored_offers=unsponsored_sum(groups, listings.sponsored[members.listing], each),
        offers_change=offers_change,
        units_change=units_change,
        offers_lead=ratio(1 + offers_change, 1 + units_change) - 1,
        sellers_change=sellers,
        lead_changes=_lead_changes(members, listings),
    )


def _year_apart(
    members: Grouped,
    listings: Listings,
    measure: str,
    weeks: int,
    read: Callable[[Listings, str, int, int], Floats],
) -> tuple[Floats, Floats]:
    """Sums over each subject's listings now and a year ago, (subjects,) each.

    A listing counts when it is known at both times, or was launched in between: one whose history
    merely begins in between would read as growth.
    """
    groups = members.groups
    late, early = read(listings, measure, weeks, 0), read(listings, measure, weeks, 52)
    if listings.history is None:
        return np.full(groups.many, np.nan), np.full(groups.many, np.nan)
    timeline = listings.history.timeline
    span = timeline.period.span(52) + timeline.period.span(weeks)
    then = timeline.start(max(timeline.length - span, 0)).toordinal()
    new = np.isnan(early) & (listings.launched > then)
    reaches = timeline.length >= span
    early = np.where(new, 0.0, early) if reaches else early
    both = ~np.isnan(late) & ~np.isnan(early)
    sums = [groups.sum(np.where(both, v, np.nan)[members.listing]) for v in (late, early)]
    return sums[0], sums[1]


def _lead_changes(members: Grouped, listings: Listings) -> Floats:
    history = listings.history
    held = None if history is None else history.window("lead_seller", 26)
    if held is None:
        return np.full(members.groups.many, np.nan)
    known = ~np.isnan(held[:, 1:]) & ~np.isnan(held[:, :-1])
    changed = known & (held[:, 1:] != held[:, :-1])
    steps = [
        members.groups.sum(v.sum(axis=1).astype(float)[members.listing]) for v in (changed, known)
    ]
    return ratio(steps[0], steps[1])
