"""What a decision remembers of its niche: the figures it was made with."""

from __future__ import annotations

from datetime import date
from typing import Any

from driftfield.core.market import FIGURES_BY_KEY
from driftfield.readings.models import Reading

# A choice, not the whole record: what a decision is made by, small enough for every pass to carry it.
REMEMBERED = (
    "rank", "headroom", "demand", "competition", "shape", "drift", "drift_rate_year", "growth_13w.drift",
    "searches_52w", "purchase_rate", "sales.units_52w", "sales.revenue_52w", "sales.price_median",
    "review_barrier", "competition_parts.click_breadth", "competition_parts.top_brand_share",
    "entry.launches_52w", "entry.success_rate", "barriers.sponsored_clicks", "order_by", "coverage",
    "signals",
)  # fmt: skip


def remember(reading: Reading) -> dict[str, Any]:
    """A reading's remembered figures as JSON can hold them; signals as their keys."""
    figures = {key: getattr(reading, FIGURES_BY_KEY[key].column) for key in REMEMBERED}
    figures["signals"] = sorted(one["signal"] for one in figures["signals"] or [])
    return {k: v.isoformat() if isinstance(v, date) else v for k, v in figures.items()}
