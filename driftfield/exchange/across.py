"""Subjects in several markets, from files: matched by id or by a table of matches, money by one of rates."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from driftfield.core.base import CoreError, Settings
from driftfield.core.curves import sum_by_group
from driftfield.core.economics import Rate, rate_between
from driftfield.core.market import (
    CATEGORY,
    NICHE,
    TERM,
    Across,
    CategoryTree,
    Demand,
    InMarket,
    Kind,
    Matches,
    Named,
    Workings,
    figures_of,
    lay_across,
    propose_matches,
    run_categories,
    run_market,
)
from driftfield.core.sentences import plain

from .market_data import MarketInput, assemble
from .own_tables import match_row
from .package import Package


@dataclass
class MarketFigures:
    """One market's figures of a kind, to be laid beside those of others."""

    market: MarketInput
    name: str
    work: Workings
    ids: list[str]
    names: list[str]
    above: list[tuple[str, ...]]
    terms: dict[int, list[str]]
    places: dict[str, int] = field(init=False)

    def __post_init__(self) -> None:
        self.places = {subject: at for at, subject in enumerate(self.ids)}

    @property
    def market_id(self) -> str:
        return self.market.market_id

    def named(self) -> list[Named]:
        return [
            Named(subject, name, above, tuple(self.terms.get(at, ())))
            for at, (subject, name, above) in enumerate(
                zip(self.ids, self.names, self.above, strict=True)
            )
        ]

    def figures(self, at: int) -> dict[str, Any]:
        """All figures of a subject by key, as in its record."""
        columns = self.work.figures
        return {
            figure.key: plain(figure, columns[figure.key][at : at + 1].tolist()[0])
            for figure in figures_of(self.work.data.kind)
            if figure.key in columns
        }

    def demand(self, at: int, settings: Settings) -> Demand | None:
        data = self.work.data
        rows = np.flatnonzero(data.term_subject == at)
        if not len(rows):
            return None
        together = np.zeros(len(rows), dtype=np.int64)
        curve = sum_by_group(data.searches[rows], together, 1, int(settings.bridge_periods))[0]
        return Demand.read(curve, data.timeline, data.counts, settings)


def markets_of(
    package: Package,
    kind: Kind,
    settings: Settings,
    *,
    progress: Callable[[str], None] = lambda _: None,
) -> list[MarketFigures]:
    """Read every market of a package as far as a kind needs it."""
    markets, _ = assemble(package)
    frame = package.frames.get("markets")
    called = {} if frame is None else dict(zip(frame["market_id"], frame["name"], strict=True))
    found = []
    for market in markets:
        progress(market.market_id)
        made = _read(market, kind, settings, lone=len(markets) == 1)
        if made is not None:
            found.append(
                _figures(market, called.get(market.market_id, market.market_id), kind, made)
            )
    return found


def _read(market: MarketInput, kind: Kind, settings: Settings, *, lone: bool) -> Workings | None:
    niches = run_market(market.data, settings)
    if kind == TERM:
        data = market.data.of_terms(market.terms, niches.figures["season_profile"])
        return run_market(data, settings)
    return run_categories(niches, every_tree=lone) if kind == CATEGORY else niches


def _figures(market: MarketInput, name: str, kind: Kind, work: Workings) -> MarketFigures:
    tree = None if work.category is None else work.category.tree
    identity = market.identity(work)
    ids = [str(one) for one in identity[kind.subject]]
    names = [str(one) for one in identity.get("name", ids)]
    above: list[tuple[str, ...]] = [() for _ in ids]
    terms: dict[int, list[str]] = {}
    if tree is not None:
        above = [_path_to(tree, int(parent)) for parent in tree.parent]
    elif kind == NICHE and market.data.tree is not None and market.data.category is not None:
        above = [_path_to(market.data.tree, at)[-2:] for at in market.data.category.tolist()]
    if kind == NICHE:
        for term, owner in zip(market.terms, market.data.term_subject.tolist(), strict=True):
            terms.setdefault(owner, []).append(term)
    return MarketFigures(market, name, work, ids, names, above, terms)


def _path_to(tree: CategoryTree, at: int) -> tuple[str, ...]:
    """Names from the top to a category, which is −1 for none."""
    names: list[str] = []
    while at >= 0:
        names.append(tree.names[at])
        at = int(tree.parent[at])
    return tuple(reversed(names))


def matches_in(
    kind: Kind, rows: Sequence[Mapping[str, Any]], markets: Sequence[MarketFigures]
) -> Matches:
    """The matches of a kind in a table. Raises CoreError for a subject that its market does not have."""
    held = {one.market_id: one.places for one in markets}
    found = Matches()
    for row in rows:
        if row["of"] != kind.plural or row.get("same") is None:
            continue
        one = row["market_id"], row["id"]
        other = row["other_market_id"], row["other_id"]
        for market, subject in (one, other):
            if subject not in held.get(market, {}):
                raise CoreError(
                    f"matches: there is no {kind.name} “{subject}” in market “{market}”. "
                    "Mend the line or take it out."
                )
        found.record(one, other, same=row["same"] == "1")
    return found


def laid_across(
    kind: Kind,
    markets: Sequence[MarketFigures],
    matches: Matches,
    rates: Sequence[Rate],
    into: str,
    settings: Settings,
) -> Iterator[Across]:
    """Every subject that two markets or more have, each once, most searched in its first market first."""
    by_id = {one.market_id: one for one in markets}
    held = {one.market_id: one.places for one in markets}
    seen: set[tuple[str, str]] = set()
    for market in markets:
        searches = np.nan_to_num(np.asarray(market.work.figures["searches_52w"], dtype=float))
        for at in np.argsort(-searches, kind="stable").tolist():
            found = matches.everywhere(market.market_id, market.ids[at], held)
            keys = {(key, subject) for key, subject, _ in found}
            if len(found) < 2 or keys & seen:
                continue
            seen |= keys
            there = [
                _in_market(by_id[key], subject, how, rates, into, settings)
                for key, subject, how in found
            ]
            yield lay_across(kind, there, into, settings)


def _in_market(
    one: MarketFigures, subject: str, how: str, rates: Sequence[Rate], into: str, settings: Settings
) -> InMarket:
    at = one.places[subject]
    return InMarket(
        one.market_id, one.name, subject, one.names[at], how, one.market.currency,
        rate_between(one.market.currency, into, rates).rate, one.figures(at), one.demand(at, settings),
    )  # fmt: skip


def proposals(
    kind: Kind, markets: Sequence[MarketFigures], matches: Matches, language: str
) -> Iterator[dict[str, Any]]:
    """Rows of a table of matches to be filled: what may be the same in any two markets."""
    for i, one in enumerate(markets):
        for other in markets[i + 1 :]:
            first, second = one.named(), other.named()
            for found in propose_matches(first, second, (language, language)):
                pair = (
                    (one.market_id, one.ids[found.first]), (other.market_id, other.ids[found.second]),
                )  # fmt: skip
                there = matches.of(pair[0], other.market_id, other.places)
                theirs = matches.of(pair[1], one.market_id, one.places)
                if there is None and theirs is None and not matches.rejected(*pair):
                    names = one.names[found.first], other.names[found.second]
                    yield match_row(kind, *pair, names, found.why)
