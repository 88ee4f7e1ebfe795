"""Listings: their facts, their history and who offers them."""

from __future__ import annotations

from dataclasses import dataclass, field, fields, replace
from datetime import date, timedelta
from typing import Any

import numpy as np
from numpy.typing import NDArray

from driftfield.core.base import Floats, Groups, Ints, Timeline, ratio

RUNNING = timedelta(days=7)  # after the as-of; what is known so late is known now
SALES_MEASURES = ("units", "revenue")
LISTING_MEASURES = ("price", "units", "sales_rank", "reviews", "offers", "in_stock", "lead_seller")


@dataclass(frozen=True, slots=True)
class History:
    """Curves of listings on a timeline of their own, (listings, length) each, NaN for absent.

    measures: by the names of MEASURES, those that are known. price is an average of the period,
    units its sum; lead_seller the seller's code.
    """

    timeline: Timeline
    measures: dict[str, NDArray[np.float32]]

    def upto(self, as_of: date) -> History | None:
        """What was known on ``as_of``; None when that is nothing."""
        if self.timeline.period.start(self.timeline.first_number + 1) > as_of:
            return None
        timeline = self.timeline.upto(as_of)
        return History(timeline, {k: v[:, : timeline.length] for k, v in self.measures.items()})

    def window(self, measure: str, weeks: int, back: int = 0) -> NDArray[np.float32] | None:
        """The columns of a measure that stand for ``weeks`` weeks, ending ``back`` weeks ago.

        None where the measure is unknown or the history does not reach as far back.
        """
        values = self.measures.get(measure)
        period = self.timeline.period
        end = self.timeline.length - (period.span(back) if back else 0)
        start = end - period.span(weeks)
        return None if values is None or start < 0 else values[:, start:end]

    def latest(self, measure: str) -> Floats | None:
        """The last known value of each listing, (listings,), NaN where none."""
        values = self.measures.get(measure)
        if values is None:
            return None
        seen = ~np.isnan(values)
        last = values.shape[1] - 1 - seen[:, ::-1].argmax(axis=1)
        found = values[np.arange(len(values)), last].astype(np.float64)
        return np.where(seen.any(axis=1), found, np.nan)


@dataclass(frozen=True, slots=True)
class Offers:
    """Who offered what and when, (offers,): codes of listing and seller, ordinals of first and last day.

    until is infinite while an offer stands. sent: 1 where the marketplace stores and sends it, 0 where the
    seller does, NaN for unknown; None where that is known of none.
    """

    listing: Ints
    seller: Ints
    since: Floats
    until: Floats
    sent: Floats | None = None

    def take(self, rows: Ints) -> Offers:
        """Some of the offers, in the order of ``rows``."""
        return Offers(
            self.listing[rows], self.seller[rows], self.since[rows], self.until[rows],
            None if self.sent is None else self.sent[rows],
        )  # fmt: skip

    def standing(self, day: int) -> NDArray[np.bool_]:
        """Which of them stood on a day, given by its ordinal."""
        return (self.since <= day) & (day <= self.until)


@dataclass(frozen=True, slots=True)
class People:
    """Brands or sellers by their codes, (people,): ids and names; since, ordinal of the day first seen, and
    own_retail, 1 for the marketplace itself and 0 for another; both NaN for unknown."""

    ids: list[str]
    names: list[str]
    since: Floats
    own_retail: Floats

    @classmethod
    def nobody(cls) -> People:
        """None at all."""
        return cls([], [], np.empty(0), np.empty(0))


@dataclass(frozen=True, slots=True)
class Listings:
    """Facts of listings, (listings,) each: NaN for unknown, −1 for an unknown code.

    brand, seller: codes; listings of one brand share one. category: its place in the market's tree.
    price in the market's currency, rating 0–5, quality 0–100, return_rate 0–1, weight_g grams, size_mm the
    longest side; sponsored and own_retail (brand or seller is the marketplace itself) 0 or 1. launched,
    brand_since, seller_since: ordinals of days. attributes: codes by attribute; words: what they stand for.
    brands, sellers: who the codes stand for. own_sales: units and revenue of the researcher's own sales, on a
    timeline of their own.
    """

    brand: Ints
    seller: Ints
    category: Ints
    price: Floats
    rating: Floats
    reviews: Floats
    launched: Floats
    weight_g: Floats
    size_mm: Floats
    quality: Floats
    sponsored: Floats
    return_rate: Floats
    own_retail: Floats
    brand_since: Floats
    seller_since: Floats
    attributes: dict[str, Ints] = field(default_factory=dict)
    words: dict[str, list[str]] = field(default_factory=dict)
    brands: People = field(default_factory=People.nobody)
    sellers: People = field(default_factory=People.nobody)
    history: History | None = None
    offers: Offers | None = None
    own_sales: History | None = None

    def __len__(self) -> int:
        return len(self.brand)

    @classmethod
    def unknown(cls, n: int) -> Listings:
        """``n`` listings of which nothing is known."""
        made: dict[str, Any] = {
            f.name: np.full(n, np.nan) if f.type == "Floats" else np.full(n, -1, dtype=np.int64)
            for f in fields(cls)
            if f.type in {"Floats", "Ints"}
        }
        return cls(**made)

    def upto(self, as_of: date) -> Listings:
        """The listings as they were known on ``as_of``.

        Where the history goes on after it, by more than the running period, price and reviews are the
        history's of that time. Rating, quality, sponsoring and returns have no history and stay.
        """
        own = None if self.own_sales is None else self.own_sales.upto(as_of)
        if self.history is None:
            return replace(self, own_sales=own)
        kept = self.history.upto(as_of)
        timeline = self.history.timeline
        if timeline.start(timeline.length - 1) <= as_of + RUNNING:
            return replace(self, history=kept, own_sales=own)
        nothing = np.full(len(self), np.nan)
        back: dict[str, Any] = {}
        for name in ("price", "reviews"):
            if name in self.history.measures:
                then = None if kept is None else kept.latest(name)
                back[name] = nothing if then is None else then
        return replace(self, history=kept, own_sales=own, **back)

    def take(self, which: Ints) -> Listings:
        """Some of the listings, in the order of ``which``; offers of the others are left out."""
        changes: dict[str, Any] = {
            f.name: getattr(self, f.name)[which]
            for f in fields(self)
            if isinstance(getattr(self, f.name), np.ndarray)
        }
        changes["attributes"] = {k: v[which] for k, v in self.attributes.items()}
        for name in ("history", "own_sales"):
            curves: History | None = getattr(self, name)
            if curves is not None:
                cut = {k: v[which] for k, v in curves.measures.items()}
                changes[name] = History(curves.timeline, cut)
        if self.offers is not None:
            place = np.full(len(self), -1, dtype=np.int64)
            place[which] = np.arange(len(which))
            own = place[self.offers.listing]
            kept = np.flatnonzero(own >= 0)
            changes["offers"] = replace(self.offers.take(kept), listing=own[kept])
        return replace(self, **changes)


def window_sum(listings: Listings, measure: str, weeks: int, back: int = 0) -> Floats:
    """Sum of a measure over a window of the history, (listings,); NaN where all of it is unknown."""
    window = None if listings.history is None else listings.history.window(measure, weeks, back)
    if window is None:
        return np.full(len(listings), np.nan)
    known = ~np.isnan(window)
    return np.where(known.any(axis=1), np.where(known, window, 0).sum(axis=1), np.nan)


def window_mean(listings: Listings, measure: str, weeks: int, back: int = 0) -> Floats:
    """Mean of a measure over a window of the history, (listings,); NaN where all of it is unknown."""
    window = None if listings.history is None else listings.history.window(measure, weeks, back)
    if window is None:
        return np.full(len(listings), np.nan)
    known = (~np.isnan(window)).sum(axis=1)
    return ratio(np.where(np.isnan(window), 0, window).sum(axis=1), known.astype(float))


def unsponsored_sum(groups: Groups, sponsored: Floats, values: Floats) -> Floats:
    """Sums of values over the listings of each group that are known not to be sponsored, (groups,).

    ``sponsored`` (rows,) is 1, 0 or NaN. 0 where all of a known value are sponsored; NaN where none is known
    not to be, and of some it is not known.
    """
    plain = groups.sum(np.where(sponsored == 0, values, np.nan))
    others = groups.count(np.where(sponsored == 1, values, np.nan)) > 0
    open_ = groups.count(np.where(np.isnan(sponsored), values, np.nan)) > 0
    return np.where(np.isnan(plain) & others & ~open_, 0.0, plain)
