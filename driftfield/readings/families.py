"""Families of a market's niches, as the run found them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from driftfield.core.base import CoreError, Floats, Ints, Settings
from driftfield.core.market import FIGURES_BY_KEY, NICHE
from driftfield.core.market.families import EVIDENCE
from driftfield.core.market.family_figures import (
    OPEN_PARTS,
    FamilyFigures,
    openness_of_niches,
    read_family,
)
from driftfield.market.models import Brand, Listing, Niche

from .chosen import chosen_for
from .columns import RunColumns, columns_of
from .models import Run
from .niche_data import load_niche_data
from .reading import reading_of
from .store import read_rows

MOST_CHOSEN = 50  # Niches that are looked at together.


@dataclass(frozen=True, slots=True)
class Family:
    """One family: its niches' places, most searched first, its figures, and how many of them each tie holds;
    ties are None where it is not known who sells."""

    places: Ints
    figures: FamilyFigures
    ties: dict[str, int] | None


def read_families(run: Run) -> list[Family] | None:
    """All families of a run, most searched first; None where they were not looked for."""
    columns = columns_of(run, NICHE)
    if columns.families is None:
        return None
    settings = chosen_for(run.market.market_id).settings
    order = np.argsort(-np.nan_to_num(columns.figure("searches_52w")), kind="stable")
    members: dict[int, list[int]] = {}
    for place in order.tolist():
        if (family := int(columns.families[place])) >= 0:
            members.setdefault(family, []).append(place)
    opened = _opened(columns, settings)
    found = [_family(columns, np.array(places), settings, opened) for places in members.values()]
    return sorted(found, key=lambda one: -np.nan_to_num(one.figures.searches))


def family_of(run: Run, niche: str) -> Family | None:
    """The family of a niche; None where it has none."""
    columns = columns_of(run, NICHE)
    place = columns.places.get(niche)
    if place is None or columns.families is None or columns.families[place] < 0:
        return None
    places = np.flatnonzero(columns.families == columns.families[place])
    searches = np.nan_to_num(columns.figure("searches_52w")[places])
    settings = chosen_for(run.market.market_id).settings
    places = places[np.argsort(-searches, kind="stable")]
    return _family(columns, places, settings, _opened(columns, settings))


def chosen_family(run: Run, niches: Sequence[str]) -> Family:
    """Niches that the researcher chose, as a family; what ties them was not looked for.

    Raises CoreError for a niche that the run does not know, and for fewer than two or more than MOST_CHOSEN.
    """
    columns = columns_of(run, NICHE)
    wanted = list(dict.fromkeys(niches))
    for niche in wanted:
        if niche not in columns.places:
            raise CoreError(f"“{niche}” is not in {run.market.name}.")
    are = "is" if len(wanted) == 1 else "are"
    if not 2 <= len(wanted) <= MOST_CHOSEN:
        raise CoreError(f"A family has 2 to {MOST_CHOSEN} niches; {len(wanted)} {are} chosen.")
    places = np.array([columns.places[niche] for niche in wanted], dtype=np.int64)
    searches = np.nan_to_num(columns.figure("searches_52w")[places])
    settings = chosen_for(run.market.market_id).settings
    places = places[np.argsort(-searches, kind="stable")]
    found = _family(columns, places, settings, _opened(columns, settings))
    return Family(found.places, found.figures, None)


def _opened(columns: RunColumns, settings: Settings) -> Floats:
    return openness_of_niches(
        {part.figure: columns.figure(part.figure) for part in OPEN_PARTS}, settings
    )


def _family(columns: RunColumns, places: Ints, settings: Settings, opened: Floats) -> Family:
    wanted = FIGURES_BY_KEY["season_profile"]
    rows = [row[wanted.key] for row in read_rows(columns.run, NICHE, [wanted], places)]
    period = columns.run.made_period
    unknown = [np.nan] * period.per_year
    profiles: Floats = np.array([unknown if row is None else row for row in rows], dtype=np.float64)
    figures = read_family(
        columns.figure("searches_52w")[places], columns.figure("lasting_share")[places],
        columns.figure("open_searches_52w")[places], profiles,
        columns.figure("headroom")[places], opened[places], period, settings,
    )  # fmt: skip
    sold = not np.isnan(columns.figure("competition_parts.listings")[places]).all()
    counts = Counter(tie for place in places.tolist() for tie in columns.ties[place])
    return Family(places, figures, {kind: counts[kind] for kind in EVIDENCE} if sold else None)


def brands_of(run: Run, places: Ints) -> list[tuple[str, int]]:
    """Names of the brands of listings clicked now for niches, with how many of these each is in, most first."""
    columns = columns_of(run, NICHE)
    held: Counter[str] = Counter()
    for niche in Niche.objects.filter(pk__in=columns.keys[places].tolist()):
        reading = reading_of(run, niche)
        loaded = reading and load_niche_data(reading)
        if loaded:
            keys = [loaded.keys[place] for place in loaded.clicked]
            brands = Listing.objects.filter(pk__in=keys).values_list("brand", flat=True)
            held.update({brand for brand in brands if brand})
    names = dict(Brand.objects.filter(pk__in=held).values_list("pk", "name"))
    several = sorted(held.items(), key=lambda one: (-one[1], one[0]))
    return [(names.get(brand, brand), many) for brand, many in several]
