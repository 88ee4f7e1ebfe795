"""Searches from a seed on files: what is found, and how buyers go on."""

from __future__ import annotations

import math
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl

from driftfield.core.base import DEFAULTS, Bools, CoreError, Floats
from driftfield.core.market import year_total
from driftfield.core.market.related import by_clicks_or_words
from driftfield.core.market.seeds import Onward, Seed, TermIndex, Volume
from driftfield.core.market.vectors import market_clicks

from .formulas import guarded
from .market_data import MarketInput, assemble
from .package import Package

DECIMALS = 4


@dataclass(frozen=True, slots=True)
class MarketTerms:
    """The terms of a market with their words, and their searches of the last 52 weeks and the 52 before."""

    market: MarketInput
    index: TermIndex
    searches: Floats
    before: Floats


def market_terms(package: Package, market_id: str | None, language: str) -> MarketTerms:
    """The terms of a market; where ``market_id`` is None, of the only one.

    Raises CoreError where there is no such market, or several and none is named.
    """
    markets = [one for one in assemble(package)[0] if one.data.counts]
    found = [one for one in markets if market_id in (None, one.market_id)]
    known = (
        ", ".join(one.market_id for one in markets) or "none, for there are no counts of searches"
    )
    if not found:
        raise CoreError(f"There is no market “{market_id}”. Known: {known}.")
    if len(found) > 1:
        raise CoreError(f"There are several markets: {known}. Name one with --market.")
    (market,) = found
    data, year = market.data, market.data.timeline.period.span(52)
    return MarketTerms(
        market, TermIndex(market.terms, language),
        year_total(data.searches, data.timeline, DEFAULTS),
        year_total(data.searches[:, :-year], data.timeline, DEFAULTS),
    )  # fmt: skip


def seed_record(terms: MarketTerms, seed: Seed) -> dict[str, Any]:
    """What a seed finds and how it goes on, as JSON takes it; unknown is None."""
    found = terms.index.onward(seed, terms.searches, terms.before)
    asked = {"how": seed.how, "also": seed.also, "without": seed.without, "exact": seed.exact}
    return {"seed": seed.text, **asked, **onward_record(found)}


def onward_record(found: Onward) -> dict[str, Any]:
    """How a seed goes on, as JSON takes it; unknown is None."""
    return {
        **_volume(found.whole),
        **{
            name: [{"name": one.name, **_volume(one.volume), "first": one.first} for one in steps]
            for name, steps in (
                ("after", found.after), ("before", found.before), ("beside", found.beside)
            )
        },
    }  # fmt: skip


def related_record(
    terms: MarketTerms, term: str, *, most: int = 20, apart: bool = True
) -> dict[str, Any]:
    """What else a term's buyers look for, as JSON takes it. Raises CoreError for no such term."""
    if term not in terms.market.terms:
        raise CoreError(f"“{term}” is not typed in market “{terms.market.market_id}”.")
    market = terms.market
    by, found = by_clicks_or_words(
        market_clicks(market.data), terms.index, market.terms.index(term), most=most, apart=apart
    )
    owner, niches = market.data.term_subject.tolist(), market.data.subjects
    return {
        "term": term,
        "by": by,
        "terms": [
            {
                "term": market.terms[one.place],
                "niche_id": niches[owner[one.place]],
                "strength": round(one.strength, DECIMALS),
                "shared": one.shared,
                "searches_52w": _known(terms.searches[one.place], 2),
            }
            for one in found
        ],
    }


def write_found(terms: MarketTerms, found: Bools, to: Path) -> None:
    """The terms that were found, most searched first, with their niche, as CSV."""
    market, places = terms.market, np.flatnonzero(found).tolist()
    owner, niches = market.data.term_subject.tolist(), market.data.subjects
    frame = pl.DataFrame(
        {
            "market_id": [market.market_id] * len(places),
            "term": [market.terms[place] for place in places],
            "niche_id": [niches[owner[place]] for place in places],
            "searches_52w": terms.searches[places],
            "growth_52w": _growth(terms)[places].round(DECIMALS),
        },
        schema={"market_id": pl.String, "term": pl.String, "niche_id": pl.String,
                "searches_52w": pl.Float64, "growth_52w": pl.Float64},
    ).fill_nan(None)  # fmt: skip
    guarded(
        frame.sort("searches_52w", "term", descending=[True, False], nulls_last=True)
    ).write_csv(to)


def _growth(terms: MarketTerms) -> Floats:
    known = terms.before > 0
    return np.where(known, terms.searches / np.where(known, terms.before, 1) - 1, np.nan)


def _volume(volume: Volume) -> dict[str, Any]:
    return {
        "terms": volume.terms,
        "searches_52w": _known(volume.searches, 2),
        "growth_52w": _known(volume.growth, DECIMALS),
    }


def _known(value: float, decimals: int) -> float | None:
    return None if math.isnan(value) else round(value, decimals)
