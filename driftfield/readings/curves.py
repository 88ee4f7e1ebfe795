"""The curves of one niche, demand and supply, worked out when asked for."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from driftfield.core.base import Floats, Settings, Timeline
from driftfield.core.curves import curve_detail
from driftfield.core.supply import History

from .niche_data import NicheData, load_niche_data
from .plain import plain
from .reading import Reading


@dataclass(frozen=True, slots=True)
class ShownCurve:
    """values: one a period from ``first``, None where unknown. seasonal: whether the calendar was
    taken out of them; False where it was not asked for or where the curve has no season."""

    key: str
    label: str
    unit: str
    period: str
    first: date
    values: list[float | None]
    seasonal: bool = False


# Key, label, unit, whether it counts something, its values and the time they stand on.
Made = tuple[str, str, str, bool, Floats, Timeline]


def niche_curves(
    reading: Reading, keys: Sequence[str] | None = None, *, without_season: bool = False
) -> list[ShownCurve]:
    """Searches, clicks, purchases and their rate; then what is known of the niche's listings.

    ``keys`` chooses among KEYS. ``without_season`` takes the calendar out of each curve that has one.
    """
    loaded = load_niche_data(reading)
    if loaded is None:
        return []
    wanted = set(KEYS if keys is None else keys)
    made = [one for one in (*_demand(loaded), *_supply(loaded)) if one[0] in wanted]
    return [shown_curve(one, loaded.settings if without_season else None) for one in made]


def price_curve(reading: Reading) -> ShownCurve | None:
    """What the niche's listings cost, period by period; None where that is not known."""
    loaded = load_niche_data(reading)
    found = iter(()) if loaded is None else _supply(loaded)
    return next((shown_curve(one) for one in found if one[0] == "price"), None)


def shown_curve(made: Made, settings: Settings | None = None) -> ShownCurve:
    """A curve as it is told; with ``settings`` without its season, if it has one."""
    key, label, unit, counts, values, timeline = made
    out = (
        None
        if settings is None
        else curve_detail(values, timeline, settings, counts=counts).without
    )
    told = [plain(value) for value in (values if out is None else out)]
    return ShownCurve(
        key, label, unit, timeline.period.value, timeline.start(0), told, out is not None
    )


def _demand(loaded: NicheData) -> Iterator[Made]:
    data = loaded.data
    searches = _sum(data.searches)
    yield "searches", "Searches", "searches", True, searches, data.timeline
    if data.clicks is not None:
        yield "clicks", "Clicks", "clicks", True, _sum(data.clicks), data.timeline
    if data.purchases is not None:
        purchases = _sum(data.purchases)
        with np.errstate(divide="ignore", invalid="ignore"):
            rate = np.where(searches > 0, purchases / searches, np.nan)
        yield "purchases", "Purchases", "purchases", True, purchases, data.timeline
        yield "purchase_rate", "Purchase rate", "purchases a search", False, rate, data.timeline


def _supply(loaded: NicheData) -> Iterator[Made]:
    """What the niche's listings did, period by period; a listing counts wholly where it is clicked."""
    history = loaded.listings.history
    if history is not None:
        for measure, key, label, unit, counts, together in SUPPLY:
            values = history.measures.get(measure)
            if values is not None:
                yield key, label, unit, counts, together(values.astype(float)), history.timeline
        if "price" in history.measures:
            brands = _brands(loaded, history)
            yield "brands", "Brands on sale", "brands", False, brands, history.timeline
        sellers = _sellers(loaded, history.timeline)
        if sellers is not None:
            yield "sellers", "Sellers", "sellers", False, sellers, history.timeline
    sponsored = _sponsored(loaded)
    if sponsored is not None:
        unit = "share, of those sponsored now"
        yield "sponsored", "Sponsored clicks", unit, False, sponsored, loaded.data.timeline


def _sum(rows: Floats) -> Floats:
    known = ~np.isnan(rows)
    return np.where(known.any(axis=0), np.nansum(rows, axis=0), np.nan)


def _middle(rows: Floats) -> Floats:
    out = np.full(rows.shape[1], np.nan)
    some = ~np.isnan(rows).all(axis=0)
    out[some] = np.nanmedian(rows[:, some], axis=0)
    return out


def _absent(rows: Floats) -> Floats:
    known = ~np.isnan(rows)
    many = known.sum(axis=0)
    return np.where(many > 0, 1 - np.nansum(rows, axis=0) / np.maximum(many, 1), np.nan)


def _many(rows: Floats) -> Floats:
    many = (~np.isnan(rows)).sum(axis=0).astype(np.float64)
    return np.where(many > 0, many, np.nan)


# Measure of a listing, key, label, unit, whether it counts something, and how listings are taken together.
SUPPLY: tuple[tuple[str, str, str, str, bool, Callable[[Floats], Floats]], ...] = (
    ("price", "price", "Price", "currency, median", False, _middle),
    ("units", "units", "Units", "units", True, _sum),
    ("sales_rank", "sales_rank", "Sales rank", "rank, median", False, _middle),
    ("offers", "offers", "Offers", "offers", False, _sum),
    ("in_stock", "out_of_stock", "Out of stock", "share of the time, mean", False, _absent),
    ("price", "listings", "Listings on sale", "listings", False, _many),
    ("reviews", "reviews", "Reviews", "reviews, median", False, _middle),
)
KEYS = (
    "searches", "clicks", "purchases", "purchase_rate", *(row[1] for row in SUPPLY), "brands",
    "sellers", "sponsored",
)  # fmt: skip


def _brands(loaded: NicheData, history: History) -> Floats:
    """Different brands with a listing that has a price, period by period."""
    brand = loaded.listings.brand
    on_sale = ~np.isnan(history.measures["price"]) & (brand >= 0)[:, None]
    many = [len(np.unique(brand[on_sale[:, at]])) for at in range(on_sale.shape[1])]
    return np.where(on_sale.any(axis=0), many, np.nan)


def _sellers(loaded: NicheData, timeline: Timeline) -> Floats | None:
    """Different sellers with an offer that stands at the end of each period."""
    offers = loaded.listings.offers
    if offers is None or not len(offers.seller):
        return None
    ends = [timeline.start(at + 1).toordinal() - 1 for at in range(timeline.length)]
    many = np.array([len(np.unique(offers.seller[offers.standing(day)])) for day in ends], float)
    return np.where(many > 0, many, np.nan)


def _sponsored(loaded: NicheData) -> Floats | None:
    """Share of the clicks that goes to listings sponsored now, in periods in which clicks were seen."""
    seen, sponsored = loaded.data.observed, loaded.listings.sponsored
    if seen is None or np.isnan(sponsored).all():
        return None
    length = loaded.data.timeline.length
    of_all = np.bincount(seen.at, weights=seen.share, minlength=length)
    paid = np.nan_to_num(sponsored)[seen.listing]
    of_them = np.bincount(seen.at, weights=seen.share * paid, minlength=length)
    return np.where(of_all > 0, of_them / np.where(of_all > 0, of_all, 1), np.nan)
