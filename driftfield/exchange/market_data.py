"""From a package to the arrays the core reads, one set a market."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any, TypeVar

import numpy as np
import polars as pl

from driftfield.core.base import CoreError, Floats, Ints, Period, Timeline
from driftfield.core.curves import Interest
from driftfield.core.market import CATEGORY, LISTING, NICHE, CategoryTree, MarketData, Workings
from driftfield.core.market.protected import ProtectedWord, marks_of
from driftfield.core.supply import Clicks, Listings

from .completeness import last_complete
from .listing_data import history_of, listings_of, own_sales_of
from .matrices import Curves, complete_until, curves_of, encode, encode_in_order, numbers_of
from .reader import Package
from .voice_groups import said_reader
from .whole import Whole

T = TypeVar("T")
LONE_MARKET = "market"  # Id of the market where a package names none.


@dataclass(frozen=True, slots=True)
class MarketInput:
    """One market of a package: who its niches and terms are, and its arrays.

    currency: ISO 4217, empty where the package does not say. pages: who
    ``data.listings`` are: listing_id, title, brand and seller_id, null for unknown.
    """

    market_id: str
    niche_names: list[str]
    terms: list[str]
    data: MarketData
    currency: str = ""
    pages: pl.DataFrame | None = None

    @property
    def listing_ids(self) -> list[str]:
        """Ids of ``data.listings``."""
        return [] if self.pages is None else self.pages["listing_id"].to_list()

    def identity(self, work: Workings) -> dict[str, Sequence[str | None]]:
        """The columns by which the subjects of a kind that was read are known, in the order of its readings."""
        kind, niches = work.data.kind, self.data.subjects
        named: dict[str, Sequence[str | None]]
        if kind == NICHE:
            named = {"niche_id": niches, "name": self.niche_names}
        elif kind == CATEGORY:
            assert work.category is not None, "categories were read of a tree"
            tree = work.category.tree
            named = {
                "category_id": tree.ids, "name": tree.names, "parent_id": tree.parent_ids(),
            }  # fmt: skip
        elif kind == LISTING:
            named = self._listings(work)
        elif work.holder is not None:
            named = holders_named(work, [] if self.data.tree is None else self.data.tree.ids)
        else:
            owner = self.data.term_subject.tolist()
            named = {"term": self.terms, "niche_id": [niches[place] for place in owner]}
        return {"market_id": [self.market_id] * len(named[kind.subject]), **named}

    def _listings(self, work: Workings) -> dict[str, Sequence[str | None]]:
        pages = self.pages
        assert pages is not None, "listings were read"
        categories = [] if self.data.tree is None else self.data.tree.ids
        return {
            "listing_id": self.listing_ids,
            "name": pages["title"].fill_null(pages["listing_id"]).to_list(),
            "brand": pages["brand"].to_list(),
            "seller_id": pages["seller_id"].to_list(),
            "category_id": named_by(work.data.category, categories),
            "niche_id": named_by(work.data.niche, self.data.subjects),
        }


def holders_named(work: Workings, categories: Sequence[T]) -> dict[str, Sequence[Any]]:
    """Who the brands or sellers are that were read; ``categories`` are those of the market's tree."""
    holder = work.holder
    assert holder is not None, "brands or sellers were read"
    names = holder.people.names
    return {
        work.data.kind.subject: work.data.subjects,
        "name": [names[code] for code in holder.goods.codes.tolist()],
        "category_id": named_by(work.data.category, categories),
    }


def named_by(places: Ints | None, names: Sequence[T]) -> list[T | None]:
    """What stands at each place; None at −1."""
    at = [] if places is None else places.tolist()
    return [names[place] if place >= 0 else None for place in at]


def term_curves(package: Package) -> Curves:
    """Searches, impressions, clicks and purchases of each term, from long or wide term_weeks."""
    if package.counts is not None:
        return package.counts
    frame = package.frames["term_weeks"]
    period = package.periods["term_weeks"]
    if not package.wide:
        return curves_of(frame, "term", period, ["searches", "impressions", "clicks", "purchases"])
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


def assemble(
    package: Package, as_of: date | None = None, whole: Whole | None = None
) -> tuple[list[MarketInput], list[str]]:
    """The markets of a package as arrays up to the last complete period, with notes.

    ``whole`` is what is known of the whole package, where this is a part of it.

    A market whose niches are known partly by relative curves alone comes as two: its counts, and
    those curves. Raises CoreError when ``as_of`` lies before the first complete period.
    """
    frames = package.frames
    if whole is None and not package.has_counts and "interest" not in frames:
        raise CoreError("There is no term_weeks table to analyse.")
    names = _text(frames.get("niches"), "niche_id", "name")
    niche_of = _text(frames.get("terms"), "term", "niche_id")
    for niche in niche_of.values():
        names.setdefault(niche, niche)
    counts = term_curves(package) if package.has_counts else None
    relative = interest_curves(package)
    if whole is not None:
        counts = None if whole.counts is None else whole.counts.widen(counts)
        relative = None if whole.relative is None else whole.relative.widen(relative)
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
        made, note = _parts(package, curves, measure, wanted, names, by_term, as_of, whole)
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
    whole: Whole | None,
) -> tuple[list[MarketInput], str | None]:
    """One kind of curve by market, for the niches that are read from it, with a note."""
    frames = package.frames
    counts = measure == "searches"
    if whole is None:
        until = complete_until(package.created)
        end, note = last_complete(curves.measures[measure], curves.timeline, as_of, until)
    else:
        span = whole.counts if counts else whole.relative
        assert span is not None, "there are such curves"
        end, note = span.end, None
    markets = _text(frames.get("niches"), "niche_id", "market_id")
    currencies = _text(frames.get("markets"), "market_id", "currency")
    declared = frames["markets"]["market_id"].to_list() if "markets" in frames else []
    default = declared[0] if declared else LONE_MARKET
    members: dict[str, list[str]] = {}
    for niche in wanted:
        members.setdefault(markets.get(niche, default), []).append(niche)
    term_place = {term: i for i, term in enumerate(curves.subjects)}
    tree = category_tree(package) if whole is None else whole.tree
    clicks, listings, ids = (
        _clicks(package, curves, term_place, tree, whole) if counts else (None, None, [])
    )
    named = _pages(package, ids)
    branded = _branded(package, curves.subjects) if counts else None
    protected = _protected(package, curves.subjects) if counts else None
    owner = np.array([by_term[t] for t in curves.subjects], dtype=object)
    category_of = _text(frames.get("niches"), "niche_id", "category_id")
    category = {} if tree is None else {key: i for i, key in enumerate(tree.ids)}

    alone, tops = (
        (np.empty(0, dtype=np.int64),) * 2
        if listings is None
        else unclicked(clicks, listings, tree)
    )
    served = [
        {int(tree.top[category[c]]) for n in niches if (c := category_of.get(n)) is not None}
        if tree is not None
        else set()
        for niches in members.values()
    ]
    own_period = package.periods.get("own_sales", Period.WEEK)
    out = []
    for (market_id, niches), own_tops in zip(members.items(), served, strict=True):
        place = {niche: i for i, niche in enumerate(niches)}
        term_subject = np.array([place.get(n, -1) for n in owner], dtype=np.int64)
        every = bool((term_subject >= 0).all())
        rows = np.arange(len(owner)) if every else np.flatnonzero(term_subject >= 0)
        measures = {k: m if every else m[rows] for k, m in curves.measures.items()}
        seen, pages, whose = clicks, listings, named
        if pages is not None and not every:
            # A listing that nobody clicks is the market's to which alone its categories belong.
            mine = [
                len(members) == 1 or (top in own_tops and sum(top in each for each in served) == 1)
                for top in tops.tolist()
            ]
            seen, which = part_of_market(seen, rows, len(owner), alone[np.array(mine, dtype=bool)])
            pages, whose = pages.take(which), named[which]
        if seen is not None and whole is not None:
            latest = whole.clicks.get(market_id, -1)
            seen = replace(seen, latest=latest - curves.timeline.first_number)
        data = MarketData(
            timeline=curves.timeline,
            subjects=niches,
            term_subject=term_subject[rows],
            searches=measures[measure],
            clicks=measures.get("clicks"),
            purchases=measures.get("purchases"),
            impressions=measures.get("impressions"),
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
            tree=tree,
            own_sales=own_sales_of(niches, frames, own_period, "niche_id") if counts else None,
        ).upto(end)
        terms = [curves.subjects[i] for i in rows.tolist()]
        own = [] if whose is None else whose["listing_id"].to_list()
        data = replace(data, voices=said_reader(package, data, terms, own, as_of))
        niche_names = [names[n] for n in niches]
        currency = currencies.get(market_id, "")
        out.append(MarketInput(market_id, niche_names, terms, data, currency, whose))
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


def category_tree(package: Package) -> CategoryTree | None:
    """The categories of a package; those that only niches or listings name stand at the top by their ids."""
    named: list[list[str]] = []
    for name in ("niches", "listings"):
        frame = package.frames.get(name)
        if frame is not None and "category_id" in frame.columns:
            named.append(frame["category_id"].drop_nulls().unique(maintain_order=True).to_list())
    return tree_of(package.frames.get("categories"), named)


def tree_of(table: pl.DataFrame | None, named: Iterable[Iterable[str]]) -> CategoryTree | None:
    """The categories of a table, and those that are only ``named``; None where there are none."""
    rows: dict[str, tuple[str, str, str | None]] = {}
    if table is not None:
        above = table["parent_id"] if "parent_id" in table.columns else [None] * table.height
        for row in zip(table["category_id"], table["name"], above, strict=True):
            rows.setdefault(row[0], row)
    for keys in named:
        for key in keys:
            rows.setdefault(key, (key, key, None))
    return CategoryTree.of(rows.values()) if rows else None


def _clicks(
    package: Package,
    curves: Curves,
    term_place: dict[str, int],
    tree: CategoryTree | None,
    whole: Whole | None,
) -> tuple[Clicks | None, Listings | None, list[str]]:
    """The observed clicks, and what is known of the listings with their ids: those clicked come first."""
    frame = package.frames.get("term_clicks")
    table = package.frames.get("listings")
    seen: Clicks | None = None
    ids: list[str] = []
    if frame is not None:
        terms, code = encode(frame["term"])
        term = np.array([term_place.get(t, -1) for t in terms], dtype=np.int64)[code]
        at = numbers_of(frame["week"], curves.timeline.period) - curves.timeline.first_number
        inside = (term >= 0) & (at >= 0) & (at < curves.timeline.length)
        ids, listing = encode_in_order(frame["listing_id"])
        share = frame["click_share"].to_numpy()
        seen = Clicks(term[inside], at[inside], listing[inside], share[inside])
    if table is not None:
        clicked = set(ids)
        ids = [*ids, *(key for key in table["listing_id"].to_list() if key not in clicked)]
    if seen is None and table is None:
        return None, None, []
    history = history_of(
        ids,
        package.frames,
        package.periods.get("listing_weeks", Period.WEEK),
        None if whole is None else whole.history,
    )
    own = own_sales_of(ids, package.frames, package.periods.get("own_sales", Period.WEEK))
    return seen, listings_of(ids, package.frames, history, tree, own), ids


def _pages(package: Package, ids: list[str]) -> pl.DataFrame:
    """Who listings are, in the order of ``ids``; what the table does not say is null."""
    wanted = pl.DataFrame({"listing_id": pl.Series(ids, dtype=pl.String)})
    table = package.frames.get("listings")
    if table is not None:
        columns = [one for one in ("title", "brand", "seller_id") if one in table.columns]
        wanted = wanted.join(
            table.select("listing_id", *columns), on="listing_id", how="left", maintain_order="left"
        )
    lacking = {"title", "brand", "seller_id"} - set(wanted.columns)
    return wanted.with_columns(pl.lit(None, dtype=pl.String).alias(one) for one in sorted(lacking))


def part_of_market(
    clicks: Clicks | None, rows: Ints, terms: int, others: Ints
) -> tuple[Clicks | None, Ints]:
    """The observations of some terms, renumbered, and which listings then count: theirs, then ``others``."""
    if clicks is None:
        return None, others
    place = np.full(terms, -1, dtype=np.int64)
    place[rows] = np.arange(len(rows))
    term = place[clicks.term]
    kept = term >= 0
    pages, page = np.unique(clicks.listing[kept], return_inverse=True)
    found = Clicks(term[kept], clicks.at[kept], page, clicks.share[kept])
    return found, np.concatenate([pages, others])


def unclicked(
    clicks: Clicks | None, listings: Listings, tree: CategoryTree | None
) -> tuple[Ints, Ints]:
    """Listings that nobody clicks, and the top of the tree each one's category lies in, −1 for none."""
    rows = np.ones(len(listings), dtype=bool)
    if clicks is not None:
        rows[clicks.listing] = False
    found = np.flatnonzero(rows)
    if tree is None:
        return found, np.full(len(found), -1, dtype=np.int64)
    category = listings.category[found]
    return found, np.where(category >= 0, tree.top[category], -1)
