"""Figures of competition: concentration, barriers, entry and pressure."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from driftfield.core.base import Floats
from driftfield.core.supply import CLICK_WINDOWS, Concentration

from .figure import OWN, Compute, Figure, FigureType, words

HMG = "Herfindahl–Hirschman index as in the U.S. Horizontal Merger Guidelines"
BOUND = "Jensen's and Minkowski's inequalities"
WILSON = "Wilson (1927)"

# key, label, kind, unit, direction, formula, source, table
Row = tuple[str, str, FigureType, str, int, str, str, str]


def _click_rows() -> list[tuple[Row, Compute]]:
    def top(k: int) -> Compute:
        return lambda w: w.supply.listings[0].top[k]

    def brands(key: str) -> Compute:
        return lambda w: np.asarray(getattr(w.supply.brands[0], key))

    def listings(key: str) -> Compute:
        return lambda w: np.asarray(getattr(w.supply.listings[0], key))

    many, share, points = "listings", "fraction of clicks", "points, 0–10,000"
    return [
        (("hhi_listings", "HHI of listings", FigureType.AMOUNT, points, -1,
          "Σ (100 × click share)² over listings; the least it can be", HMG, "term_clicks"),
         listings("hhi")),
        (("hhi_listings_high", "HHI of listings, at most", FigureType.AMOUNT, points, -1,
          "the most it can be, no unknown listing above a term's smallest known share", BOUND, "term_clicks"),
         lambda w: w.supply.bounds.hhi_high),
        (("effective_listings", "Effective listings", FigureType.AMOUNT, many, 1,
          "10,000 ÷ HHI of listings", HMG, "term_clicks"), listings("effective")),
        (("click_breadth", "Click breadth", FigureType.COUNT, many, 1,
          "fewest listings that together take 80% of the clicks", OWN, "term_clicks"),
         listings("breadth")),
        (("click_breadth_least", "Click breadth, at least", FigureType.COUNT, many, 1,
          "the fewest it can be, no unknown listing above a term's smallest known share", OWN, "term_clicks"),
         lambda w: w.supply.bounds.breadth_least),
        (("top1_share", "Share of the first", FigureType.SHARE, share, -1,
          "click share of the most clicked listing", OWN, "term_clicks"), top(1)),
        (("top3_share", "Share of the top 3", FigureType.SHARE, share, -1,
          "click shares of the three most clicked listings, summed", OWN, "term_clicks"), top(3)),
        (("top3_share_high", "Share of the top 3, at most", FigureType.SHARE, share, -1,
          "known share + at most three times what an unknown listing can hold", OWN, "term_clicks"),
         lambda w: w.supply.bounds.top_high[3]),
        (("top5_share", "Share of the top 5", FigureType.SHARE, share, -1,
          "click shares of the five most clicked listings, summed", OWN, "term_clicks"), top(5)),
        (("top20_share", "Share of the top 20", FigureType.SHARE, share, -1,
          "click shares of the twenty most clicked listings, summed", OWN, "term_clicks"), top(20)),
        (("gini", "Gini of listings", FigureType.SHARE, "0 equal – 1", -1,
          "mean difference of click shares ÷ twice their mean, over the known listings", "Gini (1912)",
          "term_clicks"), listings("gini")),
        (("hhi_brands", "HHI of brands", FigureType.AMOUNT, points, -1,
          "Σ (100 × click share)² over brands", HMG, "listings"), brands("hhi")),
        (("effective_brands", "Effective brands", FigureType.AMOUNT, "brands", 1,
          "10,000 ÷ HHI of brands", HMG, "listings"), brands("effective")),
        (("top_brand_share", "Share of the first brand", FigureType.SHARE, share, -1,
          "click shares of the most clicked brand's listings, summed", OWN, "listings"),
         lambda w: w.supply.brands[0].top[1]),
        (("accounted", "Clicks accounted for", FigureType.SHARE, share, 0,
          "click shares of all known listings, summed", OWN, "term_clicks"), listings("accounted")),
        (("listings", "Listings clicked", FigureType.COUNT, many, 0,
          "listings with a click share in the window", OWN, "term_clicks"), listings("holders")),
        (("open_terms", "Terms with room at the top", FigureType.SHARE, "fraction of searches", 1,
          "searches of terms whose three most clicked listings hold under top3_closed ÷ searches of "
          "terms with known clicks", OWN, "term_clicks"), lambda w: w.supply.open_terms),
    ]  # fmt: skip


def _ago_rows() -> list[tuple[Row, Compute]]:
    """The figures that show a field opening or closing, 13 and 52 weeks ago."""
    many, share = "listings", "fraction of clicks"
    rows: list[tuple[str, str, FigureType, str, int, Callable[[Concentration], Floats]]] = [
        ("hhi_listings", "HHI of listings", FigureType.AMOUNT, "points, 0–10,000", -1, lambda c: c.hhi),
        ("effective_listings", "Effective listings", FigureType.AMOUNT, many, 1, lambda c: c.effective),
        ("click_breadth", "Click breadth", FigureType.COUNT, many, 1, lambda c: c.breadth),
        ("top3_share", "Share of the top 3", FigureType.SHARE, share, -1, lambda c: c.top[3]),
        ("effective_brands", "Effective brands", FigureType.AMOUNT, "brands", 1, lambda c: c.effective),
        ("top_brand_share", "Share of the first brand", FigureType.SHARE, share, -1, lambda c: c.top[1]),
        ("listings", "Listings clicked", FigureType.COUNT, many, 0, lambda c: c.holders),
    ]  # fmt: skip

    def then(brands: bool, i: int, read: Callable[[Concentration], Floats]) -> Compute:
        return lambda w: read((w.supply.brands if brands else w.supply.listings)[i])

    out: list[tuple[Row, Compute]] = []
    for key, label, kind, unit, direction, read in rows:
        for i, back in enumerate(CLICK_WINDOWS):
            if back:
                row: Row = (
                    f"{key}_{back}w_ago", f"{label}, {back} weeks ago", kind, unit, direction,
                    f"the same of the window that ended {back} weeks earlier", OWN,
                    "listings" if "brand" in key else "term_clicks",
                )  # fmt: skip
                out.append((row, then("brand" in key, i, read)))
    return out


def _rows_of(group: str, rows: list[Row]) -> list[Figure]:
    """Figures whose values are a field, of the same name, of a part of the supply side."""

    def of(key: str) -> Compute:
        return lambda w: np.asarray(getattr(getattr(w.supply, group), key))

    return [
        Figure(f"{group}.{key}", label, kind, unit, direction, formula, source, table, of(key))
        for key, label, kind, unit, direction, formula, source, table in rows
    ]  # fmt: skip


BARRIERS: list[Row] = [
    ("few_reviews", "Top ten under the review limit", FigureType.SHARE, "fraction of listings", 1,
     "of the ten most clicked, those with under review_limit reviews ÷ those with known reviews", OWN,
     "listings"),
    ("rating", "Rating of the top ten", FigureType.AMOUNT, "stars, 0–5", 0,
     "median rating of the ten most clicked listings", OWN, "listings"),
    ("quality", "Page quality of the top ten", FigureType.INDEX, "0–100", -1,
     "median quality of the ten most clicked listings", OWN, "listings"),
    ("age_days", "Age of the top ten", FigureType.AMOUNT, "days", 0,
     "median age of the ten most clicked listings at the as-of", OWN, "listings"),
    ("brand_age_days", "Age of the top ten's brands", FigureType.AMOUNT, "days", 0,
     "median age of their brands at the as-of, since first seen", OWN, "brands"),
    ("weight_g", "Weight of the top ten", FigureType.AMOUNT, "g", 0,
     "median weight of the ten most clicked listings", OWN, "listings"),
    ("size_mm", "Longest side of the top ten", FigureType.AMOUNT, "mm", 0,
     "median longest side of the ten most clicked listings", OWN, "listings"),
    ("seller_age_days", "Age of the top ten's sellers", FigureType.AMOUNT, "days", 0,
     "median age of their sellers at the as-of, since first seen", OWN, "sellers"),
    ("brands", "Brands", FigureType.COUNT, "brands", 1, "different brands of the listings clicked now", OWN,
     "listings"),
    ("sellers", "Sellers", FigureType.COUNT, "sellers", 0,
     "different sellers with an offer of one of the listings at the as-of; without offers, the "
     "sellers of the listings clicked now", OWN, "listings"),
    ("own_retail", "The marketplace's own", FigureType.SHARE, "fraction of clicks", -1,
     "clicks of listings whose brand or seller is the marketplace itself", OWN, "listings"),
    ("sponsored", "Sponsored listings", FigureType.SHARE, "fraction of listings", -1,
     "sponsored listings ÷ listings clicked now of which it is known", OWN, "listings"),
    ("sponsored_clicks", "Clicks of sponsored listings", FigureType.SHARE, "fraction of clicks", -1,
     "clicks of listings that are sponsored ÷ clicks of those of which it is known", OWN, "listings"),
    ("sponsored_clicks_52w_ago", "Clicks of sponsored listings, 52 weeks ago", FigureType.SHARE,
     "fraction of clicks", -1, "the same of the window that ended 52 weeks earlier, by who is "
     "sponsored now", OWN, "listings"),
    ("out_of_stock", "Out of stock", FigureType.SHARE, "fraction of time", 1,
     "mean over all listings of the niche of 1 − time in stock in the last four weeks known", OWN,
     "listing_weeks"),
    ("return_rate", "Return rate", FigureType.SHARE, "fraction of units", -1,
     "mean return rate of the listings clicked now, by clicks", OWN, "listings"),
    ("return_ratio", "Return rate against the category's", FigureType.AMOUNT, "×", -1,
     "return rate ÷ median return rate of the category's niches, three or more", OWN, "listings"),
]  # fmt: skip

ENTRY: list[Row] = [
    ("launches_26w", "Launches in 26 weeks", FigureType.COUNT, "listings", 0,
     "listings of the niche launched in the 26 weeks up to the as-of", OWN, "listings"),
    ("launches_52w", "Launches in 52 weeks", FigureType.COUNT, "listings", 0,
     "listings of the niche launched in the 52 weeks up to the as-of", OWN, "listings"),
    ("newest_days", "Age of the latest launch", FigureType.AMOUNT, "days", 0,
     "age of the niche's youngest listing at the as-of", OWN, "listings"),
    ("judged", "Launches judged", FigureType.COUNT, "listings", 0,
     "those of 52 weeks that were on sale through the last four weeks known", OWN, "listing_weeks"),
    ("successes", "Launches that worked", FigureType.COUNT, "listings", 1,
     "those judged that reached the bar in the last four weeks known", OWN, "listing_weeks"),
    ("bar", "Success bar", FigureType.AMOUNT, "units (currency where an amount is set) in four weeks", 0,
     "median units of the niche's listings over a year old, at least 1; or success_units, "
     "success_revenue", OWN, "listing_weeks"),
    ("success_rate", "Success rate of launches", FigureType.SHARE, "fraction of launches", 1,
     "launches that worked ÷ launches judged", OWN, "listing_weeks"),
    ("success_low", "Success rate, low end", FigureType.SHARE, "fraction of launches", 1,
     "lower end of Wilson's 90% interval", WILSON, "listing_weeks"),
    ("success_high", "Success rate, high end", FigureType.SHARE, "fraction of launches", 1,
     "upper end of Wilson's 90% interval", WILSON, "listing_weeks"),
    ("units_per_review", "Units a review", FigureType.AMOUNT, "units", -1,
     "units of the last 26 weeks ÷ reviews gained in them, over the niche's listings", OWN,
     "listing_weeks"),
    ("winners_price", "Price of launches that worked", FigureType.CHANGE, "fraction", 0,
     "their median price ÷ the other listings' − 1, from two on", OWN, "listing_weeks"),
    ("winners_quality", "Page quality of launches that worked", FigureType.SIGNED, "points", 0,
     "their median quality − the other listings', from two on", OWN, "listing_weeks"),
]  # fmt: skip

PRESSURE: list[Row] = [
    ("price_change", "Price in 26 weeks", FigureType.CHANGE, "fraction", 1,
     "median over the listings clicked now of price now ÷ price 26 weeks ago − 1", OWN,
     "listing_weeks"),
    ("price_falling", "Listings whose price fell", FigureType.SHARE, "fraction of listings", -1,
     "those that fell by more than price_fall in 26 weeks", OWN, "listing_weeks"),
    ("offers", "Offers", FigureType.AMOUNT, "offers", -1, "offers of the niche's listings now, summed", OWN,
     "listing_weeks"),
    ("offers_change", "Offers in a year", FigureType.CHANGE, "fraction", -1,
     "mean offers of the last 13 weeks ÷ the same a year before − 1, over listings known at both times "
     "or launched in between", OWN,
     "listing_weeks"),
    ("units_change", "Units in a year", FigureType.CHANGE, "fraction", 1,
     "units of the last 13 weeks ÷ the same a year before − 1, over the same listings", OWN,
     "listing_weeks"),
    ("offers_lead", "Offers ahead of units", FigureType.CHANGE, "fraction", -1,
     "(1 + offers in a year) ÷ (1 + units in a year) − 1", OWN, "listing_weeks"),
    ("sellers_change", "Sellers in a year", FigureType.CHANGE, "fraction", -1,
     "different sellers with an offer now ÷ a year ago − 1", OWN, "offers"),
    ("lead_changes", "Lead offer changes hands", FigureType.SHARE, "fraction of steps", -1,
     "steps of the last 26 weeks in which a lead offer changed its seller", OWN, "listing_weeks"),
]  # fmt: skip

COMPETITION: tuple[Figure, ...] = (
    *(
        Figure(f"competition_parts.{row[0]}", *row[1:], compute)
        for row, compute in (*_click_rows(), *_ago_rows())
    ),
    Figure("field", "Field", FigureType.WORD, "", 1,
           "Opening: effective listings grew by field_change in a year; Closing: they fell as much; "
           "unknown where the clicks accounted for differ by over a tenth", OWN, "term_clicks",
           lambda w: words(w.supply.field), choices=("Opening", "Steady", "Closing")),
    Figure("review_barrier", "Reviews of the top ten", FigureType.AMOUNT, "reviews", -1,
           "median reviews of the ten most clicked listings", OWN, "listings",
           lambda w: w.supply.barriers.reviews),
    *_rows_of("barriers", BARRIERS),
    *_rows_of("entry", ENTRY),
    Figure("entry.winners_mark", "What launches that worked share", FigureType.SENTENCE, "", 0,
           "the attribute that is commoner among them than chance has it (Fisher's exact test, 5%, "
           "Bonferroni)", "Fisher (1922)", "listings", lambda w: w.supply.entry.winners_mark),
    *_rows_of("pressure", PRESSURE),
)  # fmt: skip
