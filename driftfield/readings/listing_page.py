"""One listing by itself: its past, its sellers, the terms that lead to it, and others of its niche."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

import numpy as np

from driftfield.core.base import Period
from driftfield.core.market import FIGURES_BY_KEY, TERM
from driftfield.market.curves import unpack
from driftfield.market.models import ClickCurve, Offer, Seller

from .columns import columns_of
from .listing_history import ListingHistory, history_of
from .reading import ListingReading

MOST_TERMS, MOST_RIVALS = 12, 10
# What is told of those beside it.
BESIDE = tuple(
    FIGURES_BY_KEY[key]
    for key in (
        "listing.clicks_now", "listing.price", "sales.units_52w", "listing.reviews", "listing.offers",
        "sleep.state",
    )
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Sold:
    """A seller of a listing. since, until: None for unknown, and for an offer that stands. lead: share of the
    periods of the last year in which the lead offer is known that it held; None where it never is. fulfilment:
    who stores and sends it, empty for unknown."""

    id: str
    name: str
    since: date | None
    until: date | None
    lead: float | None
    fulfilment: str = ""


@dataclass(frozen=True, slots=True)
class Leading:
    """A term that leads to a listing. share: of its clicks in the latest weeks; searches: a year of it."""

    term: str
    niche: str
    share: float
    searches: float | None


@dataclass(frozen=True, slots=True)
class ListingPage:
    """beside: the most clicked listings of its niche, itself among them; ``id``, ``name`` and BESIDE by key."""

    history: ListingHistory
    sellers: list[Sold]
    terms: list[Leading]
    beside: list[dict[str, Any]]


def listing_page(reading: ListingReading) -> ListingPage:
    """All that the page of a listing shows besides its preview."""
    history = history_of(reading.listing, reading.run.as_of)
    return ListingPage(history, _sellers(reading, history), _terms(reading), _beside(reading))


def _sellers(reading: ListingReading, history: ListingHistory) -> list[Sold]:
    """Those with an offer by the as-of, standing ones first, and the one it names without one."""
    as_of = reading.run.as_of
    found = {
        (one.seller_id, one.first_seen): (one.first_seen, one.last_seen, one.fulfilment or "")
        for one in Offer.objects.filter(listing=reading.listing, first_seen__lte=as_of)
    }
    rows: list[tuple[str, date | None, date | None, str]] = [
        (seller, since, until if until is not None and until <= as_of else None, sent)
        for (seller, _), (since, until, sent) in found.items()
    ]
    named = reading.listing.seller_id
    if named and all(seller != named for seller, *_ in rows):
        rows.append((named, None, None, ""))
    names = dict(Seller.objects.filter(pk__in=[one for one, *_ in rows]).values_list("pk", "name"))
    held = _held_in_a_year(history)
    whole = sum(held.values())
    rows.sort(key=lambda row: (row[2] is not None, row[1] or date.min))
    return [
        Sold(
            seller, names.get(seller, seller), since, until,
            held.get(names.get(seller, seller), 0) / whole if whole else None, sent,
        )
        for seller, since, until, sent in rows
    ]  # fmt: skip


def _held_in_a_year(history: ListingHistory) -> dict[str, int]:
    """In how many periods of the last year that is known each seller held the lead offer, by name."""
    if not history.held or not history.curves:
        return {}
    step = Period(history.curves[0].period)
    runs = [(one.seller, step.number(one.first), one.periods) for one in history.held]
    end = max(first + many for _, first, many in runs)
    held: dict[str, int] = {}
    for seller, first, many in runs:
        inside = first + many - max(first, end - step.per_year)
        if inside > 0:
            held[seller] = held.get(seller, 0) + inside
    return held


def _terms(reading: ListingReading) -> list[Leading]:
    """Terms after which it is clicked in the latest weeks, those that bring most clicks first."""
    run, weeks = reading.run, int(reading.settings.click_weeks)
    columns = columns_of(run, TERM)
    searches = columns.figure("searches_52w")
    rows = ClickCurve.objects.filter(
        listing=reading.listing, measure="click_share", subject__market=reading.market
    ).values_list("subject_id", "period", "first", "values")
    found = []
    for term, period, first, values in rows:
        step = Period(period)
        last = step.number(run.as_of + timedelta(days=1)) - 1
        share = unpack(bytes(values))
        end = last - first + 1
        late = share[max(end - step.span(weeks), 0) : max(end, 0)]
        place = columns.place_of(term)
        if place is None or not (late > 0).any():
            continue
        many = float(searches[place])
        found.append(
            Leading(
                columns.ids[place], columns.owners[place], float(np.nanmean(late)),
                None if many != many else many,
            )
        )  # fmt: skip
    found.sort(key=lambda one: (-(one.share * (one.searches or 0)), one.term))
    return found[:MOST_TERMS]


def _beside(reading: ListingReading) -> list[dict[str, Any]]:
    columns = columns_of(reading.run, reading.kind)
    own = columns.owners[reading.place]
    if not own:
        return []
    places = np.flatnonzero([one == own for one in columns.owners])
    clicks = np.nan_to_num(columns.figure("listing.clicks_now")[places], nan=-1)
    best = places[np.argsort(-clicks, kind="stable")][:MOST_RIVALS]
    if reading.place not in best:
        best = np.append(best[: MOST_RIVALS - 1], reading.place)
    cells = {one.key: columns.cells(one, best) for one in BESIDE}
    return [
        {
            "id": columns.ids[place],
            "name": columns.names[place],
            **{k: v[at] for k, v in cells.items()},
        }
        for at, place in enumerate(best.tolist())
    ]
