"""The terms of one niche: their figures as the run stored them, and what is worked out when asked for."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from driftfield.core.base import Floats, wilson
from driftfield.core.market import (
    FIGURES_BY_KEY,
    TERM,
    Figure,
    read_word_demand,
    recurring_words,
    wanted_not_served,
)
from driftfield.core.market.protected import protected_in
from driftfield.core.supply import part_weights, read_members
from driftfield.exchange.terms import TERM_COLUMNS
from driftfield.market.curves import unpack
from driftfield.market.models import ClickCurve, Listing, Term

from .columns import columns_of
from .load import protected_words, terms_of
from .niche_data import load_niche_data
from .plain import plain
from .reading import Reading
from .store import read_rows

# A term's growth in 13 weeks, part by part, with the figures that hold it.
GROWTH = {
    "raw": "growth_13w.raw",
    "season": "growth_13w.season",
    "drift": "growth_13w.drift",
    "low": "growth_13w.drift_low",
    "high": "growth_13w.drift_high",
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
class TermsDetail:
    """What buyers type: terms as ``term_rows``' with their demand, and the words that recur."""

    terms: list[dict[str, Any]]
    words: list[WordRow]


def term_rows(reading: Reading) -> list[dict[str, Any]]:
    """A row a term with its figures, None for unknown, most searched first; then by the term."""
    figures = [FIGURES_BY_KEY[key] for key in TERM_COLUMNS.values()]
    return _ordered([_row(term, found) for term, found in _figures(reading, figures)])


def read_terms_detail(reading: Reading) -> TermsDetail:
    """The terms of a niche in detail.

    growth_…: the growth split of 13 weeks by GROWTH. profile: season profile, None where none is
    claimed. rate_low, rate_high: Wilson interval of purchases ÷ searches. unserved:
    searched much, with a purchase rate clearly below the niche's. misspelt_of: the term it is
    likely a mistyping of. protected: the protected word that it holds.
    """
    # Of a term without a season of its own the margin of the profile is unknown.
    keys = [*TERM_COLUMNS.values(), *GROWTH.values(), "season_profile", "season_margin"]
    found = _figures(reading, [FIGURES_BY_KEY[key] for key in keys])
    terms = [term for term, _ in found]
    searches, bought = (
        np.array([figures[key] for _, figures in found], dtype=np.float64)
        for key in ("searches_52w", "purchases_52w")
    )
    low, high = wilson(bought, searches, reading.settings.interval)
    columns = columns_of(reading.run, TERM)
    held = protected_in(terms, protected_words())
    unserved = wanted_not_served(searches, high, reading.figures["purchase_rate"])
    rows = [
        {
            **_row(term, figures),
            **{f"growth_{name}": _rounded(figures[key]) for name, key in GROWTH.items()},
            "profile": figures["season_profile"] if figures["season_margin"] else None,
            "rate_low": plain(low[i]),
            "rate_high": plain(high[i]),
            "unserved": bool(unserved[i]),
            "misspelt_of": columns.right_form(term),
            "protected": held[i],
        }
        for i, (term, figures) in enumerate(found)
    ]
    return TermsDetail(_ordered(rows), _words(reading, terms, searches, bought))


def _words(reading: Reading, terms: list[str], searches: Floats, bought: Floats) -> list[WordRow]:
    """The words that recur in a niche's terms; none where it has no counts."""
    loaded = load_niche_data(reading)
    if loaded is None:
        return []
    words = recurring_words(terms, searches)
    season = reading.figures["season_profile"]
    demand = read_word_demand(
        loaded.data, None if season is None else np.array(season),
        [np.array(word.terms) for word in words], reading.settings,
    )  # fmt: skip
    split = demand.year_on_year
    rows = []
    for place, word in enumerate(words):
        at = list(word.terms)
        looked, some = np.nansum(searches[at]), not np.isnan(bought[at]).all()
        rate = np.nansum(bought[at]) / looked if looked and some else np.nan
        drift, low, high = (plain(ends[place]) for ends in (split.drift, split.low, split.high))
        rows.append(WordRow(word.word, len(at), word.share, plain(rate), drift, low, high))
    return rows


def _terms(reading: Reading) -> list[tuple[int, str]]:
    """Key and text of the niche's terms, in the order of its arrays."""
    found = Term.objects.filter(niche=reading.niche).order_by("pk")
    return list(found.values_list("pk", "term"))


def _figures(reading: Reading, wanted: list[Figure]) -> list[tuple[str, dict[str, Any]]]:
    """Each term with its figures by key, as the run stored them; None for unknown."""
    columns, terms = columns_of(reading.run, TERM), _terms(reading)
    places = {key: place for key, _ in terms if (place := columns.place_of(key)) is not None}
    rows = dict(
        zip(places, read_rows(reading.run, TERM, wanted, list(places.values())), strict=True)
    )
    unknown = dict.fromkeys(figure.key for figure in wanted)
    return [(term, rows.get(key, unknown)) for key, term in terms]


def _row(term: str, figures: dict[str, Any]) -> dict[str, Any]:
    row = {name: _rounded(figures[key]) for name, key in TERM_COLUMNS.items() if name != "branded"}
    return {"term": term, **row, "branded": {"no": 0, "yes": 1}.get(figures["branded"])}


def _rounded(value: float | None) -> float | None:
    return None if value is None else plain(value)


def _ordered(rows: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return sorted(rows, key=lambda row: (-(row["searches_52w"] or 0), row["term"]))


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
    terms, loaded = [term for _, term in _terms(reading)], load_niche_data(reading)
    if term not in terms:
        return None
    if loaded is None or loaded.data.observed is None:
        return []
    data, settings = loaded.data, reading.settings
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
