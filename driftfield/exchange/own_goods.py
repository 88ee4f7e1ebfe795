"""One's own goods, now and before: which of them it may pay to order again, and why."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any, Protocol

import numpy as np

from driftfield.core.base import (
    Bools,
    CoreError,
    Floats,
    Ints,
    Settings,
    format_change,
    format_interval,
)
from driftfield.core.market import LISTING, NICHE, run_listings, run_market

from .market_data import MarketInput
from .package import Package
from .pasted import Pasted, pasted_ids
from .sieved import FileColumns
from .storefronts import Storefronts, chosen_sellers, storefronts_of

SOON = 60  # Days until the order-by date within which a season is near; our choice.
RISE = 0.1  # Change of the price in 13 weeks from which it has risen; by default.
HARDLY = 52  # Units a year under which a good hardly sells; our choice.
UNSURE = (
    -0.25
)  # Change a year that must be ruled out before demand is said not to fall; our choice.
EMPTY = 0.5  # Time in stock under which others cannot deliver; our choice.
COLUMNS = (
    "listing_id", "name", "carried_now", "since", "until", "price", "price_change_13w", "units_52w",
    "estimated_units", "own_units", "demand_low", "demand_high", "demand_from", "sleeper", "order_by",
    "rivals", "in_stock", "reasons", "sentence",
)  # fmt: skip


class Read(Protocol):
    """Subjects that were read, by files or by the application."""

    def figure(self, key: str) -> np.ndarray:
        """A figure of all of them, NaN for unknown; of words the place among its choices."""


@dataclass(frozen=True, slots=True)
class Own:
    """One's own goods.

    place: of the listings. now: whether one of one's sellers has it. since, until: when one had it, NaN for
    unknown, infinite for what goes on. rivals: other sellers who have it now.
    """

    place: Ints
    now: Bools
    since: Floats
    until: Floats
    rivals: Ints

    @classmethod
    def of(cls, shops: Storefronts, sellers: Sequence[str], pasted: Sequence[int] = ()) -> Own:
        """All that some sellers have, or had, by the as-of, and listings ``pasted`` by their places."""
        codes = np.array([shops.sellers[one] for one in sellers], dtype=np.int64)
        day, every = shops.day.toordinal(), shops.shelves.offers
        rows, _ = shops.shelves.rows_of(codes)
        mine = every.take(rows)
        mine = mine.take(np.flatnonzero(~(mine.since > day)))
        place = np.unique(np.concatenate([mine.listing, np.array(pasted, dtype=np.int64)]))
        at = np.searchsorted(place, mine.listing)
        now = np.zeros(len(place), dtype=bool)
        now[at[mine.until >= day]] = True
        since, until = np.full(len(place), np.inf), np.full(len(place), -np.inf)
        np.fmin.at(since, at, mine.since)
        np.maximum.at(until, at, mine.until)
        others = np.flatnonzero(
            ~(every.since > day) & (every.until >= day) & ~np.isin(every.seller, codes)
            & np.isin(every.listing, place)
        )  # fmt: skip
        span = len(shops.sellers) + 1
        pairs = np.unique(every.listing[others] * span + every.seller[others]) // span
        many = np.bincount(np.searchsorted(place, pairs), minlength=len(place))
        return cls(
            place, now, np.where(np.isinf(since), np.nan, since),
            np.where(np.isinf(until) & (until < 0), np.nan, until), many,
        )  # fmt: skip

    def take(self, rows: Ints, place: Ints) -> Own:
        """Some of them, whose places are ``place`` where they are now looked up."""
        return Own(place, self.now[rows], self.since[rows], self.until[rows], self.rivals[rows])


def own_goods(
    own: Own,
    listings: Read,
    niches: Read,
    niche: Ints,
    names: Mapping[str, Sequence[str]],
    rise: float,
    planning: date,
) -> list[dict[str, Any]]:
    """A record of each of one's own goods, those with most reasons to order again first, then by units.

    Parameters
    ----------
    own : Own
        The goods.
    listings, niches : Read
        The market's listings and niches.
    niche : array (listings,)
        Place of each listing's niche, −1 for none.
    names : mapping
        Ids and names of the listings, as “id” and “name”.
    rise : float
        Change of the price in 13 weeks, as a fraction, from which it has risen.
    planning : date
        The day of ordering.

    Returns
    -------
    list of dict
        COLUMNS each. Demand is that of the niche, else its own sales; it holds unless all of the interval of
        its drift lies under 0. reasons: “price” where the price rose while demand holds, “season” where the
        order-by date of its coming season is near, “rivals” where nobody else offers it, by the offers and by
        their number in its history, or those who do are out of stock, while demand holds. None of what is
        known to sell under HARDLY a year.

    Raises
    ------
    CoreError
        For a rise that is no positive fraction.
    """
    if not 0 < rise < math.inf:
        raise CoreError(f"The rise of the price must be above 0%; got {rise:.0%}.")
    at = own.place

    def of(key: str) -> Floats:
        values: Floats = listings.figure(key)[at].astype(np.float64)
        return values

    home = niche[at]
    by_niche = home >= 0
    demand = {
        end: np.where(by_niche, niches.figure(key)[home] if len(niches.figure(key)) else np.nan, of(key))
        for end, key in (("low", "drift_low"), ("high", "drift_high"))
    }  # fmt: skip
    change, offers, stock = (
        of("listing.price_change_13w"),
        of("listing.offers"),
        of("listing.in_stock"),
    )
    days = of("sleep.order_in_days")
    units, guess, sold = (
        of("sales.units_52w"),
        of("listing.estimated_units"),
        of("listing.own_units"),
    )
    # What hardly sells is nothing to order again, whoever else has it; what one sold is no estimate.
    many_a_year = np.where(np.isnan(units), np.where(np.isnan(sold), guess, sold), units)
    sells = ~(many_a_year < HARDLY)
    holds = (demand["high"] >= 0) & sells
    reasons = {
        "price": (change >= rise - 1e-9) & holds,
        "season": (days >= 0) & (days <= SOON) & sells,
        # One's own offer is nobody else's; and neither source may say that there are others.
        "rivals": (((own.rivals == 0) & ~(offers > own.now)) | (stock < EMPTY)) & holds,
    }
    many = sum(mark.astype(int) for mark in reasons.values())
    order = np.lexsort((at, -np.nan_to_num(many_a_year, nan=-1), -np.asarray(many)))
    values = {
        "price": of("listing.price"), "price_change_13w": change, "units_52w": units,
        "estimated_units": guess, "own_units": sold, "demand_low": demand["low"],
        "demand_high": demand["high"], "in_stock": stock,
    }  # fmt: skip
    states = of("sleep.state")
    rows = []
    for row in order.tolist():
        why = [name for name, mark in reasons.items() if mark[row]]
        told = {key: _number(one[row]) for key, one in values.items()}
        order_by = None if math.isnan(days[row]) else planning + timedelta(days=int(days[row]))
        record = {
            "listing_id": names["id"][at[row]], "name": names["name"][at[row]],
            "carried_now": bool(own.now[row]), "since": _day(own.since[row]), "until": _day(own.until[row]),
            **told, "demand_from": "its niche" if by_niche[row] else "its own sales",
            "sleeper": {0: "Asleep", 1: "In season"}.get(int(np.nan_to_num(states[row], nan=-1))),
            "order_by": None if order_by is None else order_by.isoformat(), "rivals": int(own.rivals[row]),
            "reasons": why,
        }  # fmt: skip
        record["sentence"] = _sentence(record, order_by)
        rows.append({key: record[key] for key in COLUMNS})
    return rows


def _number(value: float) -> float | None:
    return None if math.isnan(value) else round(float(value), 4)


def _day(ordinal: float) -> str | None:
    return date.fromordinal(int(ordinal)).isoformat() if math.isfinite(ordinal) else None


def _sentence(record: Mapping[str, Any], order_by: date | None) -> str:
    """Why it may pay to order it again; that nothing says so, where nothing does."""
    firm = []  # What counts only while demand holds.
    if "price" in record["reasons"]:
        firm.append(
            f"its price rose by {format_change(record['price_change_13w']).lstrip('+')} in 13 weeks"
        )
    if "rivals" in record["reasons"]:
        empty = record["in_stock"] is not None and record["in_stock"] < EMPTY
        firm.append(
            f"it was in stock for {record['in_stock']:.0%} of the last four weeks"
            if empty
            else "nobody else offers it"
        )
    parts = []
    if firm:
        sure = format_interval(record["demand_low"], record["demand_high"])
        whose = (
            "what it sells" if record["demand_from"] == "its own sales" else "demand in its niche"
        )
        unsure = not record["demand_low"] >= UNSURE
        told = (
            f"; whether {whose} falls is not known"
            if unsure
            else f" while {whose} is not seen to fall"
        )
        parts.append(f"{' and '.join(firm)}{told} ({sure} a year)")
    if "season" in record["reasons"] and order_by is not None:
        parts.append(f"its season comes: order by {order_by.day} {order_by:%b %Y}")
    if not parts:
        return "Nothing says so yet."
    text = "; ".join(parts)
    return f"{text[0].upper()}{text[1:]}."


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
