"""Thresholds of the signals, each beside the reason for it. Trade facts are marked as such."""

from __future__ import annotations

from driftfield.core.base import Threshold

FEW_PURCHASES = Threshold(
    "few_purchases",
    0.5,
    "Purchase rate over the market's usual below which purchases are few. Our choice.",
    low=0,
    high=1,
)
WILLING = Threshold(
    "willing",
    2.0,
    "Purchase rate over the market's usual from which buyers are willing. Our choice.",
    low=1,
    high=100,
)
BRAND_WORDS = Threshold(
    "brand_words",
    0.35,
    "Share of searches that name a brand. Our choice.",
    low=0,
    high=1,
)
PRICE_ANSWER = Threshold(
    "price_answer",
    -0.5,
    "Rank correlation of price and purchase rate. Our choice.",
    low=-1,
    high=0,
)
PRICE_DROP = Threshold(
    "price_drop",
    -0.05,
    "Median change of price in 26 weeks. Our choice.",
    low=-1,
    high=0,
)
PRICE_DROP_SHARE = Threshold(
    "price_drop_share",
    0.5,
    "Share of listings whose price fell. Our choice.",
    low=0,
    high=1,
)
OFFERS_LEAD = Threshold(
    "offers_lead",
    0.5,
    "Growth of offers over that of units. Our choice; common practice: from 10 to 25 with"
    " flat sales announces a price war.",
    low=0,
    high=100,
)
OFFERS_GROWTH = Threshold(
    "offers_growth",
    0.25,
    "Growth of offers in a year. Our choice.",
    low=0,
    high=100,
)
LEAD_CONTESTED = Threshold(
    "lead_contested",
    0.3,
    "Share of steps in which a lead offer changes hands. Our choice.",
    low=0,
    high=1,
)
SEASON_RISE = Threshold(
    "season_rise",
    0.25,
    "Rise in 13 weeks that deserves a word. Our choice.",
    low=0,
    high=10,
)
ORDER_SOON = Threshold(
    "order_soon",
    28.0,
    "Days to the order-by date. Our choice.",
    low=1,
    high=365,
)
LAG_WEEKS = Threshold(
    "lag_weeks",
    1.5,
    "Weeks by which purchases trail searches. Our choice.",
    low=0,
    high=20,
)
FEW_BRANDS = Threshold(
    "few_brands",
    3.0,
    "Effective brands below which they are few. Our choice.",
    low=1,
    high=100,
)
GONE_SHARE = Threshold(
    "gone_share",
    0.2,
    "Share of clicks that a listing now gone took a year ago. Our choice.",
    low=0,
    high=1,
)
OWN_RETAIL = Threshold(
    "own_retail",
    0.25,
    "Share of clicks of the marketplace itself. Our choice.",
    low=0,
    high=1,
)
SPONSORED_MANY = Threshold(
    "sponsored_many",
    0.4,
    "Share of clicks of sponsored listings that is much. Our choice.",
    low=0,
    high=1,
)
SPONSORED_RISE = Threshold(
    "sponsored_rise",
    1.5,
    "Share of clicks of sponsored listings over that of a year ago. Our choice.",
    low=1,
    high=100,
)
WEAK_PAGES = Threshold(
    "weak_pages",
    45.0,
    "Median quality of the most clicked pages, 0–100. Our choice.",
    low=0,
    high=100,
)
OUT_OF_STOCK = Threshold(
    "out_of_stock",
    0.2,
    "Share of time without stock. Our choice.",
    low=0,
    high=1,
)
RETURNS_RATIO = Threshold(
    "returns_ratio",
    1.5,
    "Return rate over the category's. Our choice.",
    low=1,
    high=100,
)
RETURNS_MANY = Threshold("returns_many", 0.08, "Return rate. Our choice.", low=0, high=1)
LAUNCHES_FAIL = Threshold(
    "launches_fail",
    0.41,
    "Upper end of the success rate's interval. Our choice: none of four; common practice:"
    " half of the launches working is a fair rate.",
    low=0,
    high=1,
)
LAUNCHES_WORK = Threshold(
    "launches_work",
    0.45,
    "Lower end of the success rate's interval. Our choice: three of three.",
    low=0,
    high=1,
)
NOBODY_NEW = Threshold(
    "nobody_new",
    730.0,
    "Days without a launch. Our choice: two years.",
    low=1,
    high=10_000,
)
UNITS_PER_REVIEW = Threshold(
    "units_per_review",
    10.0,
    "Units for each new review. Common practice: ten or more are healthy.",
    low=0,
    high=10_000,
)
