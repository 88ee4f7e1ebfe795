"""Writing the figures of terms: CSV with a row a term."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import polars as pl

from driftfield.core.base import Settings
from driftfield.core.market import TERM_FIGURES, term_figures

from .formulas import guarded
from .market_data import MarketInput

DECIMALS = 6


def write_terms(markets: list[MarketInput], settings: Settings, out: Path) -> None:
    """Figures of every term of the markets' counts, by market, niche and term; unknown is empty."""
    known = dict.fromkeys(("market_id", "niche_id", "term"), pl.String())
    figures = dict.fromkeys(TERM_FIGURES, pl.Float64())
    # The head stands also where no market has counts.
    frames = [pl.DataFrame(schema={**known, **figures})]
    for market in markets:
        data = market.data
        if not data.counts:
            continue
        niches = np.array(data.subjects, dtype=object)[data.term_subject]
        columns = {
            "market_id": pl.Series([market.market_id] * len(niches), dtype=pl.String),
            "niche_id": pl.Series(niches.tolist(), dtype=pl.String),
            "term": pl.Series(market.terms, dtype=pl.String),
        }
        for key, values in term_figures(data, settings).items():
            columns[key] = pl.Series(np.round(values, DECIMALS), dtype=pl.Float64).fill_nan(None)
        frames.append(pl.DataFrame(columns).sort("niche_id", "term"))
    guarded(pl.concat(frames)).write_csv(out)
