"""Sieves on files: what conditions ask of a market that was read and analysed without a database."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import cached_property

import numpy as np
import polars as pl

from driftfield.core.base import Bools, CoreError, Floats
from driftfield.core.curves import Time
from driftfield.core.market import (
    BY_CLICKS,
    FIGURES_BY_KEY,
    NICHE,
    SELLING,
    TERM,
    Kind,
    Workings,
)
from driftfield.core.sieve import Condition, parse_sieve, read_typed
from driftfield.core.signals import SIGNALS
from driftfield.core.supply import led_share, of_time, top_tables

from .categories import population, subtree
from .columns import numbers_in, series_of
from .market_data import MarketInput
from .reader import Package
from .texts import Texts


def read_sieve(texts: Sequence[str], kind: Kind) -> tuple[list[Condition], list[str]]:
    """Conditions as they were typed, and the words among them that are none and are looked for.

    Raises CoreError for what is neither.
    """
    typed = [read_typed(text) for text in texts]
    sieve = parse_sieve([one.clause.text for one in typed], kind)
    return sieve, [text for text, one in zip(texts, typed, strict=True) if one.searched]


# Fields of a listing's identity, by who is behind it.
WHO = {"brand": "brand", "seller": "seller_id"}


def those_of(own: pl.Series, wanted: str | None, ids: Iterable[str]) -> Bools:
    """Rows whose own id is wanted, or one of ``ids``, which have that name; with None those that have one."""
    if wanted is None:
        known: Bools = own.is_not_null().to_numpy()
        return known
    low = [wanted.lower(), *(one.lower() for one in ids)]
    marks: Bools = own.str.to_lowercase().is_in(low).fill_null(False).to_numpy()
    return marks


class FileColumns:
    """The subjects of a market that was analysed from files, as ``core.sieve.Columns``."""

    def __init__(self, kind: Kind, work: Workings, market: MarketInput, package: Package) -> None:
        self.kind, self.work, self.market, self.package = kind, work, market, package
        self.count = work.count
        self._found: dict[str, Floats] = {}

    def figure(self, key: str) -> Floats:
        if key not in self._found:
            figure = FIGURES_BY_KEY[key]
            column = series_of(figure, self.work.figures[key])
            self._found[key] = numbers_in(figure, column, self.work.timeline.period.per_year)
        return self._found[key]

    def raised(self, signal: str) -> Bools:
        if "signals" not in self.work.figures:
            return np.zeros(self.count, dtype=bool)
        at = next(place for place, rule in enumerate(SIGNALS) if rule.key == signal)
        raised: Bools = ~np.isnan(self.work.figures["signals"][:, at])
        return raised

    @cached_property
    def _tops(self) -> dict[str, Floats]:
        listings = self.work.data.listings
        if listings is None:
            return {}
        return top_tables(self.work.supply.members, listings, self.work.timeline.end.toordinal())

    def top(self, figure: str) -> Floats | None:
        return self._tops.get(figure)

    @cached_property
    def _texts(self) -> Texts:
        if self.work.category is not None:
            return Texts(self.work.category.tree.names, [], [])
        if self.kind == TERM:
            return Texts(self.market.terms, [], [])
        if self.kind in SELLING:
            return Texts([str(one) for one in self.market.identity(self.work)["name"]], [], [])
        owners = self.market.data.term_subject.tolist()
        return Texts(self.market.niche_names, self.market.terms, owners)

    def terms(self, how: str, words: str) -> Bools:
        return self._texts.having(how, words)

    def term_words(self, low: int, high: int) -> Bools:
        return self._texts.with_words(low, high)

    def category(self, wanted: str) -> Bools:
        if self.kind not in BY_CLICKS:
            below = subtree(self.package, wanted)
            named = self.market.identity(self.work)["category_id"]
            return np.array([one in below for one in named], dtype=bool)
        inside = population(self.package, self.market, wanted)
        return inside if self.kind == NICHE else inside[self.market.data.term_subject]

    def whose(self, role: str, wanted: str | None) -> Bools:
        own = pl.Series(self.market.identity(self.work)[WHO[role]], dtype=pl.String)
        people = self.package.frames.get(f"{role}s")
        ids: list[str] = []
        if people is not None and wanted is not None:
            ids = people.filter(pl.col("name").str.to_lowercase() == wanted.lower())["id"].to_list()
        return those_of(own, wanted, ids)

    def attribute(self, name: str, wanted: str | None) -> Bools:
        values = self._attributes.get(name.lower())
        if values is None:
            return np.zeros(self.count, dtype=bool)
        return those_of(values, wanted, ())

    @cached_property
    def _attributes(self) -> dict[str, pl.Series]:
        """The attributes of listings by their names in small letters."""
        table = self.package.frames.get("listings")
        if table is None:
            return {}
        own = pl.DataFrame({"listing_id": pl.Series(self.market.listing_ids, dtype=pl.String)})
        rows = own.join(table, on="listing_id", how="left", maintain_order="left")
        return {
            column.removeprefix("attr_").lower(): rows[column]
            for column in rows.columns
            if column.startswith("attr_")
        }

    def led_by(self, seller: str) -> Floats:
        listings = self.work.data.listings
        history = None if listings is None else listings.history
        held = None if history is None else history.measures.get("lead_seller")
        if listings is None or history is None or held is None:
            return np.full(self.count, np.nan)
        low, people = seller.lower(), listings.sellers
        codes = [
            code
            for code, (own, name) in enumerate(zip(people.ids, people.names, strict=True))
            if low in (own.lower(), name.lower())
        ]
        late = held[:, -history.timeline.period.span(52) :]
        return led_share(late, np.array(codes, dtype=np.int64))

    def in_time(self, measure: str, time: Time) -> Floats:
        listings = self.work.data.listings
        history = None if listings is None else listings.history
        if history is None:
            return np.full(self.count, np.nan)
        return of_time(history, measure, time.first, time.last)

    def decided(self, choices: tuple[str, ...]) -> Bools:
        raise CoreError(
            "Files hold no decisions: leave “decided” out, or import them and use the ledger's export."
        )
