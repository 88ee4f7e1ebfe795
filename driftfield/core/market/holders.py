"""Brands and sellers as kinds: each by all that it sells, or sold."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import date

import numpy as np

from driftfield.core.supply import (
    STATES,
    curves_of_brands,
    curves_of_sellers,
    goods_of_brands,
    goods_of_sellers,
    read_carried,
    read_competition,
    read_entry,
    read_holdings,
)

from .begin import begin, compute_stage
from .categories import judged_by_niches, received_clicks
from .figures.figure import Stage
from .kinds import BRAND, Kind
from .reader import DemandReader
from .workings import HolderWorkings, MarkedShares, Workings


def run_holders(
    kind: Kind,
    niches: Workings,
    listings: Workings | None,
    *,
    planning: date | None = None,
    progress: Callable[[int, int], None] | None = None,
) -> Workings | None:
    """Read the brands or the sellers of a market, as ``kind`` says, with all their figures.

    ``niches`` and ``listings`` are those of the same market, planned from the same day. The curve of a brand is
    the units of its listings; that of a seller the units of the periods in which it held their lead offers, or,
    where nobody is known to have, of those that name it: an assumption. None where none are known.
    """
    if listings is None or listings.listing is None or listings.data.listings is None:
        return None
    settings, facts, own = niches.settings, listings.data.listings, listings.listing
    day = niches.timeline.end.toordinal()
    of_brands = kind == BRAND
    goods = (goods_of_brands if of_brands else goods_of_sellers)(facts, day)
    if not len(goods.codes):
        return None
    people = facts.brands if of_brands else facts.sellers
    # What listings of ranks alone sell is estimated from these, and stands in their curves.
    add_up = curves_of_brands if of_brands else curves_of_sellers
    curves = add_up(facts, listings.data.searches, int(settings.bridge_periods))[goods.codes]
    carried = read_carried(
        goods, facts, own.record, own.estimate.units, np.asarray(listings.data.category),
        own.sleepers.state == STATES[0], day, price_fall=float(settings.price_fall),
    )  # fmt: skip
    many = len(goods.codes)
    data = replace(
        listings.data, kind=kind, subjects=[people.ids[code] for code in goods.codes.tolist()],
        term_subject=np.arange(many), searches=curves, category=carried.category, prior=None, niche=None,
    )  # fmt: skip
    reader = DemandReader(data, settings, many)
    reader.read_all(progress)
    held = goods.held(received_clicks(niches))
    supply = read_competition(
        None, None, np.empty((0, data.timeline.length)), None, np.empty(0, dtype=np.int64),
        data.timeline, many, settings,
    )  # fmt: skip
    supply = replace(
        supply,
        sales=replace(
            supply.sales,
            units_52w=carried.units,
            revenue_52w=carried.revenue,
            unsponsored_units_52w=carried.unsponsored_units,
            unsponsored_revenue_52w=carried.unsponsored_revenue,
        ),
        entry=read_entry(
            held, facts, day, settings, judged_by_niches(niches.supply, held, facts, day)
        ),
    )
    unknown = np.full(many, np.nan)
    work = begin(
        data, settings, reader, supply, MarkedShares(unknown, unknown, unknown),
        planning or niches.timeline.end,
    )  # fmt: skip
    work.holdings = read_holdings(held, facts, own.record.units, own.record.revenue, day)
    work.holder = HolderWorkings(people=people, goods=goods, carried=carried, day=day)
    compute_stage(work, Stage.READ)
    compute_stage(work, Stage.RANKED)
    return work
