"""Stored readings as the frame that ``exchange.readings`` writes."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.market import FIGURES
from driftfield.exchange.readings import in_order, rounded, type_of

from .models import Reading, Run


def stored_frame(run: Run, keys: Sequence[int]) -> pl.DataFrame:
    """Readings of the niches ``keys`` of a run: one row each, a column a figure, in rank order.

    The same as ``analyse`` writes of the same figures.
    """
    wanted = set(keys)
    found = Reading.objects.filter(market=run.market).order_by("pk")
    names = ("niche__pk", "niche__niche_id", "niche__name", *(f.column for f in FIGURES))
    rows = [row for row in found.values_list(*names).iterator() if row[0] in wanted]
    columns: dict[str, pl.Series] = {
        "market_id": pl.Series([run.market.market_id] * len(rows), dtype=pl.String),
        "niche_id": pl.Series([row[1] for row in rows], dtype=pl.String),
        "name": pl.Series([row[2] for row in rows], dtype=pl.String),
    }
    for place, figure in enumerate(FIGURES, start=3):
        values = [_plain(row[place]) for row in rows]
        columns[figure.key] = rounded(figure, pl.Series(values, dtype=type_of(figure)))
    return in_order(pl.DataFrame(columns))


def _plain(value: Any) -> Any:
    if isinstance(value, date):
        return value.isoformat()
    return value.item() if isinstance(value, np.generic) else value
