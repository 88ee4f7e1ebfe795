"""Readings of a run as the frame that ``exchange.readings`` writes."""

from __future__ import annotations

import polars as pl

from driftfield.core.base import Ints
from driftfield.core.market import Kind, figures_of
from driftfield.exchange.columns import rounded, type_of
from driftfield.exchange.readings import in_order

from .models import Run
from .store import OWN, read_columns


def stored_frame(run: Run, kind: Kind, places: Ints) -> pl.DataFrame:
    """Readings of the subjects at some places of a run: one row each, a column a figure, in rank order.

    The same as ``analyse`` writes of the same figures.
    """
    figures = figures_of(kind)
    own = [name for name in kind.fields if name != "market_id"]
    types = {f"{OWN}{name}": pl.String() for name in own} | {
        one.key: type_of(one) for one in figures
    }
    # Picked from each column as it is read: together they are as large as the market.
    picked = {name: column.gather(places) for name, column in read_columns(run, kind, types.keys())}
    none = pl.repeat(None, len(places), eager=True)
    frame = pl.DataFrame(
        {name: picked.get(name, none).cast(dtype) for name, dtype in types.items()}
    )
    return in_order(
        kind,
        frame.select(
            pl.lit(run.market.market_id).alias("market_id"),
            *(pl.col(f"{OWN}{name}").alias(name) for name in own),
            *map(rounded, figures),
        ),
    )
