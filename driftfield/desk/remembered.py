"""What a decision remembers of its subject: the figures it was made with."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Any

from driftfield.core.market import FIGURES_BY_KEY, Figure, Kind

# A choice, not the whole record: what a decision is made by, small enough for every pass to carry it.
REMEMBERED = (
    "rank", "headroom", "demand", "competition", "shape", "drift", "drift_rate_year", "growth_13w.drift",
    "searches_52w", "purchase_rate", "sales.units_52w", "sales.revenue_52w", "sales.price_median",
    "review_barrier", "competition_parts.click_breadth", "competition_parts.top_brand_share",
    "openness", "settledness", "listing.price", "listing.reviews", "listing.offers", "sleep.state",
    "sleep.caught", "sleep.order_by", "carried.listings", "carried.price", "carried.came_52w", "carried.asleep",
    "entry.launches_52w", "entry.success_rate", "barriers.sponsored_clicks", "act.caught", "order_by",
    "coverage", "signals",
)  # fmt: skip


def remembered_figures(kind: Kind) -> list[Figure]:
    """The figures of a kind that its decisions remember."""
    return [FIGURES_BY_KEY[key] for key in REMEMBERED if kind in FIGURES_BY_KEY[key].kinds]


def remember(kind: Kind, figures: Mapping[str, Any]) -> dict[str, Any]:
    """Remembered figures as JSON can hold them; signals as their keys."""
    kept = {figure.key: figures[figure.key] for figure in remembered_figures(kind)}
    if "signals" in kept:
        kept["signals"] = sorted(one["signal"] for one in kept["signals"] or [])
    return {k: v.isoformat() if isinstance(v, date) else v for k, v in kept.items()}
