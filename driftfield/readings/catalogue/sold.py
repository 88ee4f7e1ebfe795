"""What is sold in a category: by whom, how unevenly, at what prices, what is wanted, leads and is new."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Distribution, Floats, Ints, distribution
from driftfield.core.supply import (
    Holders,
    PriceSpread,
    Shared,
    ValueDemand,
    attribute_demand,
    holders,
    lorenz_points,
    price_spread,
    what_they_share,
)
from driftfield.market.models import Brand, Listing, Seller
from driftfield.readings.store import FACT

from .found import CategoryReading

TOP = 10  # Holders, leaders and new listings that are named.
NEW_DAYS = 26 * 7
ATTRIBUTE = f"{FACT}attr."
BINS = 10


@dataclass(frozen=True, slots=True)
class NamedHolder:
    """A brand or a seller with its share of a year's revenue, None where that is unknown."""

    id: str
    name: str
    listings: int
    share: float | None


@dataclass(frozen=True, slots=True)
class NamedHolders:
    """Those with most revenue. count: all; selling, selling_before: that sold in the last 52 weeks, in the 52
    before."""

    top: list[NamedHolder]
    count: int
    selling: int | None
    selling_before: int | None


@dataclass(frozen=True, slots=True)
class LedListing:
    """A listing that leads or is new. worked: as a launch, held against its niche; None where not judged."""

    id: str
    title: str
    brand: str
    price: float | None
    units: float | None
    revenue: float | None
    share: float | None
    weeks: int | None
    reviews: float | None
    worked: bool | None


@dataclass(frozen=True, slots=True)
class SoldOverview:
    """All of it. lorenz_listings, lorenz_revenue: points of the curve, most first. attributes: by name."""

    listings: int
    brands: NamedHolders
    sellers: NamedHolders
    lorenz_listings: list[float]
    lorenz_revenue: list[float]
    prices: PriceSpread
    ratings: Distribution
    reviews: Distribution
    attributes: dict[str, list[ValueDemand]]
    leaders: list[LedListing]
    leaders_share: list[Shared]
    newest: list[LedListing]
    newest_share: list[Shared]


def sold_overview(reading: CategoryReading) -> SoldOverview:
    """What is sold in a category and below it, from the facts of its listings."""
    units, revenue = (reading.fact(name).astype(np.float64) for name in ("units", "revenue"))
    before = reading.fact("units_before").astype(np.float64)
    age = reading.fact("age_days")
    lorenz = lorenz_points(revenue)
    attributes = _attributes(reading)
    level = float(reading.settings.interval)
    leaders = _first(revenue, np.ones(len(revenue), dtype=bool))
    late = reading.fact("units_26w").astype(np.float64)
    weeks = np.maximum(np.where(np.isnan(age), np.nan, age) / 7, 1)
    newest = _first(late / weeks, (age >= 0) & (age < NEW_DAYS))
    return SoldOverview(
        listings=len(reading.listings),
        brands=_named(
            reading, "brand", holders(_codes(reading, "brand"), revenue, units, before, TOP)
        ),
        sellers=_named(
            reading, "seller", holders(_codes(reading, "seller"), revenue, units, before, TOP)
        ),
        lorenz_listings=lorenz[0],
        lorenz_revenue=lorenz[1],
        prices=price_spread(
            reading.fact("price").astype(np.float64), reading.fact("price_then").astype(np.float64)
        ),
        ratings=distribution(reading.fact("rating"), BINS),
        reviews=distribution(reading.fact("reviews"), BINS),
        attributes={
            name: found
            for name, (code, words) in attributes.items()
            if (found := attribute_demand(code, words, units, level))
        },
        leaders=_listed(reading, leaders, revenue),
        leaders_share=what_they_share(attributes, _marks(leaders, len(revenue))),
        newest=_listed(reading, newest, revenue),
        newest_share=what_they_share(attributes, _marks(newest, len(revenue))),
    )


def _marks(places: Ints, n: int) -> np.ndarray:
    marks = np.zeros(n, dtype=bool)
    marks[places] = True
    return marks


def _first(values: Floats, among: np.ndarray) -> Ints:
    """Places of those with the highest known values."""
    rows = np.flatnonzero(among & ~np.isnan(values))
    return rows[np.argsort(-values[rows], kind="stable")][:TOP]


def _codes(reading: CategoryReading, name: str) -> Ints:
    found = reading.fact(name)
    return np.where(np.isnan(found), -1, found).astype(np.int64)


def _attributes(reading: CategoryReading) -> dict[str, tuple[Ints, list[str]]]:
    """Codes of the category's listings by attribute, with the words that they stand for."""
    found = {}
    for column_name in reading.listing_columns.names_with(ATTRIBUTE):
        column = reading.listing_columns.column(column_name)
        assert column is not None, "it is one of the run's"
        mine = column.gather(reading.listings).cast(str)
        words = mine.drop_nulls().unique(maintain_order=True).sort().to_list()
        place = {word: i for i, word in enumerate(words)}
        code = np.array([-1 if w is None else place[w] for w in mine.to_list()], dtype=np.int64)
        found[column_name.removeprefix(ATTRIBUTE)] = (code, words)
    return found


def _named(reading: CategoryReading, what: str, found: Holders) -> NamedHolders:
    """With the names of brands or sellers, by a listing that has each code."""
    code = _codes(reading, what)
    keys = reading.listing_columns.keys[reading.listings]
    some = {one.code: int(keys[int(np.flatnonzero(code == one.code)[0])]) for one in found.top}
    field = "brand" if what == "brand" else "seller_id"
    ids = dict(Listing.objects.filter(pk__in=some.values()).values_list("pk", field))
    model = Brand if what == "brand" else Seller
    names = dict(model.objects.filter(id__in=list(ids.values())).values_list("id", "name"))
    top = []
    for one in found.top:
        key = ids.get(some[one.code]) or ""
        top.append(NamedHolder(key, names.get(key, key), one.listings, _known(one.share)))
    return NamedHolders(top, found.count, found.selling, found.selling_before)


def _listed(reading: CategoryReading, places: Ints, revenue: Floats) -> list[LedListing]:
    keys = reading.listing_columns.keys[reading.listings][places].tolist()
    rows = {
        row["pk"]: row
        for row in Listing.objects.filter(pk__in=keys).values("pk", "listing_id", "title", "brand")
    }
    brands = dict(
        Brand.objects.filter(id__in=[row["brand"] for row in rows.values()]).values_list("id", "name")
    )  # fmt: skip
    total = float(np.nansum(revenue))
    facts = {
        name: reading.fact(name)[places]
        for name in ("price", "units", "age_days", "reviews", "worked")
    }
    found = []
    for i, key in enumerate(keys):
        if key not in rows:
            continue
        row, paid, age = rows[key], _known(revenue[places[i]]), _known(facts["age_days"][i])
        worked = facts["worked"][i]
        found.append(
            LedListing(
                id=row["listing_id"],
                title=row["title"],
                brand=brands.get(row["brand"] or "", row["brand"] or ""),
                price=_known(facts["price"][i]),
                units=_known(facts["units"][i]),
                revenue=paid,
                share=None if paid is None or total <= 0 else paid / total,
                weeks=None if age is None else int(age // 7),
                reviews=_known(facts["reviews"][i]),
                worked=bool(worked == 1) if worked in (0, 1) else None,
            )
        )
    return found


def _known(value: float) -> float | None:
    return None if np.isnan(value) else float(value)
