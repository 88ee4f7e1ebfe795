"""One listing over time: price, sales rank, offers, reviews, units, stock, and who held its lead offer."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from driftfield.core.base import Period
from driftfield.market.curves import matrix, spanning, unpack
from driftfield.market.models import LeadSeller, Listing, ListingCurve, Seller

from .curves import ShownCurve
from .plain import plain
from .reading import Reading

LABELS = {
    "price": ("Price", "currency"),
    "units": ("Units", "units"),
    "sales_rank": ("Sales rank", "rank"),
    "offers": ("Offers", "offers"),
    "reviews": ("Reviews", "reviews"),
    "in_stock": ("Time in stock", "share"),
}


@dataclass(frozen=True, slots=True)
class Held:
    """A seller who held the lead offer, from the first day of a period on, for so many periods."""

    seller: str
    first: date
    periods: int


@dataclass(frozen=True, slots=True)
class ListingHistory:
    """The history of one listing, up to the as-of; held: by time, oldest first."""

    listing_id: str
    title: str
    curves: list[ShownCurve]
    held: list[Held]


def read_listing(reading: Reading, listing_id: str) -> ListingHistory | None:
    """One listing's history as of the reading; None where there is no such listing."""
    listing = Listing.objects.filter(listing_id=listing_id).first()
    return None if listing is None else history_of(listing, reading.run.as_of)


def history_of(listing: Listing, as_of: date) -> ListingHistory:
    """A listing's history up to a day."""
    curves: list[ShownCurve] = []
    held: list[Held] = []
    for row in ListingCurve.objects.filter(subject=listing):
        period, values = Period(row.period), bytes(row.values)
        if period.start(row.first + 1) > as_of + timedelta(days=1):
            continue
        timeline = spanning(period, [(row.first, len(values) // 4)]).upto(as_of)
        if row.measure in LABELS:
            label, unit = LABELS[row.measure]
            told = matrix([(0, row.first, values)], 1, timeline)[0]
            curves.append(
                ShownCurve(
                    row.measure, label, unit, period.value, timeline.start(0),
                    [plain(value) for value in told],
                )
            )  # fmt: skip
        elif row.measure == "lead_seller":
            held = _held(unpack(values)[: timeline.length], period, row.first)
    order = list(LABELS)
    curves.sort(key=lambda curve: order.index(curve.key))
    return ListingHistory(listing.listing_id, listing.title, curves, held)


def _held(codes: np.ndarray, period: Period, first: int) -> list[Held]:
    """Runs of one seller; a period of which it is not known ends one."""
    numbers = np.unique(codes[~np.isnan(codes)]).astype(int).tolist()
    names = dict(LeadSeller.objects.filter(pk__in=numbers).values_list("pk", "seller_id"))
    known = dict(Seller.objects.filter(pk__in=names.values()).values_list("pk", "name"))
    runs: list[Held] = []
    before = np.nan
    for at, code in enumerate(codes.tolist()):
        if not np.isnan(code):
            if code == before:
                last = runs.pop()
                runs.append(Held(last.seller, last.first, last.periods + 1))
            else:
                name = names[int(code)]
                runs.append(Held(known.get(name, name), period.start(first + at), 1))
        before = code
    return runs
