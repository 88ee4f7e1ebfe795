"""What is kept beside figures: for lenses, for questions about the most clicked listings, and for plans.

A column a table of numbers, by a name that no figure has.
"""

from __future__ import annotations

import numpy as np
import polars as pl

from driftfield.core.base import Floats
from driftfield.core.market import SELLING, Workings, packed_launches
from driftfield.core.ranking import Normalised
from driftfield.core.supply import top_tables

# The normalised parts of headroom; figures of the most clicked listings, by TOP and their keys; what launches
# of a niche reached, flat: see ``market.outlook.packed_launches``.
PARTS, TOP, LAUNCHES = "#parts", "top.", "#launches"
CATEGORY_ID = "category_id"  # Of niches, whose figures do not name it.


def beside_columns(work: Workings) -> dict[str, pl.Series]:
    """These columns of the subjects that were read; without those of what is not known of them."""
    columns: dict[str, pl.Series] = {}
    if work.counts and work.normalised is not None:
        # Relative curves and categories are not ranked.
        columns[PARTS] = numbers(stored_logs(work.normalised))
    listings = work.data.listings
    if listings is not None and work.data.kind not in SELLING:
        tables = top_tables(work.supply.members, listings, work.timeline.end.toordinal())
        columns |= {f"{TOP}{key}": numbers(table) for key, table in tables.items()}
    return columns


def launch_columns(work: Workings) -> dict[str, pl.Series]:
    """What launches of each niche reached, for plans; nothing where that is not known."""
    packed = packed_launches(work)
    return {} if packed is None else {LAUNCHES: pl.Series(packed, dtype=pl.List(pl.Float32))}


def stored_logs(normalised: Normalised) -> Floats:
    """The normalised parts with NaN for unknown."""
    return np.where(normalised.known, normalised.logs, np.nan)


def numbers(rows: np.ndarray) -> pl.Series:
    """Several numbers a subject, NaN for unknown."""
    return pl.Series(np.ascontiguousarray(rows, dtype=np.float32))
