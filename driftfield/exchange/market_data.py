"""From a package to the arrays the core reads, one set a market."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, Floats, Ints, Period, Timeline
from driftfield.core.curves import Interest
from driftfield.core.market import NICHE, Kind, MarketData
from driftfield.core.market.protected import ProtectedWord, marks_of
from driftfield.core.supply import Clicks, Listings

from .completeness import last_complete
from .listing_data import history_of, listings_of
from .matrices import Curves, complete_until, curves_of, encode, numbers_of
from .reader import Package

LONE_MARKET = "market"  # Id of the market where a package names none.


@dataclass(frozen=True, slots=True)
class MarketInput:
    """One market of a package: who its niches and terms are, and its arrays.

    currency: ISO 4217, empty where the package does not say.
    """

    market_id: str
    niche_names: list[str]
    terms: list[str]
    data: MarketData
    currency: str = ""

    def identity(self, kind: Kind) -> dict[str, list[str]]:
        """The columns by which the subjects of a kind are known, in the order of its readings."""
        niches = self.data.subjects
        if kind == NICHE:
            named = {"niche_id": niches, "name": self.niche_names}
        else:
            owner = self.data.term_subject.tolist()
            named = {"term": self.terms, "niche_id": [niches[place] for place in owner]}
        return {"market_id": [self.market_id] * len(named[kind.subject]), **named}


def term_curves(package: Package) -> Curves:
    """Searches, clicks and purchases of each term, from long or wide term_weeks."""
    if package.counts is not None:
        return package.counts
    frame = package.frames["term_weeks"]
    period = package.periods["term_weeks"]
    if not package.wide:
        return curves_of(frame, "term", period, ["searches", "clicks", "purchases"])
    names = frame.columns[1:]
    numbers = np.array([period.number(date.fromisoformat(name)) for name in names])
    first = int(numbers.min())
    timeline = Timeline(period, period.start(first), int(numbers.max()) - first + 1)
    order = np.argsort(numbers)
    values = frame.select([names[i] for i in order]).to_numpy().astype(np.float64, copy=False)
    if timeline.length != len(names):
        matrix = np.full((frame.height, timeline.length), np.nan)
        matrix[:, numbers[order] - first] = values
        values = matrix
    return Curves(frame["term"].to_list(), timeline, {"searches": values})


def niche_ids(
    terms: list[str], niche_of: dict[str, str], declared: dict[str, str]
) -> dict[str, str]:
    """Niche of each term. A term without one is a niche of its own, named and known by the term."""
    out = {}
    for term in terms:
        niche = niche_of.get(term)
        if niche is None:
            niche = f"term:{term}" if term in declared else term
        out[term] = niche
    return out


def _text(frame: pl.DataFrame | None, key: str, value: str) -> dict[str, str]:
    if frame is None or value not in frame.columns:
        return {}
    pairs = zip(frame[key].to_list(), frame[value].to_list(), strict=True)
    return {k: v for k, v in pairs if v is not None}


def assemble(package: Package, as_of: date | None = None) -> tuple[list[MarketInput], list[str]]:
    """The markets of a package as arrays up to the last complete period, with notes.

    A market whose niches are known partly by relative curves alone comes as two: its counts, and
    those curves. Raises CoreError when ``as_of`` lies before the first complete period.
    """
    frames = package.frames
    if not package.has_counts and "interest" not in frames:
        raise CoreError("There is no term_weeks table to analyse.")
    names = _text(frames.get("niches"), "niche_id", "name")
    niche_of = _text(frames.get("terms"), "term", "niche_id")
    for niche in niche_of.values():
        names.setdefault(niche, niche)
    counts = term_curves(package) if package.has_counts else None
    relative = interest_curves(package)
    terms = [term for curves in (counts, relative) if curves for term in curves.subjects]
    by_term = niche_ids(list(dict.fromkeys(terms)), niche_of, names)
    for term, niche in by_term.items():
        names.setdefault(niche, term)
    # A niche of which there is nothing but a relative curve is read from that.
    alone: set[str] = set()
    if relative is not None:
        alone = {by_term[term] for term in relative.subjects}
        alone -= {by_term[term] for term in counts.subjects} if counts else set()

    out: list[MarketInput] = []
    notes: list[str] = []
    for curves, measure, wanted in (
        (counts, "searches", [n for n in names if n not in alone] if alone else list(names)),
        (relative, "index", [n for n in names if n in alone] if alone else []),
    ):
        if curves is None or not wanted:
            continue
        made, note = _parts(package, curves, measure, wanted, names, by_term, as_of)
        if relative is not None and measure == "searches":
            made = [_beside(part, relative, by_term) for part in made]
        out += made
        if note:
            notes.append(note)
    return out, notes


def interest_curves(package: Package) -> Curves | None:
    """Relative curves of terms; None where there are none."""
    frame = package.frames.get("interest")
    if frame is None:
        return None
    return curves_of(frame, "term", package.periods["interest"], ["index"])


def _parts(
    package: Package,
    curves: Curves,
    measure: str,
    wanted: list[str],
    names: dict[str, str],
    by_term: dict[str, str],
    as_of: date | None,
) -> tuple[list[MarketInput], str | None]:
    """One kind of curve by market, for the niches that are read from it, with a note."""
    frames = package.frames
    counts = measure == "searches"
    until = complete_until(package.created)
    end, note = last_complete(curves.measures[measure], curves.timeline, as_of, until)
    markets = _text(frames.get("niches"), "niche_id", "market_id")
    currencies = _text(frames.get("markets"), "market_id", "currency")
    declared = frames["markets"]["market_id"].to_list() if "markets" in frames else []
    default = declared[0] if declared else LONE_MARKET
    members: dict[str, list[str]] = {}
    for niche in wanted:
        members.setdefault(markets.get(niche, default), []).append(niche)
    term_place = {term: i for i, term in enumerate(curves.subjects)}
    clicks, listings = _clicks(package, curves, term_place) if counts else (None, None)
    branded = _branded(package, curves.subjects) if counts else None
    protected = _protected(package, curves.subjects) if counts else None
    owner = np.array([by_term[t] for t in curves.subjects], dtype=object)
    category_of = _text(frames.get("niches"), "niche_id", "category_id")
    category = {c: i for i, c in enumerate(dict.fromkeys(category_of.values()))}

    out = []
    for market_id, niches in members.items():
        place = {niche: i for i, niche in enumerate(niches)}
        term_subject = np.array([place.get(n, -1) for n in owner], dtype=np.int64)
        whole = bool((term_subject >= 0).all())
        rows = np.arange(len(owner)) if whole else np.flatnonzero(term_subject >= 0)
        measures = {k: m if whole else m[rows] for k, m in curves.measures.items()}
        seen, pages = clicks, listings
        if seen is not None and pages is not None and not whole:
            seen, pages = of_terms(seen, pages, rows, len(owner))
        data = MarketData(
            timeline=curves.timeline,
            subjects=niches,
            term_subject=term_subject[rows],
            searches=measures[measure],
            clicks=measures.get("clicks"),
            purchases=measures.get("purchases"),
            branded=None if branded is None else branded[rows],
            protected=None if protected is None else protected[rows],
            observed=seen,
            listings=pages,
            counts=counts,
            category=np.array(
                [category.get(category_of.get(n, ""), -1) for n in niches], dtype=np.int64
            )
            if category
            else None,
        ).upto(end)
        terms = [curves.subjects[i] for i in rows.tolist()]
        niche_names = [names[n] for n in niches]
        currency = currencies.get(market_id, "")
        out.append(MarketInput(market_id, niche_names, terms, data, currency))
    return out, note


def _branded(package: Package, terms: list[str]) -> Floats | None:
    """Whether each term holds a brand's name, (terms,); None where the tables do not say."""
    frame = package.frames.get("terms")
    if frame is None or "branded" not in frame.columns:
        return None
    known = frame.drop_nulls("branded")
    marks = dict(zip(known["term"].to_list(), known["branded"].to_list(), strict=True))
    return np.array([marks.get(term, np.nan) for term in terms], dtype=np.float64)


def _protected(package: Package, terms: list[str]) -> Floats | None:
    """Whether each term holds a protected word, (terms,); None without a list of them."""
    frame = package.frames.get("protected_words")
    if frame is None:
        return None
    match = frame["match"].to_list() if "match" in frame.columns else [None] * frame.height
    words = [
        ProtectedWord(word, how == "contains")
        for word, how in zip(frame["word"].to_list(), match, strict=True)
    ]
    return marks_of(terms, words)


def _beside(part: MarketInput, relative: Curves, by_term: dict[str, str]) -> MarketInput:
    """The same market with the relative curves of its niches beside the counts."""
    place = {niche: i for i, niche in enumerate(part.data.subjects)}
    owner = np.array([place.get(by_term[t], -1) for t in relative.subjects], dtype=np.int64)
    rows = np.flatnonzero(owner >= 0)
    if not rows.size:
        return part
    interest = Interest(relative.timeline, owner[rows], relative.measures["index"][rows])
    return replace(part, data=replace(part.data, interest=interest))


def _clicks(
    package: Package, curves: Curves, term_place: dict[str, int]
) -> tuple[Clicks | None, Listings | None]:
    """The observed clicks, and what is known of the listings they went to."""
    frame = package.frames.get("term_clicks")
    if frame is None:
        return None, None
    terms, code = encode(frame["term"])
    term = np.array([term_place.get(t, -1) for t in terms], dtype=np.int64)[code]
    at = numbers_of(frame["week"], curves.timeline.period) - curves.timeline.first_number
    inside = (term >= 0) & (at >= 0) & (at < curves.timeline.length)
    ids, listing = encode(frame["listing_id"])
    share = frame["click_share"].to_numpy()
    history = history_of(ids, package.frames, package.periods.get("listing_weeks", Period.WEEK))
    seen = Clicks(term[inside], at[inside], listing[inside], share[inside])
    return seen, listings_of(ids, package.frames, history)


def of_terms(clicks: Clicks, listings: Listings, rows: Ints, terms: int) -> tuple[Clicks, Listings]:
    """The observations of some terms, and their listings, both renumbered."""
    place = np.full(terms, -1, dtype=np.int64)
    place[rows] = np.arange(len(rows))
    term = place[clicks.term]
    kept = term >= 0
    pages, page = np.unique(clicks.listing[kept], return_inverse=True)
    return Clicks(term[kept], clicks.at[kept], page, clicks.share[kept]), listings.take(pages)
