"""Niches of a category and of those below it."""

from __future__ import annotations

import numpy as np

from driftfield.core.base import Bools, CoreError

from .market_data import MarketInput
from .reader import Package


def subtree(package: Package, wanted: str) -> set[str]:
    """Ids of the categories that have this id or name, and of all below them.

    Raises CoreError when there are none.
    """
    frame = package.frames.get("categories")
    if frame is None:
        raise CoreError("There is no categories table to choose a category from.")
    rows = frame.to_dicts()
    low = wanted.lower()
    found = {r["category_id"] for r in rows if low in (r["category_id"].lower(), r["name"].lower())}
    if not found:
        names = ", ".join(sorted({r["name"] for r in rows})[:20])
        raise CoreError(f"There is no category “{wanted}”. Known, among others: {names}.")
    while more := {
        r["category_id"] for r in rows if r.get("parent_id") in found
    } - found:  # fmt: skip
        found |= more
    return found


def population(package: Package, market: MarketInput, wanted: str) -> Bools:
    """Which niches of a market lie in a category or below it, (niches,)."""
    inside = subtree(package, wanted)
    frame = package.frames.get("niches")
    if frame is None or "category_id" not in frame.columns:
        return np.zeros(len(market.data.subjects), dtype=bool)
    own = dict(zip(frame["niche_id"].to_list(), frame["category_id"].to_list(), strict=True))
    return np.array([own.get(niche) in inside for niche in market.data.subjects], dtype=bool)
