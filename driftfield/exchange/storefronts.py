"""Storefronts on files: what several sellers carry together, what they dropped and what recurs among them."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import Bools, CoreError, Floats, Groups, Ints
from driftfield.core.market import CategoryTree
from driftfield.core.supply import (
    Listings,
    Recurring,
    Shelves,
    Together,
    UnitsEstimate,
    all_offers,
    carried_together,
    dropped_together,
    recurring,
    units_by_rank,
    yearly,
)

from .completeness import last_complete
from .listing_data import history_of, listings_of, seller_codes
from .market_data import category_tree, interest_curves, term_curves
from .matrices import complete_until
from .package import Package
from .pasted import Pasted, pasted_ids

LISTED = (
    "listing_id", "title", "brand", "category_id", "price", "units_52w", "revenue_52w", "estimated_units",
    "estimated_low", "estimated_high", "estimated_error", "estimated_from", "sellers", "of", "carried_by",
    "first_seen", "last_seen", "mine",
)  # fmt: skip
RECURS = ("sellers", "of", "carried_by", "expected", "chance", "listings", "market_listings")
# What can be asked, with the fields of each record.
COLUMNS = {
    "listings": LISTED,
    "dropped": LISTED,
    "brands": ("brand", *RECURS),
    "categories": ("category_id", "name", *RECURS),
}


# What is told of a listing, of those fields that come from its tables alone.
FACTS = LISTED[1:12]


@dataclass(frozen=True, slots=True)
class Storefronts:
    """All offers of a market, or of a package of several, with what they are of.

    ids: of the listings. facts: by FACTS, a value a listing, None for unknown. brand: code of each listing's
    brand, −1 for unknown, and brands the ids of these codes; category: its place in ``tree``, −1 for none.
    sellers: code of each seller by id. names: ids by name. day: the as-of.
    """

    ids: Sequence[str]
    facts: Mapping[str, Sequence[Any]]
    brand: Ints
    brands: Sequence[str]
    category: Ints
    tree: CategoryTree | None
    shelves: Shelves
    sellers: Mapping[str, int]
    names: Mapping[str, list[str]]
    day: date


def storefronts_of(package: Package, as_of: date | None = None) -> Storefronts:
    """Read the storefronts of a package as they are known on its as-of.

    Raises CoreError where neither offers nor sellers of listings are known.
    """
    frames = package.frames
    curves = term_curves(package) if package.has_counts else interest_curves(package)
    if curves is None:
        raise CoreError("There is no term_weeks table, which says up to when the figures go.")
    values = curves.measures["searches" if package.has_counts else "index"]
    day, _ = last_complete(values, curves.timeline, as_of, complete_until(package.created))
    named = [
        frames[table]["listing_id"]
        for table in ("listings", "offers")
        if table in frames and frames[table].height
    ]
    ids = pl.concat(named).unique(maintain_order=True).to_list() if named else []
    tree = category_tree(package)
    period = package.periods.get("listing_weeks")
    history = None if period is None else history_of(ids, frames, period)
    listings = listings_of(ids, frames, history, tree).upto(day)
    offers = all_offers(listings)
    if not len(offers.listing):
        raise CoreError(NOBODY)
    names: dict[str, list[str]] = {}
    people = frames.get("sellers")
    if people is not None:
        for own, name in zip(people["id"], people["name"], strict=True):
            names.setdefault(name, []).append(own)
    many = frames["markets"].height if "markets" in frames else 1
    return Storefronts(
        ids=ids, facts=_facts(ids, frames.get("listings"), listings, tree, many), brand=listings.brand,
        brands=listings.brands.ids, category=listings.category, tree=tree, shelves=Shelves.of(offers),
        sellers=seller_codes(frames), names=names, day=day,
    )  # fmt: skip


NOBODY = (
    "It is not known who sells what: there is neither an offers table nor a seller_id in listings."
)


def _facts(
    ids: list[str],
    table: pl.DataFrame | None,
    listings: Listings,
    tree: CategoryTree | None,
    markets: int,
) -> dict[str, Sequence[Any]]:
    units, revenue = yearly(listings)
    estimate = _by_rank(listings, tree, markets)
    wanted = pl.DataFrame({"listing_id": pl.Series(ids, dtype=pl.String)})
    rows = wanted if table is None else wanted.join(
        table, on="listing_id", how="left", maintain_order="left"
    )  # fmt: skip
    texts = ("title", "brand", "category_id")
    numbers = {
        "price": listings.price, "units_52w": units, "revenue_52w": revenue,
        "estimated_units": estimate.units, "estimated_low": estimate.low, "estimated_high": estimate.high,
        "estimated_error": estimate.error, "estimated_from": estimate.rests_on,
    }  # fmt: skip
    return {
        **{
            name: rows[name].to_list() if name in rows.columns else [None] * len(ids)
            for name in texts
        },
        **{name: rounded(values) for name, values in numbers.items()},
    }


def rounded(values: Floats) -> list[float | None]:
    """Amounts to two decimals, None for unknown."""
    return [None if math.isnan(value) else round(value, 2) for value in values.tolist()]


def chosen_sellers(shops: Storefronts, text: str) -> Pasted:
    """The sellers whom a text names by id or by name, as ``pasted_ids`` finds them.

    A name that two sellers have is neither's. Raises CoreError where the text names none.
    """
    called = {one: one for one in shops.sellers}
    for name, own in shops.names.items():
        if name not in called and len(own) == 1:
            called[name] = own[0]
    pasted = pasted_ids(text, called)
    found = Pasted(list(dict.fromkeys(called[one] for one in pasted.ids)), pasted.unknown)
    if not found.ids:
        some = ", ".join(list(shops.sellers)[:3])
        raise CoreError(
            f"None of {', '.join(found.unknown[:3]) or 'the sellers'} is a seller here. Ids look like: {some}."
        )
    return found


def carried_records(
    shops: Storefronts,
    sellers: list[str],
    what: str,
    *,
    least: int,
    since: date | None,
    mine: list[str],
    lacking: bool = False,
) -> list[dict[str, Any]]:
    """What at least so many of some sellers carry, as JSON takes it.

    ``what`` is one of COLUMNS; ``since`` the day from which they may have carried it, None for what they carry
    at the as-of. ``mine`` are my own sellers, and ``lacking`` leaves out what these carry at the as-of.
    """
    codes = np.array([shops.sellers[one] for one in sellers], dtype=np.int64)
    last = float(shops.day.toordinal())
    first = last if since is None else float(since.toordinal())
    if first > last:
        raise CoreError(f"{since} lies after the as-of, {shops.day}: choose an earlier day.")
    if what in ("brands", "categories"):
        code = shops.brand if what == "brands" else shops.category
        if not (code >= 0).any():
            raise CoreError(f"The listings name no {what}.")
        found = recurring(_of_their_trees(shops, codes), code, codes, first, last, least)
        return _recurring(shops, what, found, sellers)
    if what == "dropped":
        long_ago = -math.inf if since is None else first
        together = dropped_together(shops.shelves, codes, long_ago, last, least)
    else:
        together = carried_together(shops.shelves, codes, first, last, least)
    own = _carried_now(shops, mine)
    if lacking and own is not None:
        kept = ~own[together.listing]
        together = Together(
            together.listing[kept], together.by[kept], together.since[kept], together.until[kept]
        )
    return _listed(shops, together, sellers, own)


def _of_their_trees(shops: Storefronts, sellers: Ints) -> Shelves:
    """Offers of listings in trees of categories in which one of the sellers ever offered something.

    A package may hold several markets, and what is sold in another is no choice that these sellers had.
    """
    category, tree = shops.category, shops.tree
    if tree is None:
        return shops.shelves
    top = np.where(category >= 0, tree.top[category], -1)[shops.shelves.offers.listing]
    theirs = np.unique(top[shops.shelves.rows_of(sellers)[0]])
    return Shelves.of(shops.shelves.offers.take(np.flatnonzero(np.isin(top, theirs))))


def _carried_now(shops: Storefronts, mine: list[str]) -> Bools | None:
    """Whether one of my sellers carries each listing at the as-of; None where none is mine."""
    if not mine:
        return None
    codes = np.array([shops.sellers[one] for one in mine], dtype=np.int64)
    day = float(shops.day.toordinal())
    out = np.zeros(len(shops.ids), dtype=bool)
    out[carried_together(shops.shelves, codes, day, day, 1).listing] = True
    return out


def _listed(
    shops: Storefronts, found: Together, sellers: list[str], own: Bools | None
) -> list[dict[str, Any]]:
    return [
        {
            "listing_id": shops.ids[listing],
            **{name: shops.facts[name][listing] for name in FACTS},
            "sellers": int(many), "of": len(sellers), "carried_by": _names(by, sellers),
            "first_seen": _day(since), "last_seen": _day(until),
            "mine": None if own is None else bool(own[listing]),
        }
        for listing, many, by, since, until in zip(
            found.listing.tolist(), found.sellers, found.by, found.since.tolist(),
            found.until.tolist(), strict=True,
        )
    ]  # fmt: skip


def _by_rank(listings: Listings, tree: CategoryTree | None, markets: int) -> UnitsEstimate:
    """Units of listings that have a rank alone, by their categories; by all listings where none are known.

    Ranks of two markets have nothing in common, and categories of two are never one.
    """
    category = listings.category
    rows = np.flatnonzero(category >= 0)
    if tree is None:
        rows = np.arange(len(listings) if markets == 1 else 0)
        return units_by_rank(listings, Groups(np.zeros_like(rows), 1), rows)
    return units_by_rank(listings, Groups(category[rows], len(tree), tree.lineage()), rows)


def _recurring(
    shops: Storefronts, what: str, found: Recurring, sellers: list[str]
) -> list[dict[str, Any]]:
    heads: list[tuple[str, ...]]
    if what == "brands":
        heads = [(shops.brands[code],) for code in found.code.tolist()]
    else:
        assert shops.tree is not None, "categories are known"
        tree = shops.tree
        heads = [(tree.ids[code], tree.names[code]) for code in found.code.tolist()]
    return [
        dict(
            zip(
                COLUMNS[what],
                (
                    *head, int(many), len(sellers), _names(by, sellers), round(expected, 3),
                    float(f"{chance:.3g}"), int(held), int(market),
                ),
                strict=True,
            )
        )
        for head, many, by, expected, chance, held, market in zip(
            heads, found.sellers, found.by, found.expected.tolist(), found.chance.tolist(),
            found.listings, found.market, strict=True,
        )
    ]  # fmt: skip


def _names(by: Bools, sellers: list[str]) -> list[str]:
    return [seller for seller, does in zip(sellers, by.tolist(), strict=True) if does]


def _day(ordinal: float) -> str | None:
    """A day as ISO 8601; None for unknown, and for what goes on."""
    return date.fromordinal(int(ordinal)).isoformat() if math.isfinite(ordinal) else None
