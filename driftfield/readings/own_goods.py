"""One's own goods in a market, and which of them it may pay to order again."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from driftfield.core.base import CoreError
from driftfield.core.market import LISTING, NICHE
from driftfield.exchange.estimates import own_checks
from driftfield.exchange.own_goods import Own, own_goods
from driftfield.exchange.pasted import pasted_ids

from .chosen import own_sellers
from .columns import columns_of
from .models import Run
from .shops import shops_of


@dataclass(frozen=True, slots=True)
class OwnGoods:
    """One's own goods, as records of ``exchange.own_goods``.

    sellers: one's own, by id and name. unknown: pieces of what was pasted that name no listing. checks: how
    estimates from ranks compare with own sales, as records of ``exchange.estimates``; sold: of how many
    listings such sales are known.
    """

    sellers: dict[str, str]
    unknown: list[str]
    rows: list[dict[str, Any]]
    checks: list[dict[str, Any]]
    sold: int


def own_goods_of(run: Run, pasted: str, rise: float) -> OwnGoods:
    """What one's own sellers have or had, and pasted listings. Raises CoreError as ``own_goods`` does."""
    shops = shops_of(run)
    listings, niches = columns_of(run, LISTING), columns_of(run, NICHE)
    mine = [one for one in own_sellers(run.market.market_id) if one in shops.sellers]
    given = pasted_ids(pasted, listings.places)
    if pasted.strip() and not given.ids:
        raise CoreError(f"No listing here is called {', '.join(given.unknown[:3])}.")
    own = Own.of(shops, mine, [listings.places[one] for one in given.ids])
    niche = np.array([niches.places.get(one, -1) for one in listings.owners], dtype=np.int64)
    rows = own_goods(
        own, listings, niches, niche, {"id": listings.ids, "name": listings.names}, rise, run.planning
    )  # fmt: skip
    checks = own_checks(listings, listings.category_keys, listings.tree.line)
    sold = int((~np.isnan(listings.figure("listing.own_units"))).sum())
    names = {seller: own for own, sellers in shops.names.items() for seller in sellers}
    return OwnGoods({one: names.get(one, one) for one in mine}, given.unknown, rows, checks, sold)
