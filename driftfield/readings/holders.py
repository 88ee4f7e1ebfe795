"""Who holds one niche: its listings, what they are like, and what became of those that came lately."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np

from driftfield.core.market.protected import protected_in
from driftfield.core.supply import (
    Judged,
    Spread,
    attribute_values,
    compare_medians,
    judge_launches,
    spread,
    window_mean,
    yearly,
)
from driftfield.market.models import Brand, Listing

from .load import protected_words
from .niche_data import NicheData, load_niche_data
from .plain import plain, plain_list, plain_row
from .reading import Reading

LAUNCHED = 104  # Weeks back to which launches stand on the time line.


@dataclass(frozen=True, slots=True)
class Launch:
    """A listing that came within two years. fate: worked or fell short, by the success bar; early,
    where it cannot be judged yet; gone, where nobody clicks it any more; stayed, where it is past
    its first year and clicked. amount: units (revenue, where an amount was set) in
    four average weeks of a year."""

    listing_id: str
    title: str
    launched_on: date
    fate: str
    amount: float | None
    click_share: float | None


@dataclass(frozen=True, slots=True)
class Holders:
    """listings: the most clicked, ``clicked_listings``' rows with their sales. bar: what a launch must
    reach in four average weeks, in ``bar_unit``. spreads: by fact. attributes: rows of ``AttributeValue``.
    winners: rows of ``Beside``, how launches that worked differ from the other listings, empty with
    under two."""

    listings: list[dict[str, Any]]
    launches: list[Launch]
    bar: float | None
    bar_unit: str
    spreads: dict[str, Spread]
    attributes: list[dict[str, Any]]
    winners: list[dict[str, Any]]


SPREADS = ("price", "reviews", "rating", "age_days")


def read_holders(reading: Reading, most: int) -> Holders:
    """The listings of a niche, most clicked first, at most ``most`` of them as rows."""
    loaded = load_niche_data(reading)
    if loaded is None or loaded.members is None:
        return Holders([], [], None, "units", {}, [], [])
    listings, members, now = loaded.listings, loaded.members, loaded.members.now
    day = loaded.data.timeline.end.toordinal()
    facts = loaded.facts()
    tried = judge_launches(members, listings, day, loaded.settings)
    page, clicks = members.listing[now], members.share[now, 0]
    units, _ = yearly(listings)
    values = {
        "price": listings.price[page], "reviews": listings.reviews[page],
        "rating": listings.rating[page],
        "age_days": np.where(tried.age[now] >= 0, tried.age[now], np.nan),
    }  # fmt: skip
    won = tried.won
    compared = compare_medians(listings, won, now & ~won, members.listing) if won.sum() > 1 else []
    return Holders(
        listings=_rows(loaded, facts, most),
        launches=_launches(loaded, facts, tried),
        bar=plain(float(tried.bar[0]), 2),
        bar_unit="revenue" if loaded.settings.success_revenue > 0 else "units",
        spreads={name: spread(values[name], clicks) for name in SPREADS},
        attributes=[
            plain_row(one) for one in attribute_values(listings, page, clicks, units[page])
        ],
        winners=[plain_row(one) for one in compared],
    )


def clicked_listings(reading: Reading, most: int) -> list[dict[str, Any]]:
    """The listings with the largest shares of the niche's clicks now, with their facts and sales.

    click_share, click_share_52w_ago: fractions of the niche's clicks in the latest weeks and a year
    ago. age_days: at the as-of. units_52w, revenue_52w: of the last year, by whatever niche they
    came. sales_rank, offers, in_stock: means of the last four weeks. trend: units by period of the
    last two years, oldest first. None for unknown.
    """
    loaded = load_niche_data(reading)
    return [] if loaded is None else _rows(loaded, loaded.facts(), most)


def _rows(loaded: NicheData, facts: Mapping[int, Listing], most: int) -> list[dict[str, Any]]:
    if loaded.members is None:
        return []
    listings, as_of = loaded.listings, loaded.as_of
    shares = loaded.members.share[loaded.members.now]
    brands = dict(
        Brand.objects.filter(pk__in={one.brand for one in facts.values()}).values_list("pk", "name")
    )
    units, revenue = yearly(listings)
    lately = {name: window_mean(listings, name, 4) for name in ("sales_rank", "offers", "in_stock")}
    history = listings.history
    sold = None if history is None else history.measures.get("units")
    many = 0 if history is None else history.timeline.period.span(104)
    shown = list(zip(loaded.clicked, shares.tolist(), strict=True))[:most]
    titles = [facts[loaded.keys[place]].title for place, _ in shown]
    held = protected_in(titles, protected_words())
    rows = []
    for (place, (share, *_, before)), word in zip(shown, held, strict=True):
        one = facts[loaded.keys[place]]
        since = one.launched_on
        rows.append(
            {
                "listing_id": one.listing_id,
                "title": one.title,
                "brand": brands.get(one.brand or "", one.brand),
                "price": plain(float(listings.price[place])),
                "rating": one.rating,
                "reviews": plain(float(listings.reviews[place])),
                "sponsored": one.sponsored,
                "age_days": None if since is None or since > as_of else (as_of - since).days,
                "quality": one.quality,
                "weight_g": one.weight_g,
                "return_rate": one.return_rate,
                "launched_on": since,
                "attributes": one.attributes,
                "protected": word,
                "click_share": plain(share),
                "click_share_52w_ago": plain(before),
                "units_52w": plain(float(units[place])),
                "revenue_52w": plain(float(revenue[place]), 2),
                **{name: plain(float(values[place]), 3) for name, values in lately.items()},
                "trend": [] if sold is None else plain_list(sold[place, -many:].astype(float)),
            }
        )
    return rows


def _launches(loaded: NicheData, facts: Mapping[int, Listing], tried: Judged) -> list[Launch]:
    members = loaded.members
    assert members is not None
    found = []
    for pair in np.flatnonzero((tried.age >= 0) & (tried.age < LAUNCHED * 7)):
        one = facts[loaded.keys[members.listing[pair]]]
        assert one.launched_on is not None
        found.append(
            Launch(
                one.listing_id, one.title, one.launched_on, _fate(tried, members.now, int(pair)),
                plain(float(tried.amount[pair]), 2), plain(float(members.share[pair, 0])),
            )
        )  # fmt: skip
    return sorted(found, key=lambda launch: (launch.launched_on, launch.listing_id))


def _fate(tried: Judged, now: np.ndarray, pair: int) -> str:
    if tried.judged[pair]:
        return "worked" if tried.won[pair] else "fell short"
    if not now[pair]:
        return "gone"
    return "early" if tried.age[pair] < 52 * 7 else "stayed"
