"""Figures of volume, competition and headroom."""

from __future__ import annotations

import numpy as np

from driftfield.core.analysis import Workings

from .kinds import OWN, Compute, Figure, Kind, unknown_below

HMG = "Herfindahl–Hirschman index as in the U.S. Horizontal Merger Guidelines"
OECD = "OECD/JRC Handbook on Constructing Composite Indicators (2008)"


def _purchase_rate(work: Workings) -> np.ndarray:
    searches = work.searches_52w
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.where(searches > 0, work.purchases_52w / searches, np.nan)


def _composite(name: str) -> Compute:
    def compute(work: Workings) -> np.ndarray:
        assert work.headroom is not None, "composites are computed after the headroom"
        found: np.ndarray = getattr(work.headroom, name)
        return unknown_below(found, 1) if name.startswith("rank") else found

    return compute


def _click_rows() -> list[Figure]:
    def top(k: int) -> Compute:
        return lambda w: w.listings.top[k]

    rows = [
        ("hhi_listings", "HHI of listings", Kind.AMOUNT, "points, 0–10,000", -1,
         "Σ (100 × click share)² over listings", HMG, lambda w: w.listings.hhi),
        ("effective_listings", "Effective listings", Kind.AMOUNT, "listings", 1,
         "10,000 ÷ HHI of listings", HMG, lambda w: w.listings.effective),
        ("click_breadth", "Click breadth", Kind.COUNT, "listings", 1,
         "fewest listings that together take 80% of the clicks", OWN, lambda w: w.listings.breadth),
        ("top3_share", "Share of the top 3", Kind.SHARE, "fraction of clicks", -1,
         "click shares of the three most clicked listings, summed", OWN, top(3)),
        ("top5_share", "Share of the top 5", Kind.SHARE, "fraction of clicks", -1,
         "click shares of the five most clicked listings, summed", OWN, top(5)),
        ("top20_share", "Share of the top 20", Kind.SHARE, "fraction of clicks", -1,
         "click shares of the twenty most clicked listings, summed", OWN, top(20)),
        ("hhi_brands", "HHI of brands", Kind.AMOUNT, "points, 0–10,000", -1,
         "Σ (100 × click share)² over brands", HMG, lambda w: w.brands.hhi),
        ("top_brand_share", "Share of the first brand", Kind.SHARE, "fraction of clicks", -1,
         "click shares of the most clicked brand's listings, summed", OWN, lambda w: w.brands.top[1]),
        ("accounted", "Clicks accounted for", Kind.SHARE, "fraction of clicks", 0,
         "click shares of all known listings, summed", OWN, lambda w: w.listings.accounted),
        ("listings", "Listings clicked", Kind.COUNT, "listings", 0,
         "listings with a click share in the window", OWN, lambda w: w.listings.holders),
    ]  # fmt: skip
    return [
        Figure(f"competition_parts.{key}", label, kind, unit, direction, formula, source,
               "listings" if "brand" in key else "term_clicks", compute)
        for key, label, kind, unit, direction, formula, source, compute in rows
    ]  # fmt: skip


VOLUME: tuple[Figure, ...] = (
    Figure("searches_52w", "Searches a year", Kind.AMOUNT, "searches", 1,
           "sum of the last 52 weeks", OWN, "term_weeks", lambda w: w.searches_52w),
    Figure("purchases_52w", "Purchases a year", Kind.AMOUNT, "purchases", 1,
           "sum of the last 52 weeks", OWN, "term_weeks", lambda w: w.purchases_52w),
    Figure("purchase_rate", "Purchase rate", Kind.SHARE, "purchases a search", 1,
           "purchases a year ÷ searches a year", OWN, "term_weeks", _purchase_rate, digits=5),
)  # fmt: skip

COMPETITION: tuple[Figure, ...] = (
    *_click_rows(),
    Figure("review_barrier", "Reviews of the top ten", Kind.AMOUNT, "reviews", -1,
           "median reviews of the ten most clicked listings", OWN, "listings",
           lambda w: w.review_barrier),
    Figure("demand", "Demand", Kind.INDEX, "0–100", 1,
           "weighted geometric mean of percentiles: searches ½, purchases 0.3, drift 0.2", OECD,
           "term_weeks", _composite("demand"), after_headroom=True),
    Figure("competition", "Competition", Kind.INDEX, "0–100", -1,
           "100 − weighted geometric mean of inverted percentiles: top five 0.35, reviews ¼, "
           "breadth 0.2, first brand 0.2", OECD, "term_clicks", _composite("competition"),
           after_headroom=True),
    Figure("headroom", "Headroom", Kind.INDEX, "0–100", 1,
           "√(demand × (100 − competition))", OECD, "term_clicks", _composite("headroom"),
           after_headroom=True),
    Figure("rank", "Rank", Kind.COUNT, "place, 1 is best", -1,
           "1 + niches with more headroom; equal ones share the better rank", OECD, "term_weeks",
           _composite("rank"), after_headroom=True),
    Figure("rank_low", "Rank band, best", Kind.COUNT, "place", -1,
           "5th percentile of the rank over 1,000 draws of shaken weights", OECD, "term_weeks",
           _composite("rank_low"), after_headroom=True),
    Figure("rank_high", "Rank band, worst", Kind.COUNT, "place", -1,
           "95th percentile of the rank over 1,000 draws of shaken weights", OECD, "term_weeks",
           _composite("rank_high"), after_headroom=True),
    Figure("frontier", "On the frontier", Kind.FLAG, "", 1,
           "no other niche is at least as good on demand and competition and better on one", OECD,
           "term_clicks", _composite("frontier"), after_headroom=True),
)  # fmt: skip
