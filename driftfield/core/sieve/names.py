"""How figures are named in conditions."""

from __future__ import annotations

from driftfield.core.market import FIGURES, Figure, FigureType

NUMBERS = {
    FigureType.AMOUNT,
    FigureType.COUNT,
    FigureType.SHARE,
    FigureType.CHANGE,
    FigureType.RATIO,
    FigureType.SIGNED,
    FigureType.INDEX,
}
# Short names for what is asked most.
ALIASES = {
    "price": "sales.price_median", "units": "sales.units_52w", "revenue": "sales.revenue_52w",
    "searches": "searches_52w", "open searches": "open_searches_52w", "purchases": "purchases_52w",
    "rate": "purchase_rate", "drift": "drift_rate_year", "drift is": "drift", "reviews": "review_barrier",
    "breadth": "competition_parts.click_breadth", "top3": "competition_parts.top3_share",
    "brand": "competition_parts.top_brand_share", "hhi": "competition_parts.hhi_listings",
    "launches": "entry.launches_52w", "success": "entry.success_rate", "rating": "barriers.rating",
    "order within days": "order_in_days", "open days": "act.open_days", "caught": "act.caught",
    "running left": "act.running_left", "after arrival": "act.after_arrival_13w",
    "season part": "growth_13w.season",
    "drift part": "growth_13w.drift", "raw": "growth_13w.raw", "target": "target.multiple",
    "weight": "barriers.weight_g", "size": "barriers.size_mm",
    "returns": "barriers.return_rate", "sponsored": "barriers.sponsored_clicks",
}  # fmt: skip


def short_name(figure: Figure) -> str:
    """The shortest way to type a figure: its alias, else its label in lower case."""
    return next(
        (alias for alias, key in ALIASES.items() if key == figure.key), figure.label.lower()
    )


def asked(figure: Figure) -> bool:
    """Whether conditions can be put on a figure."""
    return figure.type in NUMBERS or figure.type is FigureType.FLAG or bool(figure.choices)


def _names() -> dict[str, str]:
    """Every way to name a figure, in lower case, with its key."""
    names = {f.label.lower(): f.key for f in FIGURES if asked(f)}
    names |= {f.key.lower(): f.key for f in FIGURES if asked(f)}
    return names | ALIASES


NAMES = _names()
