"""Sleepers of a market: the calendar of each listing, and when its season comes again."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import numpy as np

from driftfield.core.base import Bools, CoreError, Floats, Groups, Ints, Period, finite
from driftfield.core.curves import FAMILY, SeasonPlan, months_of_weeks
from driftfield.core.supply import ListingSeasons, Sleepers, read_sleepers

from .figures import figures_of
from .kinds import LISTING
from .tree import CategoryTree
from .workings import Workings

ALIKE = 0.5  # Correlation with its niche's season from which a listing's sales keep it; our choice.
YEAR = 365.25
CHUNK = 16_384  # Listings whose curves are looked at at once.
HALF = 0.5  # Of a season that must still come after arrival, as for the season to act on.


def lent_seasons(niches: Workings, niche: Ints, period: Period) -> Floats:
    """Season profiles of the listings' niches in the period of their history, NaN where none is claimed."""
    own = niches.curves.factors
    if niches.timeline.period is not period:
        monthly = period is Period.MONTH
        own = months_of_weeks(own) if monthly else np.full((len(own), period.per_year), np.nan)
    claimed = niches.curves.claimed[niche] & (niche >= 0)
    return np.where(claimed[:, None], own[niche], np.nan)


def seasons_of(niches: Workings, work: Workings, estimated: Bools) -> tuple[ListingSeasons, Bools]:
    """When each listing sells, and whether its niche tells so.

    Weekly searches of a whole niche tell the days of a season better than what one listing sells, and so go
    first, where its sales of the last two years move with them. No drift is told of units that are
    ``estimated``: an interval of what they come to next season would leave out how far the estimates miss.
    """
    own, of_niches = work.curves, niches.curves
    niche = np.asarray(work.data.niche)
    assert work.data.prior is not None, "a listing may lean on its niche"
    lent = work.data.prior.factors
    seasonal = _seasonal(own.shape.shape)
    theirs = _seasonal(of_niches.shape.shape)[niche] & (niche >= 0) & ~np.isnan(lent[:, 0])
    timeline = work.timeline
    late = slice(max(timeline.length - timeline.period.span(104), 0), None)
    by_niche = theirs.copy()
    asked = np.flatnonzero(theirs)
    for rows in np.array_split(asked, len(asked) // CHUNK + 1):
        profile = lent[rows][:, timeline.slots[late]]
        by_niche[rows] = _correlation(work.data.searches[rows, late], profile) >= ALIKE

    def either(of_niche: Floats, its_own: Floats) -> Floats:
        return np.where(estimated, np.nan, np.where(by_niche, of_niche[niche], its_own))

    seasons = ListingSeasons(
        factors=np.where(by_niche[:, None], lent, own.factors),
        seasonal=seasonal | by_niche,
        rate=either(of_niches.rate, own.rate),
        low=either(of_niches.rate_low, own.rate_low),
        high=either(of_niches.rate_high, own.rate_high),
    )
    return seasons, by_niche


def groups_of(tree: CategoryTree | None, category: Ints) -> Groups | None:
    """Listings by their own category, those without one together in one more; None without a tree."""
    if tree is None:
        return None
    return Groups(np.where(category >= 0, category, len(tree)), len(tree) + 1)


def coming_seasons(
    own: SeasonPlan, of_niches: SeasonPlan, niche: Ints, by_niche: Bools, middle: Floats
) -> tuple[Floats, Floats]:
    """Date the coming season of each listing.

    Parameters
    ----------
    own, of_niches : SeasonPlan
        What is planned of the listings' own seasons, and of those of the market's niches.
    niche : array (listings,)
        Place of each one's niche, −1 for none.
    by_niche : bool array (listings,)
        Whether its niche tells its season.
    middle : array (listings,)
        Ordinal of the middle of its best weeks; NaN for one that is not asked about.

    Returns
    -------
    rise, caught : array (listings,)
        Ordinal of the day of the rise, and the share of the season that comes after arrival: of the first
        season planned that holds the middle of the best weeks, whole years later, and of which at least half
        comes after arrival. NaN for none.
    """
    n = len(middle)
    rise, caught = np.full(n, np.nan), np.full(n, np.nan)
    for plan, wanted, source in ((own, ~by_niche, np.arange(n)), (of_niches, by_niche, niche)):
        each = plan.planned
        rows = np.flatnonzero(wanted & ~np.isnan(middle))
        start = np.searchsorted(each.subject, np.arange(len(plan.caught) + 1))
        first = start[source[rows]]
        many = start[source[rows] + 1] - first
        at = np.repeat(rows, many)
        season = np.arange(len(at)) + np.repeat(first - (np.cumsum(many) - many), many)
        years = np.ceil((each.rise[season] - middle[at]) / YEAR)
        holds = middle[at] + years * YEAR <= each.end[season]
        holds &= ~(each.caught[season] < HALF)
        at, season = at[holds], season[holds]
        listing, place = np.unique(at, return_index=True)
        rise[listing] = each.rise[season[place]]
        caught[listing] = each.caught[season[place]]
    return rise, caught


def with_sleepers(niches: Workings, work: Workings, first: date, last: date) -> Workings:
    """Listings that were read, with the sleepers that were strong from one day to another.

    Raises CoreError where the listings' history does not hold these days.
    """
    assert work.listing is not None, "listings were read"
    listings = work.data.listings
    history = None if listings is None else listings.history
    if listings is None or history is None:
        raise CoreError(
            "What listings sold is not known up to the as-of: that takes a listing_weeks table."
        )
    timeline = history.timeline
    begin = timeline.period.number(first) - timeline.first_number
    end = timeline.period.number(last) - timeline.first_number + 1
    if begin < 0 or end > timeline.length:
        raise CoreError(
            f"Listings are known from {timeline.first} to {timeline.end}; {first} to {last} is not among "
            "that. Choose another time."
        )
    found = read_sleepers(
        work.data.searches, listings, work.listing.seasons,
        groups_of(niches.data.tree, np.asarray(work.data.category)), work.settings, (begin, end),
    )  # fmt: skip
    rise, caught = dates_of(niches, work, found, work.listing.by_niche)
    made = replace(
        work,
        listing=replace(work.listing, sleepers=found, rise=rise, caught=caught),
        figures=dict(work.figures),
    )
    for figure in figures_of(LISTING):
        if figure.key.startswith("sleep."):
            made.figures[figure.key] = finite(figure.compute(made))
    return made


def dates_of(
    niches: Workings, work: Workings, found: Sleepers, by_niche: Bools
) -> tuple[Floats, Floats]:
    """``coming_seasons`` of what sleepers name."""
    asked = np.array([state is not None for state in found.state], dtype=bool)
    middle = np.where(asked, found.middle, np.nan)
    return coming_seasons(work.plan, niches.plan, np.asarray(work.data.niche), by_niche, middle)


def _seasonal(shape: np.ndarray) -> Bools:
    names, at = np.unique(shape.astype(str), return_inverse=True)
    family = {str(one): kind for one, kind in FAMILY.items()}
    return np.array([family[name] == "seasonal" for name in names.tolist()], dtype=bool)[at]


def _correlation(one: Floats, other: Floats) -> Floats:
    """Pearson's correlation of rows where both are known, (rows,), NaN where one is level."""
    known = ~np.isnan(one) & ~np.isnan(other)
    many = np.maximum(known.sum(axis=1, keepdims=True), 1)
    a, b = (np.where(known, values, 0) for values in (one, other))
    a, b = (np.where(known, v - v.sum(axis=1, keepdims=True) / many, 0) for v in (a, b))
    with np.errstate(invalid="ignore", divide="ignore"):
        found: Floats = (a * b).sum(axis=1) / np.sqrt((a**2).sum(axis=1) * (b**2).sum(axis=1))
    return found
