"""Listings with their facts, history and offers, from the database to the arrays the core reads."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any

import numpy as np
import polars as pl
from django.db.models import Model, QuerySet

from driftfield.core.base import Period
from driftfield.core.market import CategoryTree
from driftfield.core.supply import LISTING_MEASURES, SALES_MEASURES, History, Listings
from driftfield.exchange.listing_data import FACTS, SIDES, listings_of, seller_codes
from driftfield.market.curves import matrix, spanning
from driftfield.market.models import (
    Brand,
    LeadSeller,
    Listing,
    ListingCurve,
    ListingSalesCurve,
    Offer,
    PackedCurve,
    SalesCurve,
    Seller,
)  # fmt: skip

CATEGORY_ID = "category__category_id"
FEW = 5_000  # Keys up to which rows are asked for by key; more are found by walking the table.
TEXT = {"brand": pl.String, "seller_id": pl.String, "launched_on": pl.Date, CATEGORY_ID: pl.String}


def load_listings(listings: dict[int, int], tree: CategoryTree | None = None) -> Listings:
    """Some listings by key, in the order of their places; the tables as they came in, read alike.

    ``tree``: the categories among which theirs are numbered.
    """
    ids = [str(pk) for pk in listings]
    frames = {"listings": _facts(listings), "offers": _offers(listings)}
    history, leads = _history(listings)
    own = _curves(listings, ListingSalesCurve, SALES_MEASURES)
    brands = frames["listings"]["brand"].drop_nulls().unique().to_list()
    named = pl.concat(frames[table]["seller_id"] for table in ("listings", "offers"))
    sellers = sorted({*named.drop_nulls().to_list(), *leads.values()})
    people: tuple[tuple[str, type[Model], list[str]], ...]
    people = (("brands", Brand, brands), ("sellers", Seller, sellers))
    for name, model, known in people:
        rows: Any = _only(model._default_manager.all(), "id", known)
        schema: Any = {
            "id": pl.String, "name": pl.String, "first_seen": pl.Date, "own_retail": pl.Boolean,
        }  # fmt: skip
        frames[name] = pl.DataFrame(list(rows.values(*schema)), schema=schema)
    frames = {name: frame for name, frame in frames.items() if frame.height}
    if history is not None and leads:
        frames["listing_weeks"] = pl.DataFrame({"lead_seller_id": list(leads.values())})
        _recode(history, leads, seller_codes(frames))
    return listings_of(ids, frames, history, tree, own)


def listing_names(keys: Sequence[int]) -> dict[str, list[str | None]]:
    """Id, title, brand and seller of some listings by key, in that order; None for unknown."""
    wanted = _only(Listing.objects.all(), "pk", set(keys))
    rows = {
        pk: (own, title or own, brand, seller)
        for pk, own, title, brand, seller in wanted.values_list(
            "pk", "listing_id", "title", "brand", "seller_id"
        )
    }
    columns = [[rows[key][at] or None for key in keys] for at in range(4)]
    return dict(zip(("listing_id", "name", "brand", "seller_id"), columns, strict=True))


def _only(rows: QuerySet[Any], key: str, keys: Collection[Any]) -> QuerySet[Any]:
    """Rows that may hold ``keys``; those of other keys are still among them where there are many."""
    return rows.filter(**{f"{key}__in": list(keys)}) if len(keys) <= FEW else rows


def _facts(listings: dict[int, int]) -> pl.DataFrame:
    """The table of listings, known by their keys as text."""
    numbers: dict[str, Any] = dict.fromkeys([*FACTS, *SIDES], pl.Float64)
    rows: dict[int, dict[str, Any]] = {}
    attributes: set[str] = set()
    wanted = _only(Listing.objects.all(), "pk", listings)
    for row in wanted.values("pk", "attributes", *TEXT, *numbers).iterator():
        if row["pk"] in listings:
            rows[row["pk"]] = row
            attributes |= set(row["attributes"])
    columns: dict[str, Any] = {"listing_id": [str(pk) for pk in rows]}
    columns |= {name: [row[name] for row in rows.values()] for name in (*TEXT, *numbers)}
    columns |= {
        f"attr_{name}": [row["attributes"].get(name) for row in rows.values()]
        for name in sorted(attributes)
    }
    schema = {"listing_id": pl.String, **TEXT, **numbers}
    schema |= {f"attr_{name}": pl.String for name in attributes}
    frame = pl.DataFrame(columns, schema_overrides=schema, strict=False)
    return frame.rename({CATEGORY_ID: "category_id"})


def _offers(listings: dict[int, int]) -> pl.DataFrame:
    wanted = _only(Offer.objects.all(), "listing", listings)
    found = wanted.values_list("listing_id", "seller_id", "first_seen", "last_seen", "fulfilment")
    rows = [(str(pk), *rest) for pk, *rest in found if pk in listings]
    schema: Any = {
        "listing_id": pl.String, "seller_id": pl.String, "first_seen": pl.Date, "last_seen": pl.Date,
        "fulfilment": pl.String,
    }  # fmt: skip
    return pl.DataFrame(rows, schema=schema, orient="row")


def _history(listings: dict[int, int]) -> tuple[History | None, dict[int, str]]:
    """The curves of listings on one timeline, and the sellers of their lead offers by number."""
    history = _curves(listings, ListingCurve, LISTING_MEASURES)
    held = None if history is None else history.measures.get("lead_seller")
    numbers = [] if held is None else np.unique(held[~np.isnan(held)]).astype(int).tolist()
    sellers = _only(LeadSeller.objects.all(), "pk", numbers)
    return history, dict(sellers.values_list("pk", "seller_id"))


def load_own_sales(niches: dict[int, int]) -> History | None:
    """What the researcher sold of niches, where it is told by the niche; by key, in the order of their
    places."""
    return _curves(niches, SalesCurve, SALES_MEASURES)


def _curves(
    subjects: dict[int, int], model: type[PackedCurve], names: Sequence[str]
) -> History | None:
    """Measures of subjects by key on one timeline; None where nothing is known of any."""
    wanted = _only(model._default_manager.all(), "subject", subjects)
    columns = ("measure", "subject_id", "first", "values", "period")
    found = [row for row in wanted.values_list(*columns) if row[1] in subjects]
    if not found:
        return None
    # One period a market; should there be two, the finer one counts.
    period = Period.WEEK if any(row[4] == "week" for row in found) else Period.MONTH
    found = [row for row in found if row[4] == period.value]
    timeline = spanning(period, [(first, len(v) // 4) for _, _, first, v, _ in found])
    measures = {}
    for name in names:
        rows = [(subjects[s], first, bytes(v)) for m, s, first, v, _ in found if m == name]
        if rows:
            measures[name] = matrix(rows, len(subjects), timeline).astype(np.float32)
    return History(timeline, measures)


def _recode(history: History, names: dict[int, str], codes: dict[str, int]) -> None:
    """Lead sellers from their numbers to the codes all tables share."""
    held = history.measures.get("lead_seller")
    if held is None:
        return
    code = np.full(max(names) + 1, np.nan, dtype=np.float32)
    code[list(names)] = [codes[name] for name in names.values()]
    known = ~np.isnan(held)
    held[known] = code[held[known].astype(np.int64)]
