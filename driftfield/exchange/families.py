"""Families on files: which niches belong together, and what they come to."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from driftfield.core.base import Settings
from driftfield.core.market import run_market
from driftfield.core.market.families import EVIDENCE, find_families
from driftfield.core.market.family_figures import openness_of_niches, read_family
from driftfield.core.sentences import enough_sentence, open_sentence, year_sentence_of

from .market_data import MarketInput, assemble
from .package import Package

DECIMALS = 4


def family_records(package: Package, settings: Settings, language: str) -> list[dict[str, Any]]:
    """The families of every market that has counts, as JSON takes them, most searched first in each."""
    markets = [one for one in assemble(package)[0] if one.data.counts]
    return [record for market in markets for record in _of_market(market, settings, language)]


def _of_market(market: MarketInput, settings: Settings, language: str) -> list[dict[str, Any]]:
    work = run_market(market.data, settings)
    figures, data = work.figures, work.data
    searches = figures["searches_52w"]
    members = None if data.listings is None else work.supply.clicked
    day = work.timeline.end.toordinal()
    found = find_families(
        market.niche_names, searches, members, data.listings, data.category, day, language=language
    )
    opened = openness_of_niches(figures, settings)
    records = []
    for family in range(int(found.family.max(initial=-1)) + 1):
        places = np.flatnonzero(found.family == family)
        places = places[np.argsort(-np.nan_to_num(searches[places]), kind="stable")]
        read = read_family(
            searches[places], figures["lasting_share"][places], figures["open_searches_52w"][places],
            figures["season_profile"][places],
            figures["headroom"][places], opened[places], work.timeline.period, settings,
        )  # fmt: skip
        names = [market.niche_names[place] for place in places.tolist()]
        records.append(
            {
                "market_id": market.market_id,
                "niches": [data.subjects[place] for place in places.tolist()],
                "names": names,
                "ties": {kind: int(found.ties[kind][places].sum()) for kind in EVIDENCE},
                "searches_52w": _known(read.searches),
                "open_searches_52w": _known(read.unowned),
                "openness": _known(read.openness),
                "opens": open_sentence(read, names),
                "wanted": int(read.wanted.sum()),
                "enough": read.enough,
                "answer": enough_sentence(read, settings),
                "year": [_known(share) for share in read.year.tolist()],
                "runs": year_sentence_of(read),
                "start": None if read.start is None else data.subjects[int(places[read.start])],
            }
        )
    return sorted(records, key=lambda one: -(one["searches_52w"] or 0))


def _known(value: float) -> float | None:
    return None if math.isnan(value) else round(value, DECIMALS)
