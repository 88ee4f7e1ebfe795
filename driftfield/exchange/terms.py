"""Writing the figures of terms that say who takes the clicks: CSV with one row per term."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path

import numpy as np
import polars as pl

from driftfield.core.market import Workings

from .formulas import guarded
from .market_data import MarketInput

DECIMALS = 6
_CLICKS = "competition_parts."
# Columns of the file with the figures they hold.
TERM_COLUMNS = {
    "searches_52w": "searches_52w",
    "clicks_52w": "clicks_52w",
    "purchases_52w": "purchases_52w",
    "purchase_rate": "purchase_rate",
    "branded": "branded",
    **{
        name: f"{_CLICKS}{name}"
        for name in (
            "hhi_listings", "hhi_listings_high", "effective_listings", "click_breadth",
            "click_breadth_least", "top1_share", "top3_share", "top5_share", "top20_share", "gini",
            "accounted", "listings",
        )
    },
}  # fmt: skip


def write_terms(found: Iterable[tuple[MarketInput, Workings]], out: Path) -> None:
    """Figures of every term of the markets' counts, by market, niche and term; unknown is empty.

    ``found`` are markets with the run of their terms.
    """
    known = dict.fromkeys(("market_id", "niche_id", "term"), pl.String())
    figures = dict.fromkeys(TERM_COLUMNS, pl.Float64())
    # The head stands also where no market has counts.
    frames = [pl.DataFrame(schema={**known, **figures})]
    for market, work in found:
        if not market.data.counts:
            continue
        identity = market.identity(work)
        columns = {name: pl.Series(identity[name], dtype=pl.String) for name in known}
        for name, key in TERM_COLUMNS.items():
            values = work.figures[key]
            if name == "branded":
                values = np.array([{"no": 0.0, "yes": 1.0}.get(one, np.nan) for one in values])
            columns[name] = pl.Series(np.round(values, DECIMALS), dtype=pl.Float64).fill_nan(None)
        frames.append(pl.DataFrame(columns).sort("niche_id", "term"))
    guarded(pl.concat(frames)).write_csv(out)
