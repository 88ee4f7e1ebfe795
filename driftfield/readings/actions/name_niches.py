"""Call niches in the readings what they are called now, where nothing else of them was changed."""

from __future__ import annotations

import polars as pl
from django.db import transaction
from django.utils import timezone

from driftfield.core.market import NICHE
from driftfield.market.models import Market, Niche
from driftfield.readings.columns import columns_of
from driftfield.readings.models import Run
from driftfield.readings.store import OWN, replace_columns


def name_niches(market: Market, mark: str, new_mark: str) -> None:
    """Store the names of the niches anew in the market's run, if it read the niches as ``mark`` has them."""
    with transaction.atomic():
        run = Run.objects.filter(market=market, niches_mark=mark).select_related("market").first()
        if run is None or run.linked:
            return  # They are named when it is analysed.
        names = dict(Niche.objects.filter(market=market).values_list("pk", "name"))
        columns = columns_of(run, NICHE)
        called = [
            names.get(key, name)
            for key, name in zip(columns.keys.tolist(), columns.names, strict=True)
        ]
        replace_columns(run, NICHE, {f"{OWN}name": pl.Series(called, dtype=pl.String)})
        # What was made from the columns before is not shown any more.
        run.planned_at, run.niches_mark = timezone.now(), new_mark
        run.save(update_fields=["planned_at", "niches_mark"])
