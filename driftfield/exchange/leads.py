"""Who held the lead offers of a niche's listings over a time, on files and for the application."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

import numpy as np

from driftfield.core.base import CoreError, Settings, Timeline
from driftfield.core.curves import Time
from driftfield.core.market import run_market
from driftfield.core.supply import Listings, Members, lead_holders, sellers_named

from .market_data import MarketInput

COLUMNS = ("seller_id", "name", "listings", "of", "share", "units", "first", "last")


@dataclass(frozen=True, slots=True)
class Leads:
    """What was found: records as JSON takes them, when, and of how many listings."""

    rows: list[dict[str, Any]]
    time: Time
    listings: int

    @property
    def sentence(self) -> str:
        """How many held lead offers, of how many listings, and when."""
        listings = f"{self.listings:,} {'listing' if self.listings == 1 else 'listings'}"
        return f"{sellers_named(len(self.rows))} held lead offers of {listings} in {self.time.name}"


def leads_in(listings: Listings, members: Members, subject: int, time: Time) -> Leads:
    """Who held the lead offers of the listings that a subject's buyers click, or clicked within a year.

    Raises CoreError where it is not known, or not at that time.
    """
    history = listings.history
    if history is None or "lead_seller" not in history.measures:
        raise CoreError(
            "Who held the lead offers is not known: that takes lead_seller_id in listing_weeks."
        )
    begin, end = _columns(history.timeline, time)
    rows = np.unique(members.listing[members.subject == subject])
    found = lead_holders(listings, rows, begin, end)
    people = listings.sellers
    records = [
        {
            "seller_id": people.ids[code], "name": people.names[code], "listings": many, "of": len(rows),
            "share": round(share, 4), "units": None if units != units else round(units, 1),
            "first": time.first.isoformat(), "last": time.last.isoformat(),
        }
        for code, many, share, units in zip(
            found.seller.tolist(), found.listings.tolist(), found.share.tolist(), found.units.tolist(),
            strict=True,
        )
    ]  # fmt: skip
    return Leads(records, time, len(rows))


def _columns(timeline: Timeline, time: Time) -> tuple[int, int]:
    """Columns of a history that a time takes up, the last one not included."""
    period = timeline.period
    begin = period.number(time.first) - timeline.first_number
    end = period.number(time.last) - timeline.first_number + 1
    if end <= 0 or begin >= timeline.length:
        raise CoreError(
            f"Listings are known from {timeline.first} to {timeline.end}; {time.first} to {time.last} is not "
            "among that. Choose another time."
        )
    return max(begin, 0), min(end, timeline.length)


def find_leads(
    markets: Sequence[MarketInput], niche: str, month: Time | None, settings: Settings
) -> Leads:
    """Who held the lead offers on the goods of a niche; by default in its last season.

    Raises CoreError where no market has the niche, or it is not known who held them.
    """
    for market in markets:
        if niche not in market.data.subjects:
            continue
        listings = market.data.listings
        if listings is None:
            raise CoreError("No listings are known. Give a listings table, or term_clicks.")
        niches = run_market(market.data, settings)
        subject = market.data.subjects.index(niche)
        timeline = market.data.timeline
        time = month or Time.of_peak(
            niches.figures["peak_weeks"][subject], timeline.period, timeline.end
        )
        if time.last > timeline.end + timedelta(days=31):
            raise CoreError(f"{time.first} lies after the as-of, {timeline.end}.")
        return leads_in(listings, niches.supply.clicked, subject, time)
    some = ", ".join(one.data.subjects[0] for one in markets if one.data.subjects)
    raise CoreError(f"There is no niche “{niche}”. Ids look like: {some}.")
