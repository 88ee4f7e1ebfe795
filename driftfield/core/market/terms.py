"""Figures of each term: how much is looked for with it, and who takes the clicks after it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from driftfield.core.base import DEFAULTS, Bools, Floats, Ints, Settings, finite, ratio
from driftfield.core.curves import LEAST_SPREAD, CurveReadings, Prior, read_curves, sum_by_group
from driftfield.core.supply import Clicks, read_terms

from .data import MarketData, year_total

# Key and what it is; each (terms,), NaN for unknown.
TERM_FIGURES = {
    "searches_52w": "searches of the last 52 weeks",
    "clicks_52w": "clicks of the last 52 weeks",
    "purchases_52w": "purchases of the last 52 weeks",
    "purchase_rate": "purchases ÷ searches",
    "branded": "1 where the term names a brand, 0 where not",
    "hhi_listings": "Σ (100 × click share)² over listings, the least it can be",
    "hhi_listings_high": "the most it can be",
    "effective_listings": "10,000 ÷ HHI",
    "click_breadth": "fewest listings that take 80% of the clicks",
    "click_breadth_least": "the fewest it can be",
    "top1_share": "click share of the most clicked listing",
    "top3_share": "of the three most clicked",
    "top5_share": "of the five most clicked",
    "top20_share": "of the twenty most clicked",
    "gini": "Gini coefficient of the known listings' shares",
    "accounted": "share of the clicks that belongs to a known listing",
    "listings": "listings clicked",
}


def term_figures(data: MarketData, settings: Settings = DEFAULTS) -> dict[str, Floats]:
    """Figures of every term of a market by the keys of TERM_FIGURES, each (terms,)."""
    n = len(data.term_subject)
    unknown = np.full(n, np.nan)
    none = np.empty(0, dtype=np.int64)
    seen = data.observed if data.observed is not None else Clicks(none, none, none, np.empty(0))

    def year(values: Floats | None) -> Floats:
        if values is None or not data.counts:
            return unknown
        return year_total(values, data.timeline, settings)

    searches, purchases = year(data.searches), year(data.purchases)
    clicked = read_terms(seen, data.searches, data.clicks, data.timeline, settings)
    found = clicked.listings
    figures = {
        "searches_52w": searches,
        "clicks_52w": year(data.clicks),
        "purchases_52w": purchases,
        "purchase_rate": ratio(purchases, searches),
        "branded": unknown if data.branded is None else data.branded,
        "hhi_listings": found.hhi,
        "hhi_listings_high": clicked.bounds.hhi_high,
        "effective_listings": found.effective,
        "click_breadth": found.breadth,
        "click_breadth_least": clicked.bounds.breadth_least,
        **{f"top{k}_share": share for k, share in found.top.items()},
        "gini": found.gini,
        "accounted": found.accounted,
        "listings": found.holders,
    }
    return {key: finite(values) for key, values in figures.items()}


def read_terms_demand(
    data: MarketData,
    profile: Floats | None,
    settings: Settings = DEFAULTS,
    words: Sequence[Ints] = (),
) -> CurveReadings:
    """Demand of every term of one niche, (terms + words,), and of the terms that hold each word.

    ``profile`` (slots,) is the niche's season: a term too noisy to show one leans on it as a niche
    leans on its category. words: for each the places of its terms, whose searches are summed.
    """
    curves = data.searches
    if words:
        longest = int(settings.bridge_periods)
        sums = [
            sum_by_group(curves[at], np.zeros(len(at), dtype=np.int64), 1, longest) for at in words
        ]
        curves = np.concatenate([curves, *sums])
    prior = None
    if profile is not None and data.counts:
        n = len(curves)
        prior = Prior(np.repeat(profile[None], n, axis=0), np.full(n, LEAST_SPREAD**2))
    return read_curves(curves, data.timeline, settings, counts=data.counts, prior=prior)


CLEARLY = 1.25  # Factor by which a rate must lie beyond the niche's to be told; own choice.


def wanted_not_served(searches: Floats, rate_high: Floats, usual: float | None) -> Bools:
    """Terms searched at least as much as the middle one and bought after clearly less, (terms,).

    ``rate_high`` is the upper end of each purchase rate's interval, NaN for unknown, and ``usual`` the
    niche's rate: even the upper end times CLEARLY lies below it.
    """
    known = ~np.isnan(searches) & ~np.isnan(rate_high)
    if usual is None or not known.any():
        return np.zeros(len(searches), dtype=bool)
    middle = float(np.median(searches[known]))
    with np.errstate(invalid="ignore"):
        return np.asarray(known & (searches >= middle) & (rate_high * CLEARLY < usual))
