"""What one sold oneself in niches beside all that was sold there, on one run of periods."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta

import numpy as np

from driftfield.core.base import Bools, Floats, Ints, Period, Timeline, resampled

from .listings import History, Listings
from .members import Clicks

BEHIND = timedelta(days=45)  # By which own sales and units may end before searches do. Our choice.
LATE, ENOUGH = (
    13,
    0.75,
)  # Weeks of late, and the part of them of which units must be known to count.
REACH = 117  # Weeks of clicks by which listings are given to niches: two years and a quarter.
LEAST_PORTION = (
    0.1  # Of a listing's clicks that a niche brings, for own sales of it to be the niche's too.
)


@dataclass(frozen=True, slots=True)
class OwnNiche:
    """One niche in which one sells; arrays are (length,) or (listings, length), NaN for absent.

    subject: its place among all. units, revenue: one's own. market: what all sold, or where that is not known
    (``by_units`` false) what was searched. listing, portion: the listings clicked there, and the part of each
    one's clicks that the niche brings. sold: units that are told of each; clicked: its clicks after the
    niche's terms. mine: listings of which own sales are known; own: these, of each. added: own sales were
    added to the market, which has none of theirs. silent: periods of listings that count as none sold because
    another has a line.
    """

    subject: int
    units: Floats
    revenue: Floats
    market: Floats
    by_units: bool
    listing: Ints
    portion: Floats
    sold: Floats
    clicked: Floats
    mine: Bools
    own: Floats
    added: bool = False
    silent: int = 0


@dataclass(frozen=True, slots=True)
class Sources:
    """Where own sales and those of niches come from.

    searches: of a subject, (timeline.length,), the sums over its terms. own: units and revenue given of
    niches, rows (subjects); None for none. seen, weight, owner: clicks, those behind each of ``seen``, and the
    subject of each observation's term.
    """

    timeline: Timeline
    searches: Callable[[int], Floats]
    own: History | None = None
    listings: Listings | None = None
    seen: Clicks | None = None
    weight: Floats | None = None
    owner: Ints | None = None

    @property
    def history(self) -> History | None:
        """What is told of the units of listings."""
        found = None if self.listings is None else self.listings.history
        return found if found is not None and "units" in found.measures else None

    @property
    def own_of_listings(self) -> History | None:
        found = None if self.listings is None else self.listings.own_sales
        return found if found is not None and "units" in found.measures else None


def common_timeline(sources: Sources) -> Timeline | None:
    """The periods on which own sales and markets are compared: the coarsest of theirs.

    They end where the first of them does, but no more than BEHIND before the searches do: what is known no
    longer is not of late. None where they have no period in common, or nothing of one's own is known.
    """
    own = [one.timeline for one in (sources.own, sources.own_of_listings) if one is not None]
    if not own:
        return None
    market = [sources.timeline]
    if sources.history is not None:
        market.append(sources.history.timeline)
    months = any(one.period is Period.MONTH for one in (*own, *market))
    period = Period.MONTH if months else Period.WEEK
    first = max(min(one.first for one in own), min(one.first for one in market))
    end = min(max(one.end for one in own), *(one.end for one in market))
    end = max(end, sources.timeline.end - BEHIND)
    number = period.number(first)
    number += period.start(number) < first
    # The period of the day after is the first that is not complete.
    length = period.number(end + timedelta(days=1)) - number
    return Timeline(period, period.start(number), length) if length > 0 else None


def niches_sold_in(sources: Sources) -> tuple[Timeline, list[OwnNiche]] | None:
    """The niches in which one sells, with curves on common periods; None where there are none.

    What is given of a niche counts before what is given of its listings. Of these each period has the sum of
    what is known; one without a line for a period in which another of the niche has one is taken to have sold
    none.
    """
    timeline = common_timeline(sources)
    if timeline is None:
        return None
    given = sources.own
    direct = np.empty(0, dtype=np.int64)
    if given is not None and "units" in given.measures:
        direct = np.flatnonzero(_some(given.measures["units"]))
    pairs = _pairs(sources, direct, timeline)
    found = []
    for subject in np.union1d(direct, pairs.sellers).tolist():
        made = _own_niche(sources, timeline, subject, pairs, subject in direct)
        if made is not None:
            found.append(made)
    return (timeline, found) if found else None


@dataclass(frozen=True, slots=True)
class _Pairs:
    """Niches in which one sells and the listings clicked there, (pairs,) by niche; sellers: niches with own
    listings. clicked: (pairs, length)."""

    subject: Ints
    listing: Ints
    portion: Floats
    clicked: Floats
    sellers: Ints


def _pairs(sources: Sources, direct: Ints, timeline: Timeline) -> _Pairs:
    nothing = np.empty(0, dtype=np.int64)
    none = _Pairs(nothing, nothing, np.empty(0), np.empty((0, timeline.length)), nothing)
    seen, weight, owner = sources.seen, sources.weight, sources.owner
    if seen is None or weight is None or owner is None or sources.listings is None:
        return none
    last = sources.timeline.length - 1
    late = seen.at > last - sources.timeline.period.span(REACH)
    rows = late & (seen.share > 0)
    seen, taken, owner = seen.of(rows), (seen.share * weight)[rows], owner[rows]
    count = len(sources.listings)
    mine: Bools = np.zeros(count, dtype=bool)
    if sources.own_of_listings is not None:
        mine = _some(sources.own_of_listings.measures["units"])
    whole = np.bincount(seen.listing, weights=taken, minlength=count)
    inside = np.flatnonzero(mine[seen.listing])
    keys, pair = np.unique(owner[inside] * count + seen.listing[inside], return_inverse=True)
    brought = np.bincount(pair, weights=taken[inside], minlength=len(keys))
    much = (brought > 0) & (brought >= LEAST_PORTION * whole[keys % count])
    sellers = np.unique(keys[much] // count)
    own = np.flatnonzero(np.isin(owner, np.union1d(direct, sellers)))
    if not own.size:
        return none
    keys, pair = np.unique(owner[own] * count + seen.listing[own], return_inverse=True)
    starts = [timeline.period.number(sources.timeline.start(at)) for at in range(last + 1)]
    column = np.array(starts, dtype=np.int64)[seen.at[own]] - timeline.first_number
    clicked = np.zeros((len(keys), timeline.length))
    fits = (column >= 0) & (column < timeline.length)
    np.add.at(clicked, (pair[fits], column[fits]), taken[own][fits])
    brought = np.bincount(pair, weights=taken[own], minlength=len(keys))
    listing = keys % count
    portion = brought / np.where(whole[listing] > 0, whole[listing], 1)
    return _Pairs(keys // count, listing, portion, clicked, sellers)


def _own_niche(
    sources: Sources, timeline: Timeline, subject: int, pairs: _Pairs, direct: bool
) -> OwnNiche | None:
    rows = np.flatnonzero(pairs.subject == subject)
    listing, portion = pairs.listing[rows], pairs.portion[rows]
    sold = _of(sources.history, "units", listing, timeline)
    of_listings = sources.own_of_listings
    own = _of(of_listings, "units", listing, timeline)
    mine = _some(own)
    if direct:
        assert sources.own is not None
        units = _of(sources.own, "units", np.array([subject]), timeline)[0]
        revenue = _of(sources.own, "revenue", np.array([subject]), timeline)[0]
    else:
        units = _sum_known(own * portion[:, None])
        revenue = _sum_known(
            _of(of_listings, "revenue", listing, timeline) * portion[:, None], np.isnan(own)
        )
    if np.isnan(units).all():
        return None
    market = _sum_known(sold * portion[:, None])
    late = market[-timeline.period.span(LATE) :]
    by_units = bool((~np.isnan(late)).mean() >= ENOUGH)
    added = False
    if not by_units:
        market = resampled(sources.searches(subject)[None], sources.timeline, timeline)[0]
    elif mine.any() and np.isnan(sold[mine]).all():
        market, added = market + np.where(np.isnan(units), 0, units), True
    return OwnNiche(
        subject=subject, units=units, revenue=revenue, market=market, by_units=by_units, listing=listing,
        portion=portion, sold=sold, clicked=pairs.clicked[rows], mine=mine, own=own, added=added,
        silent=0 if direct else _silent(own[mine]),
    )  # fmt: skip


def _silent(own: Floats) -> int:
    """Periods without a line, of a listing that has lines before and after, in which another has one."""
    known = ~np.isnan(own)
    before = np.logical_or.accumulate(known, axis=1)
    after = np.logical_or.accumulate(known[:, ::-1], axis=1)[:, ::-1]
    return int((~known & before & after & known.any(axis=0)).sum())


def _some(values: np.ndarray) -> Bools:
    """Rows of which anything is known."""
    found: Bools = (~np.isnan(values)).any(axis=1)
    return found


def _of(history: History | None, measure: str, rows: Ints, timeline: Timeline) -> Floats:
    """A measure of some rows on the wanted periods, NaN where it is not known."""
    values = None if history is None else history.measures.get(measure)
    if history is None or values is None:
        return np.full((len(rows), timeline.length), np.nan)
    return resampled(values[rows].astype(np.float64), history.timeline, timeline)


def _sum_known(values: Floats, told: Bools | None = None) -> Floats:
    """Sums over rows, (length,), of what is known; NaN where nothing is.

    ``told`` (rows, length): where a value that is not known need not be; elsewhere it makes the sum unknown.
    """
    known = ~np.isnan(values)
    sums = np.where(known.any(axis=0), np.where(known, values, 0).sum(axis=0), np.nan)
    return sums if told is None else np.where((known | told).all(axis=0), sums, np.nan)
