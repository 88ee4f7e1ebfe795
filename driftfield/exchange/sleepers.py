"""Sleepers on files: what sold well in its last season, in a month or at a feast, and is quiet now."""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, Settings
from driftfield.core.curves import Time
from driftfield.core.market import (
    BRAND,
    FIGURES_BY_KEY,
    LISTING,
    SELLER,
    Kind,
    Workings,
    run_listings,
    run_market,
    with_sleepers,
)
from driftfield.core.sentences import plain, sleeper_sentences
from driftfield.core.supply import STATES

from .market_data import MarketInput
from .package import Package
from .pasted import pasted_ids

# Fields of a record, with the figures that they hold.
FIGURES = {
    "state": "sleep.state", "why": "sleep.why", "by_season": "sleep.by_season",
    "out_of_stock": "sleep.out_of_stock", "unranked": "sleep.unranked", "dearer": "sleep.dearer",
    "strong_4w": "sleep.strong_4w", "now_4w": "listing.units_4w", "usual_4w": "sleep.usual_4w",
    "share_of_category": "sleep.part", "basis": "basis", "season_from": "sleep.season_from",
    "best_on": "sleep.best_on", "rise": "sleep.rise", "order_by": "sleep.order_by",
    "order_in_days": "sleep.order_in_days", "caught": "sleep.caught", "expected_4w": "sleep.expected_4w",
    "expected_low": "sleep.expected_low", "expected_high": "sleep.expected_high",
    "price_then": "sleep.price_then", "price": "listing.price", "offers_then": "sleep.offers_then",
    "offers": "listing.offers",
    "in_stock": "listing.in_stock", "sales_rank": "listing.sales_rank", "reviews": "listing.reviews",
}  # fmt: skip
WHO = ("market_id", "listing_id", "name", "brand", "seller_id", "category_id", "niche_id")
COLUMNS = (*WHO, *FIGURES, "sentences")


@dataclass(frozen=True, slots=True)
class Asked:
    """What is asked of sleepers. awake: for those in season instead. month, feast: when they must have been
    strong; by default in the best 13 weeks of the last 65 of each. only: ids; inside: of categories; None for
    all."""

    awake: bool = False
    month: Time | None = None
    feast: str | None = None
    only: Collection[str] | None = None
    inside: Collection[str] | None = None

    def time(self, day: date) -> Time | None:
        """When they must have been strong, of listings that are known up to a day."""
        if self.month is not None:
            return self.month.latest_upto(day)
        return None if self.feast is None else Time.of_feast(self.feast, day)


def find_sleepers(
    markets: Sequence[MarketInput], asked: Asked, settings: Settings, planning: date | None = None
) -> tuple[list[dict[str, Any]], str]:
    """Records of the sleepers of some markets, strongest first in each, and when they were strong, in words.

    Raises CoreError where no listings are known, or not at the time that is asked for.
    """
    found: list[dict[str, Any]] = []
    known, when = False, "in their last season"
    for market in markets:
        niches = run_market(market.data, settings, planning=planning)
        listings = run_listings(niches, market.listing_ids, planning=planning)
        if listings is None:
            continue
        known, time = True, asked.time(listings.timeline.end)
        if time is not None:
            when = f"{'in' if asked.feast is None else 'at'} {time.name}"
        states = STATES[1:] if asked.awake else STATES[:1]
        found += [
            one
            for one in sleeper_records(
                market, niches, listings, states=states, only=asked.only, time=time
            )
            if asked.inside is None or one["category_id"] in asked.inside
        ]
    if not known:
        raise CoreError(without_listings(markets))
    return found, when


def without_listings(markets: Sequence[MarketInput], kind: Kind = LISTING) -> str:
    """Why no listings, or nobody who holds any, can be read of some markets, and what that takes."""
    if not any(market.data.counts for market in markets):
        return (
            f"{kind.plural.capitalize()} are read where searches are counted; these curves are relative. Give "
            "a term_weeks table."
        )
    if kind == BRAND and any(market.listing_ids for market in markets):
        return "No brands are known. Give the brand of listings."
    if kind == SELLER and any(market.listing_ids for market in markets):
        return "No sellers are known. Give an offers table, or the seller_id of listings."
    return (
        f"No {kind.plural} are known. Give a listings table, and listing_weeks for what they sell."
    )


def sleeper_records(
    market: MarketInput,
    niches: Workings,
    listings: Workings,
    *,
    states: Collection[str],
    only: Collection[str] | None = None,
    time: Time | None = None,
) -> list[dict[str, Any]]:
    """The listings of a market that sleep, or are in season, strongest first, as JSON takes them.

    ``states``: which of them. ``only``: ids of the listings that are asked about. ``time``: when they must have
    been strong; by default in the best 13 weeks of the last 65 of each.
    """
    work = listings if time is None else with_sleepers(niches, listings, time.first, time.last)
    figures, identity = work.figures, market.identity(work)
    found = [
        at
        for at, state in enumerate(figures["sleep.state"].tolist())
        if state in states and (only is None or identity["listing_id"][at] in only)
    ]
    strong = figures["sleep.strong_4w"]
    found.sort(key=lambda at: (-strong[at], str(identity["listing_id"][at])))
    return [_record(market, work, identity, at) for at in found]


def _record(
    market: MarketInput, work: Workings, identity: dict[str, Any], at: int
) -> dict[str, Any]:
    whole = {
        key: plain(FIGURES_BY_KEY[key], _value(values[at]))
        for key, values in work.figures.items()
        if key in _READ
    }
    return {
        **{name: identity[name][at] for name in WHO},
        **{name: whole[key] for name, key in FIGURES.items()},
        "sentences": sleeper_sentences(whole, market.currency),
    }


_READ = {*FIGURES.values()}


def _value(value: Any) -> Any:
    """A cell as JSON takes it."""
    if isinstance(value, np.generic):
        value = value.item()
    if isinstance(value, float):
        return None if math.isnan(value) else round(value, 6)
    return value


def chosen_listings(
    package: Package, brand: str | None, text: str | None
) -> tuple[set[str] | None, list[str]]:
    """Ids of the listings that are asked about, and pieces of the text that are none; None for all.

    Raises CoreError for a brand that no listing has.
    """
    table = package.frames.get("listings")
    if table is None:
        table = pl.DataFrame(schema={"listing_id": pl.String})
    only: set[str] | None = None
    unknown: list[str] = []

    def narrowed(ids: Collection[str]) -> set[str]:
        return set(ids) if only is None else only & set(ids)

    if text is not None:
        pasted = pasted_ids(text, set(table["listing_id"].to_list()))
        unknown = pasted.unknown
        only = narrowed(pasted.ids)
    if brand is not None:
        own = table["brand"] if "brand" in table.columns else pl.Series([], dtype=pl.String)
        ids = table["listing_id"].filter(own == brand).to_list() if len(own) else []
        if not ids:
            raise CoreError(f"No listing is of a brand “{brand}”.")
        only = narrowed(ids)
    return only, unknown
