"""How each exchange table is kept in the database: declared once.

Columns, types and keys of the files stand in the Table Schemas (exchange/tables.py); here stands which rows
or curves they become. Importing, undoing, coverage, revisions and exporting read it from here: a new table
is a schema, a model and one entry, besides what is peculiar to it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from django.db.models import Exists, Model, OuterRef, Q, QuerySet

from driftfield.exchange.tables import Table, tables
from driftfield.market.models import (
    Brand,
    Category,
    ClickCurve,
    Feedback,
    LeadSeller,
    Listing,
    ListingCurve,
    ListingSalesCurve,
    Market,
    Niche,
    Offer,
    PackedCurve,
    ProtectedWord,
    SalesCurve,
    Seller,
    Term,
    TermCurve,
    Voice,
)  # fmt: skip
from driftfield.market.own_niches import emptied

from .scope import Scope


@dataclass(frozen=True, slots=True, kw_only=True)
class Stored:
    """An exchange table in the database.

    name: of the table. model: of its rows. within: the rows that belong to a scope. columns: where a
    column of the file is found from a row, for those whose names differ.
    """

    name: str
    model: type[Model]
    within: Callable[[Scope], QuerySet[Any]]
    columns: Mapping[str, str] = field(default_factory=dict)

    @property
    def table(self) -> Table:
        return tables()[self.name]

    def lookup(self, column: str) -> str:
        """The field, or path of fields, that a column of the file is read from."""
        return self.columns.get(column, column)


@dataclass(frozen=True, slots=True, kw_only=True)
class StoredRows(Stored):
    """A table that is kept as it is, one row per line.

    key: fields by which a line finds the row it changes. identity: the column by which other tables
    refer to it. starts: fields that an import sets in a new row only, to what another one is there.
    """

    key: tuple[str, ...]
    identity: str = ""
    starts: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class StoredCurves(Stored):
    """A table of figures by period, kept as a curve a subject and measure.

    counted: the measure whose figures stand for all when they are counted; empty where any does.
    whose: what its subjects are called. subjects: those of a scope, figures or none.
    keys: the columns that name a curve. coded: measures that are numbers of names, with the column of the
    names. A table whose lines are of one thing or of another is kept as several of these.
    """

    model: type[PackedCurve]
    whose: str
    subjects: Callable[[Scope], QuerySet[Any]]
    keys: tuple[str, ...]
    counted: str = ""
    coded: Mapping[str, str] = field(default_factory=dict)

    @property
    def measures(self) -> list[str]:
        """The columns of figures, each of which is a measure."""
        return self.table.measures

    def curves(self) -> QuerySet[Any]:
        """All curves of the table, one for each subject and period where one measure stands for all."""
        found = self.model._default_manager.all()
        return found.filter(measure=self.counted) if self.counted else found


def _curves_of(
    model: Any, subjects: Callable[[Scope], QuerySet[Any]], *measures: str
) -> Callable[[Scope], QuerySet[Any]]:
    def within(scope: Scope) -> QuerySet[Any]:
        found: QuerySet[Any] = model._default_manager.filter(subject__in=subjects(scope))
        return found.filter(measure__in=measures) if measures else found

    return within


def _terms(scope: Scope) -> QuerySet[Term]:
    return scope.terms


def _listings(scope: Scope) -> QuerySet[Listing]:
    return scope.listings


def _niches(scope: Scope) -> QuerySet[Niche]:
    return scope.niches


def _niches_with_terms(scope: Scope) -> QuerySet[Niche]:
    """Those that are more than a single term, and have terms, or sales that name them."""
    several = scope.niches.filter(Q(of_term=False) | Q(own=True))
    return several.exclude(emptied() & ~Exists(SalesCurve.objects.filter(subject=OuterRef("pk"))))


OF_LISTING = {"listing_id": "listing__listing_id"}
# In the order in which tables refer to one another.
STORED: tuple[StoredRows | StoredCurves, ...] = (
    StoredRows(name="markets", model=Market, key=("market_id",), identity="market_id",
               within=lambda s: s.markets),
    StoredRows(name="categories", model=Category, key=("category_id",), identity="category_id",
               within=lambda s: s.categories, columns={"parent_id": "parent__category_id"}),
    StoredRows(name="niches", model=Niche, key=("market_id", "niche_id"), identity="niche_id",
               starts={"name": "given_name"},
               within=_niches_with_terms,
               columns={"category_id": "category__category_id", "market_id": "market__market_id"}),
    StoredRows(name="brands", model=Brand, key=("id",), identity="id", within=lambda s: s.brands),
    StoredRows(name="sellers", model=Seller, key=("id",), identity="id", within=lambda s: s.sellers),
    StoredRows(name="listings", model=Listing, key=("listing_id",), identity="listing_id",
               within=_listings, columns={"category_id": "category__category_id"}),
    StoredRows(name="terms", model=Term, key=("market_id", "term"), identity="term", within=_terms,
               starts={"niche_id": "given_id"},
               columns={"niche_id": "niche__niche_id"}),
    StoredCurves(name="term_weeks", model=TermCurve, whose="terms", subjects=_terms, counted="searches",
                 within=_curves_of(TermCurve, _terms, "searches", "impressions", "clicks", "purchases"),
                 columns={"term": "subject__term"}, keys=("term",)),
    StoredCurves(name="interest", model=TermCurve, whose="terms", subjects=_terms, counted="index",
                 within=_curves_of(TermCurve, _terms, "index"), columns={"term": "subject__term"},
                 keys=("term",)),
    StoredCurves(name="term_clicks", model=ClickCurve, whose="terms", subjects=_terms,
                 counted="click_share", within=lambda s: s.clicks,
                 columns={"term": "subject__term", **OF_LISTING}, keys=("term", "listing_id")),
    StoredCurves(name="listing_weeks", model=ListingCurve, whose="listings", subjects=_listings,
                 within=_curves_of(ListingCurve, _listings),
                 columns={"listing_id": "subject__listing_id"}, keys=("listing_id",),
                 coded={"lead_seller": "lead_seller_id"}),
    StoredRows(name="offers", model=Offer, key=("seller_id", "listing_id", "first_seen"),
               within=lambda s: s.offers, columns=OF_LISTING),
    StoredRows(name="feedback", model=Feedback, key=("listing_id", "kind", "theme", "tone", "week"),
               within=lambda s: s.feedback, columns=OF_LISTING),
    StoredRows(name="voices", model=Voice, key=("voice_id",), within=lambda s: s.voices, columns=OF_LISTING),
    StoredCurves(name="own_sales", model=SalesCurve, whose="niches", subjects=_niches, counted="units",
                 within=_curves_of(SalesCurve, _niches), columns={"niche_id": "subject__niche_id"},
                 keys=("niche_id",)),
    StoredCurves(name="own_sales", model=ListingSalesCurve, whose="listings", subjects=_listings,
                 counted="units", within=_curves_of(ListingSalesCurve, _listings),
                 columns={"listing_id": "subject__listing_id"}, keys=("listing_id",)),
    StoredRows(name="protected_words", model=ProtectedWord, key=("word",),
               within=lambda s: s.protected_words),
)  # fmt: skip

ROWS = {one.name: one for one in STORED if isinstance(one, StoredRows)}
CURVES = tuple(one for one in STORED if isinstance(one, StoredCurves))
OF_CURVES = frozenset(one.name for one in CURVES)  # Tables that are kept as curves.
# Models of all that an import writes. What hangs on something else comes before it, so that rows can be
# taken out in this order; the names behind coded curves go when the curves are gone.
MODELS: tuple[type[Model], ...] = (
    *dict.fromkeys(one.model for one in reversed(STORED)), LeadSeller,
)  # fmt: skip


def curves_of_table(name: str) -> tuple[StoredCurves, ...]:
    """As what a table of figures by period is kept: one, or one for each thing that its lines are of."""
    return tuple(one for one in CURVES if one.name == name)


CURVE_MODELS: tuple[type[PackedCurve], ...] = tuple(
    dict.fromkeys(one.model for one in reversed(CURVES))
)
