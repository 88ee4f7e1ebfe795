"""Writing the figures of terms: CSV with a row a term."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import polars as pl

from driftfield.core.settings import Settings
from driftfield.core.terms import term_figures

from .market_data import MarketInput

DECIMALS = 6


def write_terms(markets: list[MarketInput], settings: Settings, out: Path) -> None:
    """Figures of every term of the markets' counts, by market, niche and term; unknown is empty."""
    frames = []
    for market in markets:
        data = market.data
        if not data.counts:
            continue
        niches = np.array(data.niches, dtype=object)[data.term_niche]
        columns = {
            "market_id": pl.Series([market.market_id] * len(niches), dtype=pl.String),
            "niche_id": pl.Series(niches.tolist(), dtype=pl.String),
            "term": pl.Series(market.terms, dtype=pl.String),
        }
        for key, values in term_figures(data, settings).items():
            columns[key] = pl.Series(np.round(values, DECIMALS)).fill_nan(None)
        frames.append(pl.DataFrame(columns).sort("niche_id", "term"))
    pl.concat(frames).write_csv(out)
