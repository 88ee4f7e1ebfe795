"""One's own goods in a package."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Any

import numpy as np

from driftfield.core.base import CoreError, Settings
from driftfield.core.market import LISTING, NICHE, run_listings, run_market

from .market_data import MarketInput
from .own_goods import Own, own_goods
from .package import Package
from .pasted import Pasted, pasted_ids
from .sieved import FileColumns
from .storefronts import chosen_sellers, storefronts_of


def find_own_goods(
    package: Package,
    markets: Sequence[MarketInput],
    mine: str,
    pasted: str,
    rise: float,
    settings: Settings,
    planning: date | None = None,
    as_of: date | None = None,
) -> tuple[list[dict[str, Any]], list[str]]:
    """Records of what some sellers have or had and of pasted listings, and what of the texts names neither.

    Raises CoreError where neither is named, and where no listings are known.
    """
    if not mine.strip() and not pasted.strip():
        raise CoreError("Say what is your own: --mine SELLERS, or --ids-from FILE with listings.")
    shops = storefronts_of(package, as_of)
    chosen = chosen_sellers(shops, mine) if mine.strip() else Pasted([], [])
    whole = {one: at for at, one in enumerate(shops.ids)}
    given = pasted_ids(pasted, whole)
    own = Own.of(shops, chosen.ids, [whole[one] for one in given.ids])
    found: list[dict[str, Any]] = []
    for market in markets:
        places = {one: at for at, one in enumerate(market.listing_ids)}
        at = np.array(
            [places.get(shops.ids[one], -1) for one in own.place.tolist()], dtype=np.int64
        )
        mine_here = np.flatnonzero(at >= 0)
        if not mine_here.size:
            continue
        niches = run_market(market.data, settings, planning=planning)
        listings = run_listings(niches, market.listing_ids, planning=planning)
        if listings is None or listings.data.niche is None:
            continue
        names = [str(one) for one in market.identity(listings)["name"]]
        found += own_goods(
            own.take(mine_here, at[mine_here]), FileColumns(LISTING, listings, market, package),
            FileColumns(NICHE, niches, market, package), listings.data.niche,
            {"id": market.listing_ids, "name": names}, rise, planning or market.data.timeline.end,
        )  # fmt: skip
    unknown = [*chosen.unknown, *given.unknown]
    if not found:
        raise CoreError("None of these is a listing here.")
    return sorted(found, key=lambda one: -len(one["reasons"])), unknown
