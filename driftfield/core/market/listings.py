"""Listings as a kind: each by its own sales, with its niche beside it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date

import numpy as np

from driftfield.core.base import Groups, Ints, Period, Timeline
from driftfield.core.curves import LEAST_SPREAD, Prior
from driftfield.core.supply import (
    Listings,
    RankLines,
    read_competition,
    read_records,
    read_sleepers,
)

from .begin import begin, compute_stage
from .categories import listing_categories, main_niches, received_clicks
from .figures.figure import Stage
from .kinds import LISTING
from .reader import DemandReader
from .sleepers import dates_of, groups_of, lent_seasons, seasons_of
from .workings import ListingWorkings, MarkedShares, Workings


def run_listings(
    niches: Workings,
    ids: Sequence[str],
    *,
    planning: date | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> Workings | None:
    """Read the listings of a market from the workings of its niches, with all their figures.

    ``ids`` are those of ``niches.data.listings``, in that order; ``planning`` is the day the niches were
    planned from. A listing's curve is its units; where only its rank is known, the units estimated from it.
    None where no listings are known.
    """
    data, settings = niches.data, niches.settings
    listings = data.listings
    if listings is None or not len(listings):
        return None
    category = listing_categories(niches)
    groups, rows = _by_category(niches, category)
    lines = RankLines.of(listings, groups, rows, correct=bool(settings.correct_estimates))
    timeline, units, estimated = _curves(listings, lines, data.timeline)
    niche = main_niches(niches)
    own = replace(
        data, kind=LISTING, timeline=timeline, subjects=list(ids), term_subject=np.arange(len(listings)),
        searches=units, clicks=None, purchases=None, impressions=None, branded=None, protected=None,
        observed=None, counts=True, category=category, interest=None, niche=niche,
        prior=_prior(niches, niche, timeline.period),
    )  # fmt: skip
    reader = DemandReader(own, settings, len(listings))
    reader.read_all(progress)
    unknown = np.full(len(listings), np.nan)
    supply = read_competition(
        None, None, np.empty((0, timeline.length)), None, np.empty(0, dtype=np.int64), timeline,
        len(listings), settings,
    )  # fmt: skip
    record = read_records(listings)
    supply = replace(
        supply, sales=replace(supply.sales, units_52w=record.units, revenue_52w=record.revenue)
    )
    # Dates are planned from the market's as-of, which the listings' history may not quite reach.
    work = begin(
        own, settings, reader, supply, MarkedShares(unknown, unknown, unknown),
        planning or data.timeline.end,
    )  # fmt: skip
    seasons, by_niche = seasons_of(niches, work, estimated)
    found = read_sleepers(units, listings, seasons, groups_of(data.tree, category), settings)
    rise, caught = dates_of(niches, work, found, by_niche)
    work.listing = ListingWorkings(
        niches=niches, record=record, lines=lines, estimate=lines.units, estimated=estimated,
        clicks=received_clicks(niches)[:, 0], seasons=seasons, by_niche=by_niche, sleepers=found,
        rise=rise, caught=caught, day=data.timeline.end.toordinal(),
    )  # fmt: skip
    compute_stage(work, Stage.READ)
    compute_stage(work, Stage.RANKED)
    return work


def _by_category(niches: Workings, category: Ints) -> tuple[Groups, Ints]:
    """Listings in the tree of categories, and which they are; all of them in one group without a tree."""
    tree = niches.data.tree
    if tree is None:
        rows = np.arange(len(category))
        return Groups(np.zeros_like(rows), 1), rows
    rows = np.flatnonzero(category >= 0)
    return Groups(category[rows], len(tree), tree.lineage()), rows


def _curves(
    listings: Listings, lines: RankLines, timeline: Timeline
) -> tuple[Timeline, np.ndarray, np.ndarray]:
    """Units by period of each listing, (listings, length), and which are estimated from ranks."""
    estimated = np.zeros(len(listings), dtype=bool)
    history = listings.history
    if history is None:
        nothing = np.broadcast_to(np.nan, (len(listings), timeline.length))
        return timeline, nothing, estimated
    # Single precision as the history has it: of a million listings double would be gigabytes more.
    known = history.measures.get("units")
    shape = (len(listings), history.timeline.length)
    units = np.full(shape, np.nan, dtype=np.float32) if known is None else known
    rows, found = lines.curves(history)
    if len(rows):
        units = units.copy()
        units[rows] = found
        estimated[rows] = True
    return history.timeline, units, estimated


def _prior(niches: Workings, niche: Ints, period: Period) -> Prior:
    """A listing too noisy to show a season leans on its niche's, as a term does."""
    factors = lent_seasons(niches, niche, period)
    variance = np.where(np.isnan(factors[:, 0]), np.nan, LEAST_SPREAD**2)
    return Prior(factors, variance)
