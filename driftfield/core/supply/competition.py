"""The supply side of a market: everything read from clicks, listings and their history."""

from __future__ import annotations

from concurrent.futures import Future
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Floats, Groups, Ints, Settings, Timeline

from .barriers import Barriers, read_barriers
from .concentration import Bounds, Concentration, bounds, by_brand, by_listing, concentration
from .entry import Entry, read_entry
from .held import Grouped, Held
from .launches import Judged, judge_launches
from .listings import History, Listings
from .members import (
    CLICK_WINDOWS,
    Brought,
    Clicks,
    Members,
    Rest,
    in_window,
    part_weights,
    parts_of,
    reach_of,
    read_members,
    rest_of,
)
from .pressure import Pressure, read_pressure
from .sales import Sales, Target, read_sales, read_target, yearly

SAME_COVER = 0.1  # Difference in clicks accounted for beyond which two windows are not compared.


@dataclass(frozen=True, slots=True)
class TermClicks:
    """Concentration after each term, (terms,), in the latest window."""

    listings: Concentration
    bounds: Bounds


@dataclass(frozen=True, slots=True)
class Competition:
    """The supply side of each subject. listings, brands: by the windows of ``members.CLICK_WINDOWS``.

    field: (subjects,) Opening, Closing or Steady, None for unknown. open_terms: share of the searches
    that come through terms whose three most clicked listings leave room. judged: the launches, (rows,) as
    ``members``; None where it is known of none when it was launched. units, revenue: a year of each listing.
    """

    members: Grouped
    listings: tuple[Concentration, ...]
    brands: tuple[Concentration, ...]
    bounds: Bounds
    field: np.ndarray
    open_terms: Floats
    barriers: Barriers
    entry: Entry
    pressure: Pressure
    sales: Sales
    target: Target
    history: History | None
    judged: Judged | None
    units: Floats
    revenue: Floats

    @property
    def clicked(self) -> Members:
        """The members of subjects, such as niches, whose listings are those clicked after their terms."""
        assert isinstance(self.members, Members), "what holds listings has no clicks of its own"
        return self.members


def read_terms(
    seen: Clicks, searches: Floats, clicks: Floats | None, timeline: Timeline, settings: Settings
) -> TermClicks:
    """Concentration of the clicks after each term; searches and clicks are (terms, length)."""
    n = len(searches)
    width = int(settings.click_weeks)
    seen = seen.of(in_window(seen, 0, width, timeline.period) & (seen.share > 0))
    weight = part_weights(seen, searches, clicks)
    parts = parts_of(seen, weight, seen.term, timeline.length)
    total = np.bincount(parts.group, weights=parts.weight, minlength=n)
    span = int(seen.listing.max(initial=0)) + 1
    keys, pair = np.unique(seen.term * span + seen.listing, return_inverse=True)
    taken = np.bincount(pair, weights=seen.share * weight, minlength=len(keys))
    term = keys // span
    share = taken / np.where(total[term] > 0, total[term], 1)
    breadth = float(settings.breadth_share)
    held = share > 0
    found = concentration(term[held], share[held], n, breadth=breadth)
    rest = rest_of(parts, n)
    reach = reach_of(seen, weight, seen.term, n, timeline.length)
    return TermClicks(found, bounds(term[held], share[held], found, rest, reach, breadth=breadth))


def read_competition(
    seen: Clicks | None,
    listings: Listings | None,
    searches: Floats,
    clicks: Floats | None,
    term_subject: Ints,
    timeline: Timeline,
    subjects: int,
    settings: Settings,
    brought: Brought | None = None,
) -> Competition:
    """The supply side of ``subjects`` subjects; searches and clicks are (terms, timeline.length).

    ``brought``: what all subjects of the market bring each listing, where these are some of them.
    """
    day = timeline.end.toordinal()
    if seen is None:
        none = np.empty(0, dtype=np.int64)
        seen = Clicks(none, none, none, np.empty(0))
    if listings is None:
        listings = Listings.unknown(int(seen.listing.max(initial=-1)) + 1)
    width = int(settings.click_weeks)
    weight = part_weights(seen, searches, clicks)
    members = read_members(
        seen, weight, term_subject, subjects, timeline.length, width, timeline.period, brought
    )
    breadth = float(settings.breadth_share)
    by_page = [by_listing(members, w, breadth=breadth) for w in range(len(CLICK_WINDOWS))]
    now = members.now
    units, revenue = yearly(listings)
    sales = read_sales(members, listings, units, revenue)
    terms = read_terms(seen, searches, clicks, timeline, settings)
    dated = not np.isnan(listings.launched).all()
    judged = judge_launches(members, listings, day, settings) if dated else None
    return Competition(
        members=members,
        listings=tuple(by_page),
        brands=tuple(
            by_brand(members, listings.brand, w, breadth=breadth) for w in range(len(CLICK_WINDOWS))
        ),
        bounds=bounds(
            members.subject[now],
            members.share[now, 0],
            by_page[0],
            members.rest[0],
            members.reach,
            breadth=breadth,
        ),
        field=field_of(by_page[0], by_page[-1], members.rest, settings),
        open_terms=_open_terms(terms, searches, term_subject, subjects, timeline, settings),
        barriers=read_barriers(members, listings, day, settings),
        entry=read_entry(members, listings, day, settings, judged),
        pressure=read_pressure(members, listings, day, settings),
        sales=sales,
        target=read_target(members, revenue, sales, settings),
        history=listings.history,
        judged=judged,
        units=units,
        revenue=revenue,
    )


@dataclass(frozen=True, slots=True)
class Concentrated:
    """How far the clicks of each group are concentrated, by listing and by brand in each window, with bounds
    for what is unaccounted; and whether their field opens or closes."""

    listings: tuple[Concentration, ...]
    brands: tuple[Concentration, ...]
    bounds: Bounds
    field: np.ndarray


def competition_of_groups(
    concentrated: Future[Concentrated],
    held: Held,
    listings: Listings,
    units: Floats,
    revenue: Floats,
    judged: Judged | None,
    day: int,
    settings: Settings,
) -> Competition:
    """The supply side of groups that hold listings, say categories.

    ``concentrated`` is how far the clicks after the terms of each group are, read beside the rest; ``held`` are
    the listings that belong to it, of which all else is told. ``judged`` is (rows of ``held``,).
    """
    sales = read_sales(held, listings, units, revenue)
    barriers = read_barriers(held, listings, day, settings)
    entry = read_entry(held, listings, day, settings, judged)
    pressure = read_pressure(held, listings, day, settings)
    clicks = concentrated.result()
    return Competition(
        members=held, listings=clicks.listings, brands=clicks.brands, bounds=clicks.bounds, field=clicks.field,
        open_terms=np.full(held.groups.many, np.nan), barriers=barriers, entry=entry, pressure=pressure,
        sales=sales, target=read_target(held, revenue, sales, settings), history=listings.history,
        judged=judged, units=units, revenue=revenue,
    )  # fmt: skip


def concentrate(clicked: Members, brand: Ints, settings: Settings) -> Concentrated:
    """Read how far clicks are concentrated by listing and by brand; brands are codes, −1 for unknown."""
    breadth = float(settings.breadth_share)
    windows = range(len(CLICK_WINDOWS))
    by_page = tuple(by_listing(clicked, w, breadth=breadth) for w in windows)
    now = clicked.now
    around = bounds(
        clicked.subject[now], clicked.share[now, 0], by_page[0], clicked.rest[0], clicked.reach,
        breadth=breadth,
    )  # fmt: skip
    brands = tuple(by_brand(clicked, brand, w, breadth=breadth) for w in windows)
    return Concentrated(
        by_page, brands, around, field_of(by_page[0], by_page[-1], clicked.rest, settings)
    )


def field_of(
    now: Concentration, then: Concentration, rest: tuple[Rest, ...], settings: Settings
) -> np.ndarray:
    """Whether a subject's clicks spread over more listings than a year ago, or fewer."""
    comparable = np.abs(rest[0].share - rest[-1].share) <= SAME_COVER
    change = np.where(comparable, now.effective / then.effective, np.nan)
    out = np.full(len(change), None, dtype=object)
    out[~np.isnan(change)] = "Steady"
    out[change >= 1 + settings.field_change] = "Opening"
    out[change <= 1 / (1 + settings.field_change)] = "Closing"
    return out


def _open_terms(
    terms: TermClicks,
    searches: Floats,
    term_subject: Ints,
    subjects: int,
    timeline: Timeline,
    settings: Settings,
) -> Floats:
    year = np.nan_to_num(searches[:, -timeline.period.per_year :]).sum(axis=1)
    top = terms.listings.top[3]
    # A hair below, for stored shares are rounded and must read as the files do.
    room = np.where(np.isnan(top), np.nan, top < settings.top3_closed - 1e-6)
    return Groups(term_subject, subjects).mean(room, year)
