"""The terms of one niche, worked out when asked for."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from driftfield.core.base import Settings, wilson
from driftfield.core.curves import CurveReadings, GrowthSplit
from driftfield.core.market import (
    TERM_FIGURES,
    MarketData,
    likely_misspelt,
    read_terms_demand,
    recurring_words,
    term_figures,
    wanted_not_served,
)
from driftfield.core.supply import part_weights, read_members
from driftfield.market.curves import unpack
from driftfield.market.models import ClickCurve, Listing, Term

from .load import load_niche, terms_of
from .models import Reading
from .niche_data import load_niche_data
from .plain import plain, plain_list
from .preview import figures_of

# A term's demand besides its figures; each (terms,), or a list a term.
GROWTH = {
    "raw": "last 13 weeks ÷ the 13 before − 1",
    "season": "what the calendar did of it",
    "drift": "what is left",
    "low": "low end of the interval of what is left",
    "high": "its high end",
}


@dataclass(frozen=True, slots=True)
class WordRow:
    """A word that recurs in the terms: how many hold it, their share of the niche's searches, their
    purchase rate, and their drift of 13 weeks against the same a year before, with its interval."""

    word: str
    terms: int
    share: float
    purchase_rate: float | None
    drift: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Typed:
    """What buyers type: terms as ``term_rows``' with their demand, and the words that recur."""

    terms: list[dict[str, Any]]
    words: list[WordRow]


def term_rows(reading: Reading) -> list[dict[str, Any]]:
    """A row a term with its figures, None for unknown, most searched first; then by the term."""
    # What the listings are is not asked for here, so it is not loaded either.
    part = load_niche(reading.niche, reading.market.run.as_of)
    data = None if part is None else part.data
    return _ordered(
        _figures(_terms(reading), data, Settings.from_dict(reading.market.run.settings))
    )


def read_typed(reading: Reading) -> Typed:
    """The terms of a niche close up.

    growth_…: the growth split of 13 weeks by GROWTH. profile: season profile, None where none is
    claimed. rate_low, rate_high: Wilson interval of purchases ÷ searches. unserved:
    wanted, and bought after clearly less than the niche. misspelt_of: the term it is
    likely a mistyping of.
    """
    settings = Settings.from_dict(reading.market.run.settings)
    terms, loaded = _terms(reading), load_niche_data(reading)
    rows = _figures(terms, None if loaded is None else loaded.data, settings)
    if loaded is None:
        nothing = {f"growth_{name}": None for name in GROWTH}
        more = {
            **nothing,
            "profile": None,
            "rate_low": None,
            "rate_high": None,
            "unserved": False,
            "misspelt_of": None,
        }
        return Typed([{**row, **more} for row in rows], [])
    searches, bought = (
        np.array([np.nan if row[key] is None else row[key] for row in rows], dtype=np.float64)
        for key in ("searches_52w", "purchases_52w")
    )
    found = recurring_words(terms, searches)
    figures = figures_of(reading)
    season = figures["season_profile"]
    profile = None if season is None else np.array(season)
    demand = read_terms_demand(
        loaded.data, profile, settings, [np.array(word.terms) for word in found]
    )
    low, high = wilson(bought, searches, settings.interval)
    wrong = likely_misspelt(terms, searches)
    unserved = wanted_not_served(searches, high, figures["purchase_rate"])
    for i, row in enumerate(rows):
        right = wrong[i]
        row |= _growth(demand.growth[13], i)
        row |= {
            "profile": plain_list(demand.factors[i], 4) if _seasonal(demand, i) else None,
            "rate_low": plain(low[i]),
            "rate_high": plain(high[i]),
            "unserved": bool(unserved[i]),
            "misspelt_of": None if right is None else terms[right],
        }
    words = []
    for place, word in enumerate(found, start=len(terms)):
        at = list(word.terms)
        looked = np.nansum(searches[at])
        rate = (
            np.nansum(bought[at]) / looked if looked and not np.isnan(bought[at]).all() else np.nan
        )
        split = _growth(demand.year_on_year, place)
        words.append(
            WordRow(
                word.word, len(at), word.share, plain(rate), split["growth_drift"],
                split["growth_low"], split["growth_high"],
            )
        )  # fmt: skip
    return Typed(_ordered(rows), words)


def _terms(reading: Reading) -> list[str]:
    """The niche's terms in the order of its arrays."""
    found = Term.objects.filter(niche=reading.niche).order_by("pk")
    return list(found.values_list("term", flat=True))


def _figures(terms: list[str], data: MarketData | None, settings: Settings) -> list[dict[str, Any]]:
    if data is None:
        return [{"term": term, **dict.fromkeys(TERM_FIGURES)} for term in terms]
    figures = term_figures(data, settings)
    return [
        {"term": term, **{key: plain(values[i]) for key, values in figures.items()}}
        for i, term in enumerate(terms)
    ]


def _ordered(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return sorted(rows, key=lambda row: (-(row["searches_52w"] or 0), row["term"]))


def _growth(split: GrowthSplit, at: int) -> dict[str, float | None]:
    return {f"growth_{name}": plain(getattr(split, name)[at]) for name in GROWTH}


def _seasonal(demand: CurveReadings, at: int) -> bool:
    return bool(demand.claimed[at]) and not np.isnan(demand.factors[at]).any()


@dataclass(frozen=True, slots=True)
class Destination:
    """A listing clicked after a term: its share of the term's clicks now and a year ago, and of its
    purchases at their latest observation, as fractions; None for unknown."""

    listing_id: str
    title: str
    click_share: float
    before: float | None
    purchase_share: float | None


def destinations(reading: Reading, term: str) -> list[Destination] | None:
    """Where a term's clicks go, most clicked first; None where the niche has no such term."""
    terms, loaded = _terms(reading), load_niche_data(reading)
    if term not in terms:
        return None
    if loaded is None or loaded.data.observed is None:
        return []
    data, settings = loaded.data, Settings.from_dict(reading.market.run.settings)
    assert data.observed is not None
    own = data.observed.of(data.observed.term == terms.index(term))
    members = read_members(
        own, part_weights(own, data.searches, data.clicks), np.zeros(len(terms), dtype=np.int64), 1,
        data.timeline.length, int(settings.click_weeks), data.timeline.period,
    )  # fmt: skip
    now = members.now
    keys = [loaded.keys[place] for place in members.listing[now].tolist()]
    known = Listing.objects.in_bulk(keys)
    bought = ClickCurve.objects.filter(
        measure="purchase_share", subject__in=terms_of(reading.niche).filter(term=term)
    )
    latest = {row.listing_id: float(unpack(bytes(row.values))[-1]) for row in bought}
    return [
        Destination(
            known[key].listing_id, known[key].title, float(share[0]), plain(float(share[-1])),
            plain(latest[key]) if key in latest else None,
        )
        for key, share in zip(keys, members.share[now], strict=True)
    ]  # fmt: skip
