"""How units estimated from ranks compare with own sales, category by category and listing by listing."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from itertools import takewhile
from typing import Any, Protocol

import numpy as np

from driftfield.core.base import CoreError, Ints, Settings
from driftfield.core.market import CategoryTree, run_listings, run_market
from driftfield.core.sentences import missed_text, own_sentence

from .market_data import MarketInput
from .package import Package
from .sieved import FileColumns

COLUMNS = (
    "category", "ratio", "low", "high", "own_listings", "assumed", "estimates", "corrected", "sentence",
)  # fmt: skip
OF_LISTINGS = ("listing_id", "name", "sold", "ratio", "sentence")
_TOLD = ("correction", "correction_low", "correction_high", "correction_from", "correction_assumed")
EVERY = "All categories"
# A category and those above it, from the top.
Line = Callable[[int], tuple[str, ...]]


class Read(Protocol):
    """Listings that were read, by files or by the application."""

    def figure(self, key: str) -> np.ndarray:
        """A figure of all of them, NaN for unknown; of words the place among its choices."""


def own_checks(listings: Read, category: Ints, line: Line) -> list[dict[str, Any]]:
    """What own sales say of estimates, a record of COLUMNS for each group of listings that they tell of.

    ``category`` (listings,): of each listing, −1 for none; ``line``: what such a number stands for. A record's
    category is the lowest that all of the group's listings lie in. Those with most estimates come first.
    """
    figures = [listings.figure(f"listing.{key}") for key in _TOLD]
    told = np.flatnonzero(~np.isnan(figures[0]))
    if not told.size:
        return []
    values, group = np.unique(
        np.column_stack([one[told] for one in figures]), axis=0, return_inverse=True
    )
    group = group.reshape(-1)
    estimated = ~np.isnan(listings.figure("listing.estimated_units")[told])
    corrected = listings.figure("listing.corrected")[told] == 1
    rows = []
    for at, (ratio, low, high, many, assumed) in enumerate(values.tolist()):
        inside = group == at
        codes = np.unique(category[told[inside]]).tolist()
        lines = [line(code) for code in codes if code >= 0]
        rows.append(
            {
                "category": " › ".join(_common(lines)) or EVERY,
                "ratio": round(ratio, 4), "low": round(low, 4), "high": round(high, 4),
                "own_listings": int(many), "assumed": int(assumed),
                "estimates": int((inside & estimated).sum()),
                "corrected": bool((inside & corrected).any()),
                "sentence": f"{missed_text(ratio, low, high, many, assumed)}.",
            }
        )  # fmt: skip
    return sorted(rows, key=lambda one: -one["estimates"])


def _common(lines: Sequence[tuple[str, ...]]) -> tuple[str, ...]:
    """What all lines begin with."""
    if not lines:
        return ()
    alike = (len(set(names)) == 1 for names in zip(*lines, strict=False))
    return lines[0][: sum(takewhile(bool, alike))]


def own_listings(listings: Read, names: Mapping[str, Sequence[str]]) -> list[dict[str, Any]]:
    """What the researcher sold of each listing and what its rank says, a record of OF_LISTINGS each.

    ``names``: ids and names of the listings, as “id” and “name”. Those that sold most come first; ratio is None
    where nothing is to be compared.
    """
    sold, ratio = listings.figure("listing.own_units"), listings.figure("listing.own_ratio")
    known = np.flatnonzero(~np.isnan(sold))
    rows = []
    for at in known[np.argsort(-sold[known], kind="stable")].tolist():
        times = None if np.isnan(ratio[at]) else round(float(ratio[at]), 4)
        figures = {"listing.own_units": float(sold[at]), "listing.own_ratio": times}
        rows.append(
            {
                "listing_id": names["id"][at], "name": names["name"][at], "sold": round(float(sold[at]), 2),
                "ratio": times, "sentence": own_sentence(figures),
            }
        )  # fmt: skip
    return rows


def find_checks(
    package: Package, markets: Sequence[MarketInput], settings: Settings, *, by_listing: bool
) -> list[dict[str, Any]]:
    """Records of all markets. Raises CoreError where no own sales of listings are known."""
    sales = package.frames.get("own_sales")
    if (
        sales is None
        or "listing_id" not in sales.columns
        or sales["listing_id"].null_count() == sales.height
    ):
        raise CoreError(
            "No own sales of listings are known. Give an own_sales table with a listing_id."
        )
    found: list[dict[str, Any]] = []
    for market in markets:
        listings = run_listings(run_market(market.data, settings), market.listing_ids)
        if listings is None:
            continue
        read = FileColumns(listings.data.kind, listings, market, package)
        if by_listing:
            names = [str(one) for one in market.identity(listings)["name"]]
            found += own_listings(read, {"id": market.listing_ids, "name": names})
            continue
        category = listings.data.category
        if category is None:
            category = np.full(listings.count, -1, dtype=np.int64)
        found += own_checks(read, category, lines_in(market.data.tree))
    return found


def lines_in(tree: CategoryTree | None) -> Line:
    """The names of a category and of those above it, from the top."""

    def line(code: int) -> tuple[str, ...]:
        names: list[str] = []
        while tree is not None and code >= 0:
            names.append(tree.names[code])
            code = int(tree.parent[code])
        return tuple(reversed(names))

    return line
