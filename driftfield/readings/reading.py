"""The reading of one subject, a niche or a term: its figures as a run stored them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property, lru_cache
from types import MappingProxyType
from typing import Any

from django.db.models import QuerySet

from driftfield.core.base import Settings
from driftfield.core.market import LISTING, NICHE, TERM, Kind, figures_of
from driftfield.market.models import Listing, Market, Niche, Term

from .chosen import overruled
from .columns import columns_of
from .load import terms_of
from .models import Run
from .store import read_rows

KEPT = 8  # Subjects whose figures are kept in memory.


@dataclass(frozen=True)
class SubjectReading:
    """What a run stored of one subject; ``place`` is its place in the run's order."""

    run: Run
    kind: Kind
    place: int

    @property
    def market(self) -> Market:
        return self.run.market

    @property
    def settings(self) -> Settings:
        """Those the run was made with, and what is overruled for the subject."""
        return self.run.made_with

    @property
    def terms(self) -> QuerySet[Term]:
        """The terms whose curves make up its own."""
        raise NotImplementedError

    @property
    def figures(self) -> Mapping[str, Any]:
        """All figures by key, None for unknown."""
        return _figures(self.run, self.run.planned_at, self.kind, self.place)


@dataclass(frozen=True)
class Reading(SubjectReading):
    """The reading of a niche."""

    niche: Niche

    @cached_property
    def settings(self) -> Settings:
        own = overruled(self.market.market_id, self.niche.niche_id)
        return Settings.from_dict({**self.run.settings, **own})

    @property
    def terms(self) -> QuerySet[Term]:
        return terms_of(self.niche)


@dataclass(frozen=True)
class TermReading(SubjectReading):
    """The reading of a term."""

    term: Term

    @property
    def terms(self) -> QuerySet[Term]:
        return Term.objects.filter(pk=self.term.pk)


@dataclass(frozen=True)
class ListingReading(SubjectReading):
    """The reading of a listing. niche: the one that brings most of its clicks; None where nobody clicks it."""

    listing: Listing
    niche: Niche | None

    @property
    def name(self) -> str:
        return self.listing.title or self.listing.listing_id


@dataclass(frozen=True)
class HolderReading(SubjectReading):
    """The reading of a brand or a seller, by its id and its name."""

    id: str
    name: str


@lru_cache(maxsize=KEPT)
def _figures(run: Run, planned_at: datetime, kind: Kind, place: int) -> Mapping[str, Any]:
    """Those of a place as long as the run stands: a dossier asks for them with each of its questions."""
    return MappingProxyType(read_rows(run, kind, figures_of(kind), [place])[0])


def reading_of(run: Run, niche: Niche) -> Reading | None:
    """The reading of a niche; None where the run knows nothing of it."""
    columns = columns_of(run, NICHE)
    place = columns.places.get(niche.niche_id) if run.linked else columns.place_of(niche.pk)
    return None if place is None else Reading(run, NICHE, place, niche)


def reading_of_term(run: Run, term: Term) -> TermReading | None:
    """The reading of a term; None where the run knows nothing of it."""
    place = columns_of(run, TERM).place_of(term.pk)
    return None if place is None else TermReading(run, TERM, place, term)


def reading_of_holder(run: Run, kind: Kind, subject: str) -> HolderReading | None:
    """The reading of a brand or a seller, as ``kind`` says; None where the run knows nothing of it."""
    columns = columns_of(run, kind)
    place = columns.places.get(subject)
    return None if place is None else HolderReading(run, kind, place, subject, columns.names[place])


def reading_of_listing(run: Run, listing: Listing) -> ListingReading | None:
    """The reading of a listing; None where the run knows nothing of it."""
    columns = columns_of(run, LISTING)
    place = columns.place_of(listing.pk)
    if place is None:
        return None
    own = Niche.objects.filter(market=run.market, niche_id=columns.owners[place])
    niche = own.select_related("category__parent").first()
    return ListingReading(run, LISTING, place, listing, niche)
