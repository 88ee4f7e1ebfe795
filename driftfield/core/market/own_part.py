"""Own part of a market that was read: see ``core.supply.own_part``."""

from __future__ import annotations

import numpy as np

from driftfield.core.base import Floats
from driftfield.core.curves import NO_FEAST, CurveReadings
from driftfield.core.supply import (
    Against,
    OwnPart,
    Sources,
    Takers,
    read_own_part,
    read_takers,
)

from .data import MarketData
from .kinds import NICHE
from .workings import Workings

YEAR = 52


def own_part(
    data: MarketData, curves: CurveReadings, weight: Floats | None, interval: float
) -> tuple[OwnPart, Sources] | None:
    """What one sold oneself, beside the niches; None where nothing is known, or for another kind.

    ``weight``: clicks behind each observation of ``data.observed``. Relative curves are no
    counts, and so have none.
    """
    listings = data.listings
    own_listings = None if listings is None else listings.own_sales
    if data.kind != NICHE or not data.counts or (data.own_sales is None and own_listings is None):
        return None
    seen = data.observed

    def searches(subject: int) -> Floats:
        found = data.searches[np.flatnonzero(data.term_subject == subject)]
        known = ~np.isnan(found)
        return np.where(known.any(axis=0), np.where(known, found, 0).sum(axis=0), np.nan)

    sources = Sources(
        timeline=data.timeline, searches=searches, own=data.own_sales, listings=listings, seen=seen,
        weight=weight,
        owner=None if seen is None else data.term_subject[seen.term],
    )  # fmt: skip
    found = read_own_part(sources, curves.factors, curves.feast != NO_FEAST, interval)
    return None if found is None else (found, sources)


def takers_of(work: Workings, at: int) -> Takers | None:
    """Where the clicks went in the own niche at a place, in the comparison that is told first.

    None where that is not known: without clicks at both times, or listings of one's own.
    """
    assert work.own is not None, "asked of what is known"
    part, sources = work.own, work.own_sources
    niche, place = part.niches[at], part.headline()[at]
    if place is None or sources is None or sources.seen is None or sources.weight is None:
        return None
    if sources.listings is None or not niche.mine.any():
        return None
    one = part.comparisons[place]
    mine = np.zeros(len(sources.listings), dtype=bool)
    mine[niche.listing[niche.mine]] = True
    # Clicks may come as occasional snapshots, so windows are counted from the latest one.
    period = work.timeline.period
    end, span = int(sources.seen.at.max()) + 1, period.span(one.weeks)
    back = period.span(YEAR) if one.against == Against.YEAR else span
    now, then = (end - span, end), (end - back - span, end - back)
    if then[0] < 0:
        return None
    clicks = work.data.clicks
    terms = np.flatnonzero(work.data.term_subject == niche.subject)
    counted = clicks is not None and bool(
        all(~np.isnan(clicks[terms, a:b]).all() for a, b in (then, now))
    )
    return read_takers(
        sources.seen, sources.weight, terms, mine, then, now, float(part.dispersion[at]),
        float(part.dispersion_df[at]), work.settings.interval, counted=counted,
    )  # fmt: skip
