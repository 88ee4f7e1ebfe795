"""Parts of the composites: demand and competition of niches, openness and settledness of categories."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import DEFAULTS

DEMAND, COMPETITION = "demand", "competition"
OPEN, SETTLED = "openness", "settledness"


@dataclass(frozen=True, slots=True)
class Part:
    """One part of an index: its key, the figure it reads, its side and its weight by default.

    more_is_more: a higher figure means more of its side. lasting: of a Fad only what is left of it
    counts. why: what it stands for. column: what its part of the index is called among the figures; its key
    where it has no name of its own. The keys of parts of categories are the settings that hold their weights.
    """

    key: str
    figure: str
    side: str
    weight: float
    why: str
    more_is_more: bool = True
    lasting: bool = False
    column: str = ""


PARTS = (
    Part("searches", "open_searches_52w", DEMAND, 0.40, "how many look, brand and protected words left out",
         lasting=True),
    Part("purchases", "purchases_52w", DEMAND, 0.25, "how many buy", lasting=True),
    Part("revenue", "sales.revenue_52w", DEMAND, 0.15, "how much they spend", lasting=True),
    Part("drift", "drift_rate_year", DEMAND, 0.20, "where it goes without the calendar"),
    Part("top5", "competition_parts.top5_share", COMPETITION, 0.30, "what five listings hold"),
    Part("breadth", "competition_parts.click_breadth", COMPETITION, 0.15,
         "how many listings share the bulk", more_is_more=False),
    Part("brand", "competition_parts.top_brand_share", COMPETITION, 0.20, "what one brand holds"),
    Part("reviews", "review_barrier", COMPETITION, 0.20, "reviews a newcomer competes with"),
    Part("entry", "entry.success_low", COMPETITION, 0.10,
         "whether launches work, at the low end of the interval", more_is_more=False),
    Part("prices", "pressure.price_falling", COMPETITION, 0.05, "whether prices give way"),
    # Those that follow weigh nothing by default: they matter for one purpose and not for another.
    Part("steadiness", "steadiness", DEMAND, 0, "how evenly it sells through the year"),
    Part("purchase_rate", "purchase_rate", DEMAND, 0, "how many of those who look buy"),
    Part("price_level", "sales.price_median", DEMAND, 0, "how much a sale brings"),
    Part("lightness", "barriers.weight_g", COMPETITION, 0, "how heavy it is to send"),
    Part("capital", "sales.month_of_stock", COMPETITION, 0, "what a month of stock binds"),
)  # fmt: skip
SIDE = np.array([part.side == DEMAND for part in PARTS])
# Searches are the ground of demand: without them no other part speaks for it.
GROUND = 0


def _of(
    side: str, setting: str, column: str, figure: str, why: str, *, more_is_more: bool = True
) -> Part:
    weight = float(getattr(DEFAULTS, setting))
    return Part(setting, figure, side, weight, why, more_is_more, column=column)


OPENNESS = (
    _of(OPEN, "open_success", "success", "entry.success_low",
        "whether launches work, at the low end of the interval"),
    _of(OPEN, "open_newcomers", "newcomers", "newcomers.units_share_52w",
        "what listings that came within a year sell"),
    _of(OPEN, "open_spread", "spread", "competition_parts.top5_share",
        "what is left by the five most clicked listings", more_is_more=False),
    _of(OPEN, "open_reviews", "reviews", "review_barrier",
        "reviews a newcomer competes with", more_is_more=False),
)  # fmt: skip
SETTLEDNESS = (
    _of(SETTLED, "settled_share", "established", "established.units_share",
        "what listings over two years old sell"),
    _of(SETTLED, "settled_age", "age", "established.sold_age_days", "the age of what is sold"),
    _of(SETTLED, "settled_reviews", "reviews", "review_barrier",
        "reviews of the ten most clicked listings"),
)  # fmt: skip
OF_CATEGORIES = (*OPENNESS, *SETTLEDNESS)
