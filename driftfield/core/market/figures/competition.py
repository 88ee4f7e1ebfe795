"""Figures of competition: concentration, barriers, entry and pressure."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from driftfield.core.base import Floats, ratio
from driftfield.core.supply import CLICK_WINDOWS, Concentration

from ..kinds import BRAND, NICHE, OF_TERMS
from .figure import OWN, Compute, Figure, FigureType, words

HMG = "Herfindahl–Hirschman index as in the U.S. Horizontal Merger Guidelines"
BOUND = "Jensen's and Minkowski's inequalities"
WILSON = "Wilson (1927)"
_LAUNCHING = (*OF_TERMS, BRAND)


def _top(k: int) -> Compute:
    return lambda w: w.supply.listings[0].top[k]


def _brands(key: str) -> Compute:
    return lambda w: np.asarray(getattr(w.supply.brands[0], key))


def _listings(key: str) -> Compute:
    return lambda w: np.asarray(getattr(w.supply.listings[0], key))


def _supply(part: str, key: str) -> Compute:
    """A field of a part of the supply side."""
    return lambda w: np.asarray(getattr(getattr(w.supply, part), key))


CLICKS: tuple[Figure, ...] = (
    Figure(key="competition_parts.hhi_listings", label="HHI of listings", type=FigureType.AMOUNT,
           unit="points, 0–10,000", direction=-1,
           formula="Σ (100 × click share)² over listings; the least it can be", source=HMG,
           needs="term_clicks", compute=_listings("hhi"), kinds=OF_TERMS),
    Figure(key="competition_parts.hhi_listings_high", label="HHI of listings, at most",
           type=FigureType.AMOUNT, unit="points, 0–10,000", direction=-1,
           formula="the most it can be, no unknown listing above a term's smallest known share",
           source=BOUND, needs="term_clicks", compute=lambda w: w.supply.bounds.hhi_high, kinds=OF_TERMS),
    Figure(key="competition_parts.effective_listings", label="Effective listings", type=FigureType.AMOUNT,
           unit="listings", direction=1, formula="10,000 ÷ HHI of listings", source=HMG,
           needs="term_clicks", compute=_listings("effective"), kinds=OF_TERMS),
    Figure(key="competition_parts.click_breadth", label="Click breadth", type=FigureType.COUNT,
           unit="listings", direction=1, formula="fewest listings that together take 80% of the clicks",
           needs="term_clicks", compute=_listings("breadth"), kinds=OF_TERMS),
    Figure(key="competition_parts.click_breadth_least", label="Click breadth, at least",
           type=FigureType.COUNT, unit="listings", direction=1,
           formula="the fewest it can be, no unknown listing above a term's smallest known share",
           needs="term_clicks", compute=lambda w: w.supply.bounds.breadth_least, kinds=OF_TERMS),
    Figure(key="searches_per_listing", label="Searches a listing", type=FigureType.AMOUNT,
           unit="searches a listing", direction=1,
           formula="searches a year ÷ listings clicked now", needs="term_clicks",
           compute=lambda w: ratio(w.searches_52w, w.supply.listings[0].holders)),
    Figure(key="competition_parts.top1_share", label="Share of the first", type=FigureType.SHARE,
           unit="share of clicks", direction=-1, formula="click share of the most clicked listing",
           needs="term_clicks", compute=_top(1), kinds=OF_TERMS),
    Figure(key="competition_parts.top3_share", label="Share of the top 3", type=FigureType.SHARE,
           unit="share of clicks", direction=-1,
           formula="click shares of the three most clicked listings, summed", needs="term_clicks",
           compute=_top(3), kinds=OF_TERMS),
    Figure(key="competition_parts.top3_share_high", label="Share of the top 3, at most",
           type=FigureType.SHARE, unit="share of clicks", direction=-1,
           formula="known share + at most three times what an unknown listing can hold",
           needs="term_clicks", compute=lambda w: w.supply.bounds.top_high[3], kinds=OF_TERMS),
    Figure(key="competition_parts.top5_share", label="Share of the top 5", type=FigureType.SHARE,
           unit="share of clicks", direction=-1,
           formula="click shares of the five most clicked listings, summed", needs="term_clicks",
           compute=_top(5), kinds=OF_TERMS),
    Figure(key="competition_parts.top20_share", label="Share of the top 20", type=FigureType.SHARE,
           unit="share of clicks", direction=-1,
           formula="click shares of the twenty most clicked listings, summed", needs="term_clicks",
           compute=_top(20), kinds=OF_TERMS),
    Figure(key="competition_parts.gini", label="Gini of listings", type=FigureType.SHARE,
           unit="0 equal – 1", direction=-1,
           formula="mean difference of click shares ÷ twice their mean, over the known listings",
           source="Gini (1912)", needs="term_clicks", compute=_listings("gini"), kinds=OF_TERMS),
    Figure(key="competition_parts.hhi_brands", label="HHI of brands", type=FigureType.AMOUNT,
           unit="points, 0–10,000", direction=-1, formula="Σ (100 × click share)² over brands",
           source=HMG, needs="listings", compute=_brands("hhi"), kinds=OF_TERMS),
    Figure(key="competition_parts.effective_brands", label="Effective brands", type=FigureType.AMOUNT,
           unit="brands", direction=1, formula="10,000 ÷ HHI of brands", source=HMG, needs="listings",
           compute=_brands("effective"), kinds=OF_TERMS),
    Figure(key="competition_parts.top_brand_share", label="Share of the first brand", type=FigureType.SHARE,
           unit="share of clicks", direction=-1,
           formula="click shares of the most clicked brand's listings, summed", needs="listings",
           compute=lambda w: w.supply.brands[0].top[1], kinds=OF_TERMS),
    Figure(key="competition_parts.accounted", label="Clicks accounted for", type=FigureType.SHARE,
           unit="share of clicks", formula="click shares of all known listings, summed",
           needs="term_clicks", compute=_listings("accounted"), kinds=OF_TERMS),
    Figure(key="competition_parts.listings", label="Listings clicked", type=FigureType.COUNT,
           unit="listings", formula="listings with a click share in the window", needs="term_clicks",
           compute=_listings("holders"), kinds=OF_TERMS),
    Figure(key="competition_parts.open_terms", label="Terms with room at the top", type=FigureType.SHARE,
           unit="share of searches", direction=1,
           formula="searches of terms whose three most clicked listings hold under top3_closed ÷ searches of "
               "terms with known clicks", needs="term_clicks", compute=lambda w: w.supply.open_terms,
           kinds=(NICHE,)),
)  # fmt: skip


def _ago_rows() -> list[Figure]:
    """The figures that show a field opening or closing, 13 and 52 weeks ago."""
    read: dict[str, Callable[[Concentration], Floats]] = {
        "hhi_listings": lambda c: c.hhi,
        "effective_listings": lambda c: c.effective,
        "click_breadth": lambda c: c.breadth,
        "top3_share": lambda c: c.top[3],
        "effective_brands": lambda c: c.effective,
        "top_brand_share": lambda c: c.top[1],
        "listings": lambda c: c.holders,
    }
    now = {figure.key.partition(".")[2]: figure for figure in CLICKS}

    def then(key: str, window: int) -> Compute:
        return lambda w: read[key](
            (w.supply.brands if "brand" in key else w.supply.listings)[window]
        )

    return [
        replace(
            now[key], key=f"{now[key].key}_{back}w_ago", label=f"{now[key].label}, {back} weeks ago",
            formula=f"the same of the window that ended {back} weeks earlier",
            source=OWN, compute=then(key, window),
        )
        for key in read
        for window, back in enumerate(CLICK_WINDOWS)
        if back
    ]  # fmt: skip


BARRIERS: tuple[Figure, ...] = (
    Figure(key="barriers.few_reviews", label="Top ten under the review limit", type=FigureType.SHARE,
           unit="share of listings", direction=1,
           formula="of the ten most clicked, those with under review_limit reviews ÷ those with known reviews",
           needs="listings", compute=_supply("barriers", "few_reviews"), kinds=OF_TERMS),
    Figure(key="barriers.rating", label="Rating of the top ten", type=FigureType.AMOUNT, unit="stars, 0–5",
           formula="median rating of the ten most clicked listings", needs="listings",
           compute=_supply("barriers", "rating"), kinds=OF_TERMS),
    Figure(key="barriers.quality", label="Page quality of the top ten", type=FigureType.INDEX, unit="0–100",
           direction=-1, formula="median quality of the ten most clicked listings", needs="listings",
           compute=_supply("barriers", "quality"), kinds=OF_TERMS),
    Figure(key="barriers.age_days", label="Age of the top ten", type=FigureType.AMOUNT, unit="days",
           formula="median age of the ten most clicked listings at the as-of", needs="listings",
           compute=_supply("barriers", "age_days"), kinds=OF_TERMS),
    Figure(key="barriers.brand_age_days", label="Age of the top ten's brands", type=FigureType.AMOUNT,
           unit="days", formula="median age of their brands at the as-of, since first seen",
           needs="brands", compute=_supply("barriers", "brand_age_days"), kinds=OF_TERMS),
    Figure(key="barriers.weight_g", label="Weight of the top ten", type=FigureType.AMOUNT, unit="g",
           formula="median weight of the ten most clicked listings", needs="listings",
           compute=_supply("barriers", "weight_g"), kinds=OF_TERMS),
    Figure(key="barriers.size_mm", label="Longest side of the top ten", type=FigureType.AMOUNT, unit="mm",
           formula="median longest side of the ten most clicked listings", needs="listings",
           compute=_supply("barriers", "size_mm"), kinds=OF_TERMS),
    Figure(key="barriers.seller_age_days", label="Age of the top ten's sellers", type=FigureType.AMOUNT,
           unit="days", formula="median age of their sellers at the as-of, since first seen",
           needs="sellers", compute=_supply("barriers", "seller_age_days"), kinds=OF_TERMS),
    Figure(key="barriers.brands", label="Brands", type=FigureType.COUNT, unit="brands", direction=1,
           formula="different brands of the listings clicked now", needs="listings",
           compute=_supply("barriers", "brands")),
    Figure(key="barriers.sellers", label="Sellers", type=FigureType.COUNT, unit="sellers",
           formula="different sellers with an offer of one of the listings at the as-of; without offers, the "
               "sellers of the listings clicked now", needs="listings",
           compute=_supply("barriers", "sellers"), kinds=OF_TERMS),
    Figure(key="barriers.own_retail", label="The marketplace's own", type=FigureType.SHARE,
           unit="share of clicks", direction=-1,
           formula="clicks of listings whose brand or seller is the marketplace itself",
           needs="listings", compute=_supply("barriers", "own_retail"), kinds=OF_TERMS),
    Figure(key="barriers.sponsored", label="Sponsored listings", type=FigureType.SHARE,
           unit="share of listings", direction=-1,
           formula="sponsored listings ÷ listings clicked now of which it is known", needs="listings",
           compute=_supply("barriers", "sponsored"), kinds=OF_TERMS),
    Figure(key="barriers.sponsored_clicks", label="Clicks of sponsored listings", type=FigureType.SHARE,
           unit="share of clicks", direction=-1,
           formula="clicks of listings that are sponsored ÷ clicks of those of which it is known",
           needs="listings", compute=_supply("barriers", "sponsored_clicks"), kinds=OF_TERMS),
    Figure(key="barriers.sponsored_clicks_52w_ago", label="Clicks of sponsored listings, 52 weeks ago",
           type=FigureType.SHARE, unit="share of clicks", direction=-1,
           formula="the same of the window that ended 52 weeks earlier, by who is "
               "sponsored now", needs="listings",
           compute=_supply("barriers", "sponsored_clicks_52w_ago"), kinds=OF_TERMS),
    Figure(key="barriers.out_of_stock", label="Out of stock", type=FigureType.SHARE,
           unit="share of time", direction=1,
           formula="mean over all its listings of 1 − time in stock in the last four weeks known",
           needs="listing_weeks", compute=_supply("barriers", "out_of_stock"), kinds=OF_TERMS),
    Figure(key="barriers.return_rate", label="Return rate", type=FigureType.SHARE, unit="share of units",
           direction=-1, formula="mean return rate of the listings clicked now, by clicks",
           needs="listings", compute=_supply("barriers", "return_rate"), kinds=OF_TERMS),
    Figure(key="barriers.return_ratio", label="Return rate against the category's", type=FigureType.AMOUNT,
           unit="×", direction=-1,
           formula="return rate ÷ median return rate of the category's niches, three or more",
           needs="listings", compute=_supply("barriers", "return_ratio")),
)  # fmt: skip

ENTRY: tuple[Figure, ...] = (
    Figure(key="entry.launches_26w", label="Launches in 26 weeks", type=FigureType.COUNT, unit="listings",
           formula="listings launched in the 26 weeks up to the as-of", needs="listings",
           compute=_supply("entry", "launches_26w"), kinds=_LAUNCHING),
    Figure(key="entry.launches_52w", label="Launches in 52 weeks", type=FigureType.COUNT, unit="listings",
           formula="listings launched in the 52 weeks up to the as-of", needs="listings",
           compute=_supply("entry", "launches_52w"), kinds=_LAUNCHING),
    Figure(key="entry.newest_days", label="Age of the latest launch", type=FigureType.AMOUNT, unit="days",
           formula="age of the youngest listing at the as-of", needs="listings",
           compute=_supply("entry", "newest_days"), kinds=_LAUNCHING),
    Figure(key="entry.judged", label="Launches judged", type=FigureType.COUNT, unit="listings",
           formula="those of 52 weeks whose weeks on sale held launch_least of the niche's year",
           needs="listing_weeks", compute=_supply("entry", "judged"), kinds=_LAUNCHING),
    Figure(key="entry.successes", label="Launches that worked", type=FigureType.COUNT, unit="listings",
           direction=1,
           formula="those judged that sold as much as the bar in their weeks on sale, the season taken out",
           needs="listing_weeks", compute=_supply("entry", "successes"), kinds=_LAUNCHING),
    Figure(key="entry.bar", label="Success bar", type=FigureType.AMOUNT,
           unit="units (currency where an amount is set) in four average weeks",
           formula="median units of the niche's listings over a year old, season taken out, at least 1; or "
               "success_units, success_revenue", needs="listing_weeks", compute=_supply("entry", "bar")),
    Figure(key="entry.success_rate", label="Success rate of launches", type=FigureType.SHARE,
           unit="share of launches", direction=1, formula="launches that worked ÷ launches judged",
           needs="listing_weeks", compute=_supply("entry", "success_rate"), kinds=_LAUNCHING),
    Figure(key="entry.success_low", label="Success rate, low end", type=FigureType.SHARE,
           unit="share of launches", direction=1, formula="lower end of Wilson's 90% interval",
           source=WILSON, needs="listing_weeks", compute=_supply("entry", "success_low"), kinds=_LAUNCHING),
    Figure(key="entry.success_high", label="Success rate, high end", type=FigureType.SHARE,
           unit="share of launches", direction=1, formula="upper end of Wilson's 90% interval",
           source=WILSON, needs="listing_weeks", compute=_supply("entry", "success_high"), kinds=_LAUNCHING),
    # Few make reviews that are asked for likely, many that a newcomer waits for his: neither end is best.
    Figure(key="entry.units_per_review", label="Units a review", type=FigureType.AMOUNT, unit="units",
           formula="units of the last 26 weeks ÷ reviews gained in them, over its listings",
           needs="listing_weeks", compute=_supply("entry", "units_per_review"), kinds=_LAUNCHING),
    Figure(key="entry.winners_price", label="Price of launches that worked", type=FigureType.CHANGE,
           unit="change", formula="their median price ÷ the other listings' − 1, from two on",
           needs="listing_weeks", compute=_supply("entry", "winners_price"), kinds=OF_TERMS),
    Figure(key="entry.winners_quality", label="Page quality of launches that worked",
           type=FigureType.SIGNED, unit="points",
           formula="their median quality − the other listings', from two on", needs="listing_weeks",
           compute=_supply("entry", "winners_quality"), kinds=OF_TERMS),
    Figure(key="entry.winners_mark", label="What launches that worked share", type=FigureType.SENTENCE,
           formula="the attribute that is commoner among them than chance has it (Fisher's exact test, 5%, "
               "Bonferroni)", source="Fisher (1922)", needs="listings",
           compute=lambda w: w.supply.entry.winners_mark, kinds=OF_TERMS),
)  # fmt: skip

PRESSURE: tuple[Figure, ...] = (
    Figure(key="pressure.price_change", label="Price in 26 weeks", type=FigureType.CHANGE, unit="change",
           direction=1,
           formula="median over the listings clicked now of price now ÷ price 26 weeks ago − 1",
           needs="listing_weeks", compute=_supply("pressure", "price_change"), kinds=OF_TERMS),
    Figure(key="pressure.price_falling", label="Listings whose price fell", type=FigureType.SHARE,
           unit="share of listings", direction=-1,
           formula="those that fell by more than price_fall in 26 weeks", needs="listing_weeks",
           compute=_supply("pressure", "price_falling"), kinds=OF_TERMS),
    Figure(key="pressure.offers", label="Offers", type=FigureType.AMOUNT, unit="offers", direction=-1,
           formula="offers of its listings now, summed", needs="listing_weeks",
           compute=_supply("pressure", "offers"), kinds=OF_TERMS),
    Figure(key="pressure.unsponsored_offers", label="Unsponsored offers", type=FigureType.AMOUNT,
           unit="offers", direction=-1,
           formula="offers now of its listings that are known not to be sponsored, summed",
           needs="listing_weeks", compute=_supply("pressure", "unsponsored_offers"), kinds=OF_TERMS),
    Figure(key="pressure.offers_change", label="Offers in a year", type=FigureType.CHANGE, unit="change",
           direction=-1,
           formula="mean offers of the last 13 weeks ÷ the same a year before − 1, over listings known at both "
               "times or launched in between", needs="listing_weeks",
           compute=_supply("pressure", "offers_change"), kinds=OF_TERMS),
    Figure(key="pressure.units_change", label="Units in a year", type=FigureType.CHANGE, unit="change",
           direction=1,
           formula="units of the last 13 weeks ÷ the same a year before − 1, over the same listings",
           needs="listing_weeks", compute=_supply("pressure", "units_change"), kinds=OF_TERMS),
    Figure(key="pressure.offers_lead", label="Offers ahead of units", type=FigureType.CHANGE,
           unit="change", direction=-1, formula="(1 + offers in a year) ÷ (1 + units in a year) − 1",
           needs="listing_weeks", compute=_supply("pressure", "offers_lead"), kinds=OF_TERMS),
    Figure(key="pressure.sellers_change", label="Sellers in a year", type=FigureType.CHANGE,
           unit="change", direction=-1,
           formula="different sellers with an offer now ÷ a year ago − 1", needs="offers",
           compute=_supply("pressure", "sellers_change"), kinds=OF_TERMS),
    Figure(key="pressure.lead_changes", label="Lead offer changes hands", type=FigureType.SHARE,
           unit="share of steps", direction=-1,
           formula="steps of the last 26 weeks in which a lead offer changed its seller",
           needs="listing_weeks", compute=_supply("pressure", "lead_changes"), kinds=OF_TERMS),
)  # fmt: skip

COMPETITION: tuple[Figure, ...] = (
    *CLICKS,
    *_ago_rows(),
    Figure(key="field", label="Field", type=FigureType.WORD, direction=1,
           formula="Opening: effective listings grew by field_change in a year; Closing: they fell as much; "
               "unknown where the clicks accounted for differ by over a tenth", needs="term_clicks",
           compute=lambda w: words(w.supply.field), choices=("Opening", "Steady", "Closing"), kinds=OF_TERMS),
    Figure(key="review_barrier", label="Reviews of the top ten", type=FigureType.AMOUNT, unit="reviews",
           direction=-1, formula="median reviews of the ten most clicked listings", needs="listings",
           compute=lambda w: w.supply.barriers.reviews, kinds=OF_TERMS),
    *BARRIERS,
    *ENTRY,
    *PRESSURE,
)  # fmt: skip
