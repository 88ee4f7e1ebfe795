"""How figures are named in conditions."""

from __future__ import annotations

import re
from collections.abc import Iterable
from difflib import get_close_matches

from driftfield.core.market import FIGURES, FIGURES_BY_KEY, Figure, FigureType

from .quantities import CURRENCIES

NUMBERS = {
    FigureType.AMOUNT,
    FigureType.COUNT,
    FigureType.SHARE,
    FigureType.CHANGE,
    FigureType.RATIO,
    FigureType.SIGNED,
    FigureType.INDEX,
}
# Short names for what is asked most; the first one of a figure is the one that is written.
ALIASES = {
    "price": "sales.price_median", "units": "sales.units_52w", "revenue": "sales.revenue_52w",
    "searches": "searches_52w", "open searches": "open_searches_52w", "purchases": "purchases_52w",
    "rate": "purchase_rate", "drift": "drift_rate_year", "reviews": "review_barrier",
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
# What people call them besides; read, never written.
ALSO = {
    "median price": "sales.price_median", "prices": "sales.price_median", "turnover": "sales.revenue_52w",
    "search volume": "searches_52w", "volume": "searches_52w", "yearly searches": "searches_52w",
    "search": "searches_52w", "conversion": "purchase_rate", "conversion rate": "purchase_rate",
    "trend": "drift_rate_year", "review": "review_barrier", "number of reviews": "review_barrier",
    "stars": "barriers.rating", "click breadth": "competition_parts.click_breadth",
    "top 3 share": "competition_parts.top3_share", "share of the top three": "competition_parts.top3_share",
    "top brand": "competition_parts.top_brand_share", "first brand": "competition_parts.top_brand_share",
    "brand share": "competition_parts.top_brand_share", "success rate": "entry.success_rate",
    "longest side": "barriers.size_mm", "days to order": "act.order_in_days",
    "units sold": "sales.units_52w", "frontier": "frontier",
}  # fmt: skip
# A word for several figures: which is meant is asked back.
SEVERAL = {
    "growth": ("drift", "raw", "season part", "drift part"),
    "sales": ("units", "revenue", "purchases"),
    "share": ("brand", "top3"),
}
# Conditions on words were written with a name of their own.
_EARLIER = {"drift is": "drift"}


def asked(figure: Figure) -> bool:
    """Whether conditions can be put on a figure."""
    return figure.type in NUMBERS or takes_words(figure)


def takes_words(figure: Figure) -> bool:
    """Whether a condition says which words a figure is, and not how it compares."""
    return figure.type is FigureType.FLAG or bool(figure.choices)


def words_of(figure: Figure) -> tuple[str, ...]:
    """The words a figure can be, in their order in the columns."""
    return ("no", "yes") if figure.type is FigureType.FLAG else figure.choices


def _names(figures: Iterable[Figure], also: dict[str, str]) -> dict[str, str]:
    """Every way to name some figures, in lower case, with its key."""
    keys = [f.key for f in figures]
    names = {FIGURES_BY_KEY[key].label.lower(): key for key in keys}
    names |= {key.lower(): key for key in keys}
    return names | {name: key for name, key in also.items() if key in keys}


# Figures of numbers and of words apart: “drift > 8%” and “drift = Rising” name two of them.
NUMBER_NAMES = _names((f for f in FIGURES if f.type in NUMBERS), ALSO | ALIASES)
WORD_NAMES = _names((f for f in FIGURES if takes_words(f)), ALSO | ALIASES | _EARLIER)
_ALIAS_OF = {key: alias for alias, key in reversed(ALIASES.items())}


def short_name(figure: Figure) -> str:
    """The shortest way to type a figure: its alias, else its label in lower case."""
    return _ALIAS_OF.get(figure.key, figure.label.lower())


# The longest name first, so that of two that begin alike the longer one is found.
_KNOWN = sorted({*NUMBER_NAMES, *WORD_NAMES, *SEVERAL}, key=len, reverse=True)
_ANY = "|".join(re.escape(name) for name in _KNOWN)
_BEGINS = re.compile(rf"({_ANY})(?=[\s=<>≤≥:,±{CURRENCIES}~+\-−–]|[0-9.]|$)")


def name_at_start(low: str) -> str | None:
    """The longest name of a figure that a text in lower case begins with; None for none."""
    found = _BEGINS.match(low)
    return found and found[1]


def name_at_end(low: str) -> str | None:
    """The longest name of a figure that a text in lower case ends with; None for none."""
    for name in _KNOWN:
        if low == name or low.endswith(f" {name}"):
            return name
    return None


def alike(word: str, known: Iterable[str], most: int = 3) -> list[str]:
    """Known words that look like one that is none of them, in their own spelling."""
    spelt = {one.lower(): one for one in known}
    return [spelt[one] for one in get_close_matches(word.lower(), spelt, most, 0.72)]


def figures_alike(word: str) -> list[str]:
    """Short names of figures whose names look like a word."""
    found = alike(word, _KNOWN)
    keys = [NUMBER_NAMES.get(name) or WORD_NAMES.get(name) for name in found]
    return list(dict.fromkeys(short_name(FIGURES_BY_KEY[key]) for key in keys if key))
