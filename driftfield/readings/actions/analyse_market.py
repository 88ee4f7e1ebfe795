"""Analyse a market: read it whole, store a row a niche, replace what was there."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import date

import numpy as np
from django.db import transaction

from driftfield.core.analysis import Workings, work_through
from driftfield.core.figures import FIGURES
from driftfield.core.record import plain
from driftfield.core.settings import DEFAULTS, Settings
from driftfield.core.top_listings import top_tables
from driftfield.exchange.market_data import last_complete
from driftfield.market.models import Market
from driftfield.readings.load import load_market
from driftfield.readings.matrices import PARTS_MATRIX, TOP_PREFIX, pack_matrix, stored_logs
from driftfield.readings.models import Matrix, RaisedSignal, Reading, Run

Progress = Callable[[int, int], None]


def analyse_market(
    market: Market,
    settings: Settings = DEFAULTS,
    *,
    as_of: date | None = None,
    progress: Progress | None = None,
) -> Run:
    """Read a market up to ``as_of`` (default: its last complete period) and store the readings.

    Raises CoreError when it has no searches or nothing is complete by then.
    """
    rows: list[Reading] = []
    matrices: list[Matrix] = []
    notes, ends = [], []
    for part in load_market(market):
        data = part.data
        end, note = last_complete(data.searches, data.timeline, as_of, market.complete_until)
        work = work_through(data, settings, as_of=end, progress=progress)
        figures = work.figures
        matrices += _matrices(work, part.niches)
        columns = {f.column: [plain(f, _item(v)) for v in figures[f.key]] for f in FIGURES}
        rows += [
            Reading(
                niche_id=pk, market=market, **{name: values[i] for name, values in columns.items()}
            )
            for i, pk in enumerate(part.niches)
        ]
        notes += [note] if note else []
        ends.append((end, data.timeline.period.value))
    with transaction.atomic():
        Reading.objects.filter(market=market).delete()
        Reading.objects.bulk_create(rows, batch_size=500)
        RaisedSignal.objects.bulk_create(
            (
                RaisedSignal(reading_id=row.niche_id, **item)
                for row in rows
                for item in row.signals  # type: ignore[attr-defined]
            ),
            batch_size=5000,
        )
        run, _ = Run.objects.update_or_create(
            market=market,
            defaults={
                # The counts come first; a market of relative curves alone has theirs.
                "as_of": ends[0][0],
                "period": ends[0][1],
                "settings": settings.as_dict(),
                "niches": len(rows),
                "note": " ".join(notes),
            },
        )
        run.matrices.all().delete()
        for matrix in matrices:
            matrix.run = run
        Matrix.objects.bulk_create(matrices)
    return run


def _matrices(work: Workings, niches: list[int]) -> list[Matrix]:
    """What is asked of a whole market at once; nothing for relative curves, which are not ranked."""
    if not work.counts:
        return []
    assert work.normalised is not None, "a market that was worked through is normalised"
    tables = {PARTS_MATRIX: stored_logs(work.normalised)}
    if work.listings is not None:
        found = top_tables(work.supply.members, work.listings, work.timeline.end.toordinal())
        tables |= {f"{TOP_PREFIX}{key}": table for key, table in found.items()}
    return [pack_matrix(name, niches, values) for name, values in tables.items()]


def _item(value: object) -> object:
    return value.item() if isinstance(value, np.generic) else value


def analyse_all(
    settings: Settings = DEFAULTS, *, only_new: bool = False, progress: Progress | None = None
) -> Iterator[Run]:
    """Analyse every market that has curves; ``only_new``: those that never were."""
    known = ("searches", "index")
    markets = Market.objects.filter(terms__curves__measure__in=known).distinct().order_by("pk")
    if only_new:
        markets = markets.filter(run=None)
    for market in markets:
        yield analyse_market(market, settings, progress=progress)
