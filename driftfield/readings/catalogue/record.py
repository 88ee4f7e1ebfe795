"""A category as one record: what the page of it shows, for files and the command line."""

from __future__ import annotations

from dataclasses import asdict
from datetime import date
from typing import Any

import numpy as np

from driftfield.core.market import CATEGORY, FIGURES_BY_KEY
from driftfield.core.sentences import nested, verdict

from .found import CategoryReading
from .ranges import RANGES, ranges_of
from .returned import returned
from .sold import sold_overview
from .window import windows_of


def as_record(reading: CategoryReading) -> dict[str, Any]:
    """Where it lies, its verdict, figures, last weeks, ranges of its niches, what is sold and comes back."""
    figures = reading.figures
    found = {
        "market_id": reading.run.market.market_id,
        "category_id": reading.id,
        "name": reading.name,
        "above": [reading.tree.ids[place] for place in reading.above],
        "below": [reading.tree.ids[place] for place in reading.children.tolist()],
        "verdict": verdict(figures, int(reading.settings.lead_days), CATEGORY),
        "windows": [asdict(one) for one in windows_of(reading)],
        "ranges": [asdict(one) for one in ranges_of(reading, [FIGURES_BY_KEY[key] for key in RANGES])],
        "supply": asdict(sold_overview(reading)),
        "returned": asdict(returned(reading)),
        **nested(dict(figures)),
    }  # fmt: skip
    told: dict[str, Any] = _told(found)
    return told


def _told(value: Any) -> Any:
    """As JSON takes it: dates as text, unknown numbers as null."""
    if isinstance(value, dict):
        return {key: _told(one) for key, one in value.items()}
    if isinstance(value, list | tuple):
        return [_told(one) for one in value]
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, float | np.floating):
        return None if np.isnan(value) else float(value)
    return value
