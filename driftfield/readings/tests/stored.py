"""What a run stored, as tests ask for it."""

from typing import Any

import polars as pl
from django.utils import timezone

from driftfield.core.market import NICHE, Kind
from driftfield.market.models import Niche
from driftfield.readings.columns import columns_of
from driftfield.readings.models import Run
from driftfield.readings.reading import Reading, reading_of
from driftfield.readings.store import read_column, write_columns


def reading(niche_id: str) -> Reading:
    """The reading of the only niche of that id."""
    niche = Niche.objects.get(niche_id=niche_id)
    found = reading_of(Run.objects.select_related("market").get(market=niche.market), niche)
    assert found is not None
    return found


def stored(niche_id: str) -> dict[str, Any]:
    """Its figures by key."""
    return reading(niche_id).figures


def column(run: Run, key: str, kind: Kind = NICHE) -> dict[str, Any]:
    """One figure of all subjects by id."""
    values = read_column(run, kind, key)
    assert values is not None
    return dict(zip(columns_of(run, kind).ids, values.to_list(), strict=True))


def spoil(run: Run, values: dict[str, float]) -> None:
    """Put one number into whole columns, as a fault of the program could."""
    kept = {
        name: column
        for name in run.columns.values_list("name", flat=True).distinct()
        if (column := read_column(run, NICHE, name)) is not None
    }
    for key, value in values.items():
        kept[key] = pl.Series([value] * len(kept[key]), dtype=pl.Float64)
    write_columns(run, NICHE, kept)
    run.planned_at = timezone.now()
    run.save()  # Processes hold the columns of a run until it is made anew.
