"""What a run stores of brands and sellers besides their figures: what they sell, and their goods."""

from __future__ import annotations

import numpy as np
import polars as pl

from driftfield.core.market import Workings
from driftfield.readings.load import Part
from driftfield.readings.store import CURVE, FROM, GOODS, MOVED, ON_SALE, PORTION

from .category_columns import start_column


def holder_columns(holders: Workings, part: Part) -> dict[str, pl.Series]:
    """The curve of each brand or seller, with what it begins, and what it has on sale, or had."""
    return {**_sold(holders), **_goods(holders, part)}


def _sold(holders: Workings) -> dict[str, pl.Series]:
    """The curves of brands or sellers, a row each, and with what they begin."""
    data = holders.data
    values = pl.Series(np.ascontiguousarray(data.searches, dtype=np.float32))
    return {f"{CURVE}{data.kind.curve}": values, FROM: start_column(data.timeline, holders.count)}


def _goods(holders: Workings, part: Part) -> dict[str, pl.Series]:
    """What each brand or seller has on sale, or had, a list each."""
    assert holders.holder is not None, "brands or sellers were read"
    goods = holders.holder.goods
    moved = np.full(len(goods.listing), None, dtype=object)
    moved[goods.came == 1] = "came"
    moved[goods.went == 1] = "went"  # What came and went within the year is gone.
    rows = pl.DataFrame(
        {
            "own": goods.groups.own, GOODS: np.array(part.listings, dtype=np.int64)[goods.listing],
            PORTION: goods.portion.astype(np.float32), ON_SALE: goods.now,
            MOVED: pl.Series(moved.tolist(), dtype=pl.Enum(["came", "went"])),
        }
    )  # fmt: skip
    each = rows.group_by("own", maintain_order=True).agg(GOODS, PORTION, ON_SALE, MOVED).sort("own")
    return {name: each[name] for name in (GOODS, PORTION, ON_SALE, MOVED)}
