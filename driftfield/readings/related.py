"""Terms related to one without its words: after which the same listings are clicked, or with one season."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from driftfield.core.base import Floats
from driftfield.core.market import FIGURES_BY_KEY, TERM
from driftfield.core.market.related import By, Relation, by_clicks_or_words, of_one_season

from .columns import RunColumns, columns_of
from .reading import TermReading
from .store import read_rows

LIKELY = 2_000  # Niches of a category, by their most searched terms, whose seasons are compared.
SEASONAL = FIGURES_BY_KEY["shape_family"].choices.index("seasonal")


@dataclass(frozen=True, slots=True)
class Related:
    """by: what the terms have in common with the one asked about. terms: most alike first. season: terms of its
    category and of other niches that are sought when it is."""

    by: By
    terms: list[Relation]
    season: list[Relation]


def related_terms(reading: TermReading, *, most: int = 20, apart: bool = True) -> Related:
    """What else a term's buyers look for; see ``by_clicks_or_words``."""
    columns, place = columns_of(reading.run, TERM), reading.place
    by, terms = by_clicks_or_words(
        columns.click_vectors, columns.seeds, place, most=most, apart=apart
    )
    told = {one.place for one in terms}
    return Related(by, terms, _seasonal(columns, place, told, most))


def _seasonal(columns: RunColumns, place: int, told: set[int], most: int) -> list[Relation]:
    """Terms of its category and of other niches, not told already, that are sought when it is."""
    family, category = columns.figure("shape_family"), columns.category_keys
    if family[place] != SEASONAL or category[place] < 0:
        return []
    searches = np.nan_to_num(columns.figure("searches_52w"))
    inside = np.flatnonzero((category == category[place]) & (family == SEASONAL))
    # Of each niche the most searched one, or the terms of one niche would be all that is told.
    first = {columns.owners[place]: place}
    for at in inside[np.argsort(-searches[inside], kind="stable")].tolist():
        if at not in told:
            first.setdefault(columns.owners[at], at)
        if len(first) > LIKELY:
            break
    places = np.array(list(first.values()), dtype=np.int64)
    wanted = FIGURES_BY_KEY["season_profile"]
    rows = [row[wanted.key] for row in read_rows(columns.run, TERM, [wanted], places)]
    if rows[0] is None:
        return []
    unknown = [np.nan] * len(rows[0])
    profiles: Floats = np.array([unknown if row is None else row for row in rows], dtype=np.float64)
    found = of_one_season(profiles, 0, most=most)
    return [Relation(int(places[one.place]), one.strength, one.shared) for one in found]
