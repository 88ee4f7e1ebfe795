"""Writing readings: JSON lines of nested records, or CSV with a column a figure."""

from __future__ import annotations

from pathlib import Path
from typing import IO

import numpy as np
import polars as pl

from driftfield.core.figures import FIGURES, Figure, Kind
from driftfield.core.record import IDENTITY, nested

DECIMALS = 6
LISTS = {Kind.PROFILE, Kind.WEEKS}
FORMATS = ("jsonl", "csv")


def _column(figure: Figure, values: np.ndarray) -> pl.Series:
    if figure.kind is Kind.PROFILE:
        kept = pl.Series(~np.isnan(values[:, 0]))
        lists = pl.Series(np.round(values, DECIMALS)).cast(pl.List(pl.Float64))
        return pl.select(pl.when(kept).then(lists)).to_series()
    if figure.kind is Kind.WEEKS:
        return pl.Series(values.tolist(), dtype=pl.List(pl.Int64))
    if figure.kind is Kind.FLAG:
        return pl.Series(values.astype(bool))
    if values.dtype == object:
        return pl.Series(values.tolist(), dtype=pl.String)
    series = pl.Series(np.round(values, DECIMALS)).fill_nan(None)
    return series.cast(pl.Int64) if figure.kind is Kind.COUNT else series


def readings_frame(
    market_id: str, niches: list[str], names: list[str], figures: dict[str, np.ndarray]
) -> pl.DataFrame:
    """One row a niche, a column a figure (dotted keys), in rank order; unranked niches come last."""
    columns = {
        "market_id": pl.Series([market_id] * len(niches), dtype=pl.String),
        "niche_id": pl.Series(niches, dtype=pl.String),
        "name": pl.Series(names, dtype=pl.String),
    }
    assert set(columns) == set(IDENTITY)
    for figure in FIGURES:
        columns[figure.key] = _column(figure, figures[figure.key])
    # The tie rule: rank, then searches, then id, so that the order never depends on the input's.
    return pl.DataFrame(columns).sort(
        ["rank", "searches_52w", "niche_id"],
        descending=[False, True, False],
        nulls_last=True,
        maintain_order=True,
    )


def write_readings(frames: list[pl.DataFrame], out: Path | IO[bytes], format: str) -> None:
    """Write readings; ``format`` is one of FORMATS. Lists are joined by blanks in CSV."""
    frame = pl.concat(frames)
    if format == "csv":
        flat = [
            pl.col(f.key).cast(pl.List(pl.String)).list.join(" ").alias(f.column)
            if f.kind in LISTS
            else pl.col(f.key).alias(f.column)
            for f in FIGURES
        ]
        frame.select([*IDENTITY, *flat]).write_csv(out)
        return
    shape = nested({f.key: f for f in FIGURES})
    records = [
        pl.struct([pl.col(f.key).alias(tail) for tail, f in item.items()]).alias(head)
        if isinstance(item, dict)
        else pl.col(item.key)
        for head, item in shape.items()
    ]
    frame.select([*IDENTITY, *records]).write_ndjson(out)
