"""Listings, brands, sellers and clicks: who holds a market, and what it takes to get in."""

from .assortment import Spread, attribute_values, compare_medians, spread
from .competition import (
    Competition,
    Concentrated,
    competition_of_groups,
    concentrate,
    read_competition,
    read_terms,
)
from .concentration import Concentration
from .entry import read_entry
from .feedback import theme_shares
from .goods import (
    Carried,
    Goods,
    curves_of_brands,
    curves_of_sellers,
    goods_of_brands,
    goods_of_sellers,
    read_carried,
)
from .held import Grouped, Held
from .holdings import Holdings, Lorenz, Newcomers, lorenz, read_holdings
from .launches import Judged, judge_launches
from .leads import LeadHolders, lead_holders
from .listings import (
    LISTING_MEASURES,
    SALES_MEASURES,
    History,
    Listings,
    Offers,
    People,
    window_mean,
    window_sum,
)
from .members import CLICK_WINDOWS, Clicks, Members, part_weights, read_members, rolled_up
from .overview import (
    Holders,
    PriceSpread,
    Shared,
    ValueDemand,
    attribute_demand,
    holders,
    lorenz_points,
    price_spread,
    what_they_share,
)
from .own_check import OwnCheck
from .price_answer import PriceAnswer, at_period, price_moves, rate_changes, read_price_answer
from .ranks import RankLines, UnitsEstimate, units_by_rank
from .record import ListingRecord, led_share, of_time, read_records
from .sales import yearly
from .sleepers import STATES, WHY, ListingSeasons, Sleepers, read_sleepers
from .storefronts import (
    Recurring,
    Shelves,
    Together,
    all_offers,
    carried_together,
    dropped_together,
    recurring,
    sellers_named,
)
from .top_listings import (
    CLICK_SHARE,
    LISTING_FIGURES_BY_KEY,
    LISTING_KEYS,
    TOP_LISTINGS_KEPT,
    TopQuestion,
    top_tables,
)

__all__ = [
    "CLICK_SHARE",
    "CLICK_WINDOWS",
    "LISTING_FIGURES_BY_KEY",
    "LISTING_KEYS",
    "LISTING_MEASURES",
    "SALES_MEASURES",
    "STATES",
    "TOP_LISTINGS_KEPT",
    "WHY",
    "Carried",
    "Clicks",
    "Competition",
    "Concentrated",
    "Concentration",
    "Goods",
    "Grouped",
    "Held",
    "History",
    "Holders",
    "Holdings",
    "Judged",
    "LeadHolders",
    "ListingRecord",
    "ListingSeasons",
    "Listings",
    "Lorenz",
    "Members",
    "Newcomers",
    "Offers",
    "OwnCheck",
    "People",
    "PriceAnswer",
    "PriceSpread",
    "RankLines",
    "Recurring",
    "Shared",
    "Shelves",
    "Sleepers",
    "Spread",
    "Together",
    "TopQuestion",
    "UnitsEstimate",
    "ValueDemand",
    "all_offers",
    "at_period",
    "attribute_demand",
    "attribute_values",
    "carried_together",
    "compare_medians",
    "competition_of_groups",
    "concentrate",
    "curves_of_brands",
    "curves_of_sellers",
    "dropped_together",
    "goods_of_brands",
    "goods_of_sellers",
    "holders",
    "judge_launches",
    "lead_holders",
    "led_share",
    "lorenz",
    "lorenz_points",
    "of_time",
    "part_weights",
    "price_moves",
    "price_spread",
    "rate_changes",
    "read_carried",
    "read_competition",
    "read_entry",
    "read_holdings",
    "read_members",
    "read_price_answer",
    "read_records",
    "read_sleepers",
    "read_terms",
    "recurring",
    "rolled_up",
    "sellers_named",
    "spread",
    "theme_shares",
    "top_tables",
    "units_by_rank",
    "what_they_share",
    "window_mean",
    "window_sum",
    "yearly",
]
