"""The rows of an import: markets, categories, people, niches, terms, listings and what hangs on them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from functools import cached_property
from typing import Any

import polars as pl

from driftfield.exchange.forms import refusal
from driftfield.exchange.market_data import LONE_MARKET, niche_ids
from driftfield.exchange.matrices import Curves
from driftfield.exchange.package import Package
from driftfield.exchange.progress import Progress
from driftfield.intake.models import Batch
from driftfield.intake.stored import ROWS
from driftfield.market.models import Category, Listing, Market, Niche, Term

from .journal import Journal
from .upsert import Count, upsert

Row = dict[str, Any]


class RowsImport:
    """What an import does with tables of rows; ``CurvesImport`` does the rest, in order."""

    markets: dict[str, int]
    categories: dict[str, int]
    terms: dict[str, int]
    listings: dict[str, int]

    def __init__(
        self,
        package: Package,
        journal: Journal,
        progress: Progress,
        market: str,
        *,
        copied: bool = False,
    ) -> None:
        self.market, self.copied = market, copied
        self.package = package
        self.journal = journal
        self.progress = progress
        self.counts: dict[str, Count] = {}

    def _frame(self, name: str) -> pl.DataFrame | None:
        return self.package.frames.get(name)

    def _text(self, name: str, column: str) -> list[str]:
        """Different texts of a table's column, in their order; none without the table or the column."""
        frame = self._frame(name)
        if frame is None or column not in frame.columns:
            return []
        return frame[column].drop_nulls().unique(maintain_order=True).to_list()

    def _table(self, name: str, rows: Callable[[pl.DataFrame], Iterator[Row]]) -> None:
        """A table whose lines become rows of their own."""
        frame = self._frame(name)
        if frame is not None:
            self._say(name)
            self.counts[name] = self._upsert(name, rows(frame))

    def _upsert(self, name: str, rows: Iterable[Row]) -> Count:
        stored = ROWS[name]
        return upsert(stored.model, stored.key, rows, self.journal, stored.starts)

    def _say(self, table: str) -> None:
        self.progress(f"Writing {table}", 0, 0)

    def _markets(self) -> None:
        frame = self._frame("markets")
        if frame is not None:
            known = [one for one in ("region", "country") if one in frame.columns]
            frame = frame.with_columns(pl.col(known).fill_null(""))
            rows = frame.iter_rows(named=True)
            self.counts["markets"] = self._upsert("markets", rows)
        elif not Market.objects.exists():
            # Nothing says what they are called, so the ids that niches name stand for the names.
            named = self._text("niches", "market_id") or [LONE_MARKET]
            rows = ({"market_id": m, "name": m if m != LONE_MARKET else "Market"} for m in named)
            self.counts["markets"] = self._upsert("markets", rows)
        self.markets = dict(Market.objects.values_list("market_id", "pk"))

    def _categories(self, frame: pl.DataFrame) -> Iterator[Row]:
        for row in frame.iter_rows(named=True):
            yield {"category_id": row["category_id"], "name": row["name"]}

    def _parents(self) -> None:
        frame = self._frame("categories")
        if frame is None or "parent_id" not in frame.columns:
            return
        pk = dict(Category.objects.values_list("category_id", "pk"))
        rows = (
            {"category_id": r["category_id"], "parent_id": pk.get(r["parent_id"])}
            for r in frame.iter_rows(named=True)
        )
        moved = self._upsert("categories", rows).changed
        count = self.counts["categories"]
        count.changed += max(0, moved - count.new)

    def _words(self, frame: pl.DataFrame) -> Iterator[Row]:
        yield from frame.iter_rows(named=True)

    def _people(self, frame: pl.DataFrame) -> Iterator[Row]:
        for row in frame.iter_rows(named=True):
            if "own_retail" in row:
                row["own_retail"] = _flag(row["own_retail"])
            yield row

    def _market_of(self, given: str | None, niche: str) -> int:
        """Market of a niche: the one it names; else the one asked for, the package's first, the only one."""
        frame = self._frame("markets")
        if given is None:
            if self.market:
                given = self.market
            elif frame is not None:
                given = frame["market_id"][0]
            elif len(self.markets) == 1:
                given = next(iter(self.markets))
            else:
                raise refusal(
                    "niches.csv", f"Several markets are loaded, and “{niche}” is new and names none.",
                    "Give it a line with its market_id, or say of which market the files are: below “How the "
                    "files are read”, or with --market.",
                )  # fmt: skip
        if given not in self.markets:
            known = ", ".join(self.markets)
            raise refusal("niches.csv", f"There is no market “{given}”.", f"Choose one of {known}.")
        return self.markets[given]

    def _niches_and_terms(self, curves: Curves | None) -> None:
        niche_frame, term_frame = self._frame("niches"), self._frame("terms")
        own = Niche.objects.filter(market__in=self._own_markets())
        existing = {n.niche_id: n for n in own.only("niche_id", "market_id", "of_term")}
        rows: dict[str, Row] = {}
        for row in niche_frame.iter_rows(named=True) if niche_frame is not None else ():
            old = existing.get(row["niche_id"])
            market = row.get("market_id")
            fields: Row = {
                "market_id": old.market_id
                if old and market is None
                else self._market_of(market, row["niche_id"]),
                "niche_id": row["niche_id"],
                "given_name": row["name"],
            }
            if "category_id" in row:
                fields["category_id"] = self.categories.get(row["category_id"])
            rows[row["niche_id"]] = fields

        own_terms = Term.objects.filter(market__in=self._own_markets())
        # Of a term that two markets have, the one the package is of is meant.
        meant = {self.markets.get(one) for one in self._markets_meant()}
        found = own_terms.values_list("term", "given__niche_id", "market_id")
        loaded = {term: niche for term, niche, _ in sorted(found, key=lambda row: row[2] in meant)}
        terms: list[str] = list(curves.subjects) if curves else []
        for name in ("terms", "interest"):
            if (frame := self._frame(name)) is not None:
                terms += frame["term"].unique(maintain_order=True).to_list()
        terms = list(dict.fromkeys(terms))
        stated: dict[str, str] = {t: loaded[t] for t in terms if t in loaded}
        branded: dict[str, float | None] = {}
        for row in term_frame.iter_rows(named=True) if term_frame is not None else ():
            if row.get("niche_id") is not None:
                stated[row["term"]] = row["niche_id"]
            if "branded" in row:
                branded[row["term"]] = row["branded"]
        declared = {**{n: n for n in existing if not existing[n].of_term}, **{n: n for n in rows}}
        owner = niche_ids(terms, stated, declared)
        for term, niche in owner.items():
            if niche not in rows and niche not in existing:
                alone = term not in stated
                rows[niche] = {"market_id": self._market_of(None, niche), "niche_id": niche,
                               "given_name": term if alone else niche, "of_term": alone}  # fmt: skip
        self._check_not_linked({row["market_id"] for row in rows.values()})
        self.counts["niches"] = self._upsert("niches", rows.values())
        niches = {n: (m, pk) for n, m, pk in own.values_list("niche_id", "market_id", "pk")}
        term_rows = []
        for term in terms:
            market, niche_pk = niches[owner[term]]
            fields = {"market_id": market, "given_id": niche_pk, "term": term}
            if term in branded:
                fields["branded"] = _flag(branded[term])
            term_rows.append(fields)
        self.counts["terms"] = self._upsert("terms", term_rows)
        keys = {
            (term, home): pk for term, home, pk in own_terms.values_list("term", "market_id", "pk")
        }
        self.terms = {term: pk for (term, _), pk in keys.items()}
        self.terms |= {row["term"]: keys[row["term"], row["market_id"]] for row in term_rows}

    def _markets_meant(self) -> list[str]:
        """Ids of the markets that the package says it is of, or that were chosen for it."""
        return [self.market] if self.market else self._text("markets", "market_id")

    def _own_markets(self) -> list[int]:
        """Markets whose niches and terms are meant by their ids: of a copy its own, else all imported ones."""
        if self.copied:
            return [self.markets[self.market]]
        return [pk for name, pk in self.markets.items() if name not in self._linked]

    @cached_property
    def _linked(self) -> set[str]:
        return set() if self.copied else set(Batch.copied.values_list("linked_to", flat=True))

    def _check_not_linked(self, markets: set[int]) -> None:
        """Refuse rows of markets whose tables lie in a data set: nobody would read them."""
        for name, pk in self.markets.items():
            if name in self._linked and pk in markets:
                raise refusal(
                    "niches.csv", f"The figures of market “{name}” were made over the parts of a data set.",
                    "Put the new tables in parts with bin/driftfield partition, analyse them there and link "
                    "the figures; or take the link away first with bin/driftfield unlink.",
                )  # fmt: skip

    def _listing(self, listing_id: str, table: str) -> int:
        """A listing that is only known from another table is made, titled by its id."""
        if listing_id not in self.listings:
            made = Listing.objects.create(listing_id=listing_id, title=listing_id)
            self.listings[listing_id] = made.pk
        return self.listings[listing_id]

    def _listings(self, frame: pl.DataFrame) -> Iterator[Row]:
        attributes = [c for c in frame.columns if c.startswith("attr_")]
        for row in frame.iter_rows(named=True):
            if attributes:
                row["attributes"] = {a[5:]: v for a in attributes if (v := row.pop(a)) is not None}
            if "category_id" in row:
                row["category_id"] = self.categories.get(row["category_id"])
            if "sponsored" in row:
                row["sponsored"] = _flag(row["sponsored"])
            yield row

    def _offers(self, frame: pl.DataFrame) -> Iterator[Row]:
        for row in frame.iter_rows(named=True):
            yield {**row, "listing_id": self._listing(row["listing_id"], "offers")}

    def _voices(self, frame: pl.DataFrame) -> Iterator[Row]:
        for row in frame.iter_rows(named=True):
            listing = row.get("listing_id")
            yield {
                **row,
                "listing_id": None if listing is None else self._listing(listing, "voices"),
            }

    def _feedback(self, frame: pl.DataFrame) -> Iterator[Row]:
        for row in frame.iter_rows(named=True):
            listing = self._listing(row["listing_id"], "feedback")
            yield {"week": None, **row, "listing_id": listing}


def _flag(value: float | None) -> bool | None:
    return None if value is None else bool(value)
