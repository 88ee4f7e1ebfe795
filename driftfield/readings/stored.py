"""Stored readings as the frame that ``exchange.readings`` writes."""

from __future__ import annotations

import polars as pl

from driftfield.core.base import Ints
from driftfield.core.market import Kind, figures_of
from driftfield.exchange.columns import rounded, type_of
from driftfield.exchange.readings import in_order

from .models import Run
from .store import OWN, read_column


def stored_frame(run: Run, kind: Kind, places: Ints) -> pl.DataFrame:
    """Readings of the subjects at some places of a run: one row each, a column a figure, in rank order.

    The same as ``analyse`` writes of the same figures.
    """

    def chosen(name: str, dtype: pl.DataType | type[pl.DataType]) -> pl.Series:
        found = read_column(run, kind, name)
        if found is None:
            return pl.repeat(None, len(places), dtype=dtype, eager=True)
        return found.gather(places).cast(dtype)

    columns = {"market_id": pl.repeat(run.market.market_id, len(places), eager=True)}
    for name in kind.fields:
        if name not in columns:
            columns[name] = chosen(f"{OWN}{name}", pl.String)
    for figure in figures_of(kind):
        columns[figure.key] = rounded(figure, chosen(figure.key, type_of(figure)))
    return in_order(kind, pl.DataFrame(columns))
