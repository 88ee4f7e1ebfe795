"""What can be decided on: the subjects of a kind that a market has, by their ids."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from driftfield.core.base import CoreError
from driftfield.core.market import CATEGORY, HOLDERS, LISTING, NICHE, TERM, Figure, Kind
from driftfield.market.models import Category, Listing, Niche, Term
from driftfield.readings.columns import columns_of
from driftfield.readings.models import Run
from driftfield.readings.store import read_rows


@dataclass(frozen=True, slots=True)
class Subject:
    """One of them: its key in the database, its name and the path of its category, empty for none."""

    key: int
    name: str
    category: str


def subjects_of(market_id: str, kind: Kind, ids: Iterable[str]) -> dict[str, Subject]:
    """Those of the ids that the market has, by id."""
    wanted = list(ids)
    run = Run.objects.filter(market__market_id=market_id).select_related("market").first()
    if kind == NICHE and not (run is not None and run.linked):
        niches = Niche.objects.filter(market__market_id=market_id, niche_id__in=wanted)
        return {
            one.niche_id: Subject(one.pk, one.name, one.category.path if one.category else "")
            for one in niches.select_related("category__parent")
        }
    if kind != TERM:
        # They are no market's own, or lie in a data set: it has those that its run read.
        columns = None if run is None else columns_of(run, kind)
    if kind in (NICHE, *HOLDERS):
        places = columns.places if columns is not None else {}
        return {
            one: Subject(place, columns.names[place], columns.category_path(place))
            for one in wanted
            if columns is not None and (place := places.get(one)) is not None
        }
    if kind == LISTING:
        pages = Listing.objects.filter(listing_id__in=wanted).select_related("category__parent")
        return {
            one.listing_id: Subject(
                one.pk, one.title or one.listing_id, one.category.path if one.category else ""
            )
            for one in pages
            if columns is not None and columns.place_of(one.pk) is not None
        }
    if kind == CATEGORY:
        held = set() if columns is None else set(columns.keys.tolist())
        found = Category.objects.filter(category_id__in=wanted).select_related("parent")
        return {
            one.category_id: Subject(one.pk, one.name, one.parent.name if one.parent else "")
            for one in found
            if one.pk in held
        }
    terms = Term.objects.filter(market__market_id=market_id, term__in=wanted)
    return {
        one.term: Subject(one.pk, one.term, one.niche.category.path if one.niche.category else "")
        for one in terms.select_related("niche__category__parent")
    }


def no_such(kind: Kind, subject: str, market_id: str) -> CoreError:
    """What is said of an id that is none."""
    return CoreError(f"There is no {kind.name} “{subject}” in market “{market_id}”.")


def figures_of_subjects(
    market_id: str, kind: Kind, subjects: dict[str, Subject], figures: Iterable[Figure]
) -> dict[str, dict[str, Any]]:
    """Some figures of subjects by id, from the market's latest run; those the run knows."""
    run = Run.objects.filter(market__market_id=market_id).select_related("market").first()
    if run is None or not subjects:
        return {}
    columns = columns_of(run, kind)
    places = {
        subject: place for subject in subjects if (place := columns.places.get(subject)) is not None
    }
    rows = read_rows(run, kind, figures, list(places.values()))
    return dict(zip(places, rows, strict=True))
