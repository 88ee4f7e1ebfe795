"""Own part as a run stored it: of a niche, and of all in which one sells."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from driftfield.core.market import NICHE
from driftfield.exchange.own_part import headline_row
from driftfield.market.models import Niche

from .columns import columns_of
from .models import Run
from .reading import Reading
from .store import OWN_PART


@dataclass(frozen=True, slots=True)
class OwnOverview:
    """Rows of ``exchange.own_part.COLUMNS``, most sold now first, and all together; total None for unknown."""

    rows: list[dict[str, Any]]
    total: dict[str, Any] | None


def _records(run: Run) -> dict[int, dict[str, Any]]:
    """What is told of each own niche, by its place in the run."""
    columns = columns_of(run, NICHE)

    def read() -> dict[int, dict[str, Any]]:
        packed = columns.column(OWN_PART)
        if packed is None:
            return {}
        return {
            place: json.loads(told)
            for place, told in enumerate(packed.to_list())
            if told is not None
        }

    found: dict[int, dict[str, Any]] = columns.kept(("own part",), read)
    return found


def niches_sold_in(run: Run) -> list[str]:
    """Ids of the niches in which one sells."""
    return [record["niche_id"] for record in _records(run).values()]


def own_part_of(reading: Reading) -> dict[str, Any] | None:
    """What is told of a niche; None where nothing of one's own is known there."""
    return _records(reading.run).get(reading.place)


def own_overview(run: Run) -> OwnOverview:
    """All niches of a run in which one sells."""
    records = _records(run)
    ids = [record["niche_id"] for record in records.values()]
    niches = Niche.objects.filter(market=run.market, niche_id__in=ids)
    names = dict(niches.values_list("niche_id", "name"))
    rows = [
        headline_row(
            record, run.market.market_id, names.get(record["niche_id"], record["niche_id"])
        )
        for record in records.values()
    ]
    rows.sort(key=lambda row: -(row["own_now"] or 0))
    total = next((record["total"] for record in records.values()), None)
    return OwnOverview(rows, total)
