"""The storefronts of a run's market, held in memory between requests."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from typing import Any

import numpy as np
import polars as pl
from django.db import connection

from driftfield.core.base import Floats, Ints
from driftfield.core.market import CATEGORY, FIGURES_BY_KEY, LISTING
from driftfield.core.supply import Listings, Offers, Shelves, all_offers
from driftfield.exchange.storefronts import Storefronts, rounded
from driftfield.market.models import Offer, Seller

from .catalogue.found import tree_of
from .columns import RunColumns, columns_of
from .models import Run

PAGE = 100_000  # Offers that are read at once.
# Figures of listings, as a record of what is carried names them.
NUMBERS = {
    "price": "listing.price", "units_52w": "sales.units_52w", "revenue_52w": "sales.revenue_52w",
    "estimated_units": "listing.estimated_units", "estimated_low": "listing.estimated_low",
    "estimated_high": "listing.estimated_high", "estimated_error": "listing.estimated_error",
    "estimated_from": "listing.estimated_from",
}  # fmt: skip


def shops_of(run: Run) -> Storefronts:
    """All storefronts that a run's market has, or had; none where it is not known who sells what."""
    columns = columns_of(run, LISTING)
    return columns.kept("shops", lambda: _made(run, columns))


def _made(run: Run, columns: RunColumns) -> Storefronts:
    named = columns.identity("seller_id")
    sellers, offers = _offers(run, columns, named)
    brands, brand = _codes(columns.identity("brand"))
    of_categories = columns_of(run, CATEGORY)
    tree = tree_of(of_categories) if of_categories.count else None
    place = of_categories.places if tree is not None else {}
    categories = columns.identity("category_id")
    category = np.array([place.get(one, -1) for one in categories], dtype=np.int64)
    known = dict(Seller.objects.values_list("pk", "name"))
    names: dict[str, list[str]] = {}
    for one in sellers:
        if one in known:
            names.setdefault(known[one], []).append(one)
    return Storefronts(
        ids=columns.ids,
        facts={
            "title": columns.names,
            "brand": [one or None for one in columns.identity("brand")],
            "category_id": [one or None for one in categories],
            **{name: rounded(columns.figure(key)) for name, key in NUMBERS.items()},
        },
        brand=brand, brands=brands, category=category, tree=tree, shelves=Shelves.of(offers), sellers=sellers,
        names=names, day=run.as_of,
    )  # fmt: skip


def _codes(texts: Sequence[str]) -> tuple[list[str], Ints]:
    """Distinct texts, and the place of each among them; −1 for an empty one."""
    words, code = np.unique(np.array(texts, dtype=object), return_inverse=True)
    if len(words) and words[0] == "":
        return words[1:].tolist(), code - 1
    return words.tolist(), code


def _offers(run: Run, columns: RunColumns, named: Sequence[str]) -> tuple[dict[str, int], Offers]:
    """Codes of the sellers of some listings, and the offers by the as-of, with those whom listings name."""
    rows = pl.DataFrame(
        {"key": columns.keys, "place": np.arange(columns.count)},
        schema={"key": pl.Int64, "place": pl.Int64},
    )
    own = pl.DataFrame({"seller": named}, schema={"seller": pl.String})
    parts = []
    with connection.cursor() as cursor:
        # Some millions of rows: read as they are stored, without a model each.
        cursor.execute(
            f"SELECT listing_id, seller_id, first_seen, last_seen FROM {Offer._meta.db_table} "
            "WHERE first_seen <= %s",
            [run.as_of.isoformat()],
        )
        while page := cursor.fetchmany(PAGE):
            frame = pl.DataFrame(
                page, orient="row",
                schema={"key": pl.Int64, "seller": pl.String, "first": pl.Date, "last": pl.Date},
            )  # fmt: skip
            parts.append(frame.join(rows, on="key", how="inner").drop("key"))
    found = pl.concat(parts) if sum(len(part) for part in parts) else None
    every = own["seller"].unique() if found is None else pl.concat(
        [own["seller"], found["seller"]]
    ).unique()  # fmt: skip
    ids = sorted(one for one in every.to_list() if one)
    codes = {one: code for code, one in enumerate(ids)}
    listings = Listings.unknown(columns.count)
    listings.seller[:] = [codes.get(one, -1) for one in named]
    known = None
    if found is not None:
        until = _ordinals(found["last"])
        known = Offers(
            found["place"].to_numpy(), found["seller"].replace_strict(codes, return_dtype=pl.Int64).to_numpy(),
            _ordinals(found["first"]), np.where(np.isnan(until), np.inf, until),
        )  # fmt: skip
    return codes, all_offers(replace(listings, offers=known))


def _ordinals(days: pl.Series) -> Floats:
    since_1970 = days.cast(pl.Int32).cast(pl.Float64).fill_null(np.nan).to_numpy()
    found: Floats = since_1970 + date(1970, 1, 1).toordinal()
    return found


# What a record of a listing shows besides: when it sells, and whether it sleeps.
BESIDE = tuple(FIGURES_BY_KEY[key] for key in ("shape", "sleep.state", "sleep.order_by"))


def beside(run: Run, listings: list[str]) -> list[dict[str, Any]]:
    """BESIDE of some listings by id, by key."""
    columns = columns_of(run, LISTING)
    places = np.array([columns.places[one] for one in listings], dtype=np.int64)
    cells = {one.key: columns.cells(one, places) for one in BESIDE}
    return [{key: values[at] for key, values in cells.items()} for at in range(len(listings))]
